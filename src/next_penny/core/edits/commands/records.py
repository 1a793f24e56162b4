"""What a person means to change of a household, one record for each way of meaning it. Amounts are minor units.

They name items by id: which item that is, and what has to change for it, follows from the household at that moment.
`start` is the day from which a revision holds; None: as if it had always been so.
"""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from next_penny.core.edits.recording import Recorded
from next_penny.core.plan.changes import Item, Kind
from next_penny.core.plan.rates import Rate
from next_penny.core.plan.terms.loans import Extra, LoanTerms

# Fields by name, as the item has them; only those that are to be other.
Values = Mapping[str, object]


@dataclass(frozen=True, slots=True)
class PutItem:
    """A new item, or one that there is as it is to be."""

    kind: Kind
    id: str
    item: Item
    is_new: bool


@dataclass(frozen=True, slots=True)
class RemoveItem:
    """An item that is to go; an account takes what it makes with it."""

    kind: Kind
    id: str


@dataclass(frozen=True, slots=True)
class PutRate:
    """The rate of a day, in the place of that of the same pair and day, whichever way round. id: the one to replace."""

    id: str
    rate: Rate
    is_new: bool


@dataclass(frozen=True, slots=True)
class RecordMoney:
    """Money spent, received or moved, as an entry of an id."""

    id: str
    money: Recorded


@dataclass(frozen=True, slots=True)
class Borrow:
    """A loan with what is owed on it. escrow: what is in the escrow account that is made with it, if one is."""

    id: str
    name: str
    currency: str
    terms: LoanTerms
    owed: int | None
    owed_on: datetime.date | None
    known_since: datetime.date | None
    escrow: int | None


@dataclass(frozen=True, slots=True)
class SetWorth:
    """What is owned is worth so much on a day; `entry` is the id of what says so."""

    id: str
    entry: str
    amount: int
    day: datetime.date


@dataclass(frozen=True, slots=True)
class AddExtra:
    """One more extra payment of a loan."""

    id: str
    extra: Extra


@dataclass(frozen=True, slots=True)
class Revise:
    """A flow, allowance, loan or card with other values from a day on; later ones stay where `keep_later`."""

    kind: Kind
    id: str
    values: Values
    start: datetime.date | None
    keep_later: bool = True


@dataclass(frozen=True, slots=True)
class TakeBack:
    """What was planned from a day on is not to be."""

    kind: Kind
    id: str
    start: datetime.date | None


@dataclass(frozen=True, slots=True)
class MoveOnward:
    """The date of a flow on `start` is on another day of its week or month, and those after it likewise."""

    id: str
    start: datetime.date
    day: datetime.date
    kind: Literal["flow"] = "flow"


@dataclass(frozen=True, slots=True)
class ChangeOneDate:
    """One date of a flow with other values, or, without any, as it is planned."""

    id: str
    nominal: datetime.date
    values: Values | None


Command = (
    PutItem | RemoveItem | PutRate | RecordMoney | Borrow | SetWorth | AddExtra | Revise | TakeBack | MoveOnward
    | ChangeOneDate
)  # fmt: skip
