"""What a walk over a loan's due dates begins with, and what it comes to."""

from dataclasses import dataclass, field
from decimal import Decimal
from typing import NamedTuple

from next_penny.core.loans.extras import Moved
from next_penny.core.money import format_amount
from next_penny.core.problems import NextPennyError


class LoanError(NextPennyError, ValueError):
    """Terms that no schedule can follow: the field that it is about, and why in a sentence with amounts in it."""

    def __init__(self, field: str, message: str, kind: str = "loan", amounts: tuple[int, ...] = ()) -> None:
        super().__init__(message)
        self.field, self.kind = field, kind
        self._message, self._amounts = message, amounts

    def told(self, currency: str) -> str:
        """The sentence, with its amounts in a currency."""
        return self._message.format(*(format_amount(amount, currency) for amount in self._amounts))


class Resume(NamedTuple):
    """Going on with a loan after some of its payments: how many were due, what is owed, since when, at what payment.

    Without a payment it is levelled at the first that is more than interest.
    """

    paid: int
    balance: int
    since: int
    payment: int | None


class Skipped(NamedTuple):
    """What a payment that was not made would have been."""

    interest: int
    principal: int
    extra: int


class Shortfall(NamedTuple):
    """The first payment that does not cover its interest: its number, and what would cover it."""

    number: int
    covering: int


@dataclass(slots=True)
class Columns:
    """All payments, one item each in parallel: see `schedule.Row` for what they are.

    levels: the payment in force, which the last one may fall short of. carried: what of the interest stayed due from
    payments that were skipped. planned: what of the extra was planned with the payment.
    """

    due: list[int] = field(default_factory=list)
    rate: list[Decimal] = field(default_factory=list)
    interest: list[int] = field(default_factory=list)
    principal: list[int] = field(default_factory=list)
    extra: list[int] = field(default_factory=list)
    balance: list[int] = field(default_factory=list)
    levels: list[int] = field(default_factory=list)
    carried: list[int] = field(default_factory=list)
    planned: list[int] = field(default_factory=list)


@dataclass(slots=True)
class Findings:
    """What a walk came upon beside its columns.

    between: extras of day-count loans paid between due dates. skipped: by due day, what was not paid.
    """

    between: list[Moved] = field(default_factory=list)
    skipped: dict[int, Skipped] = field(default_factory=dict)
    shortfall: Shortfall | None = None
    never_ends: bool = False
