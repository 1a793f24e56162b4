"""Landing: from the nominal dates that a rule or a loan gives to the days on which money moves (docs/rules.md).

Rolling off closed days, moving one date and leaving one out are told here for every maker of movements alike.
"""

from collections.abc import Mapping, Sequence
from datetime import date
from typing import NamedTuple

import numpy as np

from next_penny.core.dates.business_days import BusinessCalendar, Days, Roll


class Landed(NamedTuple):
    """Parallel columns of day numbers, in nominal order."""

    nominal: Days
    landing: Days


class Exceptional(NamedTuple):
    """What was set for single nominal days: those left out, and where others were moved to; all day numbers."""

    left_out: frozenset[int] = frozenset()
    moved: Mapping[int, int] = {}


NOTHING_EXCEPTIONAL = Exceptional()


def land(
    nominal: Sequence[int], roll: Roll, calendar: BusinessCalendar, exceptional: Exceptional, first: int, last: int
) -> Landed:
    """Where nominal days, sorted, land, of those that land from `first` to `last` and are not left out."""
    if exceptional.left_out:
        nominal = [day for day in nominal if day not in exceptional.left_out]
    days = np.array(nominal, dtype=np.int64)
    landing = calendar.roll(days, roll)
    if not exceptional.moved and (not nominal or (first <= landing[0] and landing[-1] <= last)):
        return Landed(days, landing)
    if exceptional.moved:
        landing = landing.copy()
        for at, day in enumerate(nominal):
            if day in exceptional.moved:
                landing[at] = exceptional.moved[day]
    inside = (first <= landing) & (landing <= last)
    return Landed(days[inside], landing[inside])


def lands_on(nominal: date, roll: Roll, calendar: BusinessCalendar, exceptional: Exceptional) -> date:
    """Where one nominal day lands."""
    number = nominal.toordinal()
    return date.fromordinal(exceptional.moved.get(number) or calendar.roll_one(number, roll))
