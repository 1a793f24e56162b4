"""What was expected, as data: written down as its day passed, and changed by nothing that comes after it.

docs/rules.md, Expected and actual.
"""

import datetime
from dataclasses import dataclass
from typing import Literal, NamedTuple

from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import FlowKind
from next_penny.core.plan.kept.bank_lines import BankLine

ExpectedKind = FlowKind | Literal["allowance"]


class Key(NamedTuple):
    """What names an occurrence or an allowance's period: whose it is, and its nominal day or first day.

    A flow and an allowance may have one id.
    """

    source: str
    nominal: datetime.date
    is_allowance: bool = False


@dataclass(frozen=True, slots=True)
class Expected:
    """One occurrence that was expected, or one period of an allowance.

    source: the flow or allowance. lands: the day on which it was expected, a period's last. legs: what settling it as
    told would have recorded; a category of None is one that nobody named. limit: a period's, without what was carried
    into it, in minor units of the account's currency.
    """

    source: str
    nominal: datetime.date
    lands: datetime.date
    name: str
    kind: ExpectedKind
    legs: tuple[Leg, ...] = ()
    limit: int | None = None
    categories: tuple[str, ...] = ()
    account: str | None = None

    @property
    def key(self) -> Key:
        """Its name: it is remembered once."""
        return Key(self.source, self.nominal, self.is_allowance)

    @property
    def is_allowance(self) -> bool:
        """Whether it is a period of an allowance."""
        return self.kind == "allowance"


@dataclass(frozen=True, slots=True)
class Memory:
    """All that is remembered beside the plan: what was expected, and the lines of banks that were taken in.

    until: the last day of which what was expected is written down; None where nothing was yet.
    """

    rows: tuple[Expected, ...] = ()
    until: datetime.date | None = None
    bank_lines: tuple[BankLine, ...] = ()


NO_MEMORY = Memory()
