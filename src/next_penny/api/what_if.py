"""Changes laid over the plan, as requests write them: a form's unsaved edit, its preview and its saving are one."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import ValidationError

from next_penny.api.errors import Refusal, Refused, from_validation, refused
from next_penny.api.household import OpenHousehold
from next_penny.core.check import Loc, Problem
from next_penny.core.overlay import PlanChange, overlay
from next_penny.core.plan import Plan
from next_penny.formats import plan_document as documents
from next_penny.formats.fields import Document, Id

Kind = Literal["household", "account", "category", "flow", "allowance", "entry"]
_DOCUMENTS: dict[str, Any] = {
    "household": documents.Household,
    "account": documents.Account,
    "category": documents.Category,
    "flow": documents.Flow,
    "allowance": documents.Allowance,
    "entry": documents.Entry,
}
_LISTS = {"accounts": "account", "categories": "category", "flows": "flow", "allowances": "allowance"}


class ChangeRequest(Document):
    """Add, update or remove one item; `value` holds the fields to set. The household itself is only updated."""

    op: Literal["add", "update", "remove"]
    kind: Kind
    id: Id = ""
    value: dict[str, Any] | None = None


@dataclass(frozen=True, slots=True)
class WhatIf:
    """A plan with changes laid over it, and the changes as the core takes them."""

    plan: Plan
    changes: tuple[PlanChange, ...]


def lay_over(home: OpenHousehold, requests: Sequence[ChangeRequest]) -> WhatIf:
    """The household's plan with the changes laid over it. Raises Refused, with each problem at its field."""
    plan = home.plan()
    changes: list[PlanChange] = []
    for place, request in enumerate(requests):
        change = _resolve(home, plan, request, ("body", "changes", place))
        changes.append(change)
        plan = overlay(plan, [change])
    found = [at_field(problem, plan, changes) for problem in home.store.problems(plan, changes)]
    if found:
        raise Refused(found)
    return WhatIf(plan, tuple(changes))


def requests_for(home: OpenHousehold, changes: Sequence[PlanChange]) -> list[ChangeRequest]:
    """Changes that the core proposes, as the interface sends them back to preview or save them."""
    requests = []
    for change in changes:
        request = ChangeRequest(op="add", kind=change.kind, id=change.id)
        op = "add" if _existing(home, home.plan(), request) is None else "update"
        value = _DOCUMENTS[change.kind].of(change.item).model_dump(mode="json", by_alias=True)
        requests.append(ChangeRequest(op=op, kind=change.kind, id=change.id, value=value))  # type: ignore[arg-type]
    return requests


def _resolve(home: OpenHousehold, plan: Plan, request: ChangeRequest, loc: Loc) -> PlanChange:
    existing = _existing(home, plan, request)
    if request.op == "add" and existing is not None:
        raise refused((*loc, "id"), f"There is already a {request.kind} with the id “{request.id}”.", "duplicate_id")
    if request.op != "add" and existing is None:
        raise refused(
            (*loc, "id"), f"There is no {request.kind} “{request.id}”: it may be deleted already.", "unknown_id"
        )
    if request.op == "remove":
        if request.kind == "household":
            raise refused((*loc, "op"), "The household itself cannot be removed.", "not_possible")
        return PlanChange(request.kind, request.id, None)
    document = _DOCUMENTS[request.kind]
    held = document.of(existing).model_dump(by_alias=True) if existing is not None else {}
    value = {**held, **(request.value or {})}
    if request.kind != "household":
        value["id"] = request.id or value.get("id")
    try:
        item = document.model_validate(value).to_core()
    except ValidationError as error:
        raise Refused(from_validation(error.errors(), (*loc, "value"))) from error
    return PlanChange(request.kind, getattr(item, "id", ""), item)


def _existing(home: OpenHousehold, plan: Plan, request: ChangeRequest) -> Any:
    match request.kind:
        case "household":
            return plan.household
        case "account":
            return plan.account_by_id.get(request.id)
        case "flow":
            return plan.flow_by_id.get(request.id)
        case "allowance":
            return plan.allowance_by_id.get(request.id)
        case "category":
            return next((category for category in plan.categories if category.id == request.id), None)
        case "entry":
            return home.store.entry(request.id)


def at_field(problem: Problem, plan: Plan, changes: Sequence[PlanChange]) -> Refusal:
    """A problem of the changed plan, placed at the change that brought it where one did."""
    kind, id, field = str(problem.loc[0]), "", problem.loc[1:]
    if kind in _LISTS and len(problem.loc) > 1:
        ids = [item.id for item in getattr(plan, kind)]
        kind, id, field = _LISTS[kind], ids[int(problem.loc[1])], problem.loc[2:]
    elif kind in ("currency", "country"):
        kind, field = "household", problem.loc
    elif len(problem.loc) > 1:
        id, field = str(problem.loc[1]), problem.loc[2:]
    for place, change in enumerate(changes):
        if (change.kind, change.id) == (kind, id):
            loc: Loc = (
                ("body", "changes", place, "value", *field) if change.item is not None else ("body", "changes", place)
            )
            return Refusal(loc=list(loc), msg=problem.message, type=problem.kind)
    return Refusal(loc=["body", *problem.loc], msg=problem.message, type=problem.kind)
