"""An account that is kept between two amounts, as data (docs/rules.md). Amounts are integers of minor units."""

import datetime
from dataclasses import dataclass
from typing import ClassVar

from next_penny.core.plan.flows import Flow


@dataclass(frozen=True, slots=True)
class SweepTerms:
    """An account kept between two amounts: below `least` it takes from another, above `most` it gives."""

    acts: ClassVar[bool] = True
    reads_gains: ClassVar[bool] = False

    partner: str
    least: int
    most: int | None = None
    rules: tuple[str, ...] = ()
    start: datetime.date | None = None

    @property
    def named_accounts(self) -> tuple[str, ...]:
        """The other account."""
        return (self.partner,)

    @property
    def read_accounts(self) -> tuple[str, ...]:
        """The other account."""
        return (self.partner,)

    def flows(self, id: str, name: str) -> tuple[Flow, ...]:
        """None: what it moves has no identity."""
        return ()
