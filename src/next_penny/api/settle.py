"""Settle: what is due, and working through it, one line or several at once."""

import datetime
import uuid
from typing import Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel

from next_penny.api.changes import HistoryAnswer, history_answer
from next_penny.api.errors import Refused, refusals, refused
from next_penny.api.forecast import checked_until, json_response
from next_penny.api.household import Home
from next_penny.api.tideline import TidelineAnswer, TidelineRequest, tideline_answer
from next_penny.core.books import Books
from next_penny.core.check import PlanError
from next_penny.core.overlay import PlanChange, overlay
from next_penny.core.plan import Entry, FlowKind, Plan
from next_penny.core.recorded import overlay_books
from next_penny.core.settling import DueLine, Settlement, due_lines, leave_out, put_off, settle
from next_penny.formats.fields import Amount, Day, Document, Id, Percent

router = APIRouter(prefix="/api/settle", tags=["settle"])


class DueModel(BaseModel):
    """One unsettled occurrence. `moves_lowest`: how much higher the account's lowest point would be without it."""

    flow: str
    name: str
    kind: FlowKind
    nominal: datetime.date
    lands: datetime.date
    account: str
    currency: str
    amount: int
    estimate: bool
    by_the_hour: bool
    status: Literal["past_due", "assumed", "today", "coming"]
    moves_lowest: int


class SettledModel(BaseModel):
    """An entry recorded today that settles, in whole or part, a flow."""

    entry: str
    flow: str
    name: str
    date: datetime.date
    amount: int
    currency: str


class SettleAnswer(BaseModel):
    today: datetime.date
    due: list[DueModel]
    settled: list[SettledModel]


class SettleLine(Document):
    """One line and what to do with it. Amount (or hours), date and account only where not as expected."""

    flow: Id
    nominal: Day
    do: Literal["settle", "leave_out", "put_off"]
    amount: Amount | None = None
    hours: Percent | None = None
    date: Day | None = None
    account: Id | None = None
    part: bool = False
    to: Day | None = None


class SettleRequest(Document):
    """What to do with lines, and which tideline to answer with, for a view that shows one."""

    lines: list[SettleLine]
    tideline: TidelineRequest | None = None


class DoneAnswer(HistoryAnswer):
    """What was done, and the tideline as it then is, where it was asked for."""

    tideline: TidelineAnswer | None = None


@router.get("")
def read_due(home: Home) -> SettleAnswer:
    """What is past due or due within the days of reminder, and what was settled today."""
    plan = home.plan()
    return SettleAnswer(
        today=home.today,
        due=[_due(plan, line) for line in due_lines(plan, home.recorded_books(), home.year_ahead(), home.today)],
        settled=[_settled(plan, entry) for entry in home.store.settled_on(home.today) if entry.flow in plan.flow_by_id],
    )


def _due(plan: Plan, line: DueLine) -> DueModel:
    flow = line.flow
    account = flow.main_account or ""
    return DueModel(
        flow=flow.id,
        name=flow.name,
        kind=flow.kind,
        nominal=datetime.date.fromordinal(line.nominal),
        lands=datetime.date.fromordinal(line.landing),
        account=account,
        currency=plan.account_by_id[account].currency,
        amount=line.amount,
        estimate=flow.estimate,
        by_the_hour=flow.hourly is not None,
        status=line.status,
        moves_lowest=line.moves_lowest,
    )


def _settled(plan: Plan, entry: Entry) -> SettledModel:
    flow = plan.flow_by_id[entry.flow or ""]
    leg = next(leg for leg in entry.legs if leg.account is not None)
    return SettledModel(
        entry=entry.id,
        flow=flow.id,
        name=flow.name,
        date=entry.date,
        amount=leg.amount,
        currency=plan.account_by_id[leg.account or ""].currency,
    )


@router.post("", response_model=DoneAnswer)
def settle_lines(request: SettleRequest, home: Home) -> Response:
    """Do all of the lines, or none, as one undoable change."""
    plan, books = home.plan(), home.recorded_books()
    changes: list[PlanChange] = []
    for place, line in enumerate(request.lines):
        try:
            made = _changes(plan, books, line, home.today)
        except PlanError as error:
            raise Refused(refusals(error.problems, ("body", "lines", place))) from error
        plan = overlay(plan, made)
        books = overlay_books(books, made, home.store.entry, home.today)
        changes += made
    label = _label(plan, request.lines)
    # Refused before anything is done, if the tideline asked for is not possible.
    if request.tideline is not None:
        checked_until(home, request.tideline.until, ("body", "tideline", "until"))
        if request.tideline.changes:
            message = "Settle first: unsaved changes cannot be shown together with it."
            raise refused(("body", "tideline", "changes"), message, "not_possible")
    home.store.apply(changes, label, home.today)
    shown = tideline_answer(request.tideline, home) if request.tideline is not None else None
    return json_response({**history_answer(home, label).model_dump(), "tideline": shown})


def _changes(plan: Plan, books: Books, line: SettleLine, today: datetime.date) -> list[PlanChange]:
    match line.do:
        case "settle":
            settlement = Settlement(
                str(uuid.uuid4()), line.flow, line.nominal, line.amount, line.date, line.account, line.part, line.hours
            )
            return settle(plan, books, settlement, today)
        case "leave_out":
            return leave_out(plan, books, line.flow, line.nominal, today)
        case "put_off":
            return put_off(plan, books, line.flow, line.nominal, line.to or today, today)


def _label(plan: Plan, lines: list[SettleLine]) -> str:
    if not lines:
        return "Settled nothing"
    verb = {"settle": "Settled", "leave_out": "Left out", "put_off": "Put off"}[lines[0].do]
    if lines[0].part:
        verb = "Settled a part of"
    label = f"{verb} “{plan.flow_by_id[lines[0].flow].name}”"
    return label if len(lines) == 1 else f"{label} and {len(lines) - 1} more"
