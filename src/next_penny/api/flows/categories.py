"""Categories: a set to start from, and merging one into another."""

from fastapi import APIRouter
from pydantic import Field

from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.session import Home
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.starter import STARTER_CATEGORIES
from next_penny.formats.documents.fields import Document, Id
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/categories", tags=["categories"])


class MergeRequest(Document):
    """Everything of `from` goes into `into`, and `from` is gone."""

    source: Id = Field(alias="from")
    into: Id


@router.post("/starter")
def add_starter_set(home: Home) -> ChangeAnswer:
    """Add the common categories that the household does not have yet."""

    def decide(reading: Reading) -> Decision:
        category_by_id = reading.moment.plan.category_by_id
        changes = [
            PlanChange("category", category.id, category)
            for category in STARTER_CATEGORIES
            if category.id not in category_by_id
        ]
        return Decision(changes, "Added the common categories")

    return done_answer(home.change(decide))


@router.post("/merge")
def merge(request: MergeRequest, home: Home) -> ChangeAnswer:
    """Merge one category into another of the same kind, as one undoable change."""
    return done_answer(home.store.merge_category(home.today, request.source, request.into))
