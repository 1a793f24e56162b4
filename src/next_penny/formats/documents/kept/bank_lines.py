"""What is kept of a bank's files, as documents: a plan's `payee_rules` and `bank_lines`."""

from typing import Any

from pydantic import Field, field_validator, model_validator
from pydantic_core import PydanticCustomError

from next_penny.core.plan.kept import bank_lines as core
from next_penny.formats.documents.extended import Extended
from next_penny.formats.documents.fields import Amount, Day, Id, Name, Text, fields_of, values_of


class PayeeRuleDocument(Extended):
    """What is new from or to a payee that contains a text belongs in a category; amounts count without their sign.

    shown: the name under which it is recorded, where that is not the bank's.
    """

    _extra = frozenset({"shown"})

    id: Id
    contains: Name = Field(min_length=1)
    account: Id | None = None
    least: Amount | None = None
    most: Amount | None = None
    category: Id
    shown: Name = ""

    @field_validator("contains")
    @classmethod
    def _says_something(cls, text: str) -> str:
        if not text.strip():
            raise PydanticCustomError("text", "Write what the payee contains.")
        return text

    @model_validator(mode="after")
    def _in_order(self) -> "PayeeRuleDocument":
        if (self.least or 0) < 0 or (self.most or 0) < 0:
            raise PydanticCustomError("negative", "Give the amounts without a sign.")
        if self.least is not None and self.most is not None and self.most < self.least:
            raise PydanticCustomError("range", "The larger amount comes last.")
        return self

    @classmethod
    def of(cls, rule: core.PayeeRule) -> "PayeeRuleDocument":
        return cls(**fields_of(rule, cls))

    def to_core(self) -> core.PayeeRule:
        return core.PayeeRule(**values_of(self))


class BankLineDocument(Extended):
    """A line of a bank that was taken in, by the bank's id or else by its text, or that waits for a decision."""

    _extra = frozenset({"id", "text", "waiting"})

    account: Id
    bank_id: Id | None = Field(None, alias="id")
    text: Text = ""
    date: Day
    amount: Amount
    waiting: bool = False

    @classmethod
    def of(cls, line: core.BankLine) -> "BankLineDocument":
        return cls(**fields_of(line, cls))

    def to_core(self) -> core.BankLine:
        return core.BankLine(**values_of(self))


def bank_line_values(line: core.BankLine) -> dict[str, Any]:
    """A bank's line as the document has it, in plain values."""
    named = {"id": line.bank_id} if line.bank_id is not None else {"text": line.text}
    values: dict[str, Any] = {"account": line.account, **named}
    if line.waiting:
        values["text"] = line.text
    values |= {"date": line.date.isoformat(), "amount": line.amount}
    return {**values, "waiting": True} if line.waiting else values
