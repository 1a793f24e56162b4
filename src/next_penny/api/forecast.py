"""The forecast, of the plan as it is and with unsaved changes laid over it."""

import datetime
import json
from collections.abc import Sequence
from datetime import date
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from next_penny.api.errors import refused
from next_penny.api.household import Home, OpenHousehold
from next_penny.api.what_if import ChangeRequest, WhatIf, lay_over
from next_penny.core.assumed import assumed_entries, with_assumed
from next_penny.core.books import Books
from next_penny.core.dates.calendar import add_months
from next_penny.core.forecast.explain import Explainer
from next_penny.core.forecast.low_points import LowPoint, lowest, stretches, top_ups
from next_penny.core.forecast.projection import AccountRun, Forecast, project
from next_penny.core.loans.overview import debt_free
from next_penny.core.plan import Plan
from next_penny.core.recorded import overlay_books
from next_penny.formats.fields import Day, Document

router = APIRouter(prefix="/api/forecast", tags=["forecast"])

_LONGEST_MONTHS = 100 * 12


class LowPointModel(BaseModel):
    date: datetime.date
    balance: int
    headroom: int


class StretchModel(BaseModel):
    below: Literal["floor", "cushion"]
    from_: Annotated[datetime.date, Field(alias="from")]
    to: datetime.date
    deepest: datetime.date
    balance: int
    short_by: int


class TopUpModel(BaseModel):
    date: datetime.date
    amount: int


class AccountForecast(BaseModel):
    """`steps` are the end-of-day balances of the days on which they change."""

    id: str
    currency: str
    today_balance: int
    steps: list[tuple[datetime.date, int]]
    lowest: LowPointModel | None
    stretches: list[StretchModel]
    top_ups: list[TopUpModel]


class EventModel(BaseModel):
    date: datetime.date
    nominal: datetime.date | None
    flow: str | None
    name: str
    account: str
    amount: int
    balance: int
    intraday_low: int
    status: Literal["settled", "past_due", "expected"]
    why: str


class ForecastAnswer(BaseModel):
    today: datetime.date
    until: datetime.date
    accounts: list[AccountForecast]
    events: list[EventModel]


class AccountLow(BaseModel):
    id: str
    lowest: LowPointModel | None


class Outcome(BaseModel):
    """The lowest point of each account, and the month in which the household is out of debt."""

    accounts: list[AccountLow]
    debt_free: str | None


class PreviewAnswer(ForecastAnswer):
    before: Outcome
    after: Outcome


class PreviewRequest(Document):
    until: Day
    changes: list[ChangeRequest]


@router.get("", response_model=ForecastAnswer)
def read_forecast(home: Home, until: Day, accounts: str | None = None) -> Response:
    """Every account (or those listed, with commas) from today until a date."""
    plan, books = home.plan(), home.books()
    forecast = project(plan, books, home.today, checked_until(home, until), chosen_accounts(plan, accounts))
    return json_response(forecast_document(plan, forecast))


@router.post("/preview", response_model=PreviewAnswer)
def preview(request: PreviewRequest, home: Home) -> Response:
    """The forecast as it would be with the changes, and the lowest points before and after them."""
    until = checked_until(home, request.until, ("body", "until"))
    what_if = lay_over(home, request.changes)
    before = project(home.plan(), home.books(), home.today, until)
    after = project(what_if.plan, books_with(home, what_if), home.today, until)
    answer = {
        **forecast_document(what_if.plan, after),
        "before": outcome(home.plan(), before),
        "after": outcome(what_if.plan, after),
    }
    return json_response(answer)


def books_with(home: OpenHousehold, what_if: WhatIf) -> Books:
    """The books with the what-if's entries in them."""
    recorded = overlay_books(home.recorded_books(), what_if.changes, home.store.entry, home.today)
    return with_assumed(recorded, assumed_entries(what_if.plan, recorded, home.today), home.today)


def default_accounts(plan: Plan) -> list[str]:
    """The account whose days people ask about first: the first checking account, or failing that the first."""
    ordered = sorted(plan.accounts, key=lambda account: account.kind != "checking")
    return [account.id for account in ordered[:1]]


def checked_until(home: OpenHousehold, until: date, loc: Sequence[str] = ("query", "until")) -> date:
    """The end of a forecast: not before today, and within a hundred years."""
    if until < home.today:
        raise refused(tuple(loc), f"A forecast ends today ({home.today}) or later.", "until_before_today")
    if until > add_months(home.today, _LONGEST_MONTHS):
        raise refused(tuple(loc), "A forecast reaches at most 100 years ahead.", "until_too_far")
    return until


def chosen_accounts(plan: Plan, accounts: str | None) -> list[str] | None:
    """The account ids of a query, each once; None means all."""
    if not accounts:
        return None
    chosen = list(dict.fromkeys(accounts.split(",")))
    for account in chosen:
        if account not in plan.account_by_id:
            raise refused(("query", "accounts"), f"There is no account “{account}”.", "unknown_id")
    return chosen


def day_text(day: int) -> str:
    return date.fromordinal(day).isoformat()


def low_point_document(low: LowPoint | None) -> dict[str, Any] | None:
    return {"date": day_text(low.day), "balance": low.balance, "headroom": low.headroom} if low else None


def json_response(answer: object) -> Response:
    """Large answers are written as they are, without being validated field by field."""
    return Response(json.dumps(answer, separators=(",", ":")), media_type="application/json")


def forecast_document(
    plan: Plan, forecast: Forecast, accounts: Sequence[str] | None = None, first: date | None = None
) -> dict[str, Any]:
    """The forecast as the API gives it; perhaps only of some accounts, and only events from a day on."""
    explainer = Explainer(plan, forecast.books)
    begin = first.toordinal() if first is not None else 0
    return {
        "today": forecast.today.isoformat(),
        "until": forecast.until.isoformat(),
        "accounts": [
            _account(run, forecast.until) for run in forecast.runs if accounts is None or run.account.id in accounts
        ],
        "events": [
            {
                "date": day_text(event.day),
                "nominal": day_text(event.nominal) if event.nominal else None,
                "flow": event.flow,
                "name": event.name,
                "account": event.account,
                "amount": event.amount,
                "balance": event.balance,
                "intraday_low": event.intraday_low,
                "status": event.status,
                "why": explainer.why(event),
            }
            for event in forecast.events
            if event.day >= begin and (accounts is None or event.account in accounts)
        ],
    }


def _account(run: AccountRun, until: date) -> dict[str, Any]:
    return {
        "id": run.account.id,
        "currency": run.account.currency,
        "today_balance": run.today_balance,
        "steps": [(day_text(day), balance) for day, balance in run.steps],
        "lowest": low_point_document(lowest(run, last=until.toordinal())),
        "stretches": [
            {
                "below": stretch.below,
                "from": day_text(stretch.first),
                "to": day_text(stretch.last),
                "deepest": day_text(stretch.deepest),
                "balance": stretch.balance,
                "short_by": stretch.short_by,
            }
            for stretch in stretches(run, until.toordinal())
        ],
        "top_ups": [{"date": day_text(top_up.day), "amount": top_up.amount} for top_up in top_ups(run)],
    }


def outcome(plan: Plan, forecast: Forecast) -> dict[str, Any]:
    free = debt_free(plan, forecast.books)
    lows = [{"id": run.account.id, "lowest": low_point_document(lowest(run))} for run in forecast.runs]
    return {"accounts": lows, "debt_free": f"{free:%Y-%m}" if free else None}
