"""Saving changes, and taking them back: each save is one undoable step."""

from collections.abc import Sequence

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.edits.applying import refuse_problems, resolved
from next_penny.api.http.session import Home, HomeOrWhatIf
from next_penny.core.edits.notes import change_notes
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.statements import StatementCheck
from next_penny.core.plan.way_out import WayOut
from next_penny.core.plan.what_ifs import SavedWhatIf
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Document
from next_penny.store.moments import Reading
from next_penny.store.sql.undo import History
from next_penny.store.transactions import Decision, Done

router = APIRouter(prefix="/api", tags=["changes"])


class SaveRequest(Document):
    changes: list[ChangeRequest]


class HistoryAnswer(BaseModel):
    """What undo would take back and redo bring again, in words; `done` is what was just done, `notes` are about it."""

    undo: str | None
    redo: str | None
    done: str | None = None
    notes: list[str] = []


@router.post("/changes")
def save(request: SaveRequest, home: HomeOrWhatIf) -> HistoryAnswer:
    """Make the changes, all or none; with `what_if`, in that what-if, and the plan stays as it is."""

    def decide(reading: Reading) -> Decision:
        asked = resolved(reading, request.changes)
        refuse_problems(reading, asked)
        after = apply_to_moment(reading.moment, asked.changes, reading.entry)
        notes = asked.notes + change_notes(reading.moment, after)
        return Decision(asked.changes, _label(reading.moment.plan, asked.changes, request.changes), notes)

    return done_answer(home.edit(decide, request.changes))


@router.get("/history")
def read_history(home: Home) -> HistoryAnswer:
    return history_answer(home.reading.history())


@router.post("/undo")
def undo(home: Home) -> HistoryAnswer:
    """Take back the newest change; nothing happens when there is none."""
    done = home.store.undo(home.today)
    return history_answer(done.history, f"Undone: {_lower(done.label)}" if done.label else None)


@router.post("/redo")
def redo(home: Home) -> HistoryAnswer:
    """Bring back what was undone last; nothing happens when there is nothing."""
    done = home.store.redo(home.today)
    return history_answer(done.history, f"Done again: {_lower(done.label)}" if done.label else None)


def done_answer(done: Done) -> HistoryAnswer:
    """What is answered to a change that was made."""
    return history_answer(done.history, done.label, done.notes)


def history_answer(history: History, done: str | None = None, notes: Sequence[str] = ()) -> HistoryAnswer:
    return HistoryAnswer(undo=history.undo, redo=history.redo, done=done, notes=list(notes))


def _lower(label: str) -> str:
    return label[0].lower() + label[1:]


_VERBS = {"add": "Added", "remove": "Deleted", "spent": "Recorded", "received": "Recorded", "moved": "Recorded",
          "once": "Changed just this once"}  # fmt: skip


def _label(before: Plan, changes: Sequence[PlanChange], requests: Sequence[ChangeRequest]) -> str:
    if not changes:
        return "Changed nothing"
    # What was needed beside it, such as a category, is not what was asked for.
    change = next((each for each in changes if each.kind == requests[0].kind), changes[0])
    is_new_loan = requests[0].op == "borrowed" and change.id not in before.account_by_id
    verb = "Added" if is_new_loan else _VERBS.get(requests[0].op, "Changed")
    label = f"{verb} {_what(before, change)}"
    others = len({(each.kind, each.id) for each in requests}) - 1
    return label if others == 0 else f"{label} and {others} more"


def _what(before: Plan, change: PlanChange) -> str:
    match change.item:
        case Household():
            return "the household's settings"
        case Entry() as entry:
            return f"the entry “{entry.payee}”" if entry.payee else "an entry"
        case None:
            lists: dict[str, Sequence[Account | Category | Flow | Allowance]] = {
                "account": before.accounts, "category": before.categories, "flow": before.flows,
                "allowance": before.allowances,
            }  # fmt: skip
            names = {held.id: held.name for held in lists.get(change.kind, ())}
            return f"“{names[change.id]}”" if change.id in names else f"the {change.kind}"
        case WayOut():
            return "the way out of debt"
        case StatementCheck():
            return "a statement check"
        case SavedWhatIf():
            return "a what-if"
        case item:
            return f"“{item.name}”"
