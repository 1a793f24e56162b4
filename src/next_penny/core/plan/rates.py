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

    @property
    def id(self) -> str:
        """What names it: a pair has one rate of a day."""
        return rate_id(self.date, self.source, self.target)

    @property
    def opposite(self) -> str:
        """What names the rate of that day seen from the other currency, which says the same."""
        return rate_id(self.date, self.target, self.source)


def rate_id(day: datetime.date, source: str, target: str) -> str:
    """What names the rate of a pair of currencies on a day."""
    return f"{day}:{source}:{target}"


class NoRate(NextPennyError, ValueError):
    """There is no exchange rate for a pair of currencies."""

    def __init__(self, source: str, target: str, day: datetime.date) -> None:
        super().__init__(
            f"There is no exchange rate from {source} to {target} for {full_day(day)}: add one to the rates."
        )
        self.id = rate_id(day, source, target)
