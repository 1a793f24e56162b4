"""The forecast, of the plan as it is and with unsaved changes laid over it."""

import datetime
from collections.abc import Collection
from datetime import date
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from next_penny.api.http.answers import Levels, Written, response, several, whole
from next_penny.api.http.columns import Coded, Columns, coded_days, levels, rows
from next_penny.api.http.errors import refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months
from next_penny.core.dates.sentences import full_day
from next_penny.core.flows.kinds.maker import Source
from next_penny.core.forecast.events import STATUSES, EventTable, Status
from next_penny.core.forecast.explain import Explainer
from next_penny.core.forecast.low_points import LowPoint, Stretch, available, lowest, stretches, top_ups
from next_penny.core.forecast.projection import AccountRun, Forecast, as_it_is, project
from next_penny.core.loans.overview import debt_free
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Day, Document

router = APIRouter(prefix="/api/forecast", tags=["forecast"])

_LONGEST_MONTHS = 50 * 12
_MOST_EVENTS = 50_000


class LowPointModel(BaseModel):
    date: datetime.date
    balance: int
    headroom: int


class StretchModel(BaseModel):
    model_config = ConfigDict(populate_by_name=True)

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
    """`steps` are the end-of-day balances of the days on which they change; `available` is for cards and lines."""

    id: str
    currency: str
    today_balance: int
    steps: Levels
    available: Levels | None
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
    status: Status
    source: Source
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
    notes: list[str]


class PreviewRequest(Document):
    until: Day
    changes: list[ChangeRequest]


@router.get("", response_model=ForecastAnswer)
def read_forecast(
    home: HomeOrWhatIf,
    request: Request,
    until: Day,
    accounts: str | None = None,
    first_event: Annotated[int, Query(ge=0)] = 0,
) -> Response:
    """Every account (or those listed, with commas) from today until a date.

    Where there are more than 50,000 events, a `Link` header with `rel="next"` (RFC 8288) leads to those that follow.
    """
    until = checked_until(home.today, until)
    forecast = project(home.moment, until, chosen_accounts(home.plan, accounts))
    answer = response(whole(ForecastAnswer, forecast_fields(forecast, first_event)))
    if first_event + _MOST_EVENTS < len(forecast.events):
        following = request.url.include_query_params(first_event=first_event + _MOST_EVENTS)
        answer.headers["Link"] = f'<{following.path}?{following.query}>; rel="next"'
    return answer


@router.post("/preview", response_model=PreviewAnswer)
def preview(request: PreviewRequest, home: HomeOrWhatIf) -> Response:
    """The forecast as it would be with the changes, and the lowest points before and after them."""
    until = checked_until(home.today, request.until, ("body", "until"))
    what_if = home.apply_changes(request.changes)
    before, after = as_it_is(home.moment, until), project(what_if.moment, until)
    outcomes = {"before": outcome(before), "after": outcome(after), "notes": what_if.notes}
    return response(whole(PreviewAnswer, {**forecast_fields(after), **outcomes}))


def checked_until(today: date, until: date, loc: Loc = ("query", "until")) -> date:
    """The end of a forecast: not before today, and within fifty years."""
    if until < today:
        raise refused(tuple(loc), f"A forecast ends today ({full_day(today)}) or later.", "until_before_today")
    if until > add_months(today, _LONGEST_MONTHS):
        raise refused(tuple(loc), "A forecast reaches at most 50 years ahead.", "until_too_far")
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


def low_point(low: LowPoint | None) -> LowPointModel | None:
    if low is None:
        return None
    return LowPointModel(date=date.fromordinal(low.day), balance=low.balance, headroom=low.headroom)


def forecast_fields(forecast: Forecast, first_event: int = 0) -> dict[str, object]:
    """The fields of a forecast's answer."""
    columns = event_columns(forecast.moment, forecast.events.first(_MOST_EVENTS, first_event))
    return {
        "today": forecast.today,
        "until": forecast.until,
        "accounts": account_forecasts(forecast),
        "events": rows(EventModel, columns),
    }


def event_columns(moment: Moment, events: EventTable) -> Columns:
    """The columns of events as the API gives them."""
    columns, origins = events.columns, events.origins
    return {
        "date": coded_days(columns.day),
        "nominal": coded_days(columns.nominal),
        "flow": Coded([one_origin.flow for one_origin in origins], columns.origin),
        "name": Coded([one_origin.name for one_origin in origins], columns.origin),
        "account": Coded(events.accounts, columns.account),
        "amount": columns.amount,
        "balance": columns.balance,
        "intraday_low": columns.intraday_low,
        "status": Coded(STATUSES, columns.status),
        "source": Coded([one_origin.source for one_origin in origins], columns.origin),
        "why": Coded(*Explainer(moment).whys(events)),
    }


def events_of(forecast: Forecast, accounts: Collection[str], first: date | None) -> EventTable:
    """The events of some accounts, from a day on."""
    events = forecast.events
    wanted = np.array([account in accounts for account in events.accounts], dtype=np.bool_)[events.columns.account]
    return events.where(wanted & (events.columns.day >= (first.toordinal() if first is not None else 0)))


def account_forecasts(forecast: Forecast, accounts: Collection[str] | None = None) -> Written:
    """The accounts' balances and low points."""
    runs = (run for run in forecast.runs if accounts is None or run.account.id in accounts)
    return several(AccountForecast, [_account(run, forecast.until) for run in runs])


def _account(run: AccountRun, until: date) -> Written:
    steps = run.steps
    return whole(AccountForecast, {
        "id": run.account.id,
        "currency": run.account.currency,
        "today_balance": run.today_balance,
        "steps": levels([day for day, _ in steps], [balance for _, balance in steps]),
        "available": levels(*available(run)) if run.account.limit is not None else None,
        "lowest": low_point(lowest(run, last=until.toordinal())),
        "stretches": [
            StretchModel(**stretch_fields(stretch)) for stretch in stretches(run, until.toordinal())
        ],
        "top_ups": [TopUpModel(date=date.fromordinal(top_up.day), amount=top_up.amount) for top_up in top_ups(run)],
    })  # fmt: skip


def stretch_fields(stretch: Stretch) -> dict[str, Any]:
    """A stretch as the API names its parts."""
    first, last, deepest = (date.fromordinal(day) for day in (stretch.first, stretch.last, stretch.deepest))
    return {"below": stretch.below, "from_": first, "to": last, "deepest": deepest, "balance": stretch.balance,
            "short_by": stretch.short_by}  # fmt: skip


def outcome(forecast: Forecast, *, with_debts: bool = True) -> Outcome:
    """Lowest points and the month out of debt. What is owed has no floor to fall below: a person is not told of it."""
    free = debt_free(forecast.moment)
    runs = [run for run in forecast.runs if with_debts or not run.account.is_debt]
    lows = [AccountLow(id=run.account.id, lowest=low_point(lowest(run))) for run in runs]
    return Outcome(accounts=lows, debt_free=f"{free:%Y-%m}" if free else None)
