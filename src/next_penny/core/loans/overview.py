"""All loans of a household together: what is owed, what it costs, when it ends, and year by year."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.loans.schedule import Row
from next_penny.core.loans.standing import Parts, Standing, standings
from next_penny.core.money import rounded_quotient, whole_percent


@dataclass(frozen=True, slots=True)
class LoanSummary:
    """One loan as of today; amounts positive, minor units of its currency. `payment` is the next one, all its parts.

    months_left: calendar months to the last payment, None where it never ends. payments_left: how many there are.
    """

    standing: Standing
    annual_rate: Decimal
    payment: int
    principal_and_interest: int
    next_due: date | None
    months_left: int | None
    payments_left: int
    original: int
    paid_down_percent: int
    interest_left: int


@dataclass(frozen=True, slots=True)
class AllLoans:
    """All loans in the household's currency. `monthly`: their next payments, each as a twelfth of its year's."""

    owed: int
    monthly: int
    original: int
    paid_down: int
    interest_left: int


@dataclass(frozen=True, slots=True)
class OverviewYear:
    """A calendar year: payments recorded, and what is to come of principal and interest; `paid_so_far` runs on."""

    year: int
    recorded: int
    principal: int
    interest: int
    paid_so_far: int


@dataclass(frozen=True, slots=True)
class Overview:
    """Sums are in the household's currency. Pairs are (principal, interest). `balances`: what is owed by day number."""

    currency: str
    loans: tuple[LoanSummary, ...]
    totals: AllLoans
    debt_free: date | None
    this_month: tuple[int, int]
    next_twelve: tuple[int, int]
    years: tuple[OverviewYear, ...]
    balances: tuple[tuple[int, int], ...]


def debt_free(moment: Moment) -> date | None:
    """The day on which the last loan is paid off; None without loans, where nothing is owed, or it never ends."""
    current_standings = [standing for standing in standings(moment) if standing.rest is not None]
    ends = [standing.ends for standing in current_standings]
    return max((day for day in ends if day is not None), default=None) if None not in ends else None


def overview(moment: Moment) -> Overview:
    """All loans as of today. Raises NoRate where one cannot be told in the household's currency."""
    current_standings = standings(moment)
    loans = tuple(summarize_loan(one_standing, moment.today) for one_standing in current_standings)
    month, year_end = month_number(moment.today), add_months(moment.today, 12)
    sums = {"month": Counter[str](), "twelve": Counter[str]()}
    coming: dict[int, Counter[str]] = {}
    recorded: Counter[int] = Counter()
    for standing in current_standings:
        here = _Here(moment, standing)
        recorded.update({year: here(paid) for year, paid in _recorded_by_year(moment, standing).items()})
        for move in _coming(moment, standing):
            parts = {"principal": here(move.principal), "interest": here(move.interest)}
            if not move.is_recorded:
                coming.setdefault(move.day.year, Counter()).update(parts)
            if month_number(move.day) == month:
                sums["month"].update(parts)
            if moment.today <= move.day < year_end:
                sums["twelve"].update(parts)
    return Overview(
        currency=moment.plan.household.currency,
        loans=loans,
        totals=_totals(moment, loans),
        debt_free=debt_free(moment),
        this_month=(sums["month"]["principal"], sums["month"]["interest"]),
        next_twelve=(sums["twelve"]["principal"], sums["twelve"]["interest"]),
        years=tuple(_years(recorded, coming)),
        balances=tuple(_balances(moment, current_standings)),
    )


def _totals(moment: Moment, loans: Sequence[LoanSummary]) -> AllLoans:
    columns: list[tuple[int, ...]] = [(0,) * len(AllLoans.__slots__)]
    for loan in loans:
        standing, here = loan.standing, _Here(moment, loan.standing)
        monthly = rounded_quotient(loan.payment * standing.terms.payments_per_year, 12)
        amounts = (max(0, standing.owed), monthly, loan.original, standing.paid_down, loan.interest_left)
        columns.append(tuple(here(amount) for amount in amounts))
    return AllLoans(*(sum(column) for column in zip(*columns, strict=True)))


class _Move(NamedTuple):
    """Money that is to move on a loan on a day; `is_recorded` where an entry says so."""

    day: date
    principal: int
    interest: int
    is_recorded: bool = False


def _coming(moment: Moment, standing: Standing) -> Iterator[_Move]:
    """What is still to come of a loan: payments, past-due ones today, and what an entry of a later day pays by hand."""
    if standing.rest is None:
        return
    since = standing.rest.since
    for row in standing.rest.rows:
        by_hand = sum(moved.amount for moved in standing.history.by_hand if since < moved.day <= row.due)
        since = row.due
        day = max(row.due, moment.now) if moment.carries else row.due
        yield _Move(date.fromordinal(day), row.principal + row.extra - by_hand, row.interest)
    for moved in standing.history.by_hand:
        if moved.day > moment.now:
            yield _Move(date.fromordinal(moved.day), moved.amount, 0, is_recorded=True)


class _Here:
    """Amounts of one loan in the household's currency, at today's rate."""

    def __init__(self, moment: Moment, loan_standing: Standing) -> None:
        self._plan, self._currency, self._today = moment.plan, loan_standing.account.currency, moment.today

    def __call__(self, amount: int) -> int:
        return self._plan.converted(amount, self._currency, self._plan.household.currency, self._today)


def _recorded_by_year(moment: Moment, standing: Standing) -> Mapping[int, int]:
    """By calendar year, what was recorded as this loan's payments, whole."""
    flow = standing.flow.id if standing.flow is not None else ""
    paid: Counter[int] = Counter()
    paid_on: dict[int, int] = {}
    for posting in moment.books.postings.get(standing.account.id, ()):
        if posting.flow == flow and posting.nominal is not None:
            paid_on[posting.nominal] = posting.day
        elif posting.amount > 0:
            paid[date.fromordinal(posting.day).year] += posting.amount
    for nominal, amount in moment.books.settled.get(flow, {}).items():
        paid[date.fromordinal(paid_on.get(nominal, nominal)).year] += amount
    return paid


def summarize_loan(standing: Standing, today: date) -> LoanSummary:
    """One loan as of today."""
    rest = standing.rest
    rows = rest.rows if rest else []
    coming = next((row for row in rows if row.due >= today.toordinal()), rows[-1] if rows else None)
    last = standing.ends
    return LoanSummary(
        standing=standing,
        annual_rate=coming.annual_rate if coming else standing.agreed.rate[-1],
        payment=_whole(standing, coming) if coming else 0,
        principal_and_interest=coming.payment if coming else 0,
        next_due=date.fromordinal(coming.due) if coming else None,
        months_left=max(0, month_number(last) - month_number(today)) if last else None if rest else 0,
        payments_left=len(rows),
        original=standing.terms.amount_financed,
        paid_down_percent=whole_percent(standing.paid_down, standing.terms.amount_financed),
        interest_left=sum(rest.interest) if rest else 0,
    )


def _whole(standing: Standing, coming: Row) -> int:
    """The next payment with all its parts; a household's extra is told beside it."""
    lender = standing.terms.lender_on(coming.due)
    fee = lender.fee if lender is not None else 0
    return Parts(coming.interest, coming.principal, coming.escrow, coming.insurance, fee).total


def _years(recorded: Mapping[int, int], coming: Mapping[int, Counter[str]]) -> Sequence[OverviewYear]:
    years, paid = [], 0
    for year in sorted({*recorded, *coming}):
        ahead = coming.get(year, Counter())
        paid += recorded.get(year, 0) + ahead["principal"] + ahead["interest"]
        years.append(OverviewYear(year, recorded.get(year, 0), ahead["principal"], ahead["interest"], paid))
    return years


def _balances(moment: Moment, standings: Sequence[Standing]) -> Sequence[tuple[int, int]]:
    """What all loans together leave owed on each day on which it changes, from today on."""
    changes: Counter[int] = Counter({moment.now: 0})
    for standing in standings:
        here, before = _Here(moment, standing), 0
        opened = max(moment.now, standing.account.opening.date.toordinal())
        begins = max(0, standing.owed) if opened == moment.now else standing.rest.opening if standing.rest else 0
        rows = standing.rest.rows if standing.rest else ()
        by_hand = [moved for moved in standing.history.by_hand if moved.day > opened]
        steps = [(max(opened, row.due), 1, row.balance) for row in rows]
        steps += [(moved.day, 0, moved.amount) for moved in by_hand]
        balance = begins
        for day, is_payment, amount in (
            (opened, 1, begins),
            *sorted(steps, key=lambda step: step[:2]),
        ):  # payments of one day stay in order
            balance = amount if is_payment else balance - amount
            left = here(max(0, balance))
            changes[day] += left - before
            before = left
    owed, levels = 0, []
    for day, change in sorted(changes.items()):
        owed += change
        levels.append((day, owed))
    return levels
