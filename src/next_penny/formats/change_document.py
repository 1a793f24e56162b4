"""CHANGE as a document: what a request means to change, read into the core's changes of the plan.

`add`, `update` and `remove` name the fields to set; the others say what a person means, and the core works out from
the household as it is at that moment which items that changes.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from pydantic import Field, ValidationError

from next_penny.core import editing
from next_penny.core.balance_terms import CardPays
from next_penny.core.balances.once import changed_once
from next_penny.core.moment import Moment
from next_penny.core.overlay import PlanChange, overlay
from next_penny.core.plan import Account, Allowance, Entry, Flow, Household, Plan, Receipt
from next_penny.core.problems import Loc, PlanError, refused
from next_penny.core.starter import categories_for
from next_penny.formats import plan_document as documents
from next_penny.formats.change_request import ChangeRequest, Kind
from next_penny.formats.fields import Amount, Currency, Day, Document, Id, Name, Percent, Tag, Text
from next_penny.formats.loan_document import Extra, Loan


class PartDocument(Document):
    """A part in a category; the last part takes what the others leave."""

    category: str = ""
    amount: Amount | None = None


class RecordedDocument(Document):
    """Money spent, received or moved; of a move between currencies, `arrives` is what arrives."""

    date: Day
    account: str = ""
    amount: Amount
    payee: Name = ""
    parts: tuple[PartDocument, ...] = ()
    to_account: str | None = None
    arrives: Amount | None = None
    notes: Text = ""
    tags: tuple[Tag, ...] = Field((), max_length=20)
    receipt: documents.Receipt | None = None

    def to_core(self, way: Literal["spent", "received", "moved"]) -> editing.Recorded:
        parts = tuple(editing.Part(part.category, part.amount) for part in self.parts)
        receipt = Receipt(self.receipt.file, self.receipt.name) if self.receipt else None
        return editing.Recorded(way, self.date, self.account, self.amount, self.payee, parts, self.to_account,
                                self.arrives, self.notes, self.tags, receipt)  # fmt: skip


class BorrowedDocument(Document):
    """A loan: its terms, and, where it is joined later, what is owed on a day."""

    name: Name
    currency: Currency
    loan: Loan
    owed: Amount | None = None
    owed_on: Day | None = None


class WorthDocument(Document):
    """What an account that is owned is worth on a day, and the id of the entry that says so."""

    entry: Id
    amount: Amount
    date: Day


class LoanRevision(Document):
    """What of a loan may be another from a day on."""

    annual_rate: Percent | None = None
    payment: Amount | None = None
    escrow: Amount | None = None


class CardRevision(Document):
    """What of a card may be another: its rate from a day on, and how it is paid, from now on."""

    annual_rate: Percent | None = None
    pays: CardPays | None = None
    fixed_amount: Amount | None = None
    limit: Amount | None = None


class Once(Document):
    """What may be another for one date."""

    amount: Amount | None = None
    moved_to: Day | None = None
    left_out: bool = False
    hours: Percent | None = None


class MovedOnward(Document):
    """The day on which a date of a flow is to be, and those after it likewise."""

    moved_to: Day


_DOCUMENTS: dict[str, Any] = {
    "household": documents.Household,
    "account": documents.Account,
    "category": documents.Category,
    "flow": documents.Flow,
    "allowance": documents.Allowance,
    "entry": documents.Entry,
}


class Refused(Exception):
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

    Raises PlanError, with each problem at the field of its request (("changes", number, ...)), and Refused.
    """
    resolved, made = Resolved(moment.plan), dict[str, Entry | None]()
    for number, request in enumerate(requests):
        find = _Find(resolved.plan, lambda id: made[id] if id in made else recorded(id))
        try:
            changes, notes = _resolve(moment, find, request, ("changes", number))
        except PlanError as error:
            loc: Loc = ("changes", number)
            raise PlanError(
                [replace(each, loc=(*loc, *_place(request, each.loc))) for each in error.problems]
            ) from error
        for change in changes:
            if change.kind == "entry":
                made[change.id] = change.item  # type: ignore[assignment]
        resolved.plan = overlay(resolved.plan, changes)
        resolved.changes += changes
        resolved.origins += [number] * len(changes)
        resolved.notes += notes
    return resolved


def _place(request: ChangeRequest, loc: Loc) -> Loc:
    """Fields of the request itself stand as they are; all others are its value's."""
    is_own = loc and loc[0] in ("id", "op", "kind", "from", "nominal")
    return loc if is_own or not loc else ("value", *loc)


@dataclass(frozen=True)
class _Find:
    """Items of the plan as the requests before this one left it."""

    plan: Plan
    recorded: Callable[[str], Entry | None]

    def item(self, kind: Kind, id: str) -> Any:
        match kind:
            case "household":
                return self.plan.household
            case "account":
                return self.plan.account_by_id.get(id)
            case "flow":
                return self.plan.flow_by_id.get(id)
            case "allowance":
                return self.plan.allowance_by_id.get(id)
            case "category":
                return self.plan.category_by_id.get(id)
            case "entry":
                return self.recorded(id)


def _resolve(moment: Moment, find: _Find, request: ChangeRequest, loc: Loc) -> tuple[list[PlanChange], list[str]]:
    existing = find.item(request.kind, request.id)
    if request.kind == "flow" and request.op != "once" and request.id in find.plan.maker_accounts:
        raise refused("id", "This follows from its account: change the account, or just one date.", "not_possible")
    if request.op in ("add", "update", "remove"):
        return [_set(request, existing, loc)], []
    if request.op in ("spent", "received", "moved"):
        money = _read(RecordedDocument, request.value or {}, loc).to_core(request.op)
        entry = editing.record(find.plan, _needed_id(request), money, existing if request.kind == "entry" else None)
        return [*categories_for(find.plan, entry.legs), PlanChange("entry", entry.id, entry)], []
    if request.op == "borrowed":
        said = _read(BorrowedDocument, request.value or {}, loc)
        account = editing.borrowed(_needed_id(request), said.name, said.currency, said.loan.to_core(), said.owed,
                                   said.owed_on, existing if request.kind == "account" else None)  # fmt: skip
        return [PlanChange("account", account.id, account)], []
    if existing is None:
        raise refused("id", f"There is no {request.kind} “{request.id}”: it may be deleted already.", "unknown_id")
    return _meant(moment, find.plan, request, existing, loc)


def _meant(
    moment: Moment, plan: Plan, request: ChangeRequest, existing: Any, loc: Loc
) -> tuple[list[PlanChange], list[str]]:
    match request.op, existing:
        case "revise", Flow() | Allowance() | Account():
            edited = _revised(moment, request, existing, loc)
        case "once", Flow() if request.id in plan.maker_accounts:
            return [_made_once(plan.maker_accounts[request.id], request, loc)], []
        case "once", Flow():
            if request.nominal is None:
                raise refused("nominal", "Say which date.", "needed")
            once = _read(Once, request.value, loc) if request.value is not None else None
            given = {name: getattr(once, name) for name in once.model_fields_set} if once is not None else None
            edited = editing.Edited(editing.change_once(moment, existing, request.nominal, given), [])
        case "worth", Account():
            valued = _read(WorthDocument, request.value or {}, loc)
            entry = editing.worth(moment, valued.entry, existing, valued.amount, valued.date)
            return [*categories_for(plan, entry.legs), PlanChange("entry", entry.id, entry)], []
        case "extra", Account():
            made = _read(Extra, request.value or {}, loc)
            edited = editing.Edited(editing.add_extra(existing, made.to_core()), [])
        case _:
            raise refused("op", f"This cannot be done with a {request.kind}.", "not_possible")
    return [PlanChange(request.kind, request.id, edited.item)], edited.notes


def _revised(
    moment: Moment, request: ChangeRequest, existing: Flow | Allowance | Account, loc: Loc
) -> editing.Edited[Any]:
    """An item with other values from a day on, or without what was planned from that day."""
    keep_later = request.keep_later is not False
    match existing:
        case Flow() if request.value is not None and "moved_to" in request.value:
            if request.start is None:
                raise refused("from", "Say from which date.", "needed")
            return editing.move_onward(
                moment, existing, request.start, _read(MovedOnward, request.value, loc).moved_to)  # fmt: skip
        case Flow() | Allowance() if request.value is None:
            return editing.take_back(existing, request.start)
        case Flow():
            fields = _read_fields(documents.Flow, existing, request, loc)
            return editing.revise_flow(
                existing, fields, request.start, moment.today, keep_later=keep_later)  # fmt: skip
        case Allowance():
            fields = _read_fields(documents.Allowance, existing, request, loc)
            return editing.revise_allowance(
                existing, fields, request.start, moment.today, keep_later=keep_later)  # fmt: skip
        case Account() if existing.card is not None:
            said = _read(CardRevision, request.value or {}, loc)
            values = {name: getattr(said, name) for name in said.model_fields_set}
            return editing.revise_card(existing, values, request.start, keep_later=keep_later)
        case Account():
            said = _read(LoanRevision, request.value or {}, loc)
            values = {name: getattr(said, name) for name in said.model_fields_set}
            return editing.revise_loan(existing, values, request.start, keep_later=keep_later)


def _made_once(account: Account, request: ChangeRequest, loc: Loc) -> PlanChange:
    """One payment, charge or credit of an account as it is to be, or, without a value, as it would be."""
    if request.nominal is None:
        raise refused("nominal", "Say which date.", "needed")
    once = _read(Once, request.value, loc) if request.value is not None else None
    given = {name: getattr(once, name) for name in once.model_fields_set} if once is not None else None
    if given is not None and given.pop("hours", None) is not None:
        raise refused("hours", "This is not paid by the hour.", "not_used")
    return PlanChange("account", account.id, changed_once(account, request.id, request.nominal, given))


def _set(request: ChangeRequest, existing: Any, loc: Loc) -> PlanChange:
    """The fields of an item set as they are given, all others as they are at this moment."""
    if request.op == "add" and existing is not None:
        raise refused("id", f"There is already a {request.kind} with the id “{request.id}”.", "duplicate_id")
    if request.op != "add" and existing is None:
        raise refused("id", f"There is no {request.kind} “{request.id}”: it may be deleted already.", "unknown_id")
    if request.op == "remove":
        if request.kind == "household":
            raise refused("op", "The household itself cannot be removed.", "not_possible")
        return PlanChange(request.kind, request.id, None)
    document = _DOCUMENTS[request.kind]
    held = document.of(existing).model_dump(by_alias=True) if existing is not None else {}
    value = {**held, **_merged(held, request.value or {})}
    if request.kind != "household":
        value["id"] = request.id or value.get("id")
    item: Household | Account | Flow = _read(document, value, loc).to_core()
    return PlanChange(request.kind, getattr(item, "id", ""), item)


def _merged(held: dict[str, Any], given: dict[str, Any]) -> dict[str, Any]:
    """What is given, and of a card, savings or a sweep what is held of them and not given."""
    parts = {name: {**held[name], **given[name]} for name in ("card", "savings", "sweep")
             if isinstance(given.get(name), dict) and isinstance(held.get(name), dict)}  # fmt: skip
    return {**given, **parts}


def _read_fields(document: Any, existing: Any, request: ChangeRequest, loc: Loc) -> dict[str, Any]:
    """The given fields of an item, as the core has them."""
    held = document.of(existing).model_dump(by_alias=True)
    read = _read(document, {**held, **(request.value or {}), "id": request.id}, loc)
    item = read.to_core()
    given = {name for name, known in document.model_fields.items()
             if name in (request.value or {}) or known.alias in (request.value or {})}  # fmt: skip
    return {name: getattr(item, name) for name in given - {"id", "revisions"}}


def _read(document: Any, value: Any, loc: Loc) -> Any:
    try:
        return document.model_validate(value)
    except ValidationError as error:
        raise Refused((*loc, "value"), error.errors()) from error


def _needed_id(request: ChangeRequest) -> str:
    if not request.id:
        raise refused("id", "This is needed.", "needed")
    return request.id


def requests_for(plan: Plan, changes: Sequence[PlanChange], is_recorded: Callable[[str], bool]) -> list[ChangeRequest]:
    """Changes that the core proposes, as the interface sends them back to preview, keep or save them.

    Of what is held only what becomes another is said, so that a kept what-if leaves all else to the plan.
    """
    requests: list[ChangeRequest] = []
    for change in changes:
        assert change.kind != "way_out"
        assert change.kind != "statement_check"
        assert change.kind != "what_if"
        held = None if change.kind == "entry" else _Find(plan, lambda id: None).item(change.kind, change.id)
        if (
            isinstance(held, Flow)
            and isinstance(change.item, Flow)
            and replace(change.item, changes=held.changes) == held
        ):
            requests += _once(held, change.item)
            continue
        value = _DOCUMENTS[change.kind].of(change.item).model_dump(mode="json", by_alias=True)
        if held is not None:
            before = _DOCUMENTS[change.kind].of(held).model_dump(mode="json", by_alias=True)
            value = {name: given for name, given in value.items() if given != before[name]}
        is_held = is_recorded(change.id) if change.kind == "entry" else held is not None
        requests.append(_request("update" if is_held else "add", change.kind, change.id, value))
    return requests


def _once(held: Flow, flow: Flow) -> Iterator[ChangeRequest]:
    """What single dates of a flow become."""
    before, after = ({each.nominal: each for each in one.changes} for one in (held, flow))
    for day in sorted({*before, *after}):
        if before.get(day) != after.get(day):
            said = after.get(day)
            value = None if said is None else Once(
                amount=said.amount, moved_to=said.moved_to, left_out=said.left_out, hours=said.hours
            ).model_dump(mode="json")  # fmt: skip
            yield _request("once", "flow", flow.id, value, nominal=day.isoformat())


def _request(op: str, kind: str, id: str, value: Any, **more: Any) -> ChangeRequest:
    return ChangeRequest.model_validate({"op": op, "kind": kind, "id": id, "value": value, **more})
