"""Saving changes, and taking them back: each save is one undoable step."""

from collections.abc import Sequence

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.errors import Refused
from next_penny.api.household import Home, OpenHousehold
from next_penny.api.what_if import ChangeRequest, at_field, lay_over
from next_penny.core.check import PlanError
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Account, Allowance, Entry, Flow, Household, Plan
from next_penny.formats.fields import Document

router = APIRouter(prefix="/api", tags=["changes"])


class SaveRequest(Document):
    changes: list[ChangeRequest]


class HistoryAnswer(BaseModel):
    """What undo would take back and redo bring again, in words; `done` is what was just done."""

    undo: str | None
    redo: str | None
    done: str | None = None


@router.post("/changes")
def save(request: SaveRequest, home: Home) -> HistoryAnswer:
    """Make the changes, all or none."""
    what_if = lay_over(home, request.changes)
    label = _label(home.plan(), what_if.changes, request.changes)
    try:
        home.store.apply(what_if.changes, label, home.today)
    except PlanError as error:
        raise Refused(at_field(problem, what_if.plan, what_if.changes) for problem in error.problems) from error
    return history_answer(home, label)


@router.get("/history")
def read_history(home: Home) -> HistoryAnswer:
    return history_answer(home)


@router.post("/undo")
def undo(home: Home) -> HistoryAnswer:
    """Take back the newest change; nothing happens when there is none."""
    label = home.store.undo()
    return history_answer(home, f"Undone: {_lower(label)}" if label else None)


@router.post("/redo")
def redo(home: Home) -> HistoryAnswer:
    """Bring back what was undone last; nothing happens when there is nothing."""
    label = home.store.redo()
    return history_answer(home, f"Done again: {_lower(label)}" if label else None)


def history_answer(home: OpenHousehold, done: str | None = None) -> HistoryAnswer:
    history = home.store.history()
    return HistoryAnswer(undo=history.undo, redo=history.redo, done=done)


def _lower(label: str) -> str:
    return label[0].lower() + label[1:]


def _label(before: Plan, changes: tuple[PlanChange, ...], requests: list[ChangeRequest]) -> str:
    if not changes:
        return "Changed nothing"
    change, verb = changes[0], {"add": "Added", "update": "Changed", "remove": "Deleted"}[requests[0].op]
    label = f"{verb} {_what(before, change)}"
    return label if len(changes) == 1 else f"{label} and {len(changes) - 1} more"


def _what(before: Plan, change: PlanChange) -> str:
    match change.item:
        case Household():
            return "the household's settings"
        case Entry() as entry:
            return f"the entry “{entry.payee}”" if entry.payee else "an entry"
        case None:
            lists: dict[str, Sequence[Account | Flow | Allowance]]
            lists = {"account": before.accounts, "flow": before.flows, "allowance": before.allowances}
            names = {held.id: held.name for held in lists.get(change.kind, ())}
            return f"“{names[change.id]}”" if change.id in names else f"the {change.kind}"
        case item:
            return f"“{item.name}”"
