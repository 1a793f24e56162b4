"""The plan document: a household as one JSON document, read into the core's plan and written from it.

What goes in comes out the same; what was left out comes out with its default. Version 1.
"""

from collections.abc import Iterable, Sequence
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, TypeAdapter, ValidationError, field_validator, model_serializer, model_validator
from pydantic_core import PydanticCustomError

from next_penny.core import plan as core
from next_penny.core import writing
from next_penny.core.dates.business_days import Roll
from next_penny.core.dates.recurrence import WEEKDAYS
from next_penny.formats.balance_document import Card, Savings, Sweep, acting_of, acting_to_core
from next_penny.formats.fields import (
    Amount,
    Currency,
    Day,
    Document,
    Id,
    Name,
    Percent,
    RuleText,
    Tag,
    Text,
    fields_of,
    values_of,
)
from next_penny.formats.loan_document import Loan
from next_penny.formats.payoff_document import WayOutDocument
from next_penny.formats.statement_document import StatementCheckDocument
from next_penny.formats.what_if_document import WhatIfDocument

VERSION = 1


class Opening(Document):
    date: Day
    balance: Amount


class Account(Document):
    """An account, and what it does by itself."""

    id: Id
    name: Name
    kind: core.AccountKind
    currency: Currency = "USD"
    opening: Opening
    floor: Amount = 0
    # Without a cushion of its own, an account is comfortable at its floor.
    cushion: Amount = Field(default_factory=lambda data: data.get("floor", 0))
    spendable: bool = True
    savings: Savings | None = None
    card: Card | None = None
    sweep: Sweep | None = None
    loan: Loan | None = None

    @model_validator(mode="before")
    @classmethod
    def _a_line_is_one(cls, data: Any) -> Any:
        card = data.get("card") if isinstance(data, dict) else None
        if isinstance(card, dict) and data.get("kind") == "credit_line" and "is_line" not in card:
            return {**data, "card": {**card, "is_line": True}}
        return data

    @classmethod
    def of(cls, account: core.Account) -> "Account":
        opening = Opening(date=account.opening.date, balance=account.opening.balance)
        loan = Loan.of(account.loan) if account.loan else None
        return cls(**{**fields_of(account, cls), **acting_of(account), "opening": opening, "loan": loan})

    def to_core(self) -> core.Account:
        opening = core.Opening(self.opening.date, self.opening.balance)
        loan = self.loan.to_core() if self.loan else None
        return core.Account(**{**values_of(self), **acting_to_core(self), "opening": opening, "loan": loan})


class _Extended(Document):
    """Its `_extra` fields were added to version 1 later: they are left out of the document where nothing is set."""

    _extra: ClassVar[frozenset[str]] = frozenset()

    @model_serializer(mode="wrap")
    def _without_unset(self, handler: Any) -> dict[str, Any]:
        written = handler(self)
        unset = {name for name in self._extra if getattr(self, name) in (None, False, "", 0, ())}
        return {name: value for name, value in written.items() if name not in unset}


class Category(_Extended):
    _extra = frozenset({"icon", "retired"})

    id: Id
    name: Name
    group: Name = ""
    kind: core.CategoryKind = "expense"
    icon: Annotated[str, Field(max_length=40, pattern=r"^[a-z0-9-]*$")] = ""
    retired: bool = False

    @classmethod
    def of(cls, category: core.Category) -> "Category":
        return cls(**fields_of(category, cls))

    def to_core(self) -> core.Category:
        return core.Category(**values_of(self))


class Growth(Document):
    percent: Percent
    start: Day = Field(alias="from")


class Hourly(Document):
    """Pay by the hour: minor units an hour, the percentage taken home, and the usual hours of a payday."""

    rate: Amount
    share: Percent
    hours: Percent


def _hourly_to_core(hourly: Hourly | None) -> core.Hourly | None:
    return core.Hourly(**values_of(hourly)) if hourly is not None else None


def _hourly_of(hourly: core.Hourly | None) -> Hourly | None:
    return Hourly(**fields_of(hourly, Hourly)) if hourly is not None else None


class Revision(_Extended):
    _extra = frozenset({"from_account", "to_account", "category", "hourly"})

    start: Day = Field(alias="from")
    amount: Amount | None = None
    rules: tuple[RuleText, ...] | None = None
    from_account: Id | None = None
    to_account: Id | None = None
    category: Id | None = None
    hourly: Hourly | None = None

    @classmethod
    def of(cls, revision: core.Revision) -> "Revision":
        return cls(**{**fields_of(revision, cls), "hourly": _hourly_of(revision.hourly)})

    def to_core(self) -> core.Revision:
        return core.Revision(**{**values_of(self), "hourly": _hourly_to_core(self.hourly)})


class Change(_Extended):
    _extra = frozenset({"hours"})

    nominal: Day
    amount: Amount | None = None
    moved_to: Day | None = None
    left_out: bool = False
    hours: Percent | None = None


class SavingGoal(Document):
    """What a transfer sets money aside for; a bill names its flow."""

    name: Name
    amount: Amount
    by: Day
    flow: Id | None = None


class _OneOf(Document):
    """An amount on an account or on a category; the one that it is not on is left out of the document."""

    @model_serializer(mode="wrap")
    def _without_none(self, handler: Any) -> dict[str, Any]:
        return {name: value for name, value in handler(self).items() if value is not None}


class Split(_OneOf):
    category: Id | None = None
    account: Id | None = None
    amount: Amount


class Leg(_OneOf):
    account: Id | None = None
    category: Id | None = None
    amount: Amount


Month = Annotated[str, Field(pattern=r"^([1-9]|1[0-2])$")]


class Flow(_Extended):
    _extra = frozenset({"follows", "always_happens", "hourly", "saves_for", "property", "purpose"})

    id: Id
    name: Name
    kind: core.FlowKind
    amount: Amount
    category: Id | None = None
    from_account: Id | None = None
    to_account: Id | None = None
    payee: Name = ""
    rules: tuple[RuleText, ...] = Field((), max_length=50)
    dates: tuple[Day, ...] = ()
    exceptions: tuple[Day, ...] = Field((), alias="except")
    start: Day | None = None
    until: Day | None = None
    count: Annotated[int, Field(strict=True, ge=1, le=100_000)] | None = None
    roll: Roll = "none"
    seasonal: dict[Month, Amount] = {}
    growth: Growth | None = None
    revisions: tuple[Revision, ...] = ()
    changes: tuple[Change, ...] = ()
    splits: tuple[Split, ...] = ()
    estimate: bool = False
    subscription: bool = False
    remind_days: Annotated[int, Field(strict=True, ge=0, le=366)] = 3
    late_days: Annotated[int, Field(strict=True, ge=0, le=366)] = 0
    may_skip: bool = False
    may_pause: bool = False
    notes: Text = ""
    follows: Annotated[int, Field(strict=True, ge=0, le=core.MOST_FOLLOWED)] = 0
    always_happens: bool = False
    hourly: Hourly | None = None
    saves_for: SavingGoal | None = None
    property: Id | None = None
    purpose: core.Purpose | None = None

    @classmethod
    def of(cls, flow: core.Flow) -> "Flow":
        return cls(
            **{
                **fields_of(flow, cls),
                "seasonal": {str(month): amount for month, amount in flow.seasonal},
                "growth": Growth(**fields_of(flow.growth, Growth)) if flow.growth else None,
                "revisions": tuple(Revision.of(revision) for revision in flow.revisions),
                "changes": tuple(Change(**fields_of(change, Change)) for change in flow.changes),
                "splits": tuple(Split(**fields_of(split, Split)) for split in flow.splits),
                "hourly": _hourly_of(flow.hourly),
                "saves_for": SavingGoal(**fields_of(flow.saves_for, SavingGoal)) if flow.saves_for else None,
            }
        )

    def to_core(self) -> core.Flow:
        return core.Flow(
            **{
                **values_of(self),
                "seasonal": tuple((int(month), amount) for month, amount in self.seasonal.items()),
                "growth": core.Growth(**values_of(self.growth)) if self.growth else None,
                "revisions": tuple(revision.to_core() for revision in self.revisions),
                "changes": tuple(core.Change(**values_of(change)) for change in self.changes),
                "splits": tuple(core.Split(**values_of(split)) for split in self.splits),
                "hourly": _hourly_to_core(self.hourly),
                "saves_for": core.SavingGoal(**values_of(self.saves_for)) if self.saves_for else None,
            }
        )


class LimitRevision(Document):
    start: Day = Field(alias="from")
    limit: Amount


Weekday = Literal["MO", "TU", "WE", "TH", "FR", "SA", "SU"]


class Allowance(Document):
    id: Id
    name: Name
    limit: Amount
    period: core.Period = "month"
    week_starts: Weekday = "MO"
    categories: tuple[Id, ...] = ()
    account: Id
    timing: core.Timing = "at_end"
    carry: core.Carry = "none"
    start: Day | None = Field(None, alias="from")
    until: Day | None = None
    revisions: tuple[LimitRevision, ...] = ()

    @classmethod
    def of(cls, allowance: core.Allowance) -> "Allowance":
        revisions = tuple(LimitRevision(**fields_of(revision, LimitRevision)) for revision in allowance.revisions)
        week_starts = WEEKDAYS[allowance.week_starts]
        return cls(**{**fields_of(allowance, cls), "week_starts": week_starts, "revisions": revisions})

    def to_core(self) -> core.Allowance:
        revisions = tuple(core.LimitRevision(**values_of(revision)) for revision in self.revisions)
        week_starts = WEEKDAYS.index(self.week_starts)
        return core.Allowance(**{**values_of(self), "week_starts": week_starts, "revisions": revisions})


class Receipt(Document):
    """A file that the household's own file keeps: the SHA-256 of its content, and its name."""

    file: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: Name


class Entry(_Extended):
    _extra = frozenset({"tags", "receipt"})

    id: Id
    date: Day
    payee: Name = ""
    legs: tuple[Leg, ...] = Field(min_length=1, max_length=1000)
    flow: Id | None = None
    nominal: Day | None = None
    notes: Text = ""
    tags: tuple[Tag, ...] = Field((), max_length=20)
    receipt: Receipt | None = None

    @classmethod
    def of(cls, entry: core.Entry) -> "Entry":
        legs = tuple(Leg(**fields_of(leg, Leg)) for leg in entry.legs)
        receipt = Receipt(**fields_of(entry.receipt, Receipt)) if entry.receipt else None
        return cls(**{**fields_of(entry, cls), "legs": legs, "receipt": receipt})

    def to_core(self) -> core.Entry:
        legs = tuple(core.Leg(**values_of(leg)) for leg in self.legs)
        receipt = core.Receipt(**values_of(self.receipt)) if self.receipt else None
        return core.Entry(**{**values_of(self), "legs": legs, "receipt": receipt})


class Rate(Document):
    date: Day
    source: Currency = Field(alias="from")
    target: Currency = Field(alias="to")
    rate: Percent


class Household(Document):
    """The household's own settings, as in the head of the plan document."""

    name: Name = ""
    currency: Currency
    country: Currency | None = None
    past_due: core.PastDue = "carry"
    notation: writing.Notation | None = None
    week_starts: writing.WeekStart | None = None
    date_order: writing.DateOrder | None = None

    @classmethod
    def of(cls, household: core.Household) -> "Household":
        return cls(**fields_of(household, cls))

    def to_core(self) -> core.Household:
        return core.Household(**values_of(self))


class PlanDocument(Household):
    """A whole household."""

    format: Literal["next-penny-plan"]
    version: Literal[1]
    accounts: tuple[Account, ...]
    categories: tuple[Category, ...] = ()
    flows: tuple[Flow, ...] = ()
    allowances: tuple[Allowance, ...] = ()
    entries: tuple[Entry, ...] = ()
    rates: tuple[Rate, ...] = ()
    way_out: WayOutDocument | None = None
    statement_checks: tuple[StatementCheckDocument, ...] = Field((), max_length=5_000)
    what_ifs: tuple[WhatIfDocument, ...] = ()

    @field_validator("version", mode="before")
    @classmethod
    def _not_from_the_future(cls, version: object) -> object:
        if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
            raise PydanticCustomError(
                "future_version", "This plan is of version {version}; this app reads up to {known}. Update the app.",
                {"version": version, "known": VERSION},
            )  # fmt: skip
        return version

    @model_validator(mode="before")
    @classmethod
    def _accounts_take_the_households_currency(cls, data: Any) -> Any:
        if not (isinstance(data, dict) and isinstance(data.get("accounts"), list)):
            return data
        currency = data.get("currency")
        accounts = [
            {**account, "currency": currency} if isinstance(account, dict) and "currency" not in account else account
            for account in data["accounts"]
        ]
        return {**data, "accounts": accounts}

    def to_core(self) -> core.Plan:  # type: ignore[override]
        return core.Plan(
            core.Household(**{name: getattr(self, name) for name in Household.model_fields}),
            tuple(account.to_core() for account in self.accounts),
            tuple(category.to_core() for category in self.categories),
            tuple(flow.to_core() for flow in self.flows),
            tuple(allowance.to_core() for allowance in self.allowances),
            tuple(core.Rate(**values_of(rate)) for rate in self.rates),
            self.way_out.to_core() if self.way_out is not None else None,
            tuple(check.to_core() for check in self.statement_checks),
            tuple(each.to_core() for each in self.what_ifs),
        )

    def core_entries(self) -> tuple[core.Entry, ...]:
        return tuple(entry.to_core() for entry in self.entries)


def plan_document(plan: core.Plan, entries: Iterable[core.Entry]) -> PlanDocument:
    """The document of a household."""
    return PlanDocument(
        format="next-penny-plan",
        version=1,
        **fields_of(plan.household, Household),
        accounts=tuple(Account.of(account) for account in plan.accounts),
        categories=tuple(Category.of(category) for category in plan.categories),
        flows=tuple(Flow.of(flow) for flow in plan.flows),
        allowances=tuple(Allowance.of(allowance) for allowance in plan.allowances),
        entries=tuple(Entry.of(entry) for entry in entries),
        rates=tuple(Rate(**fields_of(rate, Rate)) for rate in plan.rates),
        way_out=WayOutDocument.of(plan.way_out) if plan.way_out is not None else None,
        statement_checks=tuple(StatementCheckDocument.of(check) for check in plan.statement_checks),
        what_ifs=tuple(WhatIfDocument.of(each) for each in plan.what_ifs),
    )


class DocumentErrors(Exception):
    """A document that cannot be read: everything that Pydantic found, each with its place."""

    def __init__(self, errors: Sequence[Any]) -> None:
        super().__init__()
        self.errors = list(errors)


# Entries are looked at and written so many at a time: in between, other requests have their turn.
_AT_ONCE = 500
_ENTRIES = TypeAdapter(tuple[Entry, ...])


def read_plan_document(raw: Any) -> PlanDocument:
    """A plan document from JSON that is read already. Raises DocumentErrors."""
    entries = raw.get("entries") if isinstance(raw, dict) else None
    if not isinstance(entries, list):
        entries = []
    errors, read = list[Any](), list[Entry]()
    head = None
    try:
        head = PlanDocument.model_validate({**raw, "entries": ()} if entries else raw)
    except ValidationError as error:
        errors += error.errors()
    for first in range(0, len(entries), _AT_ONCE):
        try:
            read += _ENTRIES.validate_python(tuple(entries[first : first + _AT_ONCE]))
        except ValidationError as error:
            for each in error.errors():
                place, *rest = each["loc"]
                errors.append({**each, "loc": ("entries", first + int(place), *rest)})
    if head is None or errors:
        raise DocumentErrors(errors)
    return head.model_copy(update={"entries": tuple(read)}) if entries else head


def plan_json(document: PlanDocument) -> str:
    """A plan document as JSON text."""
    text = document.model_copy(update={"entries": ()}).model_dump_json(by_alias=True)
    entries = ",".join(entry.model_dump_json(by_alias=True) for entry in document.entries)
    return text.replace('"entries":[]', f'"entries":[{entries}]', 1)
