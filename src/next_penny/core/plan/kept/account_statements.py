"""A bank's statements of an account, held against its entries, kept with the plan.

Amounts are minor units of the account's currency, signed as its books are: what is owed is below zero.
"""

import datetime
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class AccountStatement:
    """A statement of an account from its first to its last day, with the entries that were found on it.

    finished: the day on which it came out even and its entries were locked; None while it is open.
    """

    id: str
    account: str
    first: datetime.date
    last: datetime.date
    opening: int
    closing: int
    entries: tuple[str, ...] = ()
    finished: datetime.date | None = None

    @property
    def is_open(self) -> bool:
        """Whether it can still be changed."""
        return self.finished is None


def finished_of(statements: tuple[AccountStatement, ...], account: str) -> list[AccountStatement]:
    """The finished statements of an account, the oldest first."""
    done = (statement for statement in statements if statement.account == account and not statement.is_open)
    return sorted(done, key=lambda statement: statement.last)
