"""What-ifs beside each other, and ready-made ones."""

import datetime
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from next_penny.api.ahead.forecast import LowPointModel, chosen_accounts, low_point
from next_penny.api.edits.applying import apply_changes, requests_for
from next_penny.api.http.answers import Levels, Written, response, several, whole
from next_penny.api.http.columns import levels
from next_penny.api.http.errors import Refused, refusals, refused
from next_penny.api.http.session import Home, kept_what_if
from next_penny.core.ahead.side_by_side import seen, years_end
from next_penny.core.books.moment import Moment
from next_penny.core.edits import ready_made
from next_penny.core.edits.defaults import default_account
from next_penny.core.problems import PlanError
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Day, Document, Id, Percent
from next_penny.formats.documents.kept.what_ifs import WhatIfDocument

router = APIRouter(prefix="/api", tags=["what-ifs"])
_MOST_BESIDE = 4


class YearEndModel(BaseModel):
    year: int
    balance: int


class BesideModel(BaseModel):
    """The plan (`id` null) or a what-if; `problem`, and no figures, where it no longer applies.

    `interest`: what loans still cost until their ends, and cards and lines within the years; null where a loan never
    ends.
    """

    id: str | None
    name: str
    problem: str | None
    lowest: LowPointModel | None
    year_ends: list[YearEndModel]
    interest: int | None
    debt_free: str | None
    levels: Levels


class SideBySideAnswer(BaseModel):
    """`currency` is that of the balances, `household_currency` that of interest."""

    today: datetime.date
    until: datetime.date
    accounts: list[str]
    currency: str
    household_currency: str
    ways: list[BesideModel]


@router.get("/side-by-side", response_model=SideBySideAnswer)
def read_side_by_side(
    home: Home,
    what_ifs: Annotated[str, Query(max_length=1000)] = "",
    years: Annotated[int, Query(ge=0, le=10)] = 2,
    accounts: str | None = None,
) -> Response:
    """The plan and up to four what-ifs (ids, with commas), to the end of the year that is some years ahead."""
    reading = home.reading
    ids = [id for id in what_ifs.split(",") if id]
    if len(ids) > _MOST_BESIDE:
        raise refused(("query", "what_ifs"), "At most four what-ifs stand side by side: choose fewer.", "range")
    plan = reading.moment.plan
    chosen = chosen_accounts(plan, accounts) or default_account(plan.accounts)
    until = years_end(home.today, years)
    ways = [_beside(reading.moment, None, "The plan", chosen, until)]
    for id in dict.fromkeys(ids):
        what_if = kept_what_if(reading, id, ("query", "what_ifs"))
        try:
            moment = apply_changes(reading, WhatIfDocument.of(what_if).changes).moment
        except Refused as error:
            ways.append(_no_longer(id, what_if.name, error.refusals[0].msg))
        else:
            ways.append(_beside(moment, id, what_if.name, chosen, until))
    currencies, own = {plan.account_by_id[id].currency for id in chosen}, plan.household.currency
    return response(whole(SideBySideAnswer, {
        "today": home.today, "until": until, "accounts": chosen, "household_currency": own,
        "currency": currencies.pop() if len(currencies) == 1 else own, "ways": several(BesideModel, ways),
    }))  # fmt: skip


def _beside(moment: Moment, id: str | None, name: str, chosen: list[str], until: datetime.date) -> Written:
    figures = seen(moment, [id for id in chosen if id in moment.plan.account_by_id], until)
    return whole(BesideModel, {
        "id": id, "name": name, "problem": None, "lowest": low_point(figures.lowest),
        "year_ends": [YearEndModel(year=year_end.year, balance=year_end.balance) for year_end in figures.year_ends],
        "interest": figures.interest, "debt_free": f"{figures.debt_free:%Y-%m}" if figures.debt_free else None,
        "levels": levels([day for day, _ in figures.levels], [balance for _, balance in figures.levels]),
    })  # fmt: skip


def _no_longer(id: str, name: str, problem: str) -> Written:
    return whole(BesideModel, {
        "id": id, "name": name, "problem": problem, "lowest": None, "year_ends": [], "interest": None,
        "debt_free": None, "levels": levels([], []),
    })  # fmt: skip


class GroupChanged(Document):
    """Every flow and allowance of a group by a percentage more (or less, below zero) from a day on."""

    kind: Literal["group_changed"]
    group: str
    percent: Percent
    start: Day = Field(alias="from")


class IncomeLost(Document):
    """An income that does not come for some months from a day on."""

    kind: Literal["income_lost"]
    flow: Id
    start: Day = Field(alias="from")
    months: int


class BillEarly(Document):
    """A bill that is paid on an earlier day; without `nominal`, the next one that is not settled."""

    kind: Literal["bill_early"]
    flow: Id
    nominal: Day | None = None
    day: Day


class ReadyMadeAnswer(BaseModel):
    """A name and changes, to be begun as a what-if."""

    name: str
    changes: list[ChangeRequest]


class ReadyMadeGroups(BaseModel):
    groups: list[str]


@router.get("/ready-made")
def read_groups(home: Home) -> ReadyMadeGroups:
    """The groups that can be made dearer as a whole."""
    return ReadyMadeGroups(groups=ready_made.groups(home.plan))


@router.post("/ready-made", response_model_by_alias=True)
def read_ready_made(
    request: Annotated[GroupChanged | IncomeLost | BillEarly, Field(discriminator="kind")], home: Home
) -> ReadyMadeAnswer:
    """The changes that a ready-made what-if makes."""
    moment = home.moment
    try:
        match request:
            case GroupChanged():
                made = ready_made.group_changed(moment, request.group, request.percent, request.start)
            case IncomeLost():
                made = ready_made.income_lost(moment, request.flow, request.start, request.months)
            case BillEarly():
                made = ready_made.bill_early(moment, request.flow, request.nominal, request.day)
    except PlanError as error:
        raise Refused(refusals(error.problems, ("body",))) from error
    return ReadyMadeAnswer(name=made.name, changes=requests_for(home.reading, made.changes))
