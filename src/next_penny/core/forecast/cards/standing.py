"""Cards and lines as they stand: what is owed and available, what comes next, what it costs (docs/rules.md, Cards)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from itertools import pairwise
from operator import itemgetter
from typing import NamedTuple

from next_penny.core.accounts.cards import closing_before, closings, due_day, yearly_cost
from next_penny.core.books.moment import Moment
from next_penny.core.flows.acting import acted
from next_penny.core.forecast.projection import year_ahead
from next_penny.core.money import percent_text, round_half_up, rounded_quotient
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import payment_id
from next_penny.core.plan.terms.cards import CardTerms

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
    return [card_standing(moment, account) for account, _ in moment.plan.cards]


def card_standing(moment: Moment, account: Account) -> CardStanding:
    """One card or line as it stands today."""
    terms = account.card_terms
    owed = owed_today(moment, account)
    due = _next_due(moment, account, terms)
    # A payment may be put off beyond its due day.
    moved = [change.moved_to.toordinal() for change in terms.changes if change.moved_to is not None]
    payments = acted(moment, max(due, moment.now, *moved)).by_flow.get(payment_id(account.id), ())
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
    opened = terms.begun_with.closing if terms.begun_with is not None else account.opening.date
    begins = max(opened.toordinal(), closing_before(terms, moment.now))
    for closing in closings(terms, begins):
        due = due_day(terms, closing)
        if due >= moment.now and due not in settled:
            return due
    return moment.now


def _next_rise(moment: Moment, account: Account, terms: CardTerms) -> RateRise | None:
    before = terms.rate_on(moment.now)
    later = (rate for rate in terms.rates_in_order if rate.start > moment.today and rate.annual_rate > before)
    step = next(later, None)
    if step is None:
        return None
    day = step.start.toordinal()
    levels = year_ahead(moment).run_of[account.id].levels
    balances = [balance for number, balance in levels if number <= day]
    owed = max(0, -balances[-1]) if balances else owed_today(moment, account)
    cost, cost_before = (round_half_up(Fraction(rate) * owed / 1200) for rate in (step.annual_rate, before))
    return RateRise(step.start, before, step.annual_rate, owed, cost, cost_before)


def rises_between(moment: Moment, first: date, last: date) -> Iterator[tuple[date, Account, Decimal]]:
    """The days on which a card's rate becomes higher: day, card, and the rate from then on."""
    for account, terms in moment.plan.cards:
        for before, after in pairwise(terms.rates_in_order):
            if after.annual_rate > before.annual_rate and first <= after.start <= last:
                yield after.start, account, after.annual_rate


def all_owed(moment: Moment) -> int:
    """What is owed on all cards and lines, in the household's currency. Raises NoRate."""
    here = moment.plan.household.currency
    return sum(
        moment.plan.converted(owed_today(moment, account), account.currency, here, moment.today)
        for account, _ in moment.plan.cards
    )


@dataclass(frozen=True, slots=True)
class CardTotals:
    """All cards and lines in the household's currency: what is owed, may still be spent, and costs."""

    owed: int
    available: int
    cost_year: int
    cost_month: int


def card_totals(moment: Moment, cards: Sequence[CardStanding]) -> CardTotals:
    """All cards and lines together. Raises NoRate."""
    here = moment.plan.household.currency
    return CardTotals(*(
        sum(moment.plan.converted(getattr(card, name), card.account.currency, here, moment.today) for card in cards)
        for name in CardTotals.__slots__
    ))  # fmt: skip


def lines_available(moment: Moment, cards: Sequence[CardStanding]) -> int | None:
    """What all credit lines may still lend, in the household's currency; None where there is none. Raises NoRate."""
    here, lines = moment.plan.household.currency, [card for card in cards if card.terms.is_line]
    if not lines:
        return None
    return sum(
        moment.plan.converted(max(0, line.available), line.account.currency, here, moment.today) for line in lines
    )  # fmt: skip


def marks(moment: Moment, until: date) -> list[tuple[date, str]]:
    """Days ahead on which a card's rate rises, each with a few words; by day."""
    coming_rises = [(day, f"{account.name}: {percent_text(rate)}") for day, account, rate in rises_between(
        moment, moment.today, until)]  # fmt: skip
    return sorted(coming_rises)


def rises_soon(moment: Moment) -> list[tuple[date, Account, Decimal]]:
    """The rates that rise within the next thirty days, to be said among what is coming up."""
    return sorted(rises_between(moment, moment.today, moment.today + timedelta(days=_SAID_BEFORE)), key=itemgetter(0))
