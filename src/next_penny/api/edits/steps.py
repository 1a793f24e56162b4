"""The household's history of changes: what each did to the lowest point ahead, and undoing back to any of them."""

import datetime
from typing import Annotated, Self

from fastapi import APIRouter, Path, Query
from pydantic import BaseModel

from next_penny.api.edits.changes import ChangeAnswer, undone
from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home
from next_penny.core.review.history import Low, Lowest, Step, lowest_now, moved_since, newest_done, told_since
from next_penny.formats.documents.fields import Day

router = APIRouter(prefix="/api/history", tags=["changes"])

# As many as undo keeps.
_MOST = 1000


class LowModel(BaseModel):
    """The lowest end-of-day balance of the spendable accounts together over a year ahead, and its first day."""

    date: datetime.date
    balance: int

    @classmethod
    def of(cls, low: Low | None) -> Self | None:
        return cls(date=low.day, balance=low.balance) if low is not None else None


class LowestModel(BaseModel):
    """The lowest points ahead before a change and after it; null where no account was spendable."""

    before: LowModel | None
    after: LowModel | None

    @classmethod
    def of(cls, lowest: Lowest | None) -> Self | None:
        return cls(before=LowModel.of(lowest.before), after=LowModel.of(lowest.after)) if lowest is not None else None


class StepModel(BaseModel):
    """One change. `at` is null for those of older versions, `lowest` where it is not worked out (yet)."""

    id: int
    at: datetime.datetime | None
    sentence: str
    undone: bool
    lowest: LowestModel | None

    @classmethod
    def of(cls, step: Step) -> Self:
        at = datetime.datetime.fromisoformat(step.made_at) if step.made_at is not None else None
        return cls(id=step.id, at=at, sentence=step.label, undone=step.is_undone, lowest=LowestModel.of(step.lowest))


class SinceAnswer(BaseModel):
    """What became of the lowest point since a window was last looked at, and the changes that made it so.

    `household`, `step` and `lowest` are what the window asks with next time; `sentence` is null where nothing moved.
    """

    household: str
    step: int
    lowest: LowModel | None
    sentence: str | None
    changes: list[StepModel]


@router.get("/steps")
def read_steps(home: Home, count: Annotated[int, Query(ge=1, le=_MOST)] = 50) -> list[StepModel]:
    """The changes that undo and redo walk over, the newest first."""
    return [StepModel.of(step) for step in home.steps(count)]


@router.post("/steps/{step}/undo")
def undo_back_to(step: Annotated[int, Path(ge=0, lt=2**63)], home: Home) -> ChangeAnswer:
    """Undo back to a change and with it: it and all that were made since, in one step of yours."""
    try:
        return undone(home.store.undo_back_to(home.today, step))
    except KeyError as error:
        message = "That change is undone already, or not kept any more."
        raise refused(("path", "step"), message, "unknown_id") from error


@router.get("/since")
def read_since(
    home: Home,
    household: str = "",
    step: Annotated[int, Query(ge=0, lt=2**63)] = 0,
    date: Day | None = None,
    balance: Annotated[int | None, Query(gt=-(2**63), lt=2**63)] = None,
) -> SinceAnswer:
    """What became of the lowest point of a household since it was `balance` on `date` and `step` the newest change."""
    lineage = home.reading.lineage()
    steps, now = home.steps(_MOST), lowest_now(home.reading.moment)
    was = Low(date, balance) if date is not None and balance is not None and household == lineage else now
    sentence = told_since(was, now, home.plan.household.currency, home.today) if was is not None else None
    changes = moved_since(steps, step) if sentence is not None else []
    return SinceAnswer(household=lineage, step=newest_done(steps), lowest=LowModel.of(now), sentence=sentence,
                       changes=[StepModel.of(change) for change in changes])  # fmt: skip
