"""CHANGE as a document: what a request means, read into the command that the core carries out.

`add`, `update` and `remove` name the fields to set; the others say what a person means, and the core works out from
the household as it is at that moment which items that changes.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from pydantic import ValidationError

from next_penny.core.books.moment import Moment
from next_penny.core.edits.commands.carrying_out import Items, carry_out, no_such, not_done_with
from next_penny.core.edits.commands.records import (
    AddExtra,
    Borrow,
    ChangeOneDate,
    Command,
    MoveOnward,
    PutItem,
    PutRate,
    RecordMoney,
    RemoveItem,
    Revise,
    SetWorth,
    TakeBack,
    Values,
)
from next_penny.core.edits.revising_accounts import revised_part
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.core.problems import Loc, NextPennyError, PlanError, refused
from next_penny.formats.changes.documents import (
    DOCUMENTS,
    REVISIONS,
    BorrowedDocument,
    MovedOnward,
    OneOff,
    RecordedDocument,
    WorthDocument,
)
from next_penny.formats.changes.request import KNOWN, ChangeRequest
from next_penny.formats.documents.fields import Document
from next_penny.formats.documents.household import Rate as RateDocument
from next_penny.formats.documents.loans import Extra


class UnreadableChange(NextPennyError):
    """A change that cannot be read: where, and what Pydantic says of it."""

    def __init__(self, loc: Loc, errors: Sequence[Any]) -> None:
        super().__init__()
        self.loc, self.errors = loc, errors


@dataclass
class Resolved:
    """Changes as the core takes them, and which request each came from."""

    plan: Plan
    changes: list[PlanChange] = field(default_factory=list)
    origins: list[int] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)


def resolve(moment: Moment, requests: Sequence[ChangeRequest], recorded: Callable[[str], Entry | None]) -> Resolved:
    """What requests change of a household, one after the other.

    Raises PlanError, with each problem at the field of its request (("changes", number, ...)), and UnreadableChange.
    """
    resolved, made = Resolved(moment.plan), dict[str, Entry | None]()
    for number, request in enumerate(requests):
        loc: Loc = ("changes", number)
        items = Items(resolved.plan, lambda id: made[id] if id in made else recorded(id))
        try:
            outcome = carry_out(moment, items, read_command(items, request, moment.today, loc))
        except PlanError as error:
            raise PlanError(
                [replace(problem, loc=(*loc, *_place(request, problem.loc))) for problem in error.problems]
            ) from error
        for change in outcome.changes:
            if change.kind == "entry":
                made[change.id] = change.item  # type: ignore[assignment]
        resolved.plan = apply(resolved.plan, outcome.changes)
        resolved.changes += outcome.changes
        resolved.origins += [number] * len(outcome.changes)
        resolved.notes += outcome.notes
    return resolved


def _place(request: ChangeRequest, loc: Loc) -> Loc:
    """Fields of the request itself stand as they are; all others are its value's."""
    is_own = loc and loc[0] in ("id", "op", "kind", "from", "nominal")
    return loc if is_own or not loc else ("value", *loc)


def read_command(items: Items, request: ChangeRequest, today: date, loc: Loc) -> Command:
    """What a request means; fields that an update does not give are those of the item. Raises as `resolve` does."""
    kind, id = request.kind, request.id
    match request.op:
        case "add" | "update" if kind == "rate":
            return _rate(items, request, loc)
        case "add" | "update":
            return _item(items, request, today, loc)
        case "remove":
            return RemoveItem(kind, id)
        case "spent" | "received" | "moved" as way:
            money = _read(RecordedDocument, request.value or {}, loc).to_core(way)
            return RecordMoney(_needed_id(request), money)
        case "borrowed":
            said = _read(BorrowedDocument, request.value or {}, loc)
            known_since = said.known_since if "known_since" in said.model_fields_set else today
            return Borrow(_needed_id(request), said.name, said.currency, said.loan.to_core(), said.owed, said.owed_on,
                          known_since, said.new_escrow)  # fmt: skip
        case "revise" if kind in ("flow", "allowance", "account"):
            return _revision(items, request, loc)
        case "once" if kind == "flow":
            if request.nominal is None:
                items.existing(kind, id)
                raise refused("nominal", "Say which date.", "needed")
            values = given_values(_read(OneOff, request.value, loc)) if request.value is not None else None
            return ChangeOneDate(id, request.nominal, values)
        case "worth" if kind == "account":
            valued = _read(WorthDocument, request.value or {}, loc)
            return SetWorth(id, valued.entry, valued.amount, valued.date)
        case "extra" if kind == "account":
            return AddExtra(id, _read(Extra, request.value or {}, loc).to_core())
        case _:
            items.existing(kind, id)
            raise not_done_with(kind)


def _item(items: Items, request: ChangeRequest, today: date, loc: Loc) -> PutItem:
    """An item with the fields that are given, all others as they are at this moment."""
    existing = items.find(request.kind, request.id)
    if request.op == "update" and existing is None:
        raise no_such(request.kind, request.id)
    document = DOCUMENTS[request.kind]
    present = document.of(existing).model_dump(by_alias=True) if existing is not None else {}
    value = {**present, **_merged(present, request.value or {})}
    if existing is None and request.kind in KNOWN:
        value.setdefault("known_since", today)
    if request.kind != "household":
        value["id"] = request.id or value.get("id")
    return PutItem(request.kind, request.id, _read(document, value, loc).to_core(), request.op == "add")


def _rate(items: Items, request: ChangeRequest, loc: Loc) -> PutRate:
    """A rate whose day and pair its id names, where its fields do not."""
    existing = items.find("rate", request.id)
    if request.op == "update" and existing is None:
        raise no_such("rate", request.id)
    present = RateDocument.of(existing).model_dump(by_alias=True) if isinstance(existing, Rate) else {}
    named = dict(zip(("date", "from", "to"), request.id.split(":"), strict=False)) if request.id else {}
    read = _read(RateDocument, {**named, **present, **(request.value or {})}, loc)
    return PutRate(request.id, read.to_core(), request.op == "add")


def _merged(present: dict[str, Any], given: dict[str, Any]) -> dict[str, Any]:
    """What is given, and of a card, savings, a sweep or money lent what is held of them and not given."""
    parts = {name: {**present[name], **given[name]} for name in ("card", "savings", "sweep", "lent")
             if isinstance(given.get(name), dict) and isinstance(present.get(name), dict)}  # fmt: skip
    return {**given, **parts}


def _revision(items: Items, request: ChangeRequest, loc: Loc) -> Command:
    """An item with other values from a day on, or without what was planned from that day."""
    kind, id, start, value = request.kind, request.id, request.start, request.value
    existing = items.existing(kind, id)
    if value is None:
        return TakeBack(kind, id, start)
    if kind == "flow" and "moved_to" in value:
        if start is None:
            raise refused("from", "Say from which date.", "needed")
        return MoveOnward(id, start, _read(MovedOnward, value, loc).moved_to)
    if isinstance(existing, Account):
        values = given_values(_read(REVISIONS[revised_part(existing)], value, loc))
    else:
        values = _given_fields(DOCUMENTS[kind], existing, request, loc)
    return Revise(kind, id, values, start, request.keep_later is not False)


def given_values(document: Document) -> Values:
    """The fields that a document was given, as the core has them."""
    return {name: getattr(document, name) for name in document.model_fields_set}


def _given_fields(document: Any, existing: Any, request: ChangeRequest, loc: Loc) -> Values:
    """The given fields of an item, as the core has them."""
    present = document.of(existing).model_dump(by_alias=True)
    item = _read(document, {**present, **(request.value or {}), "id": request.id}, loc).to_core()
    given = {name for name, known in document.model_fields.items()
             if name in (request.value or {}) or known.alias in (request.value or {})}  # fmt: skip
    return {name: getattr(item, name) for name in given - {"id", "revisions"}}


def _read(document: Any, value: Any, loc: Loc) -> Any:
    try:
        return document.model_validate(value)
    except ValidationError as error:
        raise UnreadableChange((*loc, "value"), error.errors()) from error


def _needed_id(request: ChangeRequest) -> str:
    if not request.id:
        raise refused("id", "This is needed.", "needed")
    return request.id
