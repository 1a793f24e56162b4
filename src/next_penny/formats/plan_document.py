"""The plan document: a household as one JSON document, read into the core's plan and written from it.

What goes in comes out the same; what was left out comes out with its default. Version 1.
"""

from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import Field, field_validator, model_serializer, model_validator
from pydantic_core import PydanticCustomError

from next_penny.core import plan as core
from next_penny.core.dates.business_days import Roll
from next_penny.core.dates.recurrence import WEEKDAYS
from next_penny.formats.fields import Amount, Currency, Day, Document, Id, Name, Percent, RuleText, Text

VERSION = 1


class Opening(Document):
    date: Day
    balance: Amount


class Account(Document):
    id: Id
    name: Name
    kind: core.AccountKind
    currency: Currency = "USD"
    opening: Opening
    floor: Amount = 0
    # Without a cushion of its own, an account is comfortable at its floor.
    cushion: Amount = Field(default_factory=lambda data: data.get("floor", 0))
    spendable: bool = True

    @classmethod
    def of(cls, account: core.Account) -> "Account":
        opening = Opening(date=account.opening.date, balance=account.opening.balance)
        return cls(**{**_fields(account, cls), "opening": opening})

    def to_core(self) -> core.Account:
        opening = core.Opening(self.opening.date, self.opening.balance)
        return core.Account(**{**_values(self), "opening": opening})


class Category(Document):
    id: Id
    name: Name
    group: Name = ""
    kind: core.CategoryKind = "expense"

    @classmethod
    def of(cls, category: core.Category) -> "Category":
        return cls(**_fields(category, cls))

    def to_core(self) -> core.Category:
        return core.Category(**_values(self))


class Growth(Document):
    percent: Percent
    start: Day = Field(alias="from")


class Revision(Document):
    start: Day = Field(alias="from")
    amount: Amount | None = None
    rules: tuple[RuleText, ...] | None = None


class Change(Document):
    nominal: Day
    amount: Amount | None = None
    moved_to: Day | None = None
    left_out: bool = False


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


class Flow(Document):
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
    notes: Text = ""

    @classmethod
    def of(cls, flow: core.Flow) -> "Flow":
        return cls(
            **{
                **_fields(flow, cls),
                "seasonal": {str(month): amount for month, amount in flow.seasonal},
                "growth": Growth(**_fields(flow.growth, Growth)) if flow.growth else None,
                "revisions": tuple(Revision(**_fields(revision, Revision)) for revision in flow.revisions),
                "changes": tuple(Change(**_fields(change, Change)) for change in flow.changes),
                "splits": tuple(Split(**_fields(split, Split)) for split in flow.splits),
            }
        )

    def to_core(self) -> core.Flow:
        return core.Flow(
            **{
                **_values(self),
                "seasonal": tuple((int(month), amount) for month, amount in self.seasonal.items()),
                "growth": core.Growth(**_values(self.growth)) if self.growth else None,
                "revisions": tuple(core.Revision(**_values(revision)) for revision in self.revisions),
                "changes": tuple(core.Change(**_values(change)) for change in self.changes),
                "splits": tuple(core.Split(**_values(split)) for split in self.splits),
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
        revisions = tuple(LimitRevision(**_fields(revision, LimitRevision)) for revision in allowance.revisions)
        week_starts = WEEKDAYS[allowance.week_starts]
        return cls(**{**_fields(allowance, cls), "week_starts": week_starts, "revisions": revisions})

    def to_core(self) -> core.Allowance:
        revisions = tuple(core.LimitRevision(**_values(revision)) for revision in self.revisions)
        week_starts = WEEKDAYS.index(self.week_starts)
        return core.Allowance(**{**_values(self), "week_starts": week_starts, "revisions": revisions})


class Entry(Document):
    id: Id
    date: Day
    payee: Name = ""
    legs: tuple[Leg, ...] = Field(min_length=1, max_length=1000)
    flow: Id | None = None
    nominal: Day | None = None
    notes: Text = ""

    @classmethod
    def of(cls, entry: core.Entry) -> "Entry":
        return cls(**{**_fields(entry, cls), "legs": tuple(Leg(**_fields(leg, Leg)) for leg in entry.legs)})

    def to_core(self) -> core.Entry:
        return core.Entry(**{**_values(self), "legs": tuple(core.Leg(**_values(leg)) for leg in self.legs)})


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

    @classmethod
    def of(cls, household: core.Household) -> "Household":
        return cls(**_fields(household, cls))

    def to_core(self) -> core.Household:
        return core.Household(**_values(self))


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
            core.Household(self.name, self.currency, self.country, self.past_due),
            tuple(account.to_core() for account in self.accounts),
            tuple(category.to_core() for category in self.categories),
            tuple(flow.to_core() for flow in self.flows),
            tuple(allowance.to_core() for allowance in self.allowances),
            tuple(core.Rate(**_values(rate)) for rate in self.rates),
        )

    def core_entries(self) -> tuple[core.Entry, ...]:
        return tuple(entry.to_core() for entry in self.entries)


def plan_document(plan: core.Plan, entries: Iterable[core.Entry]) -> PlanDocument:
    """The document of a household."""
    return PlanDocument(
        format="next-penny-plan",
        version=1,
        **_fields(plan.household, Household),
        accounts=tuple(Account.of(account) for account in plan.accounts),
        categories=tuple(Category.of(category) for category in plan.categories),
        flows=tuple(Flow.of(flow) for flow in plan.flows),
        allowances=tuple(Allowance.of(allowance) for allowance in plan.allowances),
        entries=tuple(Entry.of(entry) for entry in entries),
        rates=tuple(Rate(**_fields(rate, Rate)) for rate in plan.rates),
    )


def _fields(item: object, document: type[Document]) -> dict[str, Any]:
    return {name: getattr(item, name) for name in document.model_fields}


def _values(document: Document) -> dict[str, Any]:
    return {name: getattr(document, name) for name in type(document).model_fields}
