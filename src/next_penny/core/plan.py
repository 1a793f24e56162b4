"""The household's plan as data: what it has, what repeats, and what was recorded.

Amounts are integers of minor units of the account's currency. Flow amounts are positive: the flow's kind and
accounts say which way the money moves. Leg amounts are signed: on an account, its change; on a category, positive
for expense and negative for income (docs/rules.md).
"""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from functools import cached_property
from typing import Literal

from next_penny.core.dates.business_days import Roll
from next_penny.core.dates.recurrence import Schedule, parse_rule

AccountKind = Literal["checking", "savings", "cash"]
Period = Literal["week", "two_weeks", "month"]
Timing = Literal["at_end", "evenly"]
Carry = Literal["none", "forward"]
CategoryKind = Literal["income", "expense"]
FlowKind = Literal["income", "bill", "transfer"]
PastDue = Literal["carry", "ignore"]


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


@dataclass(frozen=True, slots=True)
class Category:
    id: str
    name: str
    group: str = ""
    kind: CategoryKind = "expense"


@dataclass(frozen=True, slots=True)
class Growth:
    """Yearly growth in percent, from a date on."""

    percent: Decimal
    start: datetime.date


@dataclass(frozen=True, slots=True)
class Revision:
    """From a date on: another amount, other rules, or both. None keeps what was."""

    start: datetime.date
    amount: int | None = None
    rules: tuple[str, ...] | None = None


@dataclass(frozen=True, slots=True)
class Change:
    """Just this once: the occurrence of one nominal date with another amount, on another day, or left out."""

    nominal: datetime.date
    amount: int | None = None
    moved_to: datetime.date | None = None
    left_out: bool = False


@dataclass(frozen=True, slots=True)
class Split:
    """A part of a flow's amount that belongs to a category, or lands on another account."""

    amount: int
    category: str | None = None
    account: str | None = None


@dataclass(frozen=True, slots=True)
class Flow:
    """Something that repeats or is planned. Rules are RFC 5545 text; see `schedule` for them as data."""

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

    @property
    def main_account(self) -> str | None:
        """The account whose balance the flow is about: where income arrives, else where money leaves."""
        return self.to_account if self.kind == "income" else self.from_account

    @property
    def account_ids(self) -> tuple[str, ...]:
        """Every account that the flow moves money on."""
        named = (self.from_account, self.to_account, *(split.account for split in self.splits))
        return tuple(dict.fromkeys(account for account in named if account is not None))

    def schedule(self, default_start: datetime.date, rules: tuple[str, ...] | None = None) -> Schedule:
        """The flow's dates as a schedule; `default_start` anchors its rules where it names no start."""
        return Schedule(
            rules=tuple(parse_rule(text) for text in (self.rules if rules is None else rules)),
            dates=self.dates,
            exceptions=self.exceptions,
            start=self.start or default_start,
            until=self.until,
            count=self.count,
        )


@dataclass(frozen=True, slots=True)
class LimitRevision:
    """From the first period that begins on or after a date: another limit."""

    start: datetime.date
    limit: int


@dataclass(frozen=True, slots=True)
class Allowance:
    """A limit per period on spending with no fixed date, in some categories, paid from one account.

    `week_starts` is the weekday on which weeks begin, Monday 0. Without a start it holds since the account is open.
    """

    id: str
    name: str
    limit: int
    account: str
    period: Period = "month"
    week_starts: int = 0
    categories: tuple[str, ...] = ()
    timing: Timing = "at_end"
    carry: Carry = "none"
    start: datetime.date | None = None
    until: datetime.date | None = None
    revisions: tuple[LimitRevision, ...] = ()


@dataclass(frozen=True, slots=True)
class Leg:
    amount: int
    account: str | None = None
    category: str | None = None


@dataclass(frozen=True, slots=True)
class Entry:
    """Recorded money: legs summing to zero, perhaps settling the occurrence of a flow with a nominal date."""

    id: str
    date: datetime.date
    payee: str
    legs: tuple[Leg, ...]
    flow: str | None = None
    nominal: datetime.date | None = None
    notes: str = ""


@dataclass(frozen=True, slots=True)
class Rate:
    """From a day on, one unit of `source` is `rate` units of `target`."""

    date: datetime.date
    source: str
    target: str
    rate: Decimal


@dataclass(frozen=True, slots=True)
class Household:
    """Its name, the currency of its totals, its country (None: weekends only), and how past-due items are seen."""

    name: str = ""
    currency: str = "USD"
    country: str | None = None
    past_due: PastDue = "carry"


@dataclass(frozen=True)
class Plan:
    """A household's plan. Entries are not part of it: see `next_penny.core.books`."""

    household: Household = Household()
    accounts: tuple[Account, ...] = ()
    categories: tuple[Category, ...] = ()
    flows: tuple[Flow, ...] = ()
    allowances: tuple[Allowance, ...] = ()
    rates: tuple[Rate, ...] = ()

    @cached_property
    def account_by_id(self) -> dict[str, Account]:
        return {account.id: account for account in self.accounts}

    @cached_property
    def allowance_by_id(self) -> dict[str, Allowance]:
        return {allowance.id: allowance for allowance in self.allowances}

    @cached_property
    def flow_by_id(self) -> dict[str, Flow]:
        return {flow.id: flow for flow in self.flows}

    def opened(self, accounts: Iterable[str]) -> datetime.date:
        """The first day on which all of some accounts are open."""
        return max(self.account_by_id[account].opening.date for account in accounts)

    def rate(self, source: str, target: str, day: datetime.date) -> Fraction | None:
        """The latest rate by a day, or the first before any; the opposite rate inverted counts. None without one."""
        pair = [rate for rate in self.rates if {rate.source, rate.target} == {source, target}]
        past = [rate for rate in pair if rate.date <= day]
        if not pair:
            return None
        rate = max(past, key=lambda rate: rate.date) if past else min(pair, key=lambda rate: rate.date)
        return Fraction(rate.rate) if rate.source == source else 1 / Fraction(rate.rate)
