"""An entry in the plan document (docs/plan-format.md)."""

from typing import Annotated, Any

from pydantic import Field

from next_penny.core.plan import entries as core
from next_penny.formats.documents.extended import Extended, OneOf
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name, Number, Tag, Text, fields_of, values_of


class Leg(OneOf):
    account: Id | None = None
    category: Id | None = None
    amount: Amount


class Receipt(Document):
    """A file that the household's own file keeps: the SHA-256 of its content, and its name."""

    file: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: Name


class BankTie(Document):
    """A line of a bank that an entry is: what the bank calls it, "" where it does not."""

    account: Id
    id: Annotated[str, Field(max_length=200)] = ""


class Entry(Extended):
    _extra = frozenset({"tags", "receipt", "part", "number", "bank_ids"})

    id: Id
    date: Day
    payee: Name = ""
    legs: tuple[Leg, ...] = Field(min_length=1, max_length=1000)
    flow: Id | None = None
    nominal: Day | None = None
    notes: Text = ""
    tags: tuple[Tag, ...] = Field((), max_length=20)
    receipt: Receipt | None = None
    part: bool = False
    number: Number = ""
    bank_ids: tuple[BankTie, ...] = Field((), max_length=1000)

    @classmethod
    def of(cls, entry: core.Entry) -> "Entry":
        legs = tuple(Leg(**fields_of(leg, Leg)) for leg in entry.legs)
        receipt = Receipt(**fields_of(entry.receipt, Receipt)) if entry.receipt else None
        ties = tuple(BankTie(**fields_of(tie, BankTie)) for tie in entry.bank_ids)
        return cls(**{**fields_of(entry, cls), "legs": legs, "receipt": receipt, "bank_ids": ties})

    def to_core(self) -> core.Entry:
        legs = tuple(core.Leg(**values_of(leg)) for leg in self.legs)
        receipt = core.Receipt(**values_of(self.receipt)) if self.receipt else None
        ties = tuple(core.BankTie(tie.account, tie.id) for tie in self.bank_ids)
        return core.Entry(**{**values_of(self), "legs": legs, "receipt": receipt, "bank_ids": ties})


def entry_values(entry: core.Entry) -> dict[str, Any]:
    """An entry as the document has it, in plain values."""
    values: dict[str, Any] = {
        "id": entry.id,
        "date": entry.date.isoformat(),
        "payee": entry.payee,
        "legs": [
            {"account": leg.account, "amount": leg.amount}
            if leg.account is not None
            else {"category": leg.category, "amount": leg.amount}
            for leg in entry.legs
        ],
        "flow": entry.flow,
        "nominal": entry.nominal.isoformat() if entry.nominal is not None else None,
        "notes": entry.notes,
    }
    if entry.tags:
        values["tags"] = list(entry.tags)
    if entry.receipt is not None:
        values["receipt"] = {"file": entry.receipt.file, "name": entry.receipt.name}
    if entry.part:
        values["part"] = True
    if entry.number:
        values["number"] = entry.number
    if entry.bank_ids:
        values["bank_ids"] = [{"account": tie.account, "id": tie.id} for tie in entry.bank_ids]
    return values
