"""Cards and lines as they stand: what is owed and available, what comes next, what it costs (docs/rules.md, Cards)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from itertools import pairwise
from operator import itemgetter
from typing import NamedTuple

from next_penny.core.balance_terms import CardPays, CardTerms
from next_penny.core.balances.cards import (
    Card,
    closing_before,
    closing_in,
    closings,
    due_day,
    minimum_of,
    yearly_cost,
)
from next_penny.core.balances.making import Act, Made, Passed
from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.dates.sentences import short_day
from next_penny.core.forecast.acting import acted, ledger_of
from next_penny.core.forecast.projection import in_a_year, year_ahead
from next_penny.core.forecast.told import made_sentence, minimum_told
from next_penny.core.moment import Moment
from next_penny.core.money import format_amount, percent_text, round_half_up, rounded_quotient
from next_penny.core.plan import Account, interest_id, payment_id

# A card that is not paid off within this many years is taken never to be.
_LONGEST_YEARS = 100
_STATEMENTS_TOLD = 18
# So many days before a rate rises, it is said.
_SAID_BEFORE = 30


class RateRise(NamedTuple):
    """The day from which a rate is higher than today's, and what a month then costs at what is expected to be owed."""

    day: date
    before: Decimal
    rate: Decimal
    owed: int
    cost_month: int
    cost_month_before: int


@dataclass(frozen=True, slots=True)
class CardStanding:
    """One card or line today; amounts positive, minor units of its currency. `next_payment` is that of `next_due`."""

    account: Account
    terms: CardTerms
    owed: int
    annual_rate: Decimal
    next_closing: date
    next_due: date
    next_payment: int
    cost_year: int
    cost_month: int
    rises: RateRise | None

    @property
    def available(self) -> int:
        """What may still be spent on it; negative above its limit."""
        return self.terms.limit - self.owed

    @property
    def used_percent(self) -> int:
        """The share of its limit that is used, in whole percent."""
        return rounded_quotient(100 * self.owed, max(1, self.terms.limit))


def owed_today(moment: Moment, account: Account) -> int:
    """What the books say is owed at the end of today."""
    return max(0, -moment.balance_on(account, moment.now))


def cards_standing(moment: Moment) -> list[CardStanding]:
    """Every card and line, in the plan's order."""
    return [card_standing(moment, account) for account in moment.plan.accounts if account.card is not None]


def card_standing(moment: Moment, account: Account) -> CardStanding:
    """One card or line as it stands today."""
    terms = account.card
    assert terms is not None
    owed = owed_today(moment, account)
    due = _next_due(moment, account, terms)
    payments = acted(moment, max(due, moment.now)).by_flow.get(payment_id(account.id), ())
    year, month = yearly_cost(terms, owed, moment.now)
    first = max(moment.now, account.opening.date.toordinal())
    return CardStanding(
        account=account,
        terms=terms,
        owed=owed,
        annual_rate=terms.rate_on(moment.now),
        next_closing=date.fromordinal(next(closings(terms, first))),
        next_due=date.fromordinal(due),
        next_payment=next((made.amount for made in payments if made.nominal == due), 0),
        cost_year=year,
        cost_month=month,
        rises=_next_rise(moment, account, terms),
    )


def _next_due(moment: Moment, account: Account, terms: CardTerms) -> int:
    """The next due day, from today on, of a statement that no recorded payment ends."""
    settled = moment.books.settled.get(payment_id(account.id), {})
    begins = max(account.opening.date.toordinal(), closing_before(terms, moment.now))
    for closing in closings(terms, begins):
        due = due_day(terms, closing)
        if due >= moment.now and due not in settled:
            return due
    return moment.now


def _next_rise(moment: Moment, account: Account, terms: CardTerms) -> RateRise | None:
    before = terms.rate_on(moment.now)
    later = (each for each in terms.rates_in_order if each.start > moment.today and each.annual_rate > before)
    step = next(later, None)
    if step is None:
        return None
    day = step.start.toordinal()
    levels = year_ahead(moment).run_of[account.id].levels
    held = [balance for number, balance in levels if number <= day]
    owed = max(0, -held[-1]) if held else owed_today(moment, account)
    cost, cost_before = (round_half_up(Fraction(rate) * owed / 1200) for rate in (step.annual_rate, before))
    return RateRise(step.start, before, step.annual_rate, owed, cost, cost_before)


def rises_between(moment: Moment, first: date, last: date) -> Iterator[tuple[date, Account, Decimal]]:
    """The days on which a card's rate becomes higher: day, card, and the rate from then on."""
    for account in moment.plan.accounts:
        steps = account.card.rates_in_order if account.card is not None else ()
        for before, after in pairwise(steps):
            if after.annual_rate > before.annual_rate and first <= after.start <= last:
                yield after.start, account, after.annual_rate


class PastStatement(NamedTuple):
    """A cycle as recorded: its first and closing day, what was spent and came in, its interest, the balance owed."""

    first: int
    closing: int
    due: int
    spent: int
    came_in: int
    interest: int
    balance: int
    minimum: int
    why_minimum: str


def past_statements(moment: Moment, account: Account) -> list[PastStatement]:
    """The recorded cycles of a card, the running one first, then backwards."""
    terms = account.card
    assert terms is not None
    opened, charge = account.opening.date.toordinal(), interest_id(account.id)
    month, found = month_number(moment.today), list[PastStatement]()
    if closing_in(terms, month) < moment.now:
        month += 1
    balance = moment.balance_on(account, moment.now)
    postings = [each for each in moment.books.postings.get(account.id, ()) if each.day <= moment.now]
    while len(found) <= _STATEMENTS_TOLD and closing_in(terms, month) >= opened:
        closing, first = closing_in(terms, month), max(opened, closing_in(terms, month - 1) + 1)
        mine = [each for each in postings if first <= each.day <= closing]
        interest = -sum(each.amount for each in mine if each.flow == charge)
        spent = -sum(each.amount for each in mine if each.amount < 0 and each.flow != charge)
        came_in = sum(each.amount for each in mine if each.amount > 0 and each.flow != charge)
        owed = max(0, -balance)
        minimum, why = minimum_of(terms, owed, interest), minimum_told(account, owed, interest)
        due = due_day(terms, closing)
        found.append(PastStatement(first, closing, due, spent, came_in, interest, owed, minimum, why))
        balance -= sum(each.amount for each in mine)
        month -= 1
    return found


class ComingMonth(NamedTuple):
    """A calendar month ahead: what is paid, what interest is charged and drawn, and what is owed at its end.

    whys: a sentence for each of its movements, in order.
    """

    month: int
    paid: int
    interest: int
    drawn: int
    owed: int
    whys: tuple[str, ...]


def coming_months(moment: Moment, account: Account) -> list[ComingMonth]:
    """The twelve months from this one on, as the forecast has them."""
    forecast, first = year_ahead(moment), month_number(moment.today)
    made = acted(moment, in_a_year(moment).toordinal()).made
    sums = {month: {"card_payment": 0, "card_interest": 0, "line_draw": 0} for month in range(first, first + 12)}
    whys: dict[int, list[str]] = {month: [] for month in sums}
    for each in made:
        month = month_number(date.fromordinal(each.day))
        if each.owner == account.id and month in sums and each.source in sums[month]:
            sums[month][each.source] += each.amount
            whys[month].append(_told(account, each))
    levels = forecast.run_of[account.id].levels
    months = []
    for month, of in sums.items():
        ends = add_months(date(month // 12, month % 12 + 1, 1), 1).toordinal() - 1
        held = [balance for day, balance in levels if day <= ends]
        owed = max(0, -held[-1]) if held else 0
        told = tuple(whys[month])
        months.append(ComingMonth(month, of["card_payment"], of["card_interest"], of["line_draw"], owed, told))
    return months


def _told(account: Account, made: Made) -> str:
    """When, how much and why."""
    day, amount = short_day(date.fromordinal(made.day)), format_amount(made.amount, account.currency)
    return f"{day}, {amount}: {made_sentence(account, made.source, made.facts)}."


def coming_year(months: Sequence[ComingMonth]) -> tuple[int, int, int]:
    """What is paid, charged as interest and drawn in these months together."""
    return sum(each.paid for each in months), sum(each.interest for each in months), sum(each.drawn for each in months)


class Paying(NamedTuple):
    """How one way of paying goes on: until when (None: never), in how many payments, at what interest in all.

    saves: how much less interest that is than paying only the minimum; None where one of the two never ends.
    """

    ends: date | None
    months: int
    payments: int
    interest: int
    first_payment: int
    saves: int | None = None


def paying_against_minimum(
    moment: Moment, account: Account, pays: CardPays, fixed_amount: int | None = None
) -> Paying:  # fmt: skip
    """One way of paying, held against paying only the minimum."""
    found, least = paying(moment, account, pays, fixed_amount), paying(moment, account, "minimum")
    both_end = found.ends is not None and least.ends is not None
    return found._replace(saves=least.interest - found.interest if both_end else None)


def paying(moment: Moment, account: Account, pays: CardPays, fixed_amount: int | None = None) -> Paying:
    """The card run on its own from today, without new purchases, paid in one way."""
    assert account.card is not None
    terms = replace(account.card, pays=pays, fixed_amount=fixed_amount, covers=None, changes=())
    alone = replace(account, card=terms)
    ledger = ledger_of(moment, alone, [])
    passed = Passed(moment.books.settled, moment.now, carries=True)
    card = Card(alone, ledger, 0, passed, alone)
    last = add_months(moment.today, 12 * _LONGEST_YEARS).toordinal()
    made, ended = list[Made](), False
    for act in _in_order(card, last):
        done = act.do(act.day)
        if done is not None:
            made.append(done)
            ledger.post(done.day, -done.amount if done.source == "card_interest" else done.amount)
        ended = ledger.owed(act.day) == 0 and not any(day > act.day for day in ledger.fixed_days)
        if ended and done is None:
            break
    payments = [each for each in made if each.source == "card_payment"]
    ends = date.fromordinal(payments[-1].day) if payments and ended else moment.today if ended else None
    months = month_number(ends) - month_number(moment.today) if ends is not None else 12 * _LONGEST_YEARS
    interest = sum(each.amount for each in made if each.source == "card_interest")
    return Paying(ends, months, len(payments), interest, payments[0].amount if payments else 0)


def _in_order(card: Card, last: int) -> Sequence[Act]:
    return sorted(card.agenda(last), key=lambda act: act[:3])


def all_owed(moment: Moment) -> int:
    """What is owed on all cards and lines, in the household's currency. Raises NoRate."""
    here = moment.plan.household.currency
    return sum(
        moment.plan.converted(owed_today(moment, account), account.currency, here, moment.today)
        for account in moment.plan.accounts if account.card is not None
    )  # fmt: skip


def lines_available(moment: Moment, cards: Sequence[CardStanding]) -> int | None:
    """What all credit lines may still lend, in the household's currency; None where there is none. Raises NoRate."""
    here, lines = moment.plan.household.currency, [each for each in cards if each.terms.is_line]
    if not lines:
        return None
    return sum(
        moment.plan.converted(max(0, each.available), each.account.currency, here, moment.today) for each in lines
    )  # fmt: skip


def marks(moment: Moment, until: date) -> list[tuple[date, str]]:
    """Days ahead on which a card's rate rises, each with a few words; by day."""
    found = [(day, f"{account.name}: {percent_text(rate)}") for day, account, rate in rises_between(
        moment, moment.today, until)]  # fmt: skip
    return sorted(found)


def rises_soon(moment: Moment) -> list[tuple[date, Account, Decimal]]:
    """The rates that rise within the next thirty days, to be said among what is coming up."""
    return sorted(rises_between(moment, moment.today, moment.today + timedelta(days=_SAID_BEFORE)), key=itemgetter(0))
