"""CHANGE as a document: what a request means to change, read into the core's changes of the plan.

`add`, `update` and `remove` name the fields to set; the others say what a person means, and the core works out from
the household as it is at that moment which items that changes.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from pydantic import ValidationError

from next_penny.core.accounts.parts import changed_one_off
from next_penny.core.books.moment import Moment
from next_penny.core.edits.one_off import change_one_off, move_onward
from next_penny.core.edits.paying_by_move import paid_by_move
from next_penny.core.edits.recording import borrowed, record, with_escrow_account, worth
from next_penny.core.edits.revising import Edited, revise_allowance, revise_flow, take_back
from next_penny.core.edits.revising_accounts import add_extra, revise_card, revise_loan, take_back_of_account
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow, repayment_id
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.core.plan.starter import categories_for
from next_penny.core.problems import Loc, NextPennyError, PlanError, refused
from next_penny.formats.changes.documents import (
    DOCUMENTS,
    BorrowedDocument,
    CardRevision,
    LoanRevision,
    MovedOnward,
    OneOff,
    RecordedDocument,
    WorthDocument,
)
from next_penny.formats.changes.request import KNOWN, ChangeRequest, Kind
from next_penny.formats.documents.allowances import Allowance as AllowanceDocument
from next_penny.formats.documents.flows import Flow as FlowDocument
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
        find = Find(resolved.plan, lambda id: made[id] if id in made else recorded(id))
        try:
            changes, notes = _resolve(moment, find, request, ("changes", number))
        except PlanError as error:
            loc: Loc = ("changes", number)
            raise PlanError(
                [replace(problem, loc=(*loc, *_place(request, problem.loc))) for problem in error.problems]
            ) from error
        for change in changes:
            if change.kind == "entry":
                made[change.id] = change.item  # type: ignore[assignment]
        resolved.plan = apply(resolved.plan, changes)
        resolved.changes += changes
        resolved.origins += [number] * len(changes)
        resolved.notes += notes
    return resolved


def _place(request: ChangeRequest, loc: Loc) -> Loc:
    """Fields of the request itself stand as they are; all others are its value's."""
    is_own = loc and loc[0] in ("id", "op", "kind", "from", "nominal")
    return loc if is_own or not loc else ("value", *loc)


@dataclass(frozen=True)
class Find:
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
            case "goal":
                return next((goal for goal in self.plan.goals if goal.id == id), None)
            case "rate":
                return next((rate for rate in self.plan.rates if rate.id == id), None)
            case "payee_rule":
                return next((rule for rule in self.plan.payee_rules if rule.id == id), None)
            case "entry":
                return self.recorded(id)


def _resolve(moment: Moment, find: Find, request: ChangeRequest, loc: Loc) -> tuple[list[PlanChange], list[str]]:
    existing = find.item(request.kind, request.id)
    if request.kind == "flow" and request.op != "once" and request.id in find.plan.maker_accounts:
        raise refused("id", "This follows from its account: change the account, or just one date.", "not_possible")
    if request.kind == "flow" and request.op in ("update", "revise") and existing and find.plan.lent_by(existing):
        raise refused("id", "This is what was agreed: change the account, or just one date.", "not_possible")
    if request.kind == "account" and request.op == "remove" and repayment_id(request.id) in find.plan.flow_by_id:
        own = [flow for flow in find.plan.flows if flow.id == repayment_id(request.id)]
        gone = [PlanChange("flow", flow.id, None) for flow in own]
        return [*gone, _set(request, existing, moment.today, loc)], []
    if request.kind == "rate" and request.op in ("add", "update"):
        return _rated(find.plan, request, existing, loc)
    if request.op in ("add", "update", "remove"):
        return [_set(request, existing, moment.today, loc)], []
    if request.op in ("spent", "received", "moved"):
        money = _read(RecordedDocument, request.value or {}, loc).to_core(request.op)
        if money.pays is not None and request.op == "moved":
            return paid_by_move(moment, _needed_id(request), money), []
        entry = record(find.plan, _needed_id(request), money, existing if request.kind == "entry" else None)
        return [*categories_for(find.plan, entry.legs), PlanChange("entry", entry.id, entry)], []
    if request.op == "borrowed":
        said = _read(BorrowedDocument, request.value or {}, loc)
        account = borrowed(_needed_id(request), said.name, said.currency, said.loan.to_core(), said.owed,
                                   said.owed_on, existing if request.kind == "account" else None)  # fmt: skip
        if existing is None:
            account = replace(
                account, known_since=said.known_since if "known_since" in said.model_fields_set else moment.today
            )
        made: tuple[Account, ...] = (account,)
        if said.new_escrow is not None:
            made = with_escrow_account(find.plan, account, said.new_escrow)
        return [PlanChange("account", one_account.id, one_account) for one_account in made], []
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
            once = _read(OneOff, request.value, loc) if request.value is not None else None
            given = {name: getattr(once, name) for name in once.model_fields_set} if once is not None else None
            edited = Edited(change_one_off(moment, existing, request.nominal, given), [])
        case "worth", Account():
            valued = _read(WorthDocument, request.value or {}, loc)
            entry = worth(moment, valued.entry, existing, valued.amount, valued.date)
            return [*categories_for(plan, entry.legs), PlanChange("entry", entry.id, entry)], []
        case "extra", Account():
            made = _read(Extra, request.value or {}, loc)
            edited = Edited(add_extra(existing, made.to_core()), [])
        case _:
            raise refused("op", f"This cannot be done with a {request.kind}.", "not_possible")
    return [PlanChange(request.kind, request.id, edited.item)], edited.notes


def _revised(moment: Moment, request: ChangeRequest, existing: Flow | Allowance | Account, loc: Loc) -> Edited[Any]:
    """An item with other values from a day on, or without what was planned from that day."""
    keep_later = request.keep_later is not False
    match existing:
        case Flow() if request.value is not None and "moved_to" in request.value:
            if request.start is None:
                raise refused("from", "Say from which date.", "needed")
            return move_onward(
                moment, existing, request.start, _read(MovedOnward, request.value, loc).moved_to)  # fmt: skip
        case Flow() | Allowance() if request.value is None:
            return take_back(existing, request.start)
        case Account() if request.value is None and (existing.loan is not None or existing.card is not None):
            planned = ["annual_rate", "payment", "escrow"] if existing.loan is not None else ["annual_rate"]
            return Edited(take_back_of_account(existing, planned, request.start), [])
        case Flow():
            fields = _read_fields(FlowDocument, existing, request, loc)
            return revise_flow(
                existing, fields, request.start, moment.today, keep_later=keep_later)  # fmt: skip
        case Allowance():
            fields = _read_fields(AllowanceDocument, existing, request, loc)
            return revise_allowance(
                existing, fields, request.start, moment.today, keep_later=keep_later)  # fmt: skip
        case Account() if existing.card is not None:
            said = _read(CardRevision, request.value or {}, loc)
            values = {name: getattr(said, name) for name in said.model_fields_set}
            return revise_card(existing, values, request.start, keep_later=keep_later)
        case Account():
            said = _read(LoanRevision, request.value or {}, loc)
            values = {name: getattr(said, name) for name in said.model_fields_set}
            return revise_loan(existing, values, request.start, keep_later=keep_later)


def _made_once(account: Account, request: ChangeRequest, loc: Loc) -> PlanChange:
    """One payment, charge or credit of an account as it is to be, or, without a value, as it would be."""
    if request.nominal is None:
        raise refused("nominal", "Say which date.", "needed")
    once = _read(OneOff, request.value, loc) if request.value is not None else None
    given = {name: getattr(once, name) for name in once.model_fields_set} if once is not None else None
    if given is not None and given.pop("hours", None) is not None:
        raise refused("hours", "This is not paid by the hour.", "not_used")
    return PlanChange("account", account.id, changed_one_off(account, request.id, request.nominal, given))


def _set(request: ChangeRequest, existing: Any, today: date, loc: Loc) -> PlanChange:
    """The fields of an item set as they are given, all others as they are at this moment."""
    if request.op == "add" and existing is not None:
        raise refused("id", f"There is already a {request.kind} with the id “{request.id}”.", "duplicate_id")
    if request.op != "add" and existing is None:
        raise refused("id", f"There is no {request.kind} “{request.id}”: it may be deleted already.", "unknown_id")
    if request.op == "remove":
        if request.kind == "household":
            raise refused("op", "The household itself cannot be removed.", "not_possible")
        return PlanChange(request.kind, request.id, None)
    document = DOCUMENTS[request.kind]
    present = document.of(existing).model_dump(by_alias=True) if existing is not None else {}
    value = {**present, **_merged(present, request.value or {})}
    if existing is None and request.kind in KNOWN:
        value.setdefault("known_since", today)
    if request.kind != "household":
        value["id"] = request.id or value.get("id")
    item: Household | Account | Flow = _read(document, value, loc).to_core()
    return PlanChange(request.kind, getattr(item, "id", ""), item)


def _rated(plan: Plan, request: ChangeRequest, existing: Rate | None, loc: Loc) -> tuple[list[PlanChange], list[str]]:
    """The rate of a day set; the day has one of a pair, whichever way round it is given."""
    if request.op == "update" and existing is None:
        raise refused("id", f"There is no rate “{request.id}”: it may be deleted already.", "unknown_id")
    present = RateDocument.of(existing).model_dump(by_alias=True) if existing is not None else {}
    named = dict(zip(("date", "from", "to"), request.id.split(":"), strict=False)) if request.id else {}
    rate: Rate = _read(RateDocument, {**named, **present, **(request.value or {})}, loc).to_core()
    gone = [one_rate for one_rate in plan.rates if one_rate.id in (request.id, rate.id, rate.opposite)]
    changes = [PlanChange("rate", one_rate.id, None) for one_rate in gone if one_rate.id != rate.id]
    replaced = [one_rate for one_rate in gone if request.op == "add" and one_rate != rate]
    notes = [f"It takes the place of the rate of that day, 1 {one_rate.source} = {one_rate.rate:f} {one_rate.target}."
             for one_rate in replaced]  # fmt: skip
    return [*changes, PlanChange("rate", rate.id, rate)], notes


def _merged(present: dict[str, Any], given: dict[str, Any]) -> dict[str, Any]:
    """What is given, and of a card, savings, a sweep or money lent what is held of them and not given."""
    parts = {name: {**present[name], **given[name]} for name in ("card", "savings", "sweep", "lent")
             if isinstance(given.get(name), dict) and isinstance(present.get(name), dict)}  # fmt: skip
    return {**given, **parts}


def _read_fields(document: Any, existing: Any, request: ChangeRequest, loc: Loc) -> dict[str, Any]:
    """The given fields of an item, as the core has them."""
    present = document.of(existing).model_dump(by_alias=True)
    read = _read(document, {**present, **(request.value or {}), "id": request.id}, loc)
    item = read.to_core()
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
