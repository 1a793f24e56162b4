"""What was expected, in the plan document (docs/plan-format.md)."""

from typing import Any

from pydantic import Field, model_serializer, model_validator
from pydantic_core import PydanticCustomError

from next_penny.core.plan import entries as core_entries
from next_penny.core.plan import memory as core
from next_penny.core.plan.memory import ExpectedKind
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name


class ExpectedLeg(Document):
    """What would have been recorded on an account or a category; neither: on a category that nobody named."""

    account: Id | None = None
    category: Id | None = None
    amount: Amount

    @model_serializer(mode="wrap")
    def _one_of(self, handler: Any) -> dict[str, Any]:
        written: dict[str, Any] = handler(self)
        written.pop("account" if self.account is None else "category")
        return written


class Expected(Document):
    """An occurrence of a flow, which has legs, or a period of an allowance, which has a limit."""

    flow: Id | None = None
    allowance: Id | None = None
    nominal: Day
    lands: Day
    name: Name
    kind: ExpectedKind
    legs: tuple[ExpectedLeg, ...] = Field((), max_length=1000)
    limit: Amount | None = None
    categories: tuple[Id, ...] = ()
    account: Id | None = None

    @model_validator(mode="after")
    def _of_one(self) -> "Expected":
        is_allowance = self.kind == "allowance"
        named, other = (self.allowance, self.flow) if is_allowance else (self.flow, self.allowance)
        if named is None or other is not None:
            raise PydanticCustomError(
                "expected", "What was expected is of a flow, or of an allowance: name one of them."
            )
        if is_allowance and (self.limit is None or self.account is None):
            raise PydanticCustomError("expected", "A period of an allowance has its limit and its account.")
        return self

    @model_serializer(mode="wrap")
    def _without_the_others(self, handler: Any) -> dict[str, Any]:
        written: dict[str, Any] = handler(self)
        for name in ("flow", "legs") if self.kind == "allowance" else ("allowance", "limit", "categories", "account"):
            written.pop(name)
        return written

    @classmethod
    def of(cls, row: core.Expected) -> "Expected":
        return cls.model_validate(expected_values(row))

    def to_core(self) -> core.Expected:
        legs = tuple(core_entries.Leg(leg.amount, leg.account, leg.category) for leg in self.legs)
        return core.Expected(
            self.flow or self.allowance or "", self.nominal, self.lands, self.name, self.kind, legs, self.limit,
            self.categories, self.account,
        )  # fmt: skip


def leg_values(leg: core_entries.Leg) -> dict[str, Any]:
    """A leg of what was expected as the document has it, in plain values."""
    on = {"account": leg.account} if leg.account is not None else {"category": leg.category}
    return {**on, "amount": leg.amount}


def expected_values(row: core.Expected) -> dict[str, Any]:
    """What was expected as the document has it, in plain values."""
    values: dict[str, Any] = {
        "allowance" if row.is_allowance else "flow": row.source,
        "nominal": row.nominal.isoformat(),
        "lands": row.lands.isoformat(),
        "name": row.name,
        "kind": row.kind,
    }
    if row.is_allowance:
        return {**values, "limit": row.limit, "categories": list(row.categories), "account": row.account}
    return {**values, "legs": [leg_values(leg) for leg in row.legs]}
