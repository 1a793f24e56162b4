"""The way out of debt adopted or dropped, and what adopting it would do."""

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.ahead.forecast import LowPointModel, low_point
from next_penny.api.debts.way_out import asked_way
from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home, HomeOrWhatIf
from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import year_ahead
from next_penny.core.forecast.trials import with_changes
from next_penny.core.payoff.adopting import adoption, drop
from next_penny.core.payoff.paid_now import lowered_notes
from next_penny.core.payoff.progress import progress
from next_penny.formats.documents.kept.way_out import AskedDocument
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api", tags=["debts"])


class EffectAnswer(BaseModel):
    """What adopting would do: the payer's lowest point in the coming year, and the interest of the plan's months.

    interest_by_day: the same interest as the books and the forecast's days have it. lowered: a sentence for each debt
    on which less is paid than now.
    """

    currency: str
    payer: str
    lowest_before: LowPointModel | None
    lowest_after: LowPointModel | None
    interest_planned: int
    interest_by_day: int
    lowered: list[str]


@router.post("/payoff/effect")
def effect_of_adopting(request: AskedDocument, home: HomeOrWhatIf) -> EffectAnswer:
    """What would change if the plan were adopted."""
    way = asked_way(home.moment, request)
    after = with_changes(home.moment, adoption(way))
    before_run, after_run = (year_ahead(moment).run_of[way.payer.id] for moment in (home.moment, after))
    found_progress = progress(after)
    assert found_progress is not None
    return EffectAnswer(
        currency=way.debts.currency,
        payer=way.payer.name,
        lowest_before=low_point(lowest(before_run)),
        lowest_after=low_point(lowest(after_run)),
        interest_planned=sum(debt.interest_planned for debt in found_progress.debts),
        interest_by_day=sum(debt.interest_by_day for debt in found_progress.debts),
        lowered=list(lowered_notes(way)),
    )


@router.post("/payoff/adopt")
def adopt(request: AskedDocument, home: Home) -> ChangeAnswer:
    """Make the plan's payments the expected ones, from its first month on, as one undoable change."""

    def decide(reading: Reading) -> Decision:
        way = asked_way(reading.moment, request)
        return Decision(adoption(way), "Adopted a way out of debt", [*way.notes(), *lowered_notes(way)])

    return done_answer(home.change(decide))


@router.delete("/payoff/adopt")
def drop_adopted(home: Home) -> ChangeAnswer:
    """Drop the adopted plan from today on: what it replaced is expected again."""

    def decide(reading: Reading) -> Decision:
        changes = drop(reading.moment)
        if not changes:
            raise refused(("path",), "There is no way out to drop: it may be dropped already.", "unknown_id")
        return Decision(changes, "Dropped the way out of debt")

    return done_answer(home.change(decide))
