"""Saving changes, and taking them back: each save is one undoable step."""

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


class ChangeAnswer(HistoryAnswer):
    """A change that was made; change_number: how often the household had been changed with it."""

    change_number: int


@router.post("/changes")
def save(request: SaveRequest, home: HomeOrWhatIf) -> ChangeAnswer:
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
    history = home.reading.history()
    return HistoryAnswer(undo=history.undo, redo=history.redo)


@router.post("/undo")
def undo(home: Home) -> ChangeAnswer:
    """Take back the newest change; nothing happens when there is none."""
    done = home.store.undo(home.today)
    return undone(done)


@router.post("/redo")
def redo(home: Home) -> ChangeAnswer:
    """Bring back what was undone last; nothing happens when there is nothing."""
    done = home.store.redo(home.today)
    return _answer(done, f"Done again: {_lower(done.label)}" if done.label else None)


def undone(done: Done) -> ChangeAnswer:
    """What is answered where something was taken back."""
    return _answer(done, f"Undone: {_lower(done.label)}" if done.label else None)


def done_answer(done: Done) -> ChangeAnswer:
    """What is answered to a change that was made."""
    return _answer(done, done.label)


def _answer(done: Done, label: str | None) -> ChangeAnswer:
    undo, redo = done.history.undo, done.history.redo
    return ChangeAnswer(undo=undo, redo=redo, done=label, notes=list(done.notes), change_number=done.number)


def _lower(label: str) -> str:
    return label[0].lower() + label[1:]
