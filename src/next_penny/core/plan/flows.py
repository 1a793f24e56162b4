"""Flows as data: what repeats or is planned, with what was set from a day on or just this once.

Amounts are positive integers of minor units: the flow's kind and accounts say which way the money moves.
"""

import builtins
import datetime
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction
from typing import Generic, Literal, TypeVar

from propcache.api import cached_property

from next_penny.core.dates.business_days import Roll
from next_penny.core.dates.landing import NOTHING_EXCEPTIONAL, Exceptional
from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import parse_rule
from next_penny.core.money import round_half_up

# How many settled occurrences an estimate may follow the average of.
MOST_FOLLOWED = 24


# What a plan may hold, so that nothing asked of it takes long.
MOST_REVISIONS = 1000


MOST_RULES = 40


FlowKind = Literal["income", "bill", "transfer", "loan_payment"]


# What a flow is for a property: what the tax return asks for, and its other income and costs.
Purpose = Literal["tax", "insurance", "upkeep", "rent"]


@dataclass(frozen=True, slots=True)
class Growth:
    """Yearly growth in percent, from a date on."""

    percent: Decimal
    start: datetime.date


@dataclass(frozen=True, slots=True)
class Hourly:
    """Pay by the hour: the rate in minor units, the share of it that is taken home in percent, and the usual hours."""

    rate: int
    share: Decimal
    hours: Decimal

    def pay(self, hours: Decimal | None = None) -> int:
        """What arrives for some hours (or the usual ones), in minor units, rounded once."""
        worked = self.hours if hours is None else hours
        return round_half_up(Fraction(worked) * self.rate * Fraction(self.share) / 100)


@dataclass(frozen=True, slots=True)
class Revision:
    """From a date on: another amount (or pay), other rules, accounts or category. None keeps what was."""

    start: datetime.date
    amount: int | None = None
    rules: tuple[str, ...] | None = None
    from_account: str | None = None
    to_account: str | None = None
    category: str | None = None
    hourly: Hourly | None = None

    @property
    def moves(self) -> bool:
        """Whether it sets an account or the category."""
        return any((self.from_account, self.to_account, self.category))

    @property
    def base(self) -> int | None:
        """The amount that it sets, if any."""
        return self.hourly.pay() if self.hourly is not None else self.amount


@dataclass(frozen=True, slots=True)
class Change:
    """Just this once: the occurrence of one nominal date with another amount, on another day, or left out.

    Of a paycheck by the hour, `hours` may be given in place of an amount.
    """

    nominal: datetime.date
    amount: int | None = None
    moved_to: datetime.date | None = None
    left_out: bool = False
    hours: Decimal | None = None

    @property
    def sets_amount(self) -> bool:
        """Whether it says what the date comes to."""
        return self.amount is not None or self.hours is not None


@dataclass(frozen=True, slots=True)
class SavingGoal:
    """What a transfer sets money aside for: how much is to be there by a day. A bill names its flow."""

    name: str
    amount: int
    by: datetime.date
    flow: str | None = None


@dataclass(frozen=True, slots=True)
class Split:
    """A part of a flow's amount that belongs to a category, or lands on another account."""

    amount: int
    category: str | None = None
    account: str | None = None


_Value = TypeVar("_Value")


class Steps(Generic[_Value]):
    """Values that hold from days on, in order of day."""

    def __init__(self, steps: Sequence[tuple[datetime.date, _Value]]) -> None:
        self.days = [day for day, _ in steps]
        self.values = [value for _, value in steps]

    def on(self, day: datetime.date) -> tuple[datetime.date, _Value] | None:
        """What holds on a day, and since when; None before the first."""
        passed = bisect_right(self.days, day)
        return (self.days[passed - 1], self.values[passed - 1]) if passed else None


@dataclass(frozen=True)
class Flow:
    """Something that repeats or is planned. Rules are RFC 5545 text; see `schedule` for them as data.

    late_days: how many days later it may be paid. may_skip, may_pause: whether it may be left out once, or for a time.
    last_paid: when it was last paid before the household began here.
    known_since: what landed before that day was not expected; None: it was always known.
    """

    id: str
    name: str
    kind: FlowKind
    amount: int
    from_account: str | None = None
    to_account: str | None = None
    category: str | None = None
    payee: str = ""
    rules: tuple[str, ...] = ()
    dates: tuple[datetime.date, ...] = ()
    exceptions: tuple[datetime.date, ...] = ()
    start: datetime.date | None = None
    until: datetime.date | None = None
    count: int | None = None
    roll: Roll = "none"
    seasonal: tuple[tuple[int, int], ...] = ()
    growth: Growth | None = None
    revisions: tuple[Revision, ...] = ()
    changes: tuple[Change, ...] = ()
    splits: tuple[Split, ...] = ()
    estimate: bool = False
    subscription: bool = False
    remind_days: int = 3
    notes: str = ""
    follows: int = 0
    always_happens: bool = False
    hourly: Hourly | None = None
    saves_for: SavingGoal | None = None
    property: str | None = None
    purpose: Purpose | None = None
    late_days: int = 0
    may_skip: bool = False
    may_pause: bool = False
    last_paid: datetime.date | None = None
    known_since: datetime.date | None = None
    alarm_days: int | None = None

    @builtins.property
    def base_amount(self) -> int:
        """The flow's own amount, before revisions, season and growth."""
        return self.hourly.pay() if self.hourly is not None else self.amount

    @builtins.property
    def main_account(self) -> str | None:
        """The account whose balance the flow is about: where income arrives, else where money leaves."""
        return self.to_account if self.kind == "income" else self.from_account

    @cached_property
    def account_ids(self) -> tuple[str, ...]:
        """Every account that the flow moves money on, at first or after a revision."""
        named = [self.from_account, self.to_account, *(split.account for split in self.splits)]
        for revision in self.revisions:
            named += [revision.from_account, revision.to_account]
        return tuple(dict.fromkeys(account for account in named if account is not None))

    @cached_property
    def category_ids(self) -> tuple[str, ...]:
        """Every category that the flow names, at first or after a revision."""
        named = [self.category, *(split.category for split in self.splits)]
        named += [revision.category for revision in self.revisions]
        return tuple(dict.fromkeys(category for category in named if category is not None))

    @cached_property
    def first_account_ids(self) -> tuple[str, ...]:
        """The accounts of its first days, which say since when it can happen."""
        named = (self.from_account, self.to_account, *(split.account for split in self.splits))
        return tuple(dict.fromkeys(account for account in named if account is not None))

    @cached_property
    def revisions_in_order(self) -> tuple[Revision, ...]:
        """By the day from which they hold."""
        return tuple(sorted(self.revisions, key=lambda revision: revision.start))

    @cached_property
    def rule_steps(self) -> Steps[tuple[str, ...]]:
        """The rules that revisions set, by the day from which they hold."""
        return Steps([(change.start, change.rules) for change in self.revisions_in_order if change.rules is not None])

    @cached_property
    def amount_steps(self) -> Steps[int]:
        """The amounts that revisions set, by the day from which they hold."""
        return Steps([(change.start, base) for change in self.revisions_in_order if (base := change.base) is not None])

    @cached_property
    def hourly_steps(self) -> Steps[Hourly]:
        """The pay by the hour that revisions set, by the day from which it holds."""
        return Steps(
            [(revision.start, revision.hourly) for revision in self.revisions_in_order if revision.hourly is not None]
        )

    @cached_property
    def change_by_nominal(self) -> dict[int, Change]:
        """What was set just this once, by nominal day number."""
        return {change.nominal.toordinal(): change for change in self.changes}

    @cached_property
    def exceptional(self) -> Exceptional:
        """Which nominal days are left out or moved."""
        if not self.changes:
            return NOTHING_EXCEPTIONAL
        left_out = frozenset(day for day, change in self.change_by_nominal.items() if change.left_out)
        moved = {day: change.moved_to.toordinal()
                 for day, change in self.change_by_nominal.items() if change.moved_to is not None}  # fmt: skip
        return Exceptional(left_out, moved)

    @cached_property
    def eras(self) -> "tuple[tuple[datetime.date, Flow], ...]":
        """The flow with its accounts and category in force, each with the nominal date from which they hold."""
        in_force: dict[str, str] = {}
        eras = [(datetime.date.min, self)]
        for revision in self.revisions_in_order:
            if revision.moves:
                named = {name: getattr(revision, name) for name in ("from_account", "to_account", "category")}
                in_force |= {name: value for name, value in named.items() if value is not None}
                eras.append((revision.start, replace(self, **in_force)))  # type: ignore[arg-type]
        return tuple(eras)

    def on(self, day: datetime.date) -> "Flow":
        """The flow with the accounts and the category in force on a day."""
        return self.eras[bisect_right(self.eras, day, key=lambda era: era[0]) - 1][1]

    def schedule(self, default_start: datetime.date, rules: tuple[str, ...] | None = None) -> Recurrence:
        """The flow's dates as a schedule; `default_start` anchors its rules where it names no start."""
        return Recurrence(
            rules=tuple(parse_rule(text) for text in (self.rules if rules is None else rules)),
            dates=self.dates,
            exceptions=self.exceptions,
            start=self.start or default_start,
            until=self.until,
            count=self.count,
        )


def payment_id(account: str) -> str:
    """The id of the flow by which a loan or a card is paid."""
    return f"{account}-payment"


def repayment_id(account: str) -> str:
    """The id of the flow by which money that was lent comes back."""
    return f"{account}-repayment"


def interest_id(account: str) -> str:
    """The id of the flow by which a card is charged interest, or savings are credited with it."""
    return f"{account}-interest"


# What interest of cards and savings is recorded as, where nothing else is said.
CARD_INTEREST_ID, SAVINGS_INTEREST_ID = "card-interest", "savings-interest"
