"""Ahead: the run of days, with what lies below the floor and the next payday."""

import datetime
from collections.abc import Sequence
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from next_penny.api.ahead.forecast import (
    AccountForecast,
    EventModel,
    LowPointModel,
    StretchModel,
    account_forecasts,
    checked_until,
    chosen_accounts,
    event_columns,
    events_of,
    low_point,
    stretch_fields,
)
from next_penny.api.http.answers import response, whole
from next_penny.api.http.columns import Coded, rows
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.ahead.months import RowKind, may_change, origin_categories, origin_kind
from next_penny.core.ahead.stretch import spendable
from next_penny.core.ahead.uncounted import may_not_come, uncounted
from next_penny.core.edits.defaults import default_account
from next_penny.core.forecast.events import EventTable
from next_penny.core.forecast.low_points import headrooms, lowest, top_ups
from next_penny.core.forecast.outlook import HeldPeriod, Payday, held_periods, next_payday
from next_penny.core.forecast.projection import project
from next_penny.core.forecast.shallows import Shallow, shallows
from next_penny.core.plan.plan import Plan
from next_penny.formats.documents.fields import Day, Id

router = APIRouter(prefix="/api", tags=["places"])


# More lines than anybody scrolls through; what is beyond them is reached by picking days.
_MOST_EVENTS = 20_000


_MOST_SHALLOWS = 40


class PaydayModel(BaseModel):
    """The next income on an account; `free` is the lowest headroom until the day before it."""

    account: str
    date: datetime.date
    name: str
    amount: int
    days_until: int
    free: int


class AheadEvent(EventModel):
    """`kind` is the row of months that it stands in; of an allowance, `nominal` is the first day of its period.

    may_change: whether its date is the household's own to change. may_not_come: it is counted, but doubtful.
    """

    headroom: int
    kind: RowKind
    may_change: bool
    may_not_come: bool


class UncountedModel(BaseModel):
    """What is to come back of money lent, but is in no balance: the household does not count on it.

    lent: the account of what is owed. is_late: it was due before today.
    """

    flow: str
    lent: str
    account: str
    name: str
    nominal: datetime.date
    date: datetime.date
    amount: int
    is_late: bool


class HeldPeriodModel(BaseModel):
    """What an allowance's period, which begins on `nominal`, holds back from an account within the days shown."""

    account: str
    name: str
    nominal: datetime.date
    first: datetime.date = Field(alias="from")
    last: datetime.date = Field(alias="to")
    days: int
    amount: int


class ShallowCause(BaseModel):
    """What left the account under one name on the way down, positive."""

    name: str
    amount: int


class ShallowModel(StretchModel):
    """A stretch below floor or cushion of one of the accounts shown, and what takes it down, the most money first."""

    account: str
    causes: list[ShallowCause]


class AheadAnswer(BaseModel):
    """The run of days of chosen accounts: `lows` are their low points within the stretch shown.

    `top_ups_in_all`: by account, how much its top-ups come to. `events` are the first of `events_in_all`. `held`: what
    allowances hold back among them, each period together. `spendable_today`: on all accounts that are meant where none
    are named, in the household's currency.
    """

    today: datetime.date
    accounts: list[AccountForecast]
    paydays: list[PaydayModel]
    lows: dict[str, LowPointModel | None]
    top_ups_in_all: dict[str, int]
    events: list[AheadEvent]
    events_in_all: int
    held: list[HeldPeriodModel]
    uncounted: list[UncountedModel]
    spendable_today: int
    shallows: list[ShallowModel]


@router.get("/ahead", response_model=AheadAnswer)
def read_ahead(
    home: HomeOrWhatIf,
    until: Day,
    first: Annotated[Day | None, Field(alias="from")] = None,
    accounts: str | None = None,
    kind: RowKind | None = None,
    category: Id | None = None,
) -> Response:
    """The coming days of chosen accounts, from a day (or today) until a day; of one kind or category only, if named."""
    forecast = project(home.moment, checked_until(home.today, until))
    chosen = chosen_accounts(home.plan, accounts) or default_account(home.plan.accounts)
    whole_run = _filtered(home.plan, events_of(forecast, chosen, first), kind, category)
    events = whole_run.first(_MOST_EVENTS)
    begin = max(first or home.today, home.today).toordinal()
    kinds = [origin_kind(home.plan, one_origin) for one_origin in events.origins]
    columns = {
        **event_columns(home.moment, events),
        "headroom": headrooms(forecast, events),
        "kind": Coded(kinds, events.columns.origin),
        "may_change": Coded([may_change(one_kind) for one_kind in kinds], events.columns.origin),
        "may_not_come": Coded([False, True], may_not_come(home.plan, events)),
    }
    lows = {run.account.id: low_point(lowest(run, begin, until.toordinal())) for run in forecast.runs}
    paydays = [payday for account in chosen if (payday := next_payday(forecast, account))]
    return response(whole(AheadAnswer, {
        "today": home.today,
        "accounts": account_forecasts(forecast, chosen),
        "paydays": [_payday(payday) for payday in paydays],
        "lows": lows,
        "top_ups_in_all": {id: sum(top_up.amount for top_up in top_ups(forecast.run_of[id])) for id in chosen},
        "events": rows(AheadEvent, columns),
        "events_in_all": len(whole_run),
        "shallows": [_shallow(id, shallow) for id in chosen for shallow in shallows(forecast, id, _MOST_SHALLOWS)],
        "spendable_today": sum(forecast.run_of[account.id].today_balance for account in spendable(home.moment)),
        "held": [_held(held_period) for held_period in held_periods(events)],
        "uncounted": _uncounted(home, chosen, begin, until) if kind is None and category is None else [],
    }))  # fmt: skip


def _uncounted(home: Session, chosen: Sequence[str], begin: int, until: datetime.date) -> list[UncountedModel]:
    waiting = [repayment for repayment in uncounted(home.moment, until) if repayment.account in chosen]
    return [
        UncountedModel(
            flow=repayment.flow, lent=repayment.lent, account=repayment.account, name=repayment.name,
            nominal=datetime.date.fromordinal(repayment.due.nominal), date=datetime.date.fromordinal(day),
            amount=repayment.due.amount, is_late=repayment.due.lands < home.moment.now,
        )
        for repayment in waiting if (day := max(repayment.due.lands, home.moment.now)) >= begin
    ]  # fmt: skip


def _shallow(account: str, shallow: Shallow) -> ShallowModel:
    causes = [ShallowCause(name=cause.name, amount=cause.amount) for cause in shallow.causes]
    return ShallowModel(**stretch_fields(shallow.stretch), account=account, causes=causes)


def _held(period: HeldPeriod) -> HeldPeriodModel:
    nominal, first, last = (datetime.date.fromordinal(day) for day in (period.begins, period.first, period.last))
    return HeldPeriodModel.model_validate({
        "account": period.account, "name": period.name, "nominal": nominal, "from": first, "to": last,
        "days": period.days, "amount": period.amount,
    })  # fmt: skip


def _filtered(plan: Plan, events: EventTable, kind: RowKind | None, category: str | None) -> EventTable:
    """Those of one kind and one category, as far as named."""
    if kind is None and category is None:
        return events
    wanted = [
        kind in (None, origin_kind(plan, origin)) and (category is None or category in origin_categories(plan, origin))
        for origin in events.origins
    ]
    return events.where(np.array(wanted, dtype=np.bool_)[events.columns.origin])


def _payday(payday: Payday) -> PaydayModel:
    return PaydayModel(
        account=payday.account,
        date=datetime.date.fromordinal(payday.day),
        name=payday.name,
        amount=payday.amount,
        days_until=payday.days_until,
        free=payday.free_until,
    )
