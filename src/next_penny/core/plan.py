"""The household's plan as data: what it has, what repeats, and what was recorded.

Amounts are integers of minor units of the account's currency. Flow amounts are positive: the flow's kind and
accounts say which way the money moves. Leg amounts are signed: on an account, its change; on a category, positive
for expense and negative for income (docs/rules.md).
"""

import builtins
import datetime
from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction
from functools import cached_property
from typing import Generic, Literal, TypeVar

from next_penny.core.balance_terms import CardTerms, SavingsTerms, SweepTerms
from next_penny.core.dates.business_days import Roll
from next_penny.core.dates.landing import NOTHING_EXCEPTIONAL, Exceptional
from next_penny.core.dates.recurrence import Recurrence, parse_rule
from next_penny.core.dates.sentences import full_day
from next_penny.core.loan_terms import LoanTerms
from next_penny.core.money import convert, round_half_up
from next_penny.core.saved_what_ifs import SavedWhatIf
from next_penny.core.statements import StatementCheck
from next_penny.core.way_out import WayOut
from next_penny.core.writing import DateOrder, Notation, WeekStart

# How many settled occurrences an estimate may follow the average of.
MOST_FOLLOWED = 24
# What a plan may hold, so that nothing asked of it takes long.
MOST_REVISIONS = 1000
MOST_RULES = 40
MOST_ALLOWANCES = 200
MOST_RATES = 10_000

AccountKind = Literal[
    "checking", "savings", "cash", "credit_card", "credit_line", "loan", "escrow", "owed_to_us", "asset"
]
Period = Literal["week", "two_weeks", "month"]
Timing = Literal["at_end", "evenly"]
Carry = Literal["none", "forward"]
CategoryKind = Literal["income", "expense"]
FlowKind = Literal["income", "bill", "transfer", "loan_payment"]
PastDue = Literal["carry", "ignore"]
# What a flow is for a property: what the tax return asks for, and its other income and costs.
Purpose = Literal["tax", "insurance", "upkeep", "rent"]


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

    @property
    def is_debt(self) -> bool:
        """Whether what is on it is owed: it then has no floor."""
        return self.kind in ("loan", "credit_card", "credit_line")


@dataclass(frozen=True, slots=True)
class Category:
    id: str
    name: str
    group: str = ""
    kind: CategoryKind = "expense"
    icon: str = ""
    retired: bool = False


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

    @builtins.property
    def base_amount(self) -> int:
        """The flow's own amount, before revisions, season and growth."""
        return self.hourly.pay() if self.hourly is not None else self.amount

    @builtins.property
    def main_account(self) -> str | None:
        """The account whose balance the flow is about: where income arrives, else where money leaves."""
        return self.to_account if self.kind == "income" else self.from_account

    @builtins.property
    def account_ids(self) -> tuple[str, ...]:
        """Every account that the flow moves money on, at first or after a revision."""
        named = [self.from_account, self.to_account, *(split.account for split in self.splits)]
        for revision in self.revisions:
            named += [revision.from_account, revision.to_account]
        return tuple(dict.fromkeys(account for account in named if account is not None))

    @builtins.property
    def category_ids(self) -> tuple[str, ...]:
        """Every category that the flow names, at first or after a revision."""
        named = [self.category, *(split.category for split in self.splits)]
        named += [revision.category for revision in self.revisions]
        return tuple(dict.fromkeys(category for category in named if category is not None))

    @builtins.property
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
        return Steps([(each.start, each.rules) for each in self.revisions_in_order if each.rules is not None])

    @cached_property
    def amount_steps(self) -> Steps[int]:
        """The amounts that revisions set, by the day from which they hold."""
        return Steps([(each.start, base) for each in self.revisions_in_order if (base := each.base) is not None])

    @cached_property
    def hourly_steps(self) -> Steps[Hourly]:
        """The pay by the hour that revisions set, by the day from which it holds."""
        return Steps([(each.start, each.hourly) for each in self.revisions_in_order if each.hourly is not None])

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
        held: dict[str, str] = {}
        eras = [(datetime.date.min, self)]
        for revision in self.revisions_in_order:
            if revision.moves:
                named = {name: getattr(revision, name) for name in ("from_account", "to_account", "category")}
                held |= {name: value for name, value in named.items() if value is not None}
                eras.append((revision.start, replace(self, **held)))  # type: ignore[arg-type]
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


@dataclass(frozen=True, slots=True)
class LimitRevision:
    """From the first period that begins on or after a date: another limit."""

    start: datetime.date
    limit: int


@dataclass(frozen=True)
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
class Receipt:
    """A file kept in the household's own: the SHA-256 of its content in hexadecimal, and the name it came with."""

    file: str
    name: str


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
    tags: tuple[str, ...] = ()
    receipt: Receipt | None = None


@dataclass(frozen=True, slots=True)
class Rate:
    """From a day on, one unit of `source` is `rate` units of `target`."""

    date: datetime.date
    source: str
    target: str
    rate: Decimal


@dataclass(frozen=True, slots=True)
class Household:
    """Its name, the currency of its totals, its country (None: weekends only), and how past-due items are seen.

    notation, week_starts and date_order are how it writes and counts; None: as in its country.
    """

    name: str = ""
    currency: str = "USD"
    country: str | None = None
    past_due: PastDue = "carry"
    notation: Notation | None = None
    week_starts: WeekStart | None = None
    date_order: DateOrder | None = None


class NoRate(ValueError):
    """There is no exchange rate for a pair of currencies."""

    def __init__(self, source: str, target: str, day: datetime.date) -> None:
        super().__init__(
            f"There is no exchange rate from {source} to {target} for {full_day(day)}: add one to the rates."
        )


def payment_id(account: str) -> str:
    """The id of the flow by which a loan's account is paid."""
    return f"{account}-payment"


def interest_id(account: str) -> str:
    """The id of the flow by which a card is charged interest, or savings are credited with it."""
    return f"{account}-interest"


# What interest of cards and savings is recorded as, where nothing else is said.
CARD_INTEREST_ID, SAVINGS_INTEREST_ID = "card-interest", "savings-interest"


def _flows_made_by(account: Account) -> Iterable[Flow]:
    """The flows that an account makes of itself; their dates and amounts depend on balances: only a walk has them."""
    own, charged = account.id, interest_id(account.id)
    if account.card is not None:
        yield Flow(payment_id(own), f"Payment, {account.name}", "transfer", 0, account.card.from_account, own)
        yield Flow(charged, f"Interest, {account.name}", "bill", 0, own, category=CARD_INTEREST_ID)
    if account.savings is not None:
        yield Flow(charged, f"Interest, {account.name}", "income", 0, to_account=own, category=SAVINGS_INTEREST_ID)


def _payment_of(account: Account) -> Flow:
    """The flow by which a loan is paid; its dates and amounts are the loan's own."""
    assert account.loan is not None
    return Flow(
        id=payment_id(account.id),
        name=f"Payment, {account.name}",
        kind="loan_payment",
        amount=0,
        from_account=account.loan.from_account,
        to_account=account.id,
    )


@dataclass(frozen=True)
class Plan:
    """A household's plan. Entries are not part of it: see `next_penny.core.books`."""

    household: Household = Household()
    accounts: tuple[Account, ...] = ()
    categories: tuple[Category, ...] = ()
    flows: tuple[Flow, ...] = ()
    allowances: tuple[Allowance, ...] = ()
    rates: tuple[Rate, ...] = ()
    way_out: WayOut | None = None
    statement_checks: tuple[StatementCheck, ...] = ()
    what_ifs: tuple[SavedWhatIf, ...] = ()

    @cached_property
    def account_by_id(self) -> dict[str, Account]:
        return {account.id: account for account in self.accounts}

    @cached_property
    def category_by_id(self) -> dict[str, Category]:
        return {category.id: category for category in self.categories}

    @cached_property
    def allowance_by_id(self) -> dict[str, Allowance]:
        return {allowance.id: allowance for allowance in self.allowances}

    @cached_property
    def all_flows(self) -> tuple[Flow, ...]:
        """The flows, and the payments that loans make by themselves where no flow of the plan is theirs."""
        own = {flow.to_account for flow in self.flows if flow.kind == "loan_payment"}
        return (*self.flows, *(_payment_of(account) for account in self.accounts
                               if account.loan and account.loan.from_account and account.id not in own))  # fmt: skip

    def group_of(self, categories: Iterable[str | None]) -> str:
        """The group of the first of some categories that there is; "" where none is."""
        named = (self.category_by_id.get(id or "") for id in categories)
        return next((category.group for category in named if category is not None), "")

    @cached_property
    def flow_by_id(self) -> dict[str, Flow]:
        return {flow.id: flow for flow in (*self.all_flows, *self.made_flows)}

    @cached_property
    def made_flows(self) -> tuple[Flow, ...]:
        """The flows of cards and savings, whose occurrences only a forecast knows."""
        return tuple(flow for account in self.accounts for flow in _flows_made_by(account))

    @cached_property
    def maker_accounts(self) -> dict[str, Account]:
        """By flow that a card or savings account makes of itself, that account."""
        return {flow.id: account for account in self.accounts for flow in _flows_made_by(account)}

    @cached_property
    def _loan_flows(self) -> dict[str, Flow]:
        paying = [flow for flow in self.all_flows if flow.kind == "loan_payment" and flow.to_account is not None]
        return {flow.to_account or "": flow for flow in reversed(paying)}

    def loan_flow(self, account: str) -> Flow | None:
        """The flow that pays a loan; None for one that nothing pays."""
        return self._loan_flows.get(account)

    def paid_by(self, flow: Flow) -> Account | None:
        """The loan that a flow pays, if it pays one."""
        account = self.account_by_id.get(flow.to_account or "") if flow.kind == "loan_payment" else None
        return account if account is not None and account.loan is not None else None

    @cached_property
    def _flows_opened(self) -> dict[str, datetime.date]:
        return {flow.id: self.opened(flow.first_account_ids) for flow in (*self.all_flows, *self.made_flows)}

    def flow_opened(self, flow: Flow) -> datetime.date:
        """The first day on which a flow of the plan can happen: all of its first accounts are open."""
        return self._flows_opened[flow.id]

    @cached_property
    def accounts_moved(self) -> dict[str, frozenset[str]]:
        """By flow, every account that it moves money on; a loan's payment may feed an escrow account too."""
        return {flow.id: frozenset((*flow.account_ids, *self._escrow_fed(flow))) for flow in self.all_flows}

    def _escrow_fed(self, flow: Flow) -> tuple[str, ...]:
        account = self.paid_by(flow)
        escrow = account.loan.escrow_account if account is not None and account.loan is not None else None
        return (escrow,) if escrow else ()

    @cached_property
    def flows_by_category(self) -> dict[str, list[Flow]]:
        """The flows that name a category, at first or after a revision."""
        naming: dict[str, list[Flow]] = {}
        for flow in self.flows:
            for category in flow.category_ids:
                naming.setdefault(category, []).append(flow)
        return naming

    def opened(self, accounts: Iterable[str]) -> datetime.date:
        """The first day on which all of some accounts are open."""
        return max(self.account_by_id[account].opening.date for account in accounts)

    @cached_property
    def _rate_tables(self) -> dict[tuple[str, str], tuple[list[datetime.date], list[Fraction]]]:
        """By pair, days in order and what one unit is worth from each on; every rate counts both ways."""
        tables: dict[tuple[str, str], tuple[list[datetime.date], list[Fraction]]] = {}
        for rate in sorted(self.rates, key=lambda rate: rate.date):
            if rate.rate <= 0:
                continue  # it is refused where the plan is checked
            worth = Fraction(rate.rate)
            for pair, value in (((rate.source, rate.target), worth), ((rate.target, rate.source), 1 / worth)):
                days, values = tables.setdefault(pair, ([], []))
                if not days or days[-1] < rate.date:
                    days.append(rate.date)
                    values.append(value)
        return tables

    def rate(self, source: str, target: str, day: datetime.date) -> Fraction | None:
        """The latest rate by a day, or the first before any; the opposite rate inverted counts. None without one."""
        days, values = self._rate_tables.get((source, target), ([], []))
        return values[max(0, bisect_right(days, day) - 1)] if days else None

    def highest_rate(self, source: str, target: str) -> Fraction:
        """The highest that any day's rate of a pair comes to. Raises KeyError for a pair without a rate."""
        return max(self._rate_tables[source, target][1])

    def converted(self, amount: int, source: str, target: str, day: datetime.date) -> int:
        """An amount in another currency at the rate of a day. Raises NoRate where there is none."""
        if source == target:
            return amount
        rate = self.rate(source, target, day)
        if rate is None:
            raise NoRate(source, target, day)
        return convert(amount, rate, source, target)
