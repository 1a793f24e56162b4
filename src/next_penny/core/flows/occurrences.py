"""The occurrences of a flow: nominal date, landing date and amount (docs/rules.md, What repeats).

An occurrence's identity is (flow, nominal date). Its amount is the first that applies of: the amount set for that one
date, for its calendar month, the average of what was settled (where the flow follows that), by the revision in force,
and the flow's own; yearly growth multiplies the last two.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Iterator
from dataclasses import replace
from datetime import date
from fractions import Fraction
from functools import lru_cache
from typing import Literal, NamedTuple

import numpy as np

from next_penny.core.dates.business_days import LONGEST_ROLL, BusinessCalendar, Days, Roll
from next_penny.core.dates.calendar import EARLIEST, whole_years
from next_penny.core.dates.recurrence import Schedule, schedule_days
from next_penny.core.money import round_half_up
from next_penny.core.plan import Flow, Hourly

AmountSource = Literal["this date", "season", "average", "revision", "flow"]

# What was settled: (nominal day number, amount), in order of nominal day.
Settled = tuple[tuple[int, int], ...]


class Occurrences(NamedTuple):
    """Parallel columns: nominal and landing day numbers, and amounts in minor units; in nominal order."""

    nominal: Days
    landing: Days
    amount: Days


def nominal_days(flow: Flow, default_start: date, first: int, last: int) -> list[int]:
    """The nominal days of a flow from `first` to `last`.

    A revision's rules hold from its date on and are anchored there; a count runs on through all of them.
    """
    revised = sorted((r for r in flow.revisions if r.rules is not None), key=lambda revision: revision.start)
    whole = flow.schedule(default_start)
    if not revised:
        return schedule_days(whole, first, last)
    begin = first if flow.count is None else EARLIEST.toordinal()
    starts = [EARLIEST, *(revision.start for revision in revised)]
    days: list[int] = []
    for index, start in enumerate(starts):
        era_first = max(begin, start.toordinal())
        era_last = min(last, starts[index + 1].toordinal() - 1 if index + 1 < len(starts) else last)
        rules = whole.rules if index == 0 else flow.schedule(start, revised[index - 1].rules).rules
        anchor = whole.start if index == 0 else max(start, whole.start)
        era = replace(whole, rules=rules, start=anchor, count=None, exceptions=())
        days.extend(schedule_days(era, era_first, era_last))
    skipped = {day.toordinal() for day in flow.exceptions}
    counted = days if flow.count is None else days[: flow.count]
    return [day for day in counted if day >= first and day not in skipped]


@lru_cache(maxsize=8192)
def occurrences(
    flow: Flow, default_start: date, calendar: BusinessCalendar, first: int, last: int, settled: Settled = ()
) -> Occurrences:
    """The occurrences that land from `first` to `last`; what was left out is not among them.

    `default_start` anchors the rules of a flow that names no start. `settled` is what was settled of it so far, for a
    flow whose amount follows that. What did not change since it was last asked for is not worked out again: while
    one flow is edited, all others stay as they are. The columns are not to be changed.
    """
    reach = LONGEST_ROLL if flow.roll != "none" else 0
    days = nominal_days(flow, default_start, first - reach, last + reach)
    if not flow.changes:
        nominal = np.array(days, dtype=np.int64)
        landing = calendar.roll(nominal, flow.roll)
    else:
        changes = {change.nominal.toordinal(): change for change in flow.changes}
        days = [
            day for day in _with_moved(flow, default_start, days) if day not in changes or not changes[day].left_out
        ]
        nominal = np.array(days, dtype=np.int64)
        landing = calendar.roll(nominal, flow.roll).copy()
        for place, day in enumerate(days):
            if day in changes and (moved := changes[day].moved_to) is not None:
                landing[place] = moved.toordinal()
    if reach or flow.changes:
        inside = (first <= landing) & (landing <= last)
        nominal, landing = nominal[inside], landing[inside]
    return Occurrences(nominal, landing, FlowAmounts(flow, settled).column(nominal))


def _with_moved(flow: Flow, default_start: date, days: list[int]) -> list[int]:
    """The nominal days, and those outside the window that were moved to another date, perhaps into it."""
    moved = {change.nominal.toordinal() for change in flow.changes if change.moved_to is not None}
    return sorted({*days, *(day for day in moved if nominal_days(flow, default_start, day, day))})


def rules_on(flow: Flow, day: date) -> tuple[str, ...]:
    """The rules in force on a day: those of the latest revision with rules by then, or the flow's own."""
    revised = [revision for revision in flow.revisions if revision.rules is not None and revision.start <= day]
    latest = max(revised, key=lambda revision: revision.start, default=None)
    return flow.rules if latest is None or latest.rules is None else latest.rules


def amount_on(flow: Flow, day: date) -> int:
    """The amount in force on a day, before average, season and growth."""
    priced = [(revision.start, base) for revision in flow.revisions if (base := revision.base) is not None]
    return max([(date.min, flow.base_amount), *(each for each in priced if each[0] <= day)])[1]


def hourly_on(flow: Flow, day: date) -> Hourly | None:
    """The pay by the hour in force on a day, if any."""
    revised = [r for r in flow.revisions if r.hourly is not None and r.start <= day]
    return max(revised, key=lambda revision: revision.start).hourly if revised else flow.hourly


class FlowAmounts:
    """The amounts of a flow by nominal day, given what was settled of it so far."""

    def __init__(self, flow: Flow, settled: Settled = ()) -> None:
        priced = sorted((r for r in flow.revisions if r.base is not None), key=lambda revision: revision.start)
        self._own = flow.base_amount
        self._starts = [revision.start for revision in priced]
        self._amounts = [revision.base or 0 for revision in priced]
        self._seasonal = dict(flow.seasonal)
        self._growth = flow.growth
        self._grown: dict[tuple[int, int], int] = {}
        self._changed = dict(_changed_amounts(flow))
        # An amount set just this once is out of the ordinary: the average leaves it out.
        self._settled = [each for each in settled if each[0] not in self._changed] if flow.follows else []
        self._follows = flow.follows
        self._plain = not (priced or flow.seasonal or flow.growth or self._settled)

    def column(self, nominal: Days) -> Days:
        """The amounts of many nominal days at once."""
        if self._plain and not self._changed:
            return np.full(len(nominal), self._own, dtype=np.int64)
        return np.array([self.with_source(day)[0] for day in nominal.tolist()], dtype=np.int64)

    def with_source(self, nominal: int) -> tuple[int, AmountSource]:
        """The amount, and which of the flow's settings gave it."""
        if nominal in self._changed:
            return self._changed[nominal], "this date"
        day = date.fromordinal(nominal)
        if day.month in self._seasonal:
            return self._seasonal[day.month], "season"
        place = bisect_right(self._starts, day)
        average = self._average(nominal, self._starts[place - 1].toordinal() if place else 0)
        if average is not None:
            return average, "average"
        base = self._amounts[place - 1] if place else self._own
        source: AmountSource = "revision" if place else "flow"
        if self._growth is None:
            return base, source
        # A revised amount is what the household was told on that day: growth already past is in it.
        since = max(self._growth.start, self._starts[place - 1]) if place else self._growth.start
        years = whole_years(since, day) if day >= since else 0
        return self._grow(base, years), source

    def _average(self, nominal: int, since: int) -> int | None:
        """The rounded average of the last so many settled before a day, and since the amount was last set."""
        if not self._settled:
            return None
        end = bisect_left(self._settled, (nominal, 0))
        last = [amount for day, amount in self._settled[max(0, end - self._follows) : end] if day >= since]
        return round_half_up(Fraction(sum(last), len(last))) if last else None

    def _grow(self, base: int, years: int) -> int:
        if (base, years) not in self._grown:
            assert self._growth is not None
            factor = (1 + Fraction(self._growth.percent) / 100) ** years
            self._grown[base, years] = round_half_up(base * factor)
        return self._grown[base, years]


def _changed_amounts(flow: Flow) -> Iterator[tuple[int, int]]:
    """By nominal day, the amounts set for one date; those of paychecks by the hour may be set by hours."""
    for change in flow.changes:
        if change.amount is not None:
            yield change.nominal.toordinal(), change.amount
        elif change.hours is not None and (hourly := hourly_on(flow, change.nominal)) is not None:
            yield change.nominal.toordinal(), hourly.pay(change.hours)


def landings(
    schedule: Schedule, calendar: BusinessCalendar, roll: Roll, first: int, last: int
) -> list[tuple[int, int]]:
    """The (nominal, landing) days of a bare schedule whose nominal day is from `first` to `last`."""
    nominal = schedule_days(schedule, first, last)
    landing = calendar.roll(np.array(nominal, dtype=np.int64), roll)
    return list(zip(nominal, landing.tolist(), strict=True))
