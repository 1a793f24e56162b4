"""Entries as data: recorded money in double entry.

Leg amounts are signed minor units: on an account, its change; on a category, positive for expense and negative for
income (docs/rules.md).
"""

import datetime
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Leg:
    amount: int
    account: str | None = None
    category: str | None = None


@dataclass(frozen=True, slots=True)
class Receipt:
    """A file kept in the household's own: the SHA-256 of its content in hexadecimal, and the name it came with."""

    file: str
    name: str


@dataclass(frozen=True, slots=True)
class Entry:
    """Recorded money: legs summing to zero, perhaps settling the occurrence of a flow with a nominal date.

    part: it is only a part of that occurrence, which is settled by another entry.
    """

    id: str
    date: datetime.date
    payee: str
    legs: tuple[Leg, ...]
    flow: str | None = None
    nominal: datetime.date | None = None
    notes: str = ""
    tags: tuple[str, ...] = ()
    receipt: Receipt | None = None
    part: bool = False

    @property
    def settles(self) -> datetime.date | None:
        """The nominal date of the occurrence of its flow that it settles; None where it settles none."""
        return None if self.part or self.flow is None else self.nominal
