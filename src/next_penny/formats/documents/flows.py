"""A flow in the plan document (docs/plan-format.md)."""

from typing import Annotated

from pydantic import Field

from next_penny.core.dates.business_days import Roll
from next_penny.core.plan import flows as core
from next_penny.formats.documents.extended import Extended, OneOf
from next_penny.formats.documents.fields import (
    Amount,
    Day,
    Document,
    Id,
    Name,
    Percent,
    RuleText,
    Text,
    fields_of,
    values_of,
)


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


class Revision(Extended):
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


class Change(Extended):
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


class Split(OneOf):
    category: Id | None = None
    account: Id | None = None
    amount: Amount


Month = Annotated[str, Field(pattern=r"^([1-9]|1[0-2])$")]


class Flow(Extended):
    _extra = frozenset({"follows", "always_happens", "hourly", "saves_for", "property", "purpose", "last_paid",
                        "known_since"})  # fmt: skip

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
    last_paid: Day | None = None
    known_since: Day | None = None
    alarm_days: Annotated[int, Field(strict=True, ge=0, le=366)] | None = None

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
