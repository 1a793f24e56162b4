"""What a sentence may mean, as records: what it will do, in words and as changes, and what it leaves open."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any, Literal, NamedTuple

Does = Literal["change", "what_if", "afford"]


class Meant(NamedTuple):
    """One change, in the fields of a CHANGE (docs/rules.md): values are as a plan document has them."""

    op: str
    kind: str
    id: str
    value: dict[str, Any] | None = None
    start: date | None = None
    nominal: date | None = None


class Question(NamedTuple):
    """Whether an account bears an amount from a day on."""

    account: str
    amount: int
    on: date
    monthly: bool
    until: date


@dataclass
class Reading:
    """One reading. missing: what must be said yet; choices: by field, the ids that are meant by what was said.

    category_kind: of which sort a missing category is. unused: what was said and has no part in it.
    """

    sentence: str
    does: Does = "change"
    changes: list[Meant] = field(default_factory=list)
    question: Question | None = None
    missing: list[str] = field(default_factory=list)
    choices: dict[str, list[str]] = field(default_factory=dict)
    category_kind: Literal["income", "expense"] = "expense"
    unused: list[str] = field(default_factory=list)


class Known(NamedTuple):
    """A payee of what is recorded, with the account and category of its newest entry."""

    payee: str
    account: str | None
    category: str | None


Answers = Mapping[str, str]
