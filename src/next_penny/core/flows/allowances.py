"""Allowances: spending with no fixed date, held back from an account period by period (docs/rules.md, Allowances).

Only the period that today is in knows what was really spent; each later one is assumed to use its limit up.
"""

from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.dates.calendar import LATEST, month_number, month_start, weekday
from next_penny.core.flows.allowance_rates import flows_in, in_its_currency
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.planned import Block, expected
from next_penny.core.money import even_parts, rounded_quotient
from next_penny.core.plan.allowances import Allowance

LONGEST_PERIOD = 31


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
    """The period that today is in; `days_left` are those over which the forecast takes what is held back.

    daily_pace: the amount on each of them, rounded down, that would use it exactly to its end.
    """

    allowance: Allowance
    period: AllowancePeriod
    days_left: int
    daily_pace: int


class _Whole(NamedTuple):
    """One whole period, before an allowance's own life cuts it."""

    first: int
    last: int


def _whole(allowance: Allowance, counted_from: int, begin: int, end: int) -> Iterator[_Whole]:
    """The whole periods of an allowance, from the one that a day is in to the one that another is in."""
    if allowance.period == "month":
        for month in range(month_number(date.fromordinal(begin)), month_number(date.fromordinal(end)) + 1):
            yield _Whole(month_start(month), month_start(month + 1) - 1)
        return
    length = 7 if allowance.period == "week" else 14
    anchor = counted_from - (weekday(counted_from) - allowance.week_starts) % 7
    first = anchor + (begin - anchor) // length * length
    for day in range(first, end + 1, length):
        yield _Whole(day, day + length - 1)


class Span(NamedTuple):
    """One period within an allowance's life, days inclusive, and its limit before anything is carried into it."""

    first: int
    last: int
    limit: int


def spans(moment: Moment, allowance: Allowance, begin: int, end: int) -> Iterator[Span]:
    """The periods of an allowance that have a day in common with some days, past or to come."""
    opened = moment.plan.opened([allowance.account]).toordinal()
    # Two weeks are counted from the allowance's own begin, or else from the day on which its account opens.
    counted_from = allowance.start.toordinal() if allowance.start else opened
    start = max(opened, counted_from)
    ends = allowance.until.toordinal() if allowance.until else LATEST.toordinal()
    begin, end = max(begin, start), min(end, ends)
    if begin > end:
        return
    limit_starts, limits = _limits(allowance)
    for whole in _whole(allowance, counted_from, begin, end):
        first, last = max(whole.first, start), min(whole.last, ends)
        limit = limits[bisect_right(limit_starts, first)]
        share = rounded_quotient(limit * (last - first + 1), whole.last - whole.first + 1)
        yield Span(first, last, share)


def limit_share(span: Span, first: int, last: int) -> int:
    """What some days of a period have of its limit: the shares of its days, rounded as they add up, are all of it."""
    days = span.last - span.first + 1
    upto, before = (rounded_quotient(span.limit * (day - span.first), days) for day in (last + 1, first))
    return upto - before


def periods(moment: Moment, allowance: Allowance, until: int) -> Iterator[AllowancePeriod]:
    """The periods from the one that today is in (or the first, if later) until a day, each with what was carried."""
    carries = allowance.carry == "forward"
    # Carrying begins with the period that the allowance's own date is in, or else with that of today.
    begin = allowance.start.toordinal() if carries and allowance.start else moment.now
    sums: _Sums | None = None
    carried = 0
    for span in spans(moment, allowance, begin, until):
        sums = sums or _Sums(moment, allowance, until)
        used, coming = sums.of(span.first, span.last)
        period = AllowancePeriod(span.first, span.last, span.limit + carried, used, coming)
        if span.last >= moment.now:
            yield period
        carried = (min(0, period.left) if span.last >= moment.now else period.limit - used) if carries else 0


def _limits(allowance: Allowance) -> tuple[list[int], list[int]]:
    """The days from which limits are revised, and the limits, the allowance's own first."""
    revised = sorted((revision.start.toordinal(), revision.limit) for revision in allowance.revisions)
    return [start for start, _ in revised], [allowance.limit, *(limit for _, limit in revised)]


def limit_on(allowance: Allowance, first: int) -> int:
    """The limit of the period that begins on a day, before anything is carried into it."""
    starts, limits = _limits(allowance)
    return limits[bisect_right(starts, first)]


class _Sums:
    """What was spent, and what is still to come, in an allowance's categories, between any two days."""

    def __init__(self, moment: Moment, allowance: Allowance, until: int) -> None:
        self._now = moment.now
        self._spent = _Running(*_recorded(moment, allowance))
        self._coming = _Running(*_committed(moment, allowance, min(until + LONGEST_PERIOD, LATEST.toordinal())))

    def of(self, first: int, last: int) -> tuple[int, int]:
        """What was recorded up to today, and what is to come: expected, or recorded with a later date."""
        used = self._spent.between(first, min(last, self._now))
        later = self._spent.between(max(first, self._now + 1), last)
        return used, self._coming.between(max(first, self._now), last) + later


class _Running:
    """Sums between days, by bisection in the running total."""

    def __init__(self, days: Days, amounts: Days) -> None:
        order = np.argsort(days, kind="stable")
        self._days = days[order].tolist()
        self._totals = [0, *np.cumsum(amounts[order]).tolist()]

    def between(self, first: int, last: int) -> int:
        if last < first:
            return 0
        upto, before = bisect_right(self._days, last), bisect_right(self._days, first - 1)
        total: int = self._totals[upto] - self._totals[before]
        return total


def _recorded(moment: Moment, allowance: Allowance) -> tuple[Days, Days]:
    """What was recorded in an allowance's categories, in its currency: days and amounts."""
    days, amounts = [np.empty(0, dtype=np.int64)], [np.empty(0, dtype=np.int64)]
    for category in allowance.categories:
        for account in moment.plan.accounts:
            if spent := moment.books.spent.get((category, account.id)):
                columns = np.array(spent, dtype=np.int64)
                days.append(columns[:, 0])
                amounts.append(in_its_currency(moment.plan, allowance, account.id, columns[:, 0], columns[:, 1]))
    return np.concatenate(days), np.concatenate(amounts)


def _committed(moment: Moment, allowance: Allowance, until: int) -> tuple[Days, Days]:
    """What flows are expected to take in an allowance's categories: days and amounts."""
    days, amounts = [np.empty(0, dtype=np.int64)], [np.empty(0, dtype=np.int64)]
    for flow in flows_in(moment, allowance):
        coming = expected(moment, flow, until)
        moving = np.maximum(coming.landing, moment.now)
        for category, part, mine in maker_of(moment, flow).shares(coming):
            if category in allowance.categories:
                on, taken = (moving, part) if mine is None else (moving[mine], part[mine])
                days.append(on)
                amounts.append(in_its_currency(moment.plan, allowance, flow.main_account or "", on, taken))
    return np.concatenate(days), np.concatenate(amounts)


def status(moment: Moment, allowance: Allowance) -> AllowanceStatus | None:
    """How an allowance stands today; None outside its life."""
    period = next(periods(moment, allowance, moment.now), None)
    if period is None or period.first > moment.now:
        return None
    first = first_held_back(period, moment.now)
    days_left = period.last - first + 1
    return AllowanceStatus(allowance, period, days_left, period.held_back // days_left)


def first_held_back(period: AllowancePeriod, now: int) -> int:
    """The first day on which what is held back may be taken: tomorrow at the earliest, or today if it is the last."""
    return min(max(period.first, now + 1), period.last)


def allowance_blocks(moment: Moment, allowance: Allowance, until: int) -> tuple[Block, ...]:
    """What the forecast takes for an allowance until a day, remembered while nothing changes that it follows from."""
    plan, spent_in = moment.plan, moment.books.spent
    spent = tuple(
        spent_in.get((category, account.id)) for category in allowance.categories for account in plan.accounts
    )
    flows = tuple(maker_of(moment, flow).basis for flow in flows_in(moment, allowance))
    opened = moment.plan.opened([allowance.account])
    currencies = tuple(account.currency for account in plan.accounts)
    rates = plan.rates if len(plan.currencies) > 1 else ()
    basis = (allowance, spent, flows, opened, moment.today, moment.carries, plan.household.country, currencies, rates)
    return moment.cache.recall(("allowance", allowance.id, until), basis, lambda: _held_back(moment, allowance, until))


def _held_back(moment: Moment, allowance: Allowance, until: int) -> tuple[Block, ...]:
    days, firsts, amounts = [], [], []
    for period in periods(moment, allowance, until):
        if period.held_back == 0:
            continue
        on, parts = held_back_days(allowance, period, moment.now)
        days.append(on)
        amounts.append(parts)
        firsts.append(np.full(len(on), period.first, dtype=np.int64))
    if not days:
        return ()
    on = np.concatenate(days)
    inside = on <= until
    nominal, taken = np.concatenate(firsts)[inside], -np.concatenate(amounts)[inside]
    return (Block(allowance.account, on[inside], nominal, taken, False),)


def held_back_days(allowance: Allowance, period: AllowancePeriod, now: int) -> tuple[Days, Days]:
    """On which days the forecast takes a period's held-back amount, and how much on each."""
    if allowance.timing == "at_end":
        return np.array([period.last]), np.array([period.held_back])
    first = first_held_back(period, now)
    return np.arange(first, period.last + 1), np.array(
        even_parts(period.held_back, period.last - first + 1), dtype=np.int64
    )


@lru_cache(maxsize=4096)
def _parts(total: int, count: int) -> Days:
    return np.array(even_parts(total, count), dtype=np.int64)
