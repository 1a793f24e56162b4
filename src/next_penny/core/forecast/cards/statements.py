"""A card's statements: those that were, and what its coming months bring."""

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

from next_penny.core.accounts.cards import closing_in, due_day, minimum_of
from next_penny.core.accounts.generated import Generated
from next_penny.core.accounts.parts import sentence
from next_penny.core.accounts.wording import minimum_told
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.dates.sentences import short_day
from next_penny.core.flows.acting import acted
from next_penny.core.forecast.cards.standing import _STATEMENTS_TOLD
from next_penny.core.forecast.projection import in_a_year, year_ahead
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import interest_id


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
    terms = account.card_terms
    opened, charge = account.opening.date.toordinal(), interest_id(account.id)
    month, statements = month_number(moment.today), list[PastStatement]()
    if closing_in(terms, month) < moment.now:
        month += 1
    balance = moment.balance_on(account, moment.now)
    postings = [posting for posting in moment.books.postings.get(account.id, ()) if posting.day <= moment.now]
    while len(statements) <= _STATEMENTS_TOLD and closing_in(terms, month) >= opened:
        closing, first = closing_in(terms, month), max(opened, closing_in(terms, month - 1) + 1)
        mine = [posting for posting in postings if first <= posting.day <= closing]
        interest = -sum(posting.amount for posting in mine if posting.flow == charge)
        spent = -sum(posting.amount for posting in mine if posting.amount < 0 and posting.flow != charge)
        came_in = sum(posting.amount for posting in mine if posting.amount > 0 and posting.flow != charge)
        owed = max(0, -balance)
        minimum, why = minimum_of(terms, owed, interest), minimum_told(account, owed, interest)
        due = due_day(terms, closing)
        statements.append(PastStatement(first, closing, due, spent, came_in, interest, owed, minimum, why))
        balance -= sum(posting.amount for posting in mine)
        month -= 1
    begun = terms.begun_with
    if begun is not None and len(statements) <= _STATEMENTS_TOLD:
        closing, minimum = begun.closing.toordinal(), minimum_of(terms, begun.balance, 0)
        first = closing_in(terms, month_number(begun.closing) - 1) + 1
        statements.append(PastStatement(first, closing, begun.due.toordinal(), 0, 0, 0, begun.balance, minimum,
                                   minimum_told(account, begun.balance, 0)))  # fmt: skip
    return statements


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
    for movement in made:
        month = month_number(date.fromordinal(movement.day))
        if movement.owner == account.id and month in sums and movement.source in sums[month]:
            sums[month][movement.source] += movement.amount
            whys[month].append(_told(account, movement))
    levels = forecast.run_of[account.id].levels
    months = []
    for month, of in sums.items():
        ends = add_months(date(month // 12, month % 12 + 1, 1), 1).toordinal() - 1
        balances = [balance for day, balance in levels if day <= ends]
        owed = max(0, -balances[-1]) if balances else 0
        whys_of_month = tuple(whys[month])
        months.append(ComingMonth(month, of["card_payment"], of["card_interest"], of["line_draw"], owed, whys_of_month))
    return months


def _told(account: Account, made: Generated) -> str:
    """When, how much and why."""
    day, amount = short_day(date.fromordinal(made.day)), format_amount(made.amount, account.currency)
    return f"{day}, {amount}: {sentence(account, made.source, made.facts)}."


def coming_year(months: Sequence[ComingMonth]) -> tuple[int, int, int]:
    """What is paid, charged as interest and drawn in these months together."""
    return (
        sum(month.paid for month in months),
        sum(month.interest for month in months),
        sum(month.drawn for month in months),
    )
