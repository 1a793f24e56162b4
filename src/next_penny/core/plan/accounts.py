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

    @property
    def loan_terms(self) -> LoanTerms:
        """What was agreed of a loan. Raises ValueError for an account that is none, or of which nothing is known."""
        if self.loan is None:
            raise ValueError(self.id)
        return self.loan

    @property
    def card_terms(self) -> CardTerms:
        """What was agreed of a card or line. Raises ValueError for an account that is none, or is paid by hand."""
        if self.card is None:
            raise ValueError(self.id)
        return self.card

    @property
    def escrow_account(self) -> str | None:
        """The id of the escrow account that its payments feed, if they feed one."""
        return self.loan.escrow_account if self.loan is not None else None

    @property
    def limit(self) -> int | None:
        """What may be owed on a card or line; None where nothing says."""
        return self.card.limit if self.card is not None else None

    def available(self, balance: int) -> int | None:
        """What may still be spent or drawn at a balance, negative over its limit; None where nothing limits it."""
        return self.limit - max(0, -balance) if self.limit is not None else None

    @property
    def paid_from(self) -> str | None:
        """The id of the account that pays what is owed on it by itself, if one does."""
        payer = self.loan or self.card
        return payer.from_account if payer is not None else None

    @property
    def reads_gains(self) -> bool:
        """Whether what it does follows from the money that comes in on it, apart from what goes out."""
        return any(part.reads_gains for part in self.parts)

    def flows(self, *, acting: bool) -> tuple[Flow, ...]:
        """The flows that it makes of itself: those of parts that act over balances, or of those that do not."""
        return tuple(flow for part in self.parts if part.acts == acting for flow in part.flows(self.id, self.name))
