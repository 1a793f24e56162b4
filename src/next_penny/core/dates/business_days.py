"""Business days: weekends and a country's bank holidays (the `holidays` library), and rolling dates off them."""

from collections.abc import Mapping
from datetime import date
from functools import lru_cache
from typing import Literal, NamedTuple

import holidays
import numpy as np
import numpy.typing as npt

from next_penny.core.dates.calendar import EARLIEST, LATEST, weekday

Days = npt.NDArray[np.int64]
Roll = Literal["none", "before", "after", "nearest"]

# Every roll ends within this many days: no country shuts its banks for longer.
LONGEST_ROLL = 20


@lru_cache(maxsize=1)
def known_countries() -> frozenset[str]:
    """The ISO 3166 codes of the countries whose bank holidays are known."""
    return frozenset(holidays.list_supported_countries(include_aliases=False))


class _Openings(NamedTuple):
    """For every day from `first` to `last`, the open day that it rolls to, by roll."""

    first: int
    last: int
    open_day: Mapping[str, Days]


class BusinessCalendar:
    """The days on which a country's banks are shut; without a country, weekends only.

    What it knows of the years asked for so far is one tuple, put in the place of the last as a whole: threads that
    read while another makes it longer see the old one or the new one.
    """

    def __init__(self, country: str | None) -> None:
        self._country = country
        self._known = _Openings(0, 0, {})

    def roll(self, days: Days, roll: Roll) -> Days:
        """Where nominal days, sorted, land, which are then sorted too; `nearest` takes the earlier on a tie."""
        if roll == "none" or not len(days):
            return days
        known = self._covering(int(days[0]), int(days[-1]))
        return known.open_day[roll][days - known.first]

    def roll_one(self, day: int, roll: Roll) -> int:
        return int(self.roll(np.array([day], dtype=np.int64), roll)[0])

    def why_closed(self, day: int) -> str:
        """What shuts the bank on a day it is shut: the holiday's name, or the weekday."""
        civil = date.fromordinal(day)
        name = _holidays(self._country, civil.year).get(civil) if self._country else None
        return str(name) if name else f"a {civil:%A}"

    def _covering(self, first: int, last: int) -> _Openings:
        known = self._known
        if known.first <= first - LONGEST_ROLL and last + LONGEST_ROLL <= known.last:
            return known
        begin = max(min(first, known.first or first) - LONGEST_ROLL - 366, EARLIEST.toordinal() - LONGEST_ROLL)
        end = min(max(last, known.last) + LONGEST_ROLL + 366, LATEST.toordinal() + LONGEST_ROLL)
        self._known = known = self._openings(begin, end)
        return known

    def _openings(self, begin: int, end: int) -> _Openings:
        days = np.arange(begin, end + 1, dtype=np.int64)
        is_open = (days + 6) % 7 < 5
        if self._country is not None:
            for year in range(date.fromordinal(begin).year, date.fromordinal(end).year + 1):
                for day, opens in _exceptional_days(self._country, year):
                    if begin <= day <= end:
                        is_open[day - begin] = opens
        before = np.maximum.accumulate(np.where(is_open, days, begin))
        after = np.minimum.accumulate(np.where(is_open, days, end)[::-1])[::-1]
        nearest = np.where(days - before <= after - days, before, after)
        return _Openings(begin, end, {"before": before, "after": after, "nearest": nearest})


@lru_cache(maxsize=4096)
def _exceptional_days(country: str, year: int) -> tuple[tuple[int, bool], ...]:
    """The days of a year on which a country's banks differ from Monday to Friday, and whether they open."""
    named = _holidays(country, year)
    first, last = date(year, 1, 1).toordinal(), date(year, 12, 31).toordinal()
    days = ((day, bool(named.is_working_day(date.fromordinal(day)))) for day in range(first, last + 1))
    return tuple((day, opens) for day, opens in days if opens != (weekday(day) < 5))


def bank_holidays(country: str | None, first: date, last: date) -> list[tuple[date, str]]:
    """The bank holidays of a country from a day to a day, with their names; none without a country."""
    if country is None:
        return []
    named = [
        holiday for year in range(first.year, last.year + 1) for holiday in sorted(_holidays(country, year).items())
    ]
    return [(day, str(name)) for day, name in named if first <= day <= last]


@lru_cache(maxsize=1024)
def _holidays(country: str, year: int) -> holidays.HolidayBase:
    return holidays.country_holidays(country, years=year, language="en_US", expand=False)


@lru_cache(maxsize=64)
def business_calendar(country: str | None) -> BusinessCalendar:
    """The one calendar of a country, shared so that its years are read once."""
    return BusinessCalendar(country)
