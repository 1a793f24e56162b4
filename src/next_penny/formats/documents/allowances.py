"""An allowance in the plan document (docs/plan-format.md)."""

from typing import Literal

from pydantic import Field

from next_penny.core.dates.rules import WEEKDAYS
from next_penny.core.plan import allowances as core
from next_penny.formats.documents.extended import Extended
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name, fields_of, values_of


class LimitRevision(Document):
    start: Day = Field(alias="from")
    limit: Amount


Weekday = Literal["MO", "TU", "WE", "TH", "FR", "SA", "SU"]


class Allowance(Extended):
    _extra = frozenset({"known_since"})

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
    known_since: Day | None = None

    @classmethod
    def of(cls, allowance: core.Allowance) -> "Allowance":
        revisions = tuple(LimitRevision(**fields_of(revision, LimitRevision)) for revision in allowance.revisions)
        week_starts = WEEKDAYS[allowance.week_starts]
        return cls(**{**fields_of(allowance, cls), "week_starts": week_starts, "revisions": revisions})

    def to_core(self) -> core.Allowance:
        revisions = tuple(core.LimitRevision(**values_of(revision)) for revision in self.revisions)
        week_starts = WEEKDAYS.index(self.week_starts)
        return core.Allowance(**{**values_of(self), "week_starts": week_starts, "revisions": revisions})
