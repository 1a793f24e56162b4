"""Day counts: for which part of a year interest runs between two days; in words, and as a spreadsheet has it.

Adding one takes a class and a line of `DAY_COUNTS`. Days are day numbers (`date.toordinal()`).
"""

from collections.abc import Iterator
from datetime import date
from fractions import Fraction
from typing import Literal, Protocol, get_args

InterestMethod = Literal["equal_periods", "actual_365", "actual_360", "actual_actual", "30_360"]
METHODS: tuple[InterestMethod, ...] = get_args(InterestMethod)


class DayCount(Protocol):
    """One way of counting. words: how it counts, to follow "interest is counted"."""

    words: str

    def fraction(self, start: int, end: int) -> Fraction:
        """The part of a year from a day up to, not including, another."""
        ...

    def days_told(self, start: int, end: int) -> str:
        """Those days, as a calculation names them."""
        ...

    def formula(self, start: str, end: str) -> str:
        """The same part of a year between the dates in two cells, for Office Open XML."""
        ...


class Fixed:
    """Actual days, of a year that always has as many."""

    def __init__(self, year: int) -> None:
        self._year, self.words = year, f"by days of a year of {year}"

    def fraction(self, start: int, end: int) -> Fraction:
        return Fraction(end - start, self._year)

    def days_told(self, start: int, end: int) -> str:
        return f"{end - start} days of {self._year}"

    def formula(self, start: str, end: str) -> str:
        return f"(({end}-{start})/{self._year})"


class ActualActual:
    """Actual days, of the calendar year in which each lies."""

    words = "by days of the calendar year"

    def fraction(self, start: int, end: int) -> Fraction:
        return sum((Fraction(days, days_in(year)) for year, days in days_by_year(start, end)), Fraction())

    def days_told(self, start: int, end: int) -> str:
        return " and ".join(f"{days} days of {days_in(year)}" for year, days in days_by_year(start, end))

    def formula(self, start: str, end: str) -> str:
        turn = f"DATE(YEAR({end}),1,1)"
        split = f"(({turn}-{start})/{_days_in_year_of(start)}+({end}-{turn})/{_days_in_year_of(end)})"
        return f"IF(YEAR({start})=YEAR({end}),({end}-{start})/{_days_in_year_of(end)},{split})"


class Thirty360:
    """Months of 30 days: the US (bond basis) 30/360 count, ISDA 2006 section 4.16(f)."""

    words = "by months of 30 days"

    def fraction(self, start: int, end: int) -> Fraction:
        return Fraction(thirty_360(date.fromordinal(start), date.fromordinal(end)), 360)

    def days_told(self, start: int, end: int) -> str:
        return f"{thirty_360(date.fromordinal(start), date.fromordinal(end))} days of 360"

    def formula(self, start: str, end: str) -> str:
        first = f"MIN(30,DAY({start}))"
        last = f"IF(AND(DAY({end})=31,{first}=30),30,DAY({end}))"
        return f"((360*(YEAR({end})-YEAR({start}))+30*(MONTH({end})-MONTH({start}))+{last}-{first})/360)"


class EqualPeriods(Thirty360):
    """Every period alike, whatever days it has; where a part of one is asked for, by months of 30 days."""

    words = "in equal periods"


DAY_COUNTS: dict[InterestMethod, DayCount] = {
    "equal_periods": EqualPeriods(),
    "actual_365": Fixed(365),
    "actual_360": Fixed(360),
    "actual_actual": ActualActual(),
    "30_360": Thirty360(),
}


def year_fraction(method: InterestMethod, start: int, end: int) -> Fraction:
    """The part of a year for which interest runs between two day numbers. Raises KeyError for an unknown method."""
    return DAY_COUNTS[method].fraction(start, end)


def thirty_360(start: date, end: date) -> int:
    """Days between two dates by the US (bond basis) 30/360 count: ISDA 2006 section 4.16(f)."""
    first = min(start.day, 30)
    last = 30 if end.day == 31 and first == 30 else end.day
    return 360 * (end.year - start.year) + 30 * (end.month - start.month) + last - first


def days_by_year(start: int, end: int) -> Iterator[tuple[int, int]]:
    """How many of the days from `start` up to, not including, `end` are in each calendar year."""
    day = start
    while day < end:
        year = date.fromordinal(day).year
        next_year = min(end, date(year + 1, 1, 1).toordinal())
        yield year, next_year - day
        day = next_year


def days_in(year: int) -> int:
    """How many days a calendar year has."""
    return 366 if year % 4 == 0 and (year % 100 != 0 or year % 400 == 0) else 365


def _days_in_year_of(cell: str) -> str:
    year = f"YEAR({cell})"
    return f"IF(OR(MOD({year},400)=0,AND(MOD({year},4)=0,MOD({year},100)<>0)),366,365)"
