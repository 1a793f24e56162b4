"""Recurrence rules: RFC 5545 section 3.3.10, with the month-end clip of RFC 7529 (SKIP=BACKWARD) as the default.

A rule is read once into a `Rule`; its days come out as sorted day numbers. Months and years are walked by number
and weeks by arithmetic, and a rule without COUNT starts walking at the window asked for, not at its own start.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date

from next_penny.core.dates.calendar import (
    EARLIEST,
    LATEST,
    clipped_day,
    month_bounds,
    month_length,
    month_number,
    month_start,
    weekday,
)
from next_penny.core.dates.rules import Rule

_LAST_DAY = LATEST.toordinal()
_SHORTEST_MONTH = 28


def rule_days(rule: Rule, start: date, first: int, last: int) -> list[int]:
    """The days of a rule from day number `first` to `last`, sorted, none before `start`, COUNT and UNTIL kept."""
    anchor = start.toordinal()
    end = min(last, rule.until.toordinal()) if rule.until else last
    end = min(end, _LAST_DAY)
    lowest = anchor if rule.count is not None else max(anchor, first)
    if end < lowest:
        return []
    days: list[int] = []
    for period in _PERIODS[rule.frequency](rule, start, lowest, end):
        days.extend(period)
        if rule.count is not None and len(days) > rule.count + 400:
            break
    days = days[bisect_left(days, lowest) : bisect_right(days, end)]
    if rule.count is not None:
        days = [day for day in days[: rule.count] if day >= first]
    return days


def _picked(rule: Rule, days: list[int]) -> list[int]:
    """The days at the rule's set positions among one period's sorted days."""
    if not rule.by_set_position:
        return days
    size = len(days)
    places = {p - 1 if p > 0 else size + p for p in rule.by_set_position}
    return [days[place] for place in sorted(places) if 0 <= place < size]


def _daily(rule: Rule, start: date, lowest: int, end: int) -> Iterator[list[int]]:
    step = rule.interval
    begin = start.toordinal()
    begin += -(-(lowest - begin) // step) * step
    if not (rule.by_month or rule.by_month_day or rule.by_day):
        yield list(range(begin, end + 1, step))
        return
    for day in range(begin, end + 1, step):
        if _is_in_month(rule, day) and (not rule.by_day or weekday(day) in _weekdays(rule)):
            yield _picked(rule, [day])


def _is_in_month(rule: Rule, day: int) -> bool:
    if not (rule.by_month or rule.by_month_day):
        return True
    civil = date.fromordinal(day)
    if rule.by_month and civil.month not in rule.by_month:
        return False
    return not rule.by_month_day or day in _month_days(rule, month_number(civil), rule.by_month_day)


def _weekdays(rule: Rule) -> set[int]:
    return {day for _, day in rule.by_day}


def _weekly(rule: Rule, start: date, lowest: int, end: int) -> Iterator[list[int]]:
    anchor = start.toordinal()
    week = anchor - (weekday(anchor) - rule.week_start) % 7
    step = 7 * rule.interval
    week += max(0, (lowest - 6 - week) // step) * step
    offsets = sorted((day - rule.week_start) % 7 for day in _weekdays(rule) or {weekday(anchor)})
    if not rule.by_month and not rule.by_set_position:
        if len(offsets) == 1:
            yield list(range(week + offsets[0], end + 1, step))
        else:
            yield [monday + offset for monday in range(week, end + 1, step) for offset in offsets]
        return
    for monday in range(week, end + 1, step):
        days = [monday + offset for offset in offsets]
        yield _picked(rule, [day for day in days if _is_in_month(rule, day)])


def _monthly(rule: Rule, start: date, lowest: int, end: int) -> Iterator[list[int]]:
    month = month_number(start)
    step = rule.interval
    ahead = month_number(date.fromordinal(lowest)) - month
    month += max(0, ahead // step) * step
    last = month_number(date.fromordinal(end))
    days = _same_in_months(rule, start, month, last, step) if not rule.by_month else None
    if days is not None:
        yield days
        return
    for number in range(month, last + 1, step):
        if not rule.by_month or number % 12 + 1 in rule.by_month:
            yield _picked(rule, _days_of_month(rule, number, start))


def _same_in_months(rule: Rule, start: date, first: int, last: int, step: int) -> list[int] | None:
    """The days of a rule in every `step`-th month, if it names days of the month or one of its first four weekdays."""
    if rule.by_set_position:
        return None
    starts, afters = month_bounds(first, last, step)
    if rule.by_day:
        if rule.by_month_day or len(rule.by_day) > 1 or not 1 <= rule.by_day[0][0] <= 4:
            return None
        ordinal, wanted = rule.by_day[0]
        later = 7 * (ordinal - 1)
        return [begin + (wanted - weekday(begin)) % 7 + later for begin in starts]
    named = rule.by_month_day or (start.day,)
    if not rule.clip or not all(1 <= day <= 31 or -_SHORTEST_MONTH <= day <= -1 for day in named):
        return None
    runs = [_day_of_every_month(day, starts, afters) for day in named]
    return runs[0] if len(runs) == 1 else sorted({day for run in runs for day in run})


def _day_of_every_month(day: int, starts: list[int], afters: list[int]) -> list[int]:
    """A day counted from either end of each month, clipped to its last."""
    if day < 0:
        return [after + day for after in afters]
    if day <= _SHORTEST_MONTH:
        return [begin + day - 1 for begin in starts]
    return [min(begin + day, after) - 1 for begin, after in zip(starts, afters, strict=True)]


def _days_of_month(rule: Rule, month: int, start: date) -> list[int]:
    """One month's days: by day of the month limited by weekday, by weekday alone, or the start's own day."""
    if rule.by_month_day:
        days = _month_days(rule, month, rule.by_month_day)
        if rule.by_day:
            named = set(_named_weekdays(rule, month_start(month), month_length(month)))
            days = [day for day in days if day in named]
        return days
    if rule.by_day:
        return _named_weekdays(rule, month_start(month), month_length(month))
    return _month_days(rule, month, (start.day,))


def _month_days(rule: Rule, month: int, days_of_month: Iterable[int]) -> list[int]:
    length = month_length(month)
    days: set[int] = set()
    for wanted in days_of_month:
        place = wanted if wanted > 0 else length + 1 + wanted
        if 1 <= place <= length:
            days.add(month_start(month) + place - 1)
        elif rule.clip:
            days.add(clipped_day(month, 31))
    return sorted(days)


def _named_weekdays(rule: Rule, first: int, length: int) -> list[int]:
    """The weekdays a rule names within a month or a year of `length` days: all of them, or the n-th from either end."""
    days: set[int] = set()
    for ordinal, wanted in rule.by_day:
        earliest = first + (wanted - weekday(first)) % 7
        matching = range(earliest, first + length, 7)
        if ordinal == 0:
            days.update(matching)
        elif abs(ordinal) <= len(matching):
            days.add(matching[ordinal - 1 if ordinal > 0 else ordinal])
    return sorted(days)


def _yearly(rule: Rule, start: date, lowest: int, end: int) -> Iterator[list[int]]:
    step = rule.interval
    year = start.year + max(0, (date.fromordinal(lowest).year - start.year) // step) * step
    months = rule.by_month or (range(1, 13) if rule.by_month_day or rule.by_day else (start.month,))
    if len(months) == 1:
        last = date.fromordinal(end).year * 12 + months[0] - 1
        same = _same_in_months(rule, start, year * 12 + months[0] - 1, last, 12 * step)
        if same is not None:
            yield same
            return
    for number in range(year, date.fromordinal(end).year + 1, step):
        january = number * 12
        if rule.by_day and not rule.by_month and not rule.by_month_day:
            length = month_start(january + 12) - month_start(january)
            days = _named_weekdays(rule, month_start(january), length)
        else:
            days = sorted({day for m in months for day in _days_of_month(rule, january + m - 1, start)})
        yield _picked(rule, days)


_PERIODS = {"DAILY": _daily, "WEEKLY": _weekly, "MONTHLY": _monthly, "YEARLY": _yearly}


@dataclass(frozen=True, slots=True)
class Recurrence:
    """When something repeats: rules united, plus dates, less exceptions, from `start` to `until` or for `count`.

    `start` bounds and anchors the rules; explicit dates stand by themselves.
    """

    rules: tuple[Rule, ...] = ()
    dates: tuple[date, ...] = ()
    exceptions: tuple[date, ...] = ()
    start: date = EARLIEST
    until: date | None = None
    count: int | None = None


def recurrence_days(schedule: Recurrence, first: int, last: int) -> list[int]:
    """The nominal days of a schedule from `first` to `last`, as sorted day numbers, each once."""
    end = min(last, schedule.until.toordinal()) if schedule.until else last
    begin = first
    if schedule.count is not None:
        begin = min([schedule.start.toordinal(), *(day.toordinal() for day in schedule.dates)])
    runs = [rule_days(rule, schedule.start, begin, end) for rule in schedule.rules]
    explicit = [number for day in schedule.dates if begin <= (number := day.toordinal()) <= end]
    days = runs[0] if len(runs) == 1 and not explicit else sorted({day for run in (*runs, explicit) for day in run})
    if schedule.count is not None:
        days = [day for day in days[: schedule.count] if day >= first]
    if schedule.exceptions:
        skipped = {day.toordinal() for day in schedule.exceptions}
        days = [day for day in days if day not in skipped]
    return days
