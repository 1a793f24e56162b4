"""Exchange rates as data, and amounts in another currency (docs/rules.md)."""

import datetime
from dataclasses import dataclass
from decimal import Decimal

from next_penny.core.dates.sentences import full_day
from next_penny.core.problems import NextPennyError

MOST_RATES = 10_000


@dataclass(frozen=True, slots=True)
class Rate:
    """From a day on, one unit of `source` is `rate` units of `target`."""

    date: datetime.date
    source: str
    target: str
    rate: Decimal


class NoRate(NextPennyError, ValueError):
    """There is no exchange rate for a pair of currencies."""

    def __init__(self, source: str, target: str, day: datetime.date) -> None:
        super().__init__(
            f"There is no exchange rate from {source} to {target} for {full_day(day)}: add one to the rates."
        )
