"""What would have to be put in, month by month, to keep every account at its floor (docs/rules.md, Running short)."""

from datetime import date
from typing import NamedTuple

import numpy as np

from next_penny.core.ahead.stretch import Column, Stretch
from next_penny.core.dates.calendar import month_number, month_start


class PutIn(NamedTuple):
    """By month, minor units: what is put in, the least and as late as possible, and what the accounts close at then."""

    amounts: tuple[int, ...]
    closing: tuple[int, ...]


def put_in(over: Stretch) -> PutIn:
    """The top-ups of all accounts of a stretch of whole months, from today on, added up by month.

    Each account by itself: on a day that would end below its floor with what was put in before, the difference.
    """
    first, last = (month_number(date.fromordinal(day)) for day in (over.first, over.last))
    ends = np.array([month_start(month + 1) - over.first for month in range(first, last + 1)])
    upto: Column = np.zeros(over.last - over.first + 1, dtype=np.int64)
    for short in over.shortages().values():
        coming = np.where(np.arange(over.first, over.last + 1) >= over.moment.now, short, 0)
        upto += np.maximum.accumulate(np.maximum(coming, 0))
    at_ends = upto[ends - 1]
    amounts = np.diff(at_ends, prepend=0)
    closing = over.together[ends] + at_ends
    return PutIn(tuple(amounts.tolist()), tuple(closing.tolist()))
