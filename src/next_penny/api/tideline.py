"""The tideline: the end-of-day balance of chosen accounts together, and what changes would do to it."""

import datetime
from typing import Any

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from next_penny.api.forecast import (
    LowPointModel,
    Outcome,
    books_with,
    checked_until,
    day_text,
    default_accounts,
    json_response,
    low_point_document,
    outcome,
)
from next_penny.api.household import Home, OpenHousehold
from next_penny.api.what_if import ChangeRequest, lay_over
from next_penny.core.forecast.projection import Forecast, project
from next_penny.core.forecast.tideline import Tideline, recorded_levels, tideline
from next_penny.core.plan import Plan
from next_penny.formats.fields import Day, Document, Id

router = APIRouter(prefix="/api", tags=["tideline"])

Levels = list[tuple[datetime.date, int]]


class TidelineRequest(Document):
    """The accounts to add up (none: the first checking account), over which days, with which unsaved changes."""

    accounts: tuple[Id, ...] = ()
    first: Day = Field(alias="from")
    until: Day
    changes: list[ChangeRequest] = []


class TidelineModel(BaseModel):
    """End-of-day balances on the days on which they change: `ink` is recorded, `pencil` expected."""

    currency: str
    floor: int
    cushion: int
    ink: Levels
    pencil: Levels
    lows: list[LowPointModel]


class TidelineAnswer(BaseModel):
    """The tideline, and with the changes laid over it: `copper`, and the lowest points before and after."""

    today: datetime.date
    accounts: list[str]
    line: TidelineModel | None
    copper: TidelineModel | None
    before: Outcome
    after: Outcome


@router.post("/tideline", response_model=TidelineAnswer)
def read_tideline(request: TidelineRequest, home: Home) -> Response:
    """The end-of-day balance of chosen accounts together, from a day to a day."""
    return json_response(tideline_answer(request, home))


def tideline_answer(request: TidelineRequest, home: OpenHousehold) -> dict[str, Any]:
    """`TidelineAnswer` as it is sent."""
    until = checked_until(home, request.until, ("body", "until"))
    plan = home.plan()
    what_if = lay_over(home, request.changes) if request.changes else None
    known = what_if.plan if what_if else plan
    chosen = [id for id in request.accounts if id in known.account_by_id] or default_accounts(known)
    before = project(plan, home.books(), home.today, until)
    after = project(what_if.plan, books_with(home, what_if), home.today, until) if what_if else before
    as_it_is = outcome(plan, before)
    return {
        "today": home.today.isoformat(),
        "accounts": chosen,
        "line": _line(home, plan, before, chosen, request.first),
        "copper": _line(home, what_if.plan, after, chosen, request.first) if what_if else None,
        "before": as_it_is,
        "after": outcome(what_if.plan, after) if what_if else as_it_is,
    }


def _line(
    home: OpenHousehold, plan: Plan, forecast: Forecast, chosen: list[str], first: datetime.date
) -> dict[str, Any] | None:
    runs = tuple(run for run in forecast.runs if run.account.id in chosen)
    if not runs:
        return None
    today = forecast.today.toordinal()
    changes = home.daily_changes()
    recorded = {
        run.account.id: recorded_levels(run.account, changes.get(run.account.id, []), first.toordinal(), today)
        for run in runs
    }
    line = tideline(plan, Forecast(forecast.today, forecast.until, runs, forecast.events, forecast.books), recorded)
    return _tideline_document(line)


def _tideline_document(line: Tideline) -> dict[str, Any]:
    return {
        "currency": line.currency,
        "floor": line.floor,
        "cushion": line.cushion,
        "ink": [(day_text(day), balance) for day, balance in line.ink],
        "pencil": [(day_text(day), balance) for day, balance in line.pencil],
        "lows": [low_point_document(low) for low in line.lows],
    }
