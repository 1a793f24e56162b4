"""Working through what is due, one line or several at once, as one undoable step."""

import uuid

from fastapi import APIRouter, Response

from next_penny.api.ahead.forecast import checked_until
from next_penny.api.ahead.tideline import tideline_answer
from next_penny.api.edits.changes import done_answer
from next_penny.api.http.answers import response, whole
from next_penny.api.http.errors import Refused, refusals, refused
from next_penny.api.http.session import Home
from next_penny.api.settle.models import DoneAnswer, SettleLine, SettleRequest
from next_penny.core.books.moment import Moment
from next_penny.core.edits.settling.settle import Settlement, leave_out, put_off, settle
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.statements import PaidSplit
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError
from next_penny.formats.documents.fields import values_of
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/settle", tags=["settle"])


@router.post("", response_model=DoneAnswer)
def settle_lines(request: SettleRequest, home: Home) -> Response:
    """Do all of the lines, or none, as one undoable change."""
    # Refused before anything is done, if the tideline asked for is not possible.
    if request.tideline is not None:
        checked_until(home.today, request.tideline.until, ("body", "tideline", "until"))
        if request.tideline.changes:
            message = "Settle first: unsaved changes cannot be shown together with it."
            raise refused(("body", "tideline", "changes"), message, "not_possible")

    def decide(reading: Reading) -> Decision:
        changes = _changes_of(reading, request.lines)
        return Decision(changes, _label(reading.moment.plan, request.lines))

    done = home.change(decide)
    shown = tideline_answer(done.moment, request.tideline) if request.tideline is not None else None
    return response(whole(DoneAnswer, {**done_answer(done).model_dump(), "tideline": shown}))


def _changes_of(reading: Reading, lines: list[SettleLine]) -> list[PlanChange]:
    """What lines change, each seeing what those before it did."""
    moment, changes = reading.moment, list[PlanChange]()
    for number, line in enumerate(lines):
        try:
            made = _changes(moment, line)
        except PlanError as error:
            raise Refused(refusals(error.problems, ("body", "lines", number))) from error
        changes += made
        if number + 1 < len(lines):
            moment = apply_to_moment(moment, made, reading.entry)
    return changes


def _changes(moment: Moment, line: SettleLine) -> list[PlanChange]:
    match line.do:
        case "settle":
            settlement = Settlement(
                str(uuid.uuid4()),
                line.flow,
                line.nominal,
                line.amount,
                line.date,
                line.account,
                line.part,
                line.hours,
                PaidSplit(**values_of(line.split)) if line.split is not None else None,
            )
            return settle(moment, settlement)
        case "leave_out":
            return leave_out(moment, line.flow, line.nominal)
        case "put_off":
            return put_off(moment, line.flow, line.nominal, line.to or moment.today)


def _label(plan: Plan, lines: list[SettleLine]) -> str:
    if not lines:
        return "Settled nothing"
    verb = {"settle": "Settled", "leave_out": "Left out", "put_off": "Put off"}[lines[0].do]
    if lines[0].part:
        verb = "Settled a part of"
    label = f"{verb} “{plan.flow_by_id[lines[0].flow].name}”"
    return label if len(lines) == 1 else f"{label} and {len(lines) - 1} more"
