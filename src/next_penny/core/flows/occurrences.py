"""When a flow of the calendar occurs: nominal dates from its rules, and where they land (docs/rules.md, What repeats).

An occurrence's identity is (flow, nominal date).
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import NamedTuple

import numpy as np

from next_penny.core.dates.business_days import LONGEST_ROLL, BusinessCalendar, Days, Roll
from next_penny.core.dates.calendar import EARLIEST, LATEST, widening
from next_penny.core.dates.landing import land
from next_penny.core.dates.recurrence import Recurrence, recurrence_days
from next_penny.core.dates.sentences import short_day
from next_penny.core.flows.amounts import NOTHING_SETTLED, FlowAmounts
from next_penny.core.plan.flows import Flow


class Occurrences(NamedTuple):
    """Parallel columns: nominal and landing day numbers, and amounts in minor units; in nominal order."""

    nominal: Days
    landing: Days
    amount: Days

    @classmethod
    def of(cls, nominal: int, landing: int, amount: int) -> "Occurrences":
        """A single one."""
        return cls(*(np.array([value], dtype=np.int64) for value in (nominal, landing, amount)))

    def where(self, wanted: "np.typing.NDArray[np.bool_]") -> "Occurrences":
        """Those for which a mask is true."""
        return Occurrences(self.nominal[wanted], self.landing[wanted], self.amount[wanted])


_NO_DAYS = np.empty(0, dtype=np.int64)
NO_OCCURRENCES = Occurrences(_NO_DAYS, _NO_DAYS, _NO_DAYS)


def nominal_days(flow: Flow, default_start: date, first: int, last: int) -> list[int]:
    """The nominal days of a flow from `first` to `last`.

    A revision's rules hold from its date on and are anchored there; a count runs on through all of them.
    """
    revised = [revision for revision in flow.revisions_in_order if revision.rules is not None]
    whole = flow.schedule(default_start)
    if not revised:
        return recurrence_days(whole, first, last)
    begin = first if flow.count is None else EARLIEST.toordinal()
    starts = [EARLIEST, *(revision.start for revision in revised)]
    days: list[int] = []
    for index, start in enumerate(starts):
        era_first = max(begin, start.toordinal())
        era_last = min(last, starts[index + 1].toordinal() - 1 if index + 1 < len(starts) else last)
        if era_last < era_first:
            continue
        rules = whole.rules if index == 0 else flow.schedule(start, revised[index - 1].rules).rules
        anchor = whole.start if index == 0 else max(start, whole.start)
        era = replace(whole, rules=rules, start=anchor, count=None, exceptions=())
        days.extend(recurrence_days(era, era_first, era_last))
    skipped = {day.toordinal() for day in flow.exceptions}
    counted = days if flow.count is None else days[: flow.count]
    return [day for day in counted if day >= first and day not in skipped]


def occurrences(
    flow: Flow, default_start: date, calendar: BusinessCalendar, first: int, last: int,
    settled: Mapping[int, int] = NOTHING_SETTLED,
) -> Occurrences:  # fmt: skip
    """The occurrences that land from `first` to `last`; what was left out is not among them.

    `default_start` anchors the rules of a flow that names no start. `settled` is what was settled of it so far, by
    nominal day, for a flow whose amount follows that.
    """
    reach = LONGEST_ROLL if flow.roll != "none" else 0
    days = nominal_days(flow, default_start, first - reach, last + reach)
    if flow.exceptional.moved:
        days = _with_moved(flow, default_start, days)
    nominal, landing = land(days, flow.roll, calendar, flow.exceptional, first, last)
    return Occurrences(nominal, landing, FlowAmounts(flow, settled).column(nominal))


def _with_moved(flow: Flow, default_start: date, days: list[int]) -> list[int]:
    """The nominal days, and those outside the window that were moved to another date, perhaps into it."""
    outside = flow.exceptional.moved.keys() - set(days)
    if not outside:
        return days
    given = outside.intersection(nominal_days(flow, default_start, min(outside), max(outside)))
    return sorted({*days, *given})


def landings(
    schedule: Recurrence, calendar: BusinessCalendar, roll: Roll, first: int, last: int
) -> list[tuple[int, int]]:
    """The (nominal, landing) days of a bare schedule whose nominal day is from `first` to `last`."""
    nominal = recurrence_days(schedule, first, last)
    landing = calendar.roll(np.array(nominal, dtype=np.int64), roll)
    return list(zip(nominal, landing.tolist(), strict=True))


class Landing(NamedTuple):
    """A date of a schedule, and the day on which it comes."""

    nominal: date
    lands: date


def next_landings(
    schedule: Recurrence, calendar: BusinessCalendar, roll: Roll, after: date, count: int
) -> list[Landing]:
    """The next so many dates of a bare schedule that land on a day or later, as they land; fewer where it ends."""
    begin = max(after, min([schedule.start, *schedule.dates])).toordinal()
    coming: list[tuple[int, int]] = []
    for last in widening(begin, LATEST.toordinal()):
        rows = landings(schedule, calendar, roll, begin - LONGEST_ROLL, last)
        coming = sorted((lands, nominal) for nominal, lands in rows if lands >= after.toordinal())[:count]
        if len(coming) == count:
            break
    return [Landing(date.fromordinal(nominal), date.fromordinal(lands)) for lands, nominal in coming]


def other_month_note(coming: Sequence[Landing], name: str = "") -> str | None:
    """A sentence about dates that land in another month than their own, which have it twice and never; None if none."""
    moved = [landing for landing in coming if landing.lands.replace(day=1) != landing.nominal.replace(day=1)]
    if not moved:
        return None
    first, more = moved[0], len(moved) - 1
    where = "before" if first.lands < first.nominal else "after"
    others = "" if not more else f"; so {'do' if more > 1 else 'does'} {more} more of these {len(coming)}"
    date_of = f"“{name}” of" if name else "The one of"
    return f"{date_of} {short_day(first.nominal)} comes on {short_day(first.lands)}, in the month {where}{others}."


def lands_by(schedule: Recurrence, calendar: BusinessCalendar, roll: Roll, after: date, by: date) -> list[date]:
    """The nominal dates of a bare schedule that land after a day and by another."""
    rows = landings(schedule, calendar, roll, after.toordinal() - LONGEST_ROLL, by.toordinal() + LONGEST_ROLL)
    return [date.fromordinal(nominal) for nominal, lands in rows if after.toordinal() < lands <= by.toordinal()]
