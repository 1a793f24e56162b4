"""What a lender's statements said of a loan, kept with the plan. Amounts are minor units, what is owed is positive."""

import datetime
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class LastSplit:
    """How the lender split the newest payment; None for a part that the statement does not show."""

    principal: int | None = None
    interest: int | None = None
    escrow: int | None = None


@dataclass(frozen=True, slots=True)
class PaidSplit:
    """How a payment that is settled was split, as far as somebody said; None for what is as proposed."""

    principal: int | None = None
    interest: int | None = None
    escrow: int | None = None
    insurance: int | None = None


@dataclass(frozen=True, slots=True)
class Statement:
    """A statement's figures at the end of its date, `to_date` in that calendar year; None for what it does not show."""

    date: datetime.date
    principal_balance: int | None = None
    escrow_balance: int | None = None
    interest_to_date: int | None = None
    escrow_to_date: int | None = None
    last_split: LastSplit | None = None


@dataclass(frozen=True, slots=True)
class StatementCheck:
    """A statement that was held against the books of a loan's account."""

    account: str
    statement: Statement

    @property
    def id(self) -> str:
        """What names it: a loan has one statement of a date."""
        return check_id(self.account, self.statement.date)


def check_id(account: str, day: datetime.date) -> str:
    """What names the check of a loan's statement of a date."""
    return f"{account}:{day}"
