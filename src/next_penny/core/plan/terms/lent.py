"""Money that the household lent, as data (docs/rules.md, Money lent). Rates are exact decimals in percent a year."""

import datetime
from dataclasses import dataclass
from decimal import Decimal
from typing import ClassVar, Literal

from next_penny.core.plan.flows import Flow, repayment_id
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.plan.terms.part import ids

Sureness = Literal["counted", "doubtful", "left_out"]


@dataclass(frozen=True, slots=True)
class Repays:
    """An amount on the dates of RFC 5545 rules, from a start on, until nothing is owed."""

    amount: int
    rules: tuple[str, ...]
    start: datetime.date


@dataclass(frozen=True)
class LentTerms:
    """To whom money was lent, and how it comes back: by a loan's schedule, by an amount on dates, or as it comes.

    annual_rate: of simple interest by actual/365, where there is no schedule. sure: whether what is to come is counted
    as any income, counted and marked, or told but in no balance.
    """

    acts: ClassVar[bool] = False
    reads_gains: ClassVar[bool] = False

    to: str
    into_account: str | None = None
    annual_rate: Decimal = Decimal(0)
    terms: LoanTerms | None = None
    repays: Repays | None = None
    sure: Sureness = "counted"

    @property
    def named_accounts(self) -> tuple[str, ...]:
        """The account into which repayments come."""
        return ids(self.into_account)

    @property
    def read_accounts(self) -> tuple[str, ...]:
        """None: what is to come follows from the books."""
        return ()

    def flows(self, id: str, name: str) -> tuple[Flow, ...]:
        """The repayments that are expected; their dates and amounts follow from these terms and what was received."""
        if self.into_account is None or (self.terms is None and self.repays is None):
            return ()
        return (Flow(repayment_id(id), f"Repayment, {name}", "transfer", 0, id, self.into_account, payee=self.to),)
