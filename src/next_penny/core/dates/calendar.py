"""Day numbers and months as integers, so that long forecasts stay fast.

A day number is `date.toordinal()`; a month number is `year * 12 + month - 1`.
"""

from collections.abc import Iterator
from datetime import date

FIRST_YEAR, LAST_YEAR = 1900, 2299
EARLIEST, LATEST = date(FIRST_YEAR, 1, 1), date(LAST_YEAR - 1, 12, 31)
# A loan that begins by the latest date may be due for a year longer.
LAST_DUE = date(LAST_YEAR, 12, 31)

_FIRST_MONTH = FIRST_YEAR * 12
_MONTH_STARTS = [date(m // 12, m % 12 + 1, 1).toordinal() for m in range(_FIRST_MONTH, (LAST_YEAR + 1) * 12 + 1)]


def month_number(day: date) -> int:
    return day.year * 12 + day.month - 1


def month_start(month: int) -> int:
    """The day number of the first of a month."""
    return _MONTH_STARTS[month - _FIRST_MONTH]


def month_bounds(first: int, last: int, step: int = 1) -> tuple[list[int], list[int]]:
    """The day numbers of the firsts of every `step`-th month from one to another, and of the months after these."""
    begin, end = first - _FIRST_MONTH, last - _FIRST_MONTH + 1
    return _MONTH_STARTS[begin:end:step], _MONTH_STARTS[begin + 1 : end + 1 : step]


def month_end(month: int) -> int:
    """The day number of the last of a month, as far as the calendar goes."""
    return month_start(min(month + 1, (LAST_YEAR + 1) * 12)) - 1


def month_length(month: int) -> int:
    index = month - _FIRST_MONTH
    return _MONTH_STARTS[index + 1] - _MONTH_STARTS[index]


def clipped_day(month: int, day_of_month: int) -> int:
    """The day number of a day of a month; a day the month lacks is its last (RFC 7529, SKIP=BACKWARD)."""
    index = month - _FIRST_MONTH
    return min(_MONTH_STARTS[index] + day_of_month, _MONTH_STARTS[index + 1]) - 1


def add_months(day: date, months: int) -> date:
    """The same day of the month, months later, clipped to the month's last day."""
    return date.fromordinal(clipped_day(month_number(day) + months, day.day))


def a_year_before(day: date) -> date:
    """The same day a year earlier; of 29 February the 28th."""
    is_leap_day = (day.month, day.day) == (2, 29)
    return day.replace(year=day.year - 1, day=28 if is_leap_day else day.day)


def whole_years(start: date, end: date) -> int:
    """How many anniversaries of `start` have come by `end`; 29 February's falls on 28 February in common years."""
    years = end.year - start.year
    return years if add_months(start, 12 * years) <= end else years - 1


def weekday(day: int) -> int:
    """Monday is 0."""
    return (day + 6) % 7


def widening(first: int, last: int) -> Iterator[int]:
    """Ends of ever longer stretches from a day, the last one `last`: to look for what may come soon or late."""
    for days in (400, 4_000, 40_000):
        if first + days >= last:
            break
        yield first + days
    yield last
