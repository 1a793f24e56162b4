"""What rules make, and the order in which they act at the end of a day (docs/rules.md, The forecast)."""

from collections.abc import Callable, Iterator, Mapping
from enum import IntEnum
from typing import Generic, Literal, NamedTuple, Protocol, TypeVar

from next_penny.core.accounts.ledger import Ledger
from next_penny.core.plan.accounts import Account

MadeSource = Literal["card_payment", "sweep", "line_draw", "card_interest", "savings_interest"]


class Step(IntEnum):
    """Within a day each kind sees what those before it did; within a kind, accounts in the plan's order."""

    PAYMENT = 0
    SWEEP = 1
    DRAW = 2
    CLOSING = 3
    CREDIT = 4


class Facts(NamedTuple):
    """What a sentence about a movement needs; what does not concern it is left at its default.

    first, last: the days that it is about (a cycle or month). base: a statement's balance, or the sum over the days of
    what bore interest. paid: what came in since. how: what is paid, or that it was set.
    """

    first: int = 0
    last: int = 0
    base: int = 0
    paid: int = 0
    how: str = ""


class Generated(NamedTuple):
    """A movement that a rule made: on which accounts, of which flow and nominal day (none: it has no identity)."""

    day: int
    source: MadeSource
    owner: str
    flow: str | None
    nominal: int
    legs: tuple[tuple[str, int], ...]
    facts: Facts
    is_past_due: bool = False

    @property
    def amount(self) -> int:
        """How much it moves, without a sign."""
        return abs(self.legs[0][1])


Made = TypeVar("Made")


class Act(NamedTuple, Generic[Made]):
    """Something to do at the end of a day, in the order of step and then of the plan's accounts."""

    day: int
    step: Step
    order: int
    do: Callable[[int], Made | None]


class Passed(NamedTuple):
    """What is done already, by flow: nominal days that a recorded entry ends, with what it moved; and today's view."""

    settled: Mapping[str, Mapping[int, int]]
    now: int
    carries: bool

    def of(self, flow: str) -> Mapping[int, int]:
        return self.settled.get(flow, {})


class Walked(NamedTuple):
    """What a walk over balances knows: the plan's accounts, a ledger for each whose balance is read, what is done."""

    accounts: Mapping[str, Account]
    ledgers: Mapping[str, Ledger]
    passed: Passed


class Acting(Protocol):
    """A part of an account under way in a walk."""

    def agenda(self, until: int) -> Iterator[Act[Generated]]:
        """Everything it does from today until a day."""
        ...
