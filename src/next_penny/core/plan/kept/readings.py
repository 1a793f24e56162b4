"""What a bank said an account held, kept with the plan. Amounts are minor units of the account's currency."""

import datetime
from dataclasses import dataclass
from typing import Literal

ReadingSource = Literal["typed", "statement", "bank", "message"]


@dataclass(frozen=True, slots=True)
class BalanceReading:
    """An account's true balance at the end of a day, signed as its books are; a later one of the day replaces it."""

    account: str
    date: datetime.date
    balance: int
    source: ReadingSource = "typed"

    @property
    def id(self) -> str:
        """What names it: an account has one reading of a day."""
        return reading_id(self.account, self.date)


def reading_id(account: str, day: datetime.date) -> str:
    """What names the reading of an account's day."""
    return f"{account}:{day}"
