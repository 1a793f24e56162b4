"""The stretches that a review is of: what may be asked, the one before, and the same a year ago."""

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from next_penny.core.dates.calendar import a_year_before
from next_penny.core.dates.sentences import MONTH_NAMES, full_day
from next_penny.core.dates.writing import current
from next_penny.core.problems import refused

# A review of more is nobody's.
_MOST_YEARS = 30


def check_stretch(first: date, last: date) -> None:
    """Raises PlanError for a stretch that ends before it begins, or is longer than anybody reviews."""
    if last < first:
        raise refused("to", "The stretch ends before it begins: choose a later last day.", "range")
    if last.year - first.year > _MOST_YEARS:
        raise refused("to", f"A review is of {_MOST_YEARS} years at most.", "range")


def stretch_before(first: date, last: date) -> tuple[date, date]:
    """As long a stretch right before one: as many whole calendar months, else as many days."""
    if is_whole_months(first, last):
        months = 12 * (last.year - first.year) + last.month - first.month + 1
        return _month_start(first, -months), first - timedelta(days=1)
    days = (last - first).days + 1
    return first - timedelta(days=days), first - timedelta(days=1)


def year_before(first: date, last: date) -> tuple[date, date]:
    """The same days a year earlier; of whole calendar months the same months."""
    begin = a_year_before(first)
    if is_whole_months(first, last):
        return begin, _month_start(last, -11) - timedelta(days=1)
    return begin, a_year_before(last)


def is_whole_months(first: date, last: date) -> bool:
    """Whether a stretch is whole calendar months."""
    return first.day == 1 and (last + timedelta(days=1)).day == 1


def _month_start(day: date, months: int) -> date:
    """The first of the month so many months from a day's; before the calendar's first year too, unlike its own."""
    number = 12 * day.year + day.month - 1 + months
    return date(number // 12, number % 12 + 1, 1)


Per = Literal["week", "month", "quarter", "year"]


@dataclass(frozen=True, slots=True)
class NamedStretch:
    """A calendar stretch that a day is in, by name; `earlier` and `later` are days in those beside it."""

    first: date
    last: date
    name: str
    earlier: date
    later: date


def stretch_with(per: Per, day: date) -> NamedStretch:
    """The week (as the household begins it), month, quarter or year that a day is in."""
    if per == "week":
        first = day - timedelta(days=(day.isoweekday() - current().week_starts_on) % 7)
        last = first + timedelta(days=6)
    else:
        months = {"month": 1, "quarter": 3, "year": 12}[per]
        first = date(day.year, (day.month - 1) // months * months + 1, 1)
        last = _month_start(first, months) - timedelta(days=1)
    return NamedStretch(first, last, name_of(first, last), first - timedelta(days=1), last + timedelta(days=1))


def name_of(first: date, last: date) -> str:
    """A stretch in words: `February 2027`, `2027`, `January to March 2027`, or its first and last day."""
    if not is_whole_months(first, last):
        return full_day(first) if first == last else f"{full_day(first)} to {full_day(last)}"
    if (first.year, first.month, last.month) == (last.year, 1, 12):
        return str(first.year)
    if (first.year, first.month) == (last.year, last.month):
        return f"{MONTH_NAMES[first.month - 1]} {first.year}"
    year = f" {first.year}" if first.year != last.year else ""
    return f"{MONTH_NAMES[first.month - 1]}{year} to {MONTH_NAMES[last.month - 1]} {last.year}"
