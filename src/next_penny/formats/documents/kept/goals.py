"""A goal in the plan document (docs/plan-format.md)."""

from pydantic import Field

from next_penny.core.plan.kept import goals as core
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name, Percent, fields_of, values_of


class Goal(Document):
    """By `amount`, or by `share`: percent of the period's income."""

    id: Id
    name: Name
    kind: core.GoalKind
    per: core.Per | None = None
    start: Day | None = Field(None, alias="from")
    until: Day | None = None
    amount: Amount | None = None
    share: Percent | None = None
    categories: tuple[Id, ...] = Field((), max_length=200)
    accounts: tuple[Id, ...] = Field((), max_length=200)

    @classmethod
    def of(cls, goal: core.Goal) -> "Goal":
        return cls(**fields_of(goal, cls))

    def to_core(self) -> core.Goal:
        return core.Goal(**values_of(self))
