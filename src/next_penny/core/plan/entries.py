"""Entries as data: recorded money in double entry.

Leg amounts are signed minor units: on an account, its change; on a category, positive for expense and negative for
income (docs/rules.md).
"""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Leg:
    amount: int
    account: str | None = None
    category: str | None = None


def first_account(legs: Iterable[Leg]) -> str:
    """The account that legs name first, in whose currency those on categories are; empty where they name none."""
    return next((leg.account for leg in legs if leg.account is not None), "")


@dataclass(frozen=True, slots=True)
class Receipt:
    """A file kept in the household's own: the SHA-256 of its content in hexadecimal, and the name it came with."""

    file: str
    name: str


@dataclass(frozen=True, slots=True)
class BankTie:
    """A line of a bank that was found to be an entry: on which account, and what the bank calls it ("" if nothing)."""

    account: str
    id: str = ""


@dataclass(frozen=True, slots=True)
class Entry:
    """Recorded money: legs summing to zero, perhaps settling the occurrence of a flow with a nominal date.

    part: it is only a part of that occurrence, which is settled by another entry.
    number: of a check or a slip, as it is printed. bank_ids: the lines of a bank that it is.
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
    number: str = ""
    bank_ids: tuple[BankTie, ...] = ()

    @property
    def settles(self) -> datetime.date | None:
        """The nominal date of the occurrence of its flow that it settles; None where it settles none."""
        return None if self.part or self.flow is None else self.nominal

    def on(self, account: str) -> int:
        """What it changes on an account, 0 where it has no leg there."""
        return sum(leg.amount for leg in self.legs if leg.account == account)
