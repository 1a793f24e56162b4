"""Unit periods between dates, as Appendix J of 12 CFR Part 1026 counts them."""

import datetime
from collections import Counter
from collections.abc import Iterable, Sequence
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise
from typing import Literal, NamedTuple

from next_penny.core.dates.calendar import add_months, month_length, month_number

UnitKind = Literal["day", "week", "half month", "month"]


_DAYS: dict[UnitKind, Fraction] = {
    "day": Fraction(1), "week": Fraction(7), "half month": Fraction(365, 24), "month": Fraction(365, 12),
}  # fmt: skip


# Whole unit-periods, and the fraction of one that is left.
Units = tuple[int, Fraction]


class UnitPeriod(NamedTuple):
    """A unit-period: so many days, weeks or months, or half a month."""

    kind: UnitKind
    times: int

    @property
    def length(self) -> Fraction:
        """About how many days it has, to tell the smaller of two."""
        return _DAYS[self.kind] * self.times

    @property
    def per_year(self) -> Fraction:
        whole = {"day": 365, "week": 52, "half month": 24, "month": 12}[self.kind]
        return Fraction(whole, self.times)

    def __str__(self) -> str:
        if self.kind == "half month":
            return "half month"
        if (self.kind, self.times) == ("month", 12):
            return "1 year"
        return f"{self.times} {self.kind}{'' if self.times == 1 else 's'}"


class DatedSum(NamedTuple):
    date: datetime.date
    amount: int


def unit_period(advances: Sequence[DatedSum], payments: Sequence[DatedSum]) -> UnitPeriod:
    """The unit-period of a transaction, (b)(4): its most frequent common period, the smaller of two as frequent."""
    given, paid = (sorted({dated_sum.date for dated_sum in list_}) for list_ in (advances, payments))
    if len(given) == 1 and len(paid) == 1:
        return _term(given[0], paid[0])
    first = [(given[0], paid[0])] if paid[0] > given[0] else []
    periods = [_period(*pair) for pair in (*pairwise(given), *first, *pairwise(paid))]
    common = {period: times for period, times in Counter(periods).items() if times > 1}
    if common:
        return _at_most_a_year(min(common, key=lambda period: (-common[period], period.length)))
    average = sum((period.length for period in periods), Fraction()) / len(periods)
    return min(_standard_intervals(), key=lambda period: (abs(period.length - average), period.length))


def _standard_intervals() -> Iterable[UnitPeriod]:
    yield UnitPeriod("day", 1)
    yield from (UnitPeriod("week", count) for count in range(1, 53))
    yield UnitPeriod("half month", 1)
    yield from (UnitPeriod("month", count) for count in range(1, 13))


def _term(begin: datetime.date, end: datetime.date) -> UnitPeriod:
    """One advance and one payment, (b)(5)(vi) and (vii): the term itself, up to a year."""
    period = _period(begin, end)
    if period.kind == "month":
        return _at_most_a_year(period)
    days = (end - begin).days
    return UnitPeriod("month", 12) if days > 365 else UnitPeriod("day", max(1, days))


def _at_most_a_year(period: UnitPeriod) -> UnitPeriod:
    return UnitPeriod("month", 12) if period.length > 366 else period


def _period(begin: datetime.date, end: datetime.date) -> UnitPeriod:
    """What the time between two dates is: whole months, half a month, whole weeks, or days."""
    months, days = month_number(end) - month_number(begin), (end - begin).days
    if months and (add_months(begin, months) == end or add_months(end, -months) == begin):
        return UnitPeriod("month", months)
    if days in (13, 15, 16):
        return UnitPeriod("half month", 1)
    return UnitPeriod("week", days // 7) if days % 7 == 0 else UnitPeriod("day", days)


def units_between(begin: datetime.date, end: datetime.date, unit: UnitPeriod) -> Units:
    """Whole unit-periods between two dates and the fraction of one that is left, (b)(5)."""
    if unit.kind in ("day", "week"):
        return _divided((end - begin).days, 7 * unit.times if unit.kind == "week" else unit.times)
    months = _whole_months(begin, end)
    rest = (add_months(end, -months) - begin).days
    if unit == ("month", 12):
        years = months // 12
        left = (add_months(end, -12 * years) - begin).days
        return years, Fraction(months % 12, 12) if rest == 0 else Fraction(left, 365)
    if unit.kind == "half month":
        return _divided(30 * months + rest, 15)
    return _divided(30 * months + rest, 30 * unit.times)


def unit_periods(begin: datetime.date, dates: Sequence[datetime.date], unit: UnitPeriod) -> dict[datetime.date, Units]:
    """By date, the unit-periods from the first advance. After a series' odd first period its intervals are regular.

    A series is of one day of the month, (b)(3): its 29th, 30th and 31st fall on the last day of a shorter month. Its
    first date is measured from the advance, every later one from that.
    """
    distinct = sorted(set(dates))
    if unit.kind in ("day", "week"):
        return {date: units_between(begin, date, unit) for date in distinct}
    if unit.kind == "half month":
        return _half_months(begin, distinct, unit)
    units: dict[datetime.date, Units] = {}
    for series in _series(distinct):
        first, measured = series[0], units_between(begin, series[0], unit)
        for date in series:
            steps, rest = divmod(month_number(date) - month_number(first), unit.times)
            units[date] = (measured[0] + steps, measured[1]) if not rest else units_between(begin, date, unit)
    return units


def _half_months(begin: datetime.date, dates: Sequence[datetime.date], unit: UnitPeriod) -> dict[datetime.date, Units]:
    """Dates half a month apart are one unit-period apart: from 12 days, the 16th to the end of February, to 16."""
    units: dict[datetime.date, Units] = {}
    before: datetime.date | None = None
    for date in dates:
        if before is not None and 12 <= (date - before).days <= 16:
            whole, part = units[before]
            units[date] = (whole + 1, part)
        else:
            units[date] = units_between(begin, date, unit)
        before = date
    return units


def _series(dates: Sequence[datetime.date]) -> list[list[datetime.date]]:
    """Dates in order, told apart by the day of the month that all of a series have, or would have."""
    series: list[list[datetime.date]] = []
    days: list[range] = []
    for date in dates:
        length = month_length(month_number(date))
        possible = range(date.day, 32) if date.day == length else range(date.day, date.day + 1)
        for number, known in enumerate(days):
            common = range(max(known.start, possible.start), min(known.stop, possible.stop))
            if common:
                series[number].append(date)
                days[number] = common
                break
        else:
            series.append([date])
            days.append(possible)
    return series


def _divided(days: int, length: int) -> Units:
    return days // length, _part(days % length, length)


@lru_cache(maxsize=4096)
def _part(days: int, length: int) -> Fraction:
    return Fraction(days, length)


def _whole_months(begin: datetime.date, end: datetime.date) -> int:
    """How many whole months fit when measured back from the later date."""
    months = month_number(end) - month_number(begin)
    return months if add_months(end, -months) >= begin else months - 1
