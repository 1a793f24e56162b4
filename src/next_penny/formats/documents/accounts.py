"""An account in the plan document (docs/plan-format.md)."""

from typing import Any

from pydantic import Field, model_validator

from next_penny.core.plan import accounts as core
from next_penny.formats.documents.extended import Extended
from next_penny.formats.documents.fields import Amount, Currency, Day, Document, Id, Name, fields_of, values_of
from next_penny.formats.documents.lent import Lent
from next_penny.formats.documents.loans import Loan
from next_penny.formats.documents.parts import Card, Savings, Sweep

# What an account is or does beside holding money, by its field: here, in the core and in the file.
PART_DOCUMENTS: dict[str, Any] = {"loan": Loan, "card": Card, "savings": Savings, "sweep": Sweep, "lent": Lent}


class Opening(Document):
    date: Day
    balance: Amount


class Account(Extended):
    """An account, and what it does by itself. `closed`: from that day on it is offered nowhere."""

    _extra = frozenset({"closed", "known_since", "lent"})

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
    lent: Lent | None = None
    closed: Day | None = None
    known_since: Day | None = None

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
        parts = {name: getattr(account, name) for name in PART_DOCUMENTS}
        documents = {name: PART_DOCUMENTS[name].of(terms) for name, terms in parts.items() if terms is not None}
        return cls(**{**fields_of(account, cls), **documents, "opening": opening})

    def to_core(self) -> core.Account:
        opening = core.Opening(self.opening.date, self.opening.balance)
        documents = {name: getattr(self, name) for name in PART_DOCUMENTS}
        parts = {name: document.to_core() for name, document in documents.items() if document is not None}
        return core.Account(**{**values_of(self), **parts, "opening": opening})
