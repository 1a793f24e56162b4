"""How a household writes amounts and dates. Its sentences are written so while its request is answered.

What is computed never depends on it: only text does, and whoever asks for text sets it first (`write_as`).
"""

from contextvars import ContextVar
from typing import Literal, NamedTuple

Notation = Literal["1,234.56", "1.234,56", "1 234,56"]
DateOrder = Literal["day_first", "month_first"]
WeekStart = Literal["MO", "SU", "SA"]


class Writing(NamedTuple):
    """Amounts, whether the day or the month comes first, and on which weekday weeks begin (Sunday 0)."""

    notation: Notation = "1,234.56"
    date_order: DateOrder = "month_first"
    week_starts_on: int = 1


_writing: ContextVar[Writing] = ContextVar("writing", default=Writing())  # noqa: B039


def write_as(writing: Writing) -> None:
    """Write so from here on, in this request."""
    _writing.set(writing)


def current() -> Writing:
    """How to write."""
    return _writing.get()
