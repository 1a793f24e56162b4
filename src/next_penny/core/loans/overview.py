"""All loans of a household together: what is owed, what it costs, when it ends, and year by year."""

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from next_penny.core.books import Books
from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.loans.schedule import LoanError
from next_penny.core.loans.standing import Standing, standing
from next_penny.core.money import convert
from next_penny.core.plan import Plan


@dataclass(frozen=True, slots=True)
class LoanSummary:
    """One loan as of today; amounts positive, minor units of its currency. `payment` is the next one's."""

    standing: Standing
    annual_rate: Decimal
    payment: int
    next_due: date | None
    months_left: int
    original: int
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
    owed: int
    debt_free: date | None
    this_month: tuple[int, int]
    next_twelve: tuple[int, int]
    years: tuple[OverviewYear, ...]
    balances: tuple[tuple[int, int], ...]


# What was recorded on an account of a loan as payments, by year: asked of whoever keeps the entries.
RecordedByYear = Callable[[str], Mapping[int, int]]


def standings(plan: Plan, books: Books) -> list[Standing]:
    """Every loan of the household as it stands."""
    return [standing(plan, account, books) for account in plan.accounts if account.loan is not None]


def debt_free(plan: Plan, books: Books) -> date | None:
    """The day on which the last loan is paid off; None without loans, or where nothing is owed."""
    try:
        return max((each.paid_off for each in standings(plan, books) if each.paid_off is not None), default=None)
    except LoanError:
        return None


def overview(plan: Plan, books: Books, recorded_by_year: RecordedByYear, today: date) -> Overview:
    """All loans as of today."""
    stands = standings(plan, books)
    month, year_end = month_number(today), add_months(today, 12)
    sums = {"month": Counter[str](), "twelve": Counter[str]()}
    coming: dict[int, Counter[str]] = {}
    recorded: Counter[int] = Counter()
    for each in stands:

        def here(amount: int, each: Standing = each) -> int:
            return _converted(plan, each, amount, today)

        recorded.update({year: here(paid) for year, paid in recorded_by_year(each.account.id).items()})
        for row in each.rest.rows if each.rest else ():
            due = date.fromordinal(row.due)
            parts = {"principal": here(row.principal + row.extra), "interest": here(row.interest)}
            coming.setdefault(due.year, Counter()).update(parts)
            if month_number(due) == month:
                sums["month"].update(parts)
            if today <= due < year_end:
                sums["twelve"].update(parts)
    return Overview(
        currency=plan.household.currency,
        loans=tuple(_summary(each, today) for each in stands),
        owed=sum(_converted(plan, each, max(0, each.owed), today) for each in stands),
        debt_free=debt_free(plan, books),
        this_month=(sums["month"]["principal"], sums["month"]["interest"]),
        next_twelve=(sums["twelve"]["principal"], sums["twelve"]["interest"]),
        years=tuple(_years(recorded, coming)),
        balances=tuple(_balances(plan, stands, today)),
    )


def _summary(stands: Standing, today: date) -> LoanSummary:
    rest, terms = stands.rest, stands.agreed.terms
    rows = rest.rows if rest else []
    coming = next((row for row in rows if row.due >= today.toordinal()), rows[-1] if rows else None)
    months = month_number(rest.paid_off) - month_number(today) if rest else 0
    return LoanSummary(
        standing=stands,
        annual_rate=coming.annual_rate if coming else stands.agreed.rate[-1],
        payment=coming.payment + coming.escrow + coming.insurance if coming else 0,
        next_due=date.fromordinal(coming.due) if coming else None,
        months_left=max(0, months),
        original=terms.amount_financed,
        interest_left=sum(rest.interest) if rest else 0,
    )


def _converted(plan: Plan, stands: Standing, amount: int, today: date) -> int:
    have, want = stands.account.currency, plan.household.currency
    rate = plan.rate(have, want, today) if have != want else None
    return convert(amount, rate, have, want) if rate is not None else amount


def _years(recorded: Mapping[int, int], coming: Mapping[int, Counter[str]]) -> Sequence[OverviewYear]:
    years, paid = [], 0
    for year in sorted({*recorded, *coming}):
        ahead = coming.get(year, Counter())
        paid += recorded.get(year, 0) + ahead["principal"] + ahead["interest"]
        years.append(OverviewYear(year, recorded.get(year, 0), ahead["principal"], ahead["interest"], paid))
    return years


def _balances(plan: Plan, stands: Sequence[Standing], today: date) -> Sequence[tuple[int, int]]:
    """What all loans together leave owed on each day on which it changes, from today on."""
    now = today.toordinal()
    changes: Counter[int] = Counter({now: sum(_converted(plan, each, max(0, each.owed), today) for each in stands)})
    for each in stands:
        for row in each.rest.rows if each.rest else ():
            changes[max(now, row.due)] -= _converted(plan, each, row.principal + row.extra, today)
    owed, levels = 0, []
    for day, change in sorted(changes.items()):
        owed += change
        levels.append((day, owed))
    return levels
