"""Running short: what could be done about a stretch below the floor, and whether something can be afforded."""

import datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.ahead.forecast import (
    LowPointModel,
    StretchModel,
    TopUpModel,
    checked_until,
    low_point,
    stretch_fields,
)
from next_penny.api.edits.applying import requests_for_plan
from next_penny.api.http.lookups import account_of
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.ahead.afford import afford
from next_penny.core.ahead.remedies import Remedy, RemedyKind, remedies
from next_penny.core.forecast.low_points import LowPoint, by_month, stretches, top_ups
from next_penny.core.forecast.projection import project
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Amount, Day, Document, Id
from next_penny.formats.documents.parts import month_text

router = APIRouter(prefix="/api", tags=["running short"])


class AffordRequest(Document):
    """Whether `account` bears an amount on a day, or on it and its day of every month after."""

    account: Id
    amount: Amount
    on: Day
    monthly: bool = False
    until: Day


class AffordAnswer(BaseModel):
    """`lowest` from that day on; `works_from` is the first day from which it would hold, `lowest_then` if it did."""

    ok: bool
    lowest: LowPointModel
    fails_on: datetime.date | None
    works_from: datetime.date | None
    lowest_then: LowPointModel | None


@router.post("/afford")
def can_we_afford(request: AffordRequest, home: HomeOrWhatIf) -> AffordAnswer:
    """The forecast run again with it; only that account is judged, from the day on."""
    until = checked_until(home.today, request.until, ("body", "until"))
    account = account_of(home.plan, request.account, ("body", "account"))
    found_afford = afford(home.moment, account, request.amount, request.on, until, monthly=request.monthly)
    return AffordAnswer(
        ok=found_afford.ok,
        lowest=_low(found_afford.lowest),
        fails_on=_day(found_afford.fails_on),
        works_from=_day(found_afford.works_from),
        lowest_then=_low(found_afford.lowest_then) if found_afford.lowest_then is not None else None,
    )


def _low(low: LowPoint) -> LowPointModel:
    low_point_model = low_point(low)
    assert low_point_model is not None
    return low_point_model


def _day(number: int | None) -> datetime.date | None:
    return datetime.date.fromordinal(number) if number is not None else None


class RemedyModel(BaseModel):
    """What makes the stretch hold; `cost`: how much less the household is worth at the end with it."""

    kind: RemedyKind
    title: str
    cost: int
    changes: list[ChangeRequest]
    lowest: LowPointModel


class MonthTopUp(BaseModel):
    """What a month's top-ups come to."""

    month: str
    amount: int


class RemediesAnswer(BaseModel):
    """The first stretch below the floor that begins on or after a day, and what would mend it, the least first."""

    stretch: StretchModel | None
    top_ups: list[TopUpModel]
    by_month: list[MonthTopUp]
    remedies: list[RemedyModel]


@router.get("/remedies", response_model_by_alias=True)
def read_remedies(
    home: HomeOrWhatIf, account: Id, until: Day, first: Annotated[Day | None, Field(alias="from")] = None
) -> RemediesAnswer:
    """What could be done about the account's next stretch below its floor."""
    until = checked_until(home.today, until)
    existing = account_of(home.plan, account, ("query", "account"))
    begin = (first or home.today).toordinal()
    run = project(home.moment, until, [existing.id]).runs[0]
    below = [
        stretch for stretch in stretches(run, until.toordinal()) if stretch.below == "floor" and stretch.first >= begin
    ]
    needed = top_ups(run)
    top_up_models = [TopUpModel(date=datetime.date.fromordinal(top_up.day), amount=top_up.amount) for top_up in needed]
    months = [MonthTopUp(month=month_text(month), amount=amount) for month, amount in by_month(needed)]
    if not below:
        return RemediesAnswer(stretch=None, top_ups=top_up_models, by_month=months, remedies=[])
    short = below[0]
    return RemediesAnswer(
        stretch=StretchModel(**stretch_fields(short)),
        top_ups=top_up_models,
        by_month=months,
        remedies=[_remedy(home, remedy) for remedy in remedies(home.moment, existing, short, until)],
    )


def _remedy(home: Session, remedy: Remedy) -> RemedyModel:
    return RemedyModel(
        kind=remedy.kind,
        title=remedy.title,
        cost=remedy.cost,
        changes=requests_for_plan(home.plan, remedy.changes),
        lowest=_low(remedy.lowest),
    )
