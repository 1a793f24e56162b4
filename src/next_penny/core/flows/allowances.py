"""Allowances: spending with no fixed date, held back from an account period by period (docs/rules.md, Allowances).

Only the period that today is in knows what was really spent; each later one is assumed to use its limit up.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from itertools import pairwise

import numpy as np

from next_penny.core.books import Books
from next_penny.core.dates.business_days import Days
from next_penny.core.dates.calendar import month_number, month_start, weekday
from next_penny.core.money import round_half_up
from next_penny.core.plan import Allowance, Plan

DailySums = Mapping[int, int]


@dataclass(frozen=True, slots=True)
class AllowancePeriod:
    """One period of an allowance, days inclusive. `limit` has what was carried into it.

    used: recorded up to today. committed: expected in its categories in the rest of it. held_back: what the forecast
    takes for the rest.
    """

    first: int
    last: int
    limit: int
    used: int
    committed: int

    @property
    def left(self) -> int:
        """What may still be spent; negative when more was spent or is coming than the limit."""
        return self.limit - self.used - self.committed

    @property
    def held_back(self) -> int:
        return max(0, self.left)


@dataclass(frozen=True, slots=True)
class AllowanceStatus:
    """The period that today is in, and the amount per day, rounded down, that would use it exactly to its end."""

    allowance: Allowance
    period: AllowancePeriod
    days_left: int
    daily_pace: int


def period_bounds(allowance: Allowance, opened: date, day: int) -> tuple[int, int]:
    """The first and last day of the period that a day is in, within the allowance's own life."""
    start = (allowance.start or opened).toordinal()
    if allowance.period == "month":
        month = month_number(date.fromordinal(day))
        first, last = month_start(month), month_start(month + 1) - 1
    else:
        length = 7 if allowance.period == "week" else 14
        anchor = start - (weekday(start) - allowance.week_starts) % 7
        first = anchor + (day - anchor) // length * length
        last = first + length - 1
    end = allowance.until.toordinal() if allowance.until else last
    return max(first, start), min(last, end)


def periods(
    plan: Plan, allowance: Allowance, books: Books, committed: DailySums, today: date, until: date
) -> Iterator[AllowancePeriod]:
    """The periods from the one that today is in (or the first, if later) until a day, each with what was carried."""
    opened = plan.opened([allowance.account])
    now, end = today.toordinal(), until.toordinal()
    if allowance.until is not None:
        end = min(end, allowance.until.toordinal())
    start = (allowance.start or opened).toordinal()
    spent = _together(books, allowance)
    day = start if allowance.carry == "forward" else max(start, now)
    carried = 0
    while day <= end:
        first, last = period_bounds(allowance, opened, day)
        used = _between(spent, first, min(last, now))
        coming = _between(committed, max(first, now), last) + _between(spent, max(first, now + 1), last)
        period = AllowancePeriod(first, last, _limit(allowance, first) + carried, used, coming)
        if last >= now:
            yield period
            carried = min(0, period.left)
        else:
            carried = period.limit - used
        if allowance.carry == "none":
            carried = 0
        day = last + 1


def _limit(allowance: Allowance, first: int) -> int:
    day = date.fromordinal(first)
    revised = [revision for revision in allowance.revisions if revision.start <= day]
    return max(revised, key=lambda revision: revision.start).limit if revised else allowance.limit


def _together(books: Books, allowance: Allowance) -> DailySums:
    sums: dict[int, int] = {}
    for category in allowance.categories:
        for day, amount in books.spent.get(category, {}).items():
            sums[day] = sums.get(day, 0) + amount
    return sums


def _between(sums: DailySums, first: int, last: int) -> int:
    if last - first < len(sums):
        return sum(sums.get(day, 0) for day in range(first, last + 1))
    return sum(amount for day, amount in sums.items() if first <= day <= last)


def status(plan: Plan, allowance: Allowance, books: Books, committed: DailySums, today: date) -> AllowanceStatus | None:
    """How an allowance stands today; None outside its life."""
    period = next(periods(plan, allowance, books, committed, today, today), None)
    if period is None:
        return None
    days_left = period.last - today.toordinal() + 1
    return AllowanceStatus(allowance, period, days_left, period.held_back // days_left)


def held_back_days(allowance: Allowance, period: AllowancePeriod, today: int) -> tuple[Days, Days]:
    """On which days the forecast takes a period's held-back amount, and how much on each."""
    if allowance.timing == "at_end":
        return np.array([period.last]), np.array([period.held_back])
    first = min(max(period.first, today + 1), period.last)
    count = period.last - first + 1
    total = period.held_back
    upto = [round_half_up(Fraction(total * part, count)) for part in range(count + 1)]
    parts = [after - before for before, after in pairwise(upto)]
    return np.arange(first, period.last + 1), np.array(parts, dtype=np.int64)
