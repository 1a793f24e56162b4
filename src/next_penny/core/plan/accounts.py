"""Accounts as data: what one is, what it held when it was opened, and the parts that act on it.

Amounts are integers of minor units of the account's currency.
"""

import datetime
from dataclasses import dataclass
from typing import Literal

from next_penny.core.plan.flows import Flow
from next_penny.core.plan.terms.cards import CardTerms
from next_penny.core.plan.terms.lent import LentTerms
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.plan.terms.part import Part
from next_penny.core.plan.terms.savings import SavingsTerms
from next_penny.core.plan.terms.sweeps import SweepTerms

AccountKind = Literal[
    "checking", "savings", "cash", "credit_card", "credit_line", "loan", "escrow", "owed_to_us", "asset"
]


@dataclass(frozen=True, slots=True)
class Opening:
    """What an account held at the start of a day."""

    date: datetime.date
    balance: int


@dataclass(frozen=True, slots=True)
class Account:
    id: str
    name: str
    kind: AccountKind
    currency: str
    opening: Opening
    floor: int = 0
    cushion: int = 0
    spendable: bool = True
    loan: LoanTerms | None = None
    card: CardTerms | None = None
    savings: SavingsTerms | None = None
    sweep: SweepTerms | None = None
    lent: LentTerms | None = None
    closed: datetime.date | None = None
    known_since: datetime.date | None = None

    def is_closed_on(self, day: datetime.date) -> bool:
        """Whether it is kept with its past alone, and offered nowhere."""
        return self.closed is not None and self.closed <= day

    @property
    def is_debt(self) -> bool:
        """Whether what is on it is owed: it then has no floor."""
        return self.kind in ("loan", "credit_card", "credit_line")

    @property
    def lending(self) -> LentTerms:
        """How money that is owed to the household comes back; where nothing is said, to its own name, as it comes."""
        return self.lent or LentTerms(self.name)

    @property
    def parts(self) -> tuple[Part, ...]:
        """What it is or does beside holding money."""
        return tuple(part for part in (self.loan, self.card, self.savings, self.sweep, self.lent) if part is not None)

    @property
    def named_accounts(self) -> frozenset[str]:
        """The accounts that its parts refer to."""
        return frozenset(id for part in self.parts for id in part.named_accounts)

    @property
    def read_accounts(self) -> frozenset[str]:
        """The accounts whose balances decide what it does, its own among them; none where it does nothing."""
        acting = [part for part in self.parts if part.acts]
        return frozenset(id for part in acting for id in (self.id, *part.read_accounts))

    def flows(self, *, acting: bool) -> tuple[Flow, ...]:
        """The flows that it makes of itself: those of parts that act over balances, or of those that do not."""
        return tuple(flow for part in self.parts if part.acts == acting for flow in part.flows(self.id, self.name))
