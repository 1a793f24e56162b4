"""Setting money aside: what is proposed for a bill or a goal, and how far what was begun has come."""

import datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.edits.applying import requests_for
from next_penny.api.http.errors import Refused, refusals
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.flows.setting_aside import SavingWish, propose, savings
from next_penny.core.flows.summary import summarize
from next_penny.core.plan.changes import PlanChange
from next_penny.core.problems import PlanError
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name

router = APIRouter(prefix="/api/set-aside", tags=["set aside"])


class WishRequest(Document):
    """What is to be there. `flow` names a bill; else `name`, `amount` and `by`. `id` names the new transfer."""

    id: Id
    from_account: Id
    to_account: Id
    flow: Id | None = None
    name: Name = ""
    amount: Amount = 0
    by: Day | None = None
    month_day: Annotated[int, Field(ge=1, le=31)] = 1
    with_income: Id | None = None


class ProposalAnswer(BaseModel):
    """`level` each time, `times` times, the last time `last`; the changes put it into the plan."""

    name: str
    currency: str
    amount: int
    by: datetime.date
    level: int
    times: int
    last: int
    changes: list[ChangeRequest]


class NextAside(BaseModel):
    date: datetime.date
    amount: int


class AsideRow(BaseModel):
    """A goal: how much is to be there by when, and what recorded transfers have put by so far."""

    flow: str
    name: str
    currency: str
    account: str
    amount: int
    by: datetime.date
    so_far: int
    next: NextAside | None


class AsideAnswer(BaseModel):
    today: datetime.date
    goals: list[AsideRow]


@router.post("/proposal")
def propose_set_aside(request: WishRequest, home: HomeOrWhatIf) -> ProposalAnswer:
    """The transfers that have the money there in time. Nothing is changed."""
    plan = home.plan
    try:
        proposal = propose(home.moment, SavingWish(**request.model_dump()))
    except PlanError as error:
        raise Refused(refusals(error.problems)) from error
    return ProposalAnswer(
        name=proposal.name,
        currency=plan.account_by_id[request.from_account].currency,
        amount=proposal.amount,
        by=proposal.by,
        level=proposal.level,
        times=proposal.times,
        last=proposal.last,
        changes=requests_for(home.reading, [PlanChange("flow", flow.id, flow) for flow in proposal.flows]),
    )


@router.get("")
def read_set_aside(home: HomeOrWhatIf) -> AsideAnswer:
    """Every goal that a transfer saves for."""
    plan = home.plan
    goals = []
    for flow, goal, serving in savings(plan):
        coming = summarize(home.moment, flow).next
        goals.append(
            AsideRow(
                flow=flow.id,
                name=goal.name,
                currency=plan.account_by_id[flow.to_account or ""].currency,
                account=flow.to_account or "",
                amount=goal.amount,
                by=goal.by,
                so_far=home.reading.set_aside(flow.to_account or "", serving),
                next=NextAside(date=coming.lands, amount=coming.amount) if coming else None,
            )
        )
    return AsideAnswer(today=home.today, goals=goals)
