"""The bank's interest counted anew, by every way that banks count (docs/rules.md, Savings interest)."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal, localcontext
from heapq import nsmallest
from itertools import pairwise, product

from next_penny.core.accounts.ledger import Span
from next_penny.core.accounts.savings import daily_interest, interest_over
from next_penny.core.books.registers import RegisterLine
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.money import LARGEST_AMOUNT, rounded_quotient
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import interest_id
from next_penny.core.plan.terms.savings import Basis, Compounding, InterestRounding, MovementsEarn, SavingsTerms
from next_penny.core.problems import PlanError, Problem, go_on

# A day or a stretch of more is no statement of anybody's.
MOST_DAYS = 4_000
# What a balance of this much earns tells what a missing one would have earned.
_LARGE = 10**11
# A yield of more is nobody's: a sum was credited to next to nothing.
_MOST_PERCENT = 10**9
# So many movements are tried a day later by each way of counting.
_TRIED = 2
_BASES: tuple[Basis, ...] = ("365", "actual", "360")
_COMPOUNDINGS: tuple[Compounding, ...] = ("daily", "none")
_EARN: tuple[MovementsEarn, ...] = ("same_day", "next_day")
_ROUNDINGS: tuple[InterestRounding, ...] = ("at_credit", "daily")


@dataclass(frozen=True, slots=True)
class Movement:
    """Money in (positive) or out on a day, in minor units."""

    date: date
    amount: int


@dataclass(frozen=True, slots=True)
class Statement:
    """What an account held at the start of its first day, what moved, and what the bank paid at the end of its last.

    Amounts are minor units; the yield or the nominal rate in percent a year.
    """

    first: date
    last: date
    opening: int
    movements: tuple[Movement, ...]
    credited: int
    apy: Decimal | None = None
    rate: Decimal | None = None

    @property
    def days(self) -> int:
        return (self.last - self.first).days + 1


@dataclass(frozen=True, slots=True)
class Counted:
    """One way of counting, and what it gives. difference: what the bank paid less that."""

    terms: SavingsTerms
    interest: int
    difference: int


def check_statement(statement: Statement) -> None:
    """Refuse a stretch that cannot be counted. Raises PlanError."""
    problems = []
    if statement.last < statement.first:
        problems.append(Problem(("to",), "The statement ends before it begins.", "range"))
    elif statement.days > MOST_DAYS:
        problems.append(Problem(("to",), f"A statement has at most {MOST_DAYS:,} days.", "range"))
    for place, movement in enumerate(statement.movements):
        if not statement.first <= movement.date <= statement.last:
            problems.append(Problem(("movements", place, "date"), "This day is not within the statement.", "range"))
    if (statement.apy is None) == (statement.rate is None):
        problems.append(Problem(("apy",), "Give the yield or the rate, one of them.", "needed"))
    for name, percent in (("apy", statement.apy), ("rate", statement.rate)):
        if percent is not None and not 0 <= percent <= 100:
            problems.append(Problem((name,), "It is from 0 to 100 percent a year.", "range"))
    if problems:
        raise PlanError(problems)


def counted(statement: Statement) -> list[Counted]:
    """Every way of counting, the nearest to what the bank paid first; of alike ones the usual first."""
    counts = []
    spans = {earn: _spans(statement, earn) for earn in _EARN}
    for basis, compounding, earn, rounding in product(_BASES, _COMPOUNDINGS, _EARN, _ROUNDINGS):
        terms = SavingsTerms(statement.apy, statement.rate, basis, compounding, earn, rounding)
        # What grows beyond all that can be counted stays at the largest amount, as in the forecast.
        interest = min(LARGEST_AMOUNT, interest_over(terms, spans[earn]))
        counts.append(Counted(terms, interest, statement.credited - interest))
    return sorted(counts, key=lambda count: abs(count.difference))


@dataclass(frozen=True, slots=True)
class CreditedMonth:
    """A month (its number) of an account with a credit that is recorded, as a statement. own: as the account counts."""

    month: int
    statement: Statement
    own: int


def credited_months(
    account: Account, terms: SavingsTerms, lines: Sequence[RegisterLine], today: date, most: int
) -> list[CreditedMonth]:
    """The newest months of which interest is recorded; `lines` are the account's register, newest first."""
    flow = interest_id(account.id)
    credited_months: list[CreditedMonth] = []
    number, opened = month_number(today), account.opening.date.toordinal()
    while len(credited_months) < most and month_end(number) >= opened:
        first, last = max(month_start(number), opened), month_end(number)
        of_month = [line for line in lines if first <= line.day <= last]
        credits = [line.amount for line in of_month if line.flow == flow]
        if credits:
            opening = next((line.balance for line in lines if line.day < first), account.opening.balance)
            movements = tuple(
                Movement(date.fromordinal(line.day), line.amount) for line in reversed(of_month) if line.flow != flow
            )
            days = (date.fromordinal(first), date.fromordinal(last))
            statement = Statement(*days, opening, movements, sum(credits), terms.apy, terms.rate)
            own = interest_over(terms, _spans(statement, terms.movements_earn))
            credited_months.append(CreditedMonth(number, statement, own))
        number -= 1
    return credited_months


def by_day(statement: Statement, terms: SavingsTerms) -> list[tuple[date, int, Decimal]]:
    """Each day, the balance that earned and what it earned, to a hundredth of a minor unit."""
    days = daily_interest(terms, _spans(statement, terms.movements_earn))
    return [
        (date.fromordinal(day), base, earned.quantize(Decimal("0.01"), ROUND_HALF_UP)) for day, base, earned in days
    ]


def _spans(statement: Statement, earn: MovementsEarn) -> list[Span]:
    """The balances that earn, day by day: each day's end, or its start."""
    later = 0 if earn == "same_day" else 1
    first, last = statement.first.toordinal(), statement.last.toordinal()
    moves: dict[int, int] = {first: 0}
    for movement in statement.movements:
        day = movement.date.toordinal() + later
        moves[day] = moves.get(day, 0) + movement.amount
    days = [day for day in sorted(moves) if day <= last]
    spans, balance = [], statement.opening
    for day, following in pairwise([*days, last + 1]):
        balance += moves[day]
        spans.append(Span(day, following - 1, balance))
    return spans


def average_balance(statement: Statement) -> Decimal:
    """The average of the balances at the ends of the days, before the credit."""
    total = sum(span.balance * (span.last - span.first + 1) for span in _spans(statement, "same_day"))
    with localcontext() as context:
        context.prec = 60
        return Decimal(total) / statement.days


def yield_earned(statement: Statement) -> Decimal | None:
    """Percent a year, to two decimals (Regulation DD, Appendix A, Part II); None on nothing, or beyond sense."""
    average = average_balance(statement)
    if average <= 0:
        return None
    with localcontext() as context:
        context.prec = 60
        grown = 1 + Decimal(statement.credited) / average
        if grown <= 0:
            return None
        exact = 100 * ((grown.ln() * 365 / statement.days).exp() - 1)
        if exact > _MOST_PERCENT:
            return None
        return exact.quantize(Decimal("0.01"), ROUND_HALF_UP)


@dataclass(frozen=True, slots=True)
class Otherwise:
    """What else would explain it by one way of counting: a movement a day later, or one that is missing."""

    movement: Movement
    is_missing: bool


def otherwise(statement: Statement, counts: Sequence[Counted]) -> list[Otherwise]:
    """What would make a way of counting give exactly what the bank paid: one movement a day later, or one missing.

    found: the ways, nearest first. Nothing where one gives it, or is a single minor unit off: that is rounding.
    """
    if abs(counts[0].difference) <= 1:
        return []
    later = (
        Otherwise(movement, is_missing=False)
        for by in counts
        for place, movement in _nearest(statement, by)
        if _with(statement, by.terms, _moved(statement.movements, place)) == statement.credited
    )
    first = next(later, None)
    missing = (alternative for by in counts for alternative in _missing(statement, by))
    return [alternative for alternative in (first, next(missing, None)) if alternative is not None]


def _nearest(statement: Statement, by: Counted) -> list[tuple[int, Movement]]:
    """The movements, with their places, whose interest of one day is nearest to the difference: the rest cannot be."""
    go_on()
    first = statement.first.toordinal()
    earned = interest_over(by.terms, [Span(first, first, _LARGE)])
    return nsmallest(
        _TRIED,
        enumerate(statement.movements),
        key=lambda numbered: abs(numbered[1].amount * earned + by.difference * _LARGE),
    )


def _moved(movements: Sequence[Movement], place: int) -> tuple[Movement, ...]:
    movement = movements[place]
    moved = Movement(movement.date + timedelta(days=1), movement.amount)
    return (*movements[:place], moved, *movements[place + 1 :])


def _with(statement: Statement, terms: SavingsTerms, movements: Iterable[Movement]) -> int:
    inside = tuple(movement for movement in movements if movement.date <= statement.last)
    changed = Statement(statement.first, statement.last, statement.opening, inside, statement.credited,
                        statement.apy, statement.rate)  # fmt: skip
    return interest_over(terms, _spans(changed, terms.movements_earn))


def _missing(statement: Statement, by: Counted) -> list[Otherwise]:
    """A movement on the first day that would make up the difference, if there is one."""
    alone = Statement(statement.first, statement.last, 0, (Movement(statement.first, _LARGE),), 0,
                      statement.apy, statement.rate)  # fmt: skip
    earned = interest_over(by.terms, _spans(alone, by.terms.movements_earn))
    if earned <= 0:
        return []
    amount = rounded_quotient(_LARGE * by.difference, earned)
    movement = Movement(statement.first, amount)
    if amount and _with(statement, by.terms, (*statement.movements, movement)) == statement.credited:
        return [Otherwise(movement, is_missing=True)]
    return []
