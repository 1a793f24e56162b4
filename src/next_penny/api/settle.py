"""Settle: what is due, and working through it, one line or several at once."""

import datetime
import uuid
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from next_penny.api.answers import response, whole
from next_penny.api.changes import HistoryAnswer, done_answer
from next_penny.api.errors import Refused, refusals, refused
from next_penny.api.forecast import checked_until
from next_penny.api.household import Home
from next_penny.api.tideline import TidelineAnswer, TidelineRequest, tideline_answer
from next_penny.core.defaults import put_off_to
from next_penny.core.flows.assumed import laid_over
from next_penny.core.flows.makers import maker_of
from next_penny.core.forecast.card_standing import rises_soon
from next_penny.core.moment import Moment
from next_penny.core.money import format_amount, percent_text
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Entry, FlowKind, Plan
from next_penny.core.problems import PlanError
from next_penny.core.review.escrow_ahead import escrow_loans, uncovered
from next_penny.core.settling import (
    DueLine,
    DueStatus,
    LeftOut,
    Settlement,
    due_lines,
    leave_out,
    left_out_lately,
    put_off,
    settle,
)
from next_penny.core.statements import PaidSplit
from next_penny.formats.fields import Amount, Day, Document, Id, Percent, values_of
from next_penny.store.reading import Reading
from next_penny.store.store import Decision

_ESCROW_NOTICE_DAYS = 60
# As many lines as a person can work through; the rest are on further pages.
_PAGE = 500

router = APIRouter(prefix="/api/settle", tags=["settle"])


class SplitModel(BaseModel):
    """What a loan's payment is proposed to be made of."""

    principal: int
    interest: int
    escrow: int
    insurance: int
    fee: int


class DueModel(BaseModel):
    """One unsettled occurrence. `moves_lowest`: how much higher the account's lowest point would be without it.

    `settled_on` and `put_off_to` are the days that are meant where nothing else is said.
    """

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
    status: DueStatus
    moves_lowest: int
    may_be_paid_in_parts: bool
    settled_on: datetime.date
    put_off_to: datetime.date
    split: SplitModel | None


class SettledModel(BaseModel):
    """An entry recorded today that settles, in whole or part, a flow."""

    entry: str
    flow: str
    name: str
    date: datetime.date
    amount: int
    currency: str


class LeftOutModel(BaseModel):
    """An occurrence that was left out lately; `amount` is what it would have moved, null where a balance decides it."""

    flow: str
    name: str
    nominal: datetime.date
    amount: int | None
    currency: str


class NoticeModel(BaseModel):
    """Something to know of some days ahead, about an account (an escrow's names a loan too); nothing to settle."""

    account: str
    loan: str | None = None
    date: datetime.date
    text: str


class SettleAnswer(BaseModel):
    """A page of what is due, `due_in_all` lines in all; `next_page` begins at that line, null on the last page."""

    today: datetime.date
    due: list[DueModel]
    due_in_all: int
    next_page: int | None
    settled: list[SettledModel]
    left_out: list[LeftOutModel]
    notices: list[NoticeModel]


class PaidSplitDocument(Document):
    """How a loan's payment was split; null is as proposed, and principal takes up the difference."""

    principal: Amount | None = None
    interest: Amount | None = None
    escrow: Amount | None = None
    insurance: Amount | None = None


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
    split: PaidSplitDocument | None = None


class SettleRequest(Document):
    """What to do with lines, and which tideline to answer with, for a view that shows one."""

    lines: list[SettleLine]
    tideline: TidelineRequest | None = None


class DoneAnswer(HistoryAnswer):
    """What was done, and the tideline as it then is, where it was asked for."""

    tideline: TidelineAnswer | None = None


@router.get("")
def read_due(
    home: Home, first: Annotated[int, Query(ge=0)] = 0, most: Annotated[int, Query(ge=1, le=2000)] = _PAGE
) -> SettleAnswer:
    """What is past due or due within the days of reminder, and what was settled today."""
    plan, page = home.plan, due_lines(home.moment, first, most)
    following = first + len(page.lines)
    return SettleAnswer(
        today=home.today,
        due=[_due(home.moment, line) for line in page.lines],
        due_in_all=page.in_all,
        next_page=following if following < page.in_all else None,
        settled=[
            _settled(plan, entry) for entry in home.reading.settled_on(home.today) if entry.flow in plan.flow_by_id
        ],
        left_out=[_left_out(plan, each) for each in left_out_lately(home.moment)],
        notices=[
            NoticeModel(
                account=account.id, date=day, text=f"The rate of “{account.name}” rises to {percent_text(rate)}"
            )
            for day, account, rate in rises_soon(home.moment)
        ]
        + _escrow_notices(home.moment),
    )


def _escrow_notices(moment: Moment) -> list[NoticeModel]:
    """Payments out of escrow that it will not cover, some weeks ahead."""
    notices = []
    for account, payment in uncovered(moment):
        if payment.day <= moment.today + datetime.timedelta(days=_ESCROW_NOTICE_DAYS):
            short = format_amount(payment.short_by, account.currency)
            text = f"“{account.name}” is {short} short of “{payment.name}”: the lender advances it"
            loan = next((each.id for each in escrow_loans(moment, account.id)), None)
            notices.append(NoticeModel(account=account.id, loan=loan, date=payment.day, text=text))
    return notices


def _due(moment: Moment, line: DueLine) -> DueModel:
    flow = line.flow
    account, lands = flow.main_account or "", datetime.date.fromordinal(line.landing)
    nominal = datetime.date.fromordinal(line.nominal)
    return DueModel(
        flow=flow.id,
        name=flow.name,
        kind=flow.kind,
        nominal=nominal,
        lands=lands,
        account=account,
        currency=moment.plan.account_by_id[account].currency,
        amount=line.amount,
        estimate=flow.estimate,
        by_the_hour=flow.hourly is not None,
        status=line.status,
        moves_lowest=line.moves_lowest,
        may_be_paid_in_parts=line.may_be_paid_in_parts,
        settled_on=min(lands, moment.today),
        put_off_to=put_off_to(lands, moment.today),
        split=SplitModel(**split._asdict()) if (split := maker_of(moment, flow).split(nominal)) else None,
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


def _left_out(plan: Plan, each: LeftOut) -> LeftOutModel:
    return LeftOutModel(
        flow=each.flow.id,
        name=each.flow.name,
        nominal=each.nominal,
        amount=None if each.flow.id in plan.maker_accounts else each.amount,
        currency=plan.account_by_id[each.flow.main_account or ""].currency,
    )


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
            moment = laid_over(moment, made, reading.entry)
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
