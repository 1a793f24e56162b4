"""What savings earn, as data (docs/rules.md). Rates are exact decimals in percent a year."""

import datetime
from dataclasses import dataclass
from decimal import Decimal
from typing import ClassVar, Literal

from propcache.api import cached_property

from next_penny.core.plan.flows import SAVINGS_INTEREST_ID, Flow, interest_id

Basis = Literal["365", "actual", "360"]


Compounding = Literal["daily", "none"]


MovementsEarn = Literal["same_day", "next_day"]


InterestRounding = Literal["at_credit", "daily"]


BASES: tuple[Basis, ...] = ("365", "actual", "360")


@dataclass(frozen=True, slots=True)
class CreditChange:
    """Just this once: the interest credited for one month (its month number) is another, on another day, or none."""

    month: int
    amount: int | None = None
    moved_to: datetime.date | None = None
    left_out: bool = False


@dataclass(frozen=True)
class SavingsTerms:
    """What savings earn, as a yield (`apy`) or a nominal rate, and how the bank counts."""

    acts: ClassVar[bool] = True
    reads_gains: ClassVar[bool] = False

    apy: Decimal | None = None
    rate: Decimal | None = None
    basis: Basis = "365"
    compounding: Compounding = "daily"
    movements_earn: MovementsEarn = "same_day"
    rounding: InterestRounding = "at_credit"
    changes: tuple[CreditChange, ...] = ()

    @cached_property
    def change_by_month(self) -> dict[int, CreditChange]:
        """What was set of one month's interest, by month number."""
        return {change.month: change for change in self.changes}

    @property
    def named_accounts(self) -> tuple[str, ...]:
        """None."""
        return ()

    @property
    def read_accounts(self) -> tuple[str, ...]:
        """None beside its own."""
        return ()

    def flows(self, id: str, name: str) -> tuple[Flow, ...]:
        """The interest that is credited."""
        return (Flow(interest_id(id), f"Interest, {name}", "income", 0, to_account=id, category=SAVINGS_INTEREST_ID),)
