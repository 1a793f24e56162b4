"""What-ifs that are kept: named lists of changes, laid over the plan while one looks, adopted or thrown away."""

import uuid

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.edits.applying import apply_changes, refuse_problems, resolved
from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import Refused, refused
from next_penny.api.http.session import Home, kept_what_if
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.what_ifs import SavedWhatIf
from next_penny.formats.changes.request import ChangeRequest, written_on
from next_penny.formats.documents.fields import Document, Id, Name
from next_penny.formats.documents.kept.what_ifs import WhatIfDocument
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/what-ifs", tags=["what-ifs"])
_PATH = ("path", "id")


class WhatIfRequest(Document):
    """A name and changes; without an id, a new one is made."""

    id: Id | None = None
    name: Name
    changes: tuple[ChangeRequest, ...] = Field((), max_length=500)


class WhatIfModel(WhatIfDocument):
    """`problem`: why it no longer applies to the plan as it is, null where it does."""

    problem: str | None


class WhatIfDone(ChangeAnswer):
    """What was done, and the what-if as it is kept."""

    id: str
    name: str
    changes: tuple[ChangeRequest, ...]


class WhatIfList(BaseModel):
    what_ifs: list[WhatIfModel]


def _told(reading: Reading, what_if: SavedWhatIf) -> WhatIfModel:
    document = WhatIfDocument.of(what_if)
    problem = None
    try:
        apply_changes(reading, document.changes)
    except Refused as error:
        problem = error.refusals[0].msg
    return WhatIfModel(id=document.id, name=document.name, changes=document.changes, problem=problem)


@router.get("", response_model_by_alias=True)
def read_what_ifs(home: Home) -> WhatIfList:
    """All what-ifs that are kept."""
    return WhatIfList(what_ifs=[_told(home.reading, what_if) for what_if in home.reading.moment.plan.what_ifs])


@router.post("", response_model_by_alias=True)
def keep_what_if(request: WhatIfRequest, home: Home) -> WhatIfDone:
    """Keep a new what-if."""
    id = request.id or str(uuid.uuid4())

    def decide(reading: Reading) -> Decision:
        if any(what_if.id == id for what_if in reading.moment.plan.what_ifs):
            raise refused(("body", "id"), f"There is already a what-if with the id “{id}”.", "duplicate_id")
        return _kept(
            reading, WhatIfDocument(id=id, name=request.name, changes=written_on(request.changes, home.today)), "Kept"
        )

    return _done(done_answer(home.change(decide)), id, request)


@router.get("/{id}", response_model_by_alias=True)
def read_what_if(id: Id, home: Home) -> WhatIfModel:
    """One what-if."""
    return _told(home.reading, kept_what_if(home.reading, id, _PATH))


@router.put("/{id}", response_model_by_alias=True)
def replace_what_if(id: Id, request: WhatIfRequest, home: Home) -> WhatIfDone:
    """Put another name or other changes in the place of a what-if's."""
    if request.id not in (None, id):
        raise refused(("body", "id"), "The id of a what-if stays as it is.", "not_possible")

    def decide(reading: Reading) -> Decision:
        kept_what_if(reading, id, _PATH)
        return _kept(
            reading,
            WhatIfDocument(id=id, name=request.name, changes=written_on(request.changes, home.today)),
            "Changed",
        )

    return _done(done_answer(home.change(decide)), id, request)


def _kept(reading: Reading, document: WhatIfDocument, verb: str) -> Decision:
    """What does not apply to the plan is refused here, so that a what-if begins as one that holds."""
    if any(_plain(what_if.name) == _plain(document.name) and what_if.id != document.id
           for what_if in reading.moment.plan.what_ifs):  # fmt: skip
        message = f"There is a what-if “{document.name}” already: choose another name."
        raise refused(("body", "name"), message, "duplicate_name")
    if not document.name.strip():
        raise refused(("body", "name"), "Give the what-if a name.", "needed")
    apply_changes(reading, document.changes)
    return Decision([PlanChange("what_if", document.id, document.to_core())], f"{verb} the what-if “{document.name}”")


def _plain(text: str) -> str:
    return " ".join(text.lower().split())


def _done(history: ChangeAnswer, id: str, request: WhatIfRequest) -> WhatIfDone:
    return WhatIfDone(**history.model_dump(), id=id, name=request.name, changes=request.changes)


@router.delete("/{id}")
def throw_away(id: Id, home: Home) -> ChangeAnswer:
    """Throw a what-if away."""

    def decide(reading: Reading) -> Decision:
        what_if = kept_what_if(reading, id, _PATH)
        return Decision([PlanChange("what_if", id, None)], f"Threw away the what-if “{what_if.name}”")

    return done_answer(home.change(decide))


@router.post("/{id}/adopt")
def adopt_what_if(id: Id, home: Home) -> ChangeAnswer:
    """Make its changes in the plan, and let it go: one undoable change."""

    def decide(reading: Reading) -> Decision:
        what_if = kept_what_if(reading, id, _PATH)
        asked = resolved(reading, WhatIfDocument.of(what_if).changes)
        refuse_problems(reading, asked)
        changes = [*asked.changes, PlanChange("what_if", id, None)]
        return Decision(changes, f"Adopted the what-if “{what_if.name}”", asked.notes)

    return done_answer(home.change(decide))
