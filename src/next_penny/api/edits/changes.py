"""Saving changes, and taking them back: each save is one undoable step."""

from collections.abc import Sequence

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.edits.applying import refuse_problems, resolved
from next_penny.api.http.session import Home, HomeOrWhatIf
from next_penny.core.edits.notes import change_notes
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.formats.changes.labels import label_of
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
        return Decision(asked.changes, label_of(reading.moment.plan, asked.changes, request.changes), notes)

    return done_answer(home.edit(decide, request.changes))


@router.get("/history")
def read_history(home: Home) -> HistoryAnswer:
    return history_answer(home.reading.history())


@router.post("/undo")
def undo(home: Home) -> HistoryAnswer:
    """Take back the newest change; nothing happens when there is none."""
    done = home.store.undo(home.today)
    return undone(done)


@router.post("/redo")
def redo(home: Home) -> HistoryAnswer:
    """Bring back what was undone last; nothing happens when there is nothing."""
    done = home.store.redo(home.today)
    return history_answer(done.history, f"Done again: {_lower(done.label)}" if done.label else None)


def undone(done: Done) -> HistoryAnswer:
    """What is answered where something was taken back."""
    return history_answer(done.history, f"Undone: {_lower(done.label)}" if done.label else None)


def done_answer(done: Done) -> HistoryAnswer:
    """What is answered to a change that was made."""
    return history_answer(done.history, done.label, done.notes)


def history_answer(history: History, done: str | None = None, notes: Sequence[str] = ()) -> HistoryAnswer:
    return HistoryAnswer(undo=history.undo, redo=history.redo, done=done, notes=list(notes))


def _lower(label: str) -> str:
    return label[0].lower() + label[1:]
