"""What the places of the interface show: the run of days ahead, flows and accounts."""

import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from next_penny.api.forecast import (
    AccountForecast,
    EventModel,
    LowPointModel,
    checked_until,
    chosen_accounts,
    day_text,
    default_accounts,
    forecast_document,
    json_response,
    low_point_document,
)
from next_penny.api.household import Home
from next_penny.core.flows.subscriptions import Subscription, subscription
from next_penny.core.flows.summary import FlowSummary, summarize
from next_penny.core.forecast.low_points import lowest, short_by
from next_penny.core.forecast.outlook import Payday, next_payday
from next_penny.core.forecast.projection import project
from next_penny.core.plan import FlowKind
from next_penny.formats.fields import Day
from next_penny.formats.plan_document import Account, Flow, Hourly

router = APIRouter(prefix="/api", tags=["places"])


class PaydayModel(BaseModel):
    """The next income on an account; `free` is the lowest headroom until the day before it."""

    account: str
    date: datetime.date
    name: str
    amount: int
    days_until: int
    free: int


class AheadEvent(EventModel):
    headroom: int


class AheadAnswer(BaseModel):
    """The run of days of chosen accounts: `lows` are their low points within the stretch shown."""

    today: datetime.date
    accounts: list[AccountForecast]
    paydays: list[PaydayModel]
    lows: dict[str, LowPointModel | None]
    events: list[AheadEvent]


@router.get("/ahead", response_model=AheadAnswer)
def read_ahead(
    home: Home, until: Day, first: Annotated[Day | None, Field(alias="from")] = None, accounts: str | None = None
) -> Response:
    """The coming days of chosen accounts, from a day (or today) until a day."""
    plan = home.plan()
    forecast = project(plan, home.books(), home.today, checked_until(home, until))
    chosen = chosen_accounts(plan, accounts) or default_accounts(plan)
    document = forecast_document(plan, forecast, chosen, first)
    floors = {account.id: account.floor for account in plan.accounts}
    begin = max(first or home.today, home.today).toordinal()
    paydays = [payday for account in chosen if (payday := next_payday(plan, forecast, account))]
    return json_response(
        {
            "today": document["today"],
            "accounts": document["accounts"],
            "paydays": [_payday(payday) for payday in paydays],
            "lows": {
                run.account.id: low_point_document(lowest(run, begin, until.toordinal())) for run in forecast.runs
            },
            "events": [
                {**event, "headroom": event["balance"] - floors[event["account"]]} for event in document["events"]
            ],
        }
    )


def _payday(payday: Payday) -> dict[str, Any]:
    return {
        "account": payday.account,
        "date": day_text(payday.day),
        "name": payday.name,
        "amount": payday.amount,
        "days_until": payday.days_until,
        "free": payday.free_until,
    }


class NextModel(BaseModel):
    date: datetime.date
    amount: int


class FlowRow(BaseModel):
    """A flow at a glance. `months` are sums of twelve calendar months, this one first; `_now` is in force today."""

    flow: Flow
    currency: str
    sentence: str
    amount_now: int
    rules_now: list[str]
    from_account_now: str | None
    to_account_now: str | None
    category_now: str | None
    hourly_now: Hourly | None
    next: NextModel | None
    past_due: int
    yearly: int
    months: list[int]


class KindTotal(BaseModel):
    """A year's total of one kind in one currency."""

    kind: FlowKind
    currency: str
    yearly: int


class FlowsAnswer(BaseModel):
    today: datetime.date
    flows: list[FlowRow]
    totals: list[KindTotal]


@router.get("/flows")
def read_flows(home: Home) -> FlowsAnswer:
    """Everything that repeats or is planned."""
    plan, books = home.plan(), home.books()
    rows = [summarize(plan, flow, books, home.today) for flow in plan.all_flows]
    totals: dict[tuple[str, str], int] = {}
    for row in rows:
        key = (row.flow.kind, row.currency)
        totals[key] = totals.get(key, 0) + row.yearly
    return FlowsAnswer(
        today=home.today,
        flows=[_flow_row(row) for row in rows],
        totals=[KindTotal(kind=kind, currency=currency, yearly=sum_) for (kind, currency), sum_ in totals.items()],  # type: ignore[arg-type]
    )


def _flow_row(row: FlowSummary) -> FlowRow:
    return FlowRow(
        flow=Flow.of(row.flow),
        currency=row.currency,
        sentence=row.sentence,
        amount_now=row.amount_now,
        rules_now=list(row.rules_now),
        from_account_now=row.flow_now.from_account,
        to_account_now=row.flow_now.to_account,
        category_now=row.flow_now.category,
        hourly_now=Hourly.model_validate(row.hourly_now, from_attributes=True) if row.hourly_now else None,
        next=NextModel(date=datetime.date.fromordinal(row.next.day), amount=row.next.amount) if row.next else None,
        past_due=row.past_due,
        yearly=row.yearly,
        months=list(row.months),
    )


class PriceRiseModel(BaseModel):
    date: datetime.date
    before: int
    after: int


class SubscriptionRow(BaseModel):
    """A subscription as it stands; `days_until` is null for one that has ended."""

    flow: str
    name: str
    currency: str
    next: NextModel | None
    monthly: int
    yearly: int
    paid_so_far: int
    payments: int
    days_until: int | None
    rises: list[PriceRiseModel]


class SubscriptionsAnswer(BaseModel):
    today: datetime.date
    subscriptions: list[SubscriptionRow]
    monthly: int
    yearly: int


@router.get("/subscriptions")
def read_subscriptions(home: Home) -> SubscriptionsAnswer:
    """The flows marked as subscriptions, with what they cost and have cost; totals in each one's own amounts."""
    plan, books, today = home.plan(), home.books(), home.today
    rows = []
    for flow in plan.flows:
        if flow.subscription:
            summary = summarize(plan, flow, books, today)
            rows.append(_subscription_row(summary, subscription(summary, home.store.payments(flow), today)))
    return SubscriptionsAnswer(
        today=today,
        subscriptions=rows,
        monthly=sum(row.monthly for row in rows),
        yearly=sum(row.yearly for row in rows),
    )


def _subscription_row(summary: FlowSummary, stands: Subscription) -> SubscriptionRow:
    return SubscriptionRow(
        flow=summary.flow.id,
        name=summary.flow.name,
        currency=summary.currency,
        next=_flow_row(summary).next,
        monthly=stands.monthly,
        yearly=stands.yearly,
        paid_so_far=stands.paid_so_far,
        payments=stands.payments,
        days_until=stands.days_until,
        rises=[PriceRiseModel(date=rise.day, before=rise.before, after=rise.after) for rise in stands.rises],
    )


class AccountRow(BaseModel):
    """An account with what it holds today and its lowest point over the coming year."""

    account: Account
    today_balance: int
    lowest: LowPointModel | None
    short_by: int
    flows: int


class AccountsAnswer(BaseModel):
    today: datetime.date
    accounts: list[AccountRow]


@router.get("/accounts")
def read_accounts(home: Home) -> AccountsAnswer:
    """Every account, in the household's order."""
    plan = home.plan()
    forecast = home.year_ahead()
    rows = []
    for run in forecast.runs:
        low = lowest(run, last=forecast.until.toordinal())
        rows.append(
            AccountRow(
                account=Account.of(run.account),
                today_balance=run.today_balance,
                lowest=LowPointModel.model_validate(low_point_document(low)) if low else None,
                short_by=short_by(run, forecast.until.toordinal()),
                flows=sum(run.account.id in moved for moved in plan.accounts_moved.values()),
            )
        )
    return AccountsAnswer(today=home.today, accounts=rows)
