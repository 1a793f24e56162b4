"""What a bank's file says, whatever its format. Amounts are minor units, signed as they change the account."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal, NamedTuple

BankFormat = Literal["ofx", "camt.053", "csv"]


@dataclass(frozen=True, slots=True)
class FileLine:
    """A booked movement. bank_id: what the bank calls it, None where it does not say; number: of a check."""

    date: date
    amount: int
    payee: str = ""
    memo: str = ""
    bank_id: str | None = None
    number: str = ""

    @property
    def text(self) -> str:
        """Its words: what tells lines without a bank's id apart."""
        return f"{self.payee}\n{self.memo}" if self.memo else self.payee


class ClosingBalance(NamedTuple):
    """What the bank says the account held at the end of a day."""

    date: date
    balance: int


class LeftOut(NamedTuple):
    """A line that was not read: its place in the file, and why."""

    where: str
    why: str


@dataclass(frozen=True, slots=True)
class FileStatement:
    """What a file says of one account. number: the bank's own; None where it does not say. first, last: its days.

    name: what the bank calls the account, where it was asked.
    """

    number: str | None
    currency: str | None
    first: date | None
    last: date | None
    closing: ClosingBalance | None
    lines: tuple[FileLine, ...]
    name: str = ""


@dataclass(frozen=True, slots=True)
class BankFile:
    """A file that was read. `left_out` is what of it was not."""

    format: BankFormat
    statements: tuple[FileStatement, ...]
    left_out: tuple[LeftOut, ...] = ()


def days_of(lines: Sequence[FileLine]) -> tuple[date | None, date | None]:
    """The first and the last day of some lines."""
    days = [line.date for line in lines]
    return (min(days), max(days)) if days else (None, None)
