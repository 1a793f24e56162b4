"""What the places of the interface show: the run of days ahead, flows and accounts."""

import datetime
from dataclasses import replace
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from next_penny.api.answers import Coded, response, rows, whole
from next_penny.api.errors import refused
from next_penny.api.forecast import (
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
from next_penny.api.household import Home
from next_penny.core.dates.sentences import recurrence_sentence
from next_penny.core.defaults import default_account
from next_penny.core.flows.subscriptions import Subscription, subscription, together
from next_penny.core.flows.summary import FlowSummary, summarize, yearly_by_kind
from next_penny.core.forecast.low_points import headrooms, lowest, short_by, top_ups
from next_penny.core.forecast.outlook import HeldPeriod, Payday, bills_ahead, held_periods, next_payday, pay_periods
from next_penny.core.forecast.projection import EventTable, project, year_ahead
from next_penny.core.forecast.shallows import Shallow, shallows
from next_penny.core.plan import Flow as CoreFlow
from next_penny.core.plan import FlowKind, NoRate, Plan, Revision
from next_penny.core.review.months import RowKind, origin_categories, origin_kind
from next_penny.core.review.stretch import spendable
from next_penny.formats.fields import Day, Id
from next_penny.formats.plan_document import Account, Flow, Hourly

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
    """`kind` is the row of months that it stands in; of an allowance, `nominal` is the first day of its period."""

    headroom: int
    kind: RowKind


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
    spendable_today: int
    shallows: list[ShallowModel]


@router.get("/ahead", response_model=AheadAnswer)
def read_ahead(
    home: Home,
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
    columns = event_columns(home.moment, events) | {
        "headroom": headrooms(forecast, events),
        "kind": Coded([origin_kind(home.plan, each) for each in events.origins], events.columns.origin.tolist()),
    }
    lows = {run.account.id: low_point(lowest(run, begin, until.toordinal())) for run in forecast.runs}
    paydays = [payday for account in chosen if (payday := next_payday(forecast, account))]
    return response(whole(AheadAnswer, {
        "today": home.today,
        "accounts": account_forecasts(forecast, chosen),
        "paydays": [_payday(payday) for payday in paydays],
        "lows": lows,
        "top_ups_in_all": {id: sum(each.amount for each in top_ups(forecast.run_of[id])) for id in chosen},
        "events": rows(AheadEvent, columns),
        "events_in_all": len(whole_run),
        "shallows": [_shallow(id, each) for id in chosen for each in shallows(forecast, id, _MOST_SHALLOWS)],
        "spendable_today": sum(forecast.run_of[account.id].today_balance for account in spendable(home.moment)),
        "held": [_held(each) for each in held_periods(events)],
    }))  # fmt: skip


def _shallow(account: str, found: Shallow) -> ShallowModel:
    causes = [ShallowCause(name=each.name, amount=each.amount) for each in found.causes]
    return ShallowModel(**stretch_fields(found.stretch), account=account, causes=causes)


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
        kind in (None, origin_kind(plan, each)) and (category is None or category in origin_categories(plan, each))
        for each in events.origins
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


class BillsAheadModel(BaseModel):
    """Bills and loan payments due within `days` from today."""

    days: int
    count: int
    amount: int


class PayPeriodModel(BaseModel):
    """From a payday to the day before the next: what came, what is to be paid until then, what is left then."""

    first: datetime.date = Field(alias="from")
    last: datetime.date = Field(alias="to")
    name: str
    amount: int
    to_pay: int
    left: int


class PayPeriodsAnswer(BaseModel):
    account: str
    name: str
    currency: str
    today: datetime.date
    bills: list[BillsAheadModel]
    periods: list[PayPeriodModel]


@router.get("/ahead/paydays", response_model_by_alias=True)
def read_paydays(home: Home, account: Id | None = None) -> PayPeriodsAnswer:
    """Bills due in the next 14, 30 and 90 days, and what each payday has to last for."""
    chosen = account or next(iter(default_account(home.plan.accounts)), None)
    held = home.plan.account_by_id.get(chosen or "")
    if held is None:
        raise refused(("query", "account"), f"There is no account “{account}”.", "unknown_id")
    forecast = year_ahead(home.moment)
    return PayPeriodsAnswer(
        account=held.id,
        name=held.name,
        currency=held.currency,
        today=home.today,
        bills=[BillsAheadModel(days=each.days, count=each.count, amount=each.amount)
               for each in bills_ahead(forecast, held.id)],
        periods=[
            PayPeriodModel.model_validate({
                "from": datetime.date.fromordinal(each.first), "to": datetime.date.fromordinal(each.last),
                "name": each.name, "amount": each.amount, "to_pay": each.to_pay, "left": each.left,
            })
            for each in pay_periods(forecast, held.id)
        ],
    )  # fmt: skip


class NextModel(BaseModel):
    date: datetime.date
    amount: int


class FlowRow(BaseModel):
    """A flow at a glance. `months` are sums of twelve calendar months, this one first; `_now` is in force today.

    `rhythms` are the rules of each revision in words, empty where it sets none.
    """

    flow: Flow
    currency: str
    sentence: str
    amount_now: int
    rules_now: list[str]
    from_account_now: str | None
    to_account_now: str | None
    category_now: str | None
    hourly_now: Hourly | None
    rhythms: list[str]
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
    summaries = [summarize(home.moment, flow) for flow in home.plan.all_flows]
    return FlowsAnswer(
        today=home.today,
        flows=[_flow_row(summary) for summary in summaries],
        totals=[
            KindTotal(kind=kind, currency=currency, yearly=yearly)
            for (kind, currency), yearly in yearly_by_kind(summaries).items()
        ],
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
        rhythms=[_rhythm(row.flow, revision) for revision in row.flow.revisions],
        next=NextModel(date=row.next.lands, amount=row.next.amount) if row.next else None,
        past_due=row.past_due,
        yearly=row.yearly,
        months=list(row.months),
    )


def _rhythm(flow: CoreFlow, revision: Revision) -> str:
    if revision.rules is None:
        return ""
    return recurrence_sentence(replace(flow.schedule(revision.start, revision.rules), until=None, count=None))


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
    """Sums are in the household's currency; null, with a note, where one cannot be converted."""

    today: datetime.date
    subscriptions: list[SubscriptionRow]
    currency: str
    monthly: int | None
    yearly: int | None
    notes: list[str]


@router.get("/subscriptions")
def read_subscriptions(home: Home) -> SubscriptionsAnswer:
    """The flows marked as subscriptions, with what they cost and have cost."""
    summaries = [summarize(home.moment, flow) for flow in home.plan.flows if flow.subscription]
    monthly, yearly, notes = None, None, []
    try:
        sums = together(home.moment, summaries)
        monthly, yearly = sums.monthly, sums.yearly
    except NoRate as error:
        notes = [str(error)]
    return SubscriptionsAnswer(
        today=home.today,
        subscriptions=[
            _subscription_row(each, subscription(each, home.reading.payments(each.flow), home.today))
            for each in summaries
        ],
        currency=home.plan.household.currency,
        monthly=monthly,
        yearly=yearly,
        notes=notes,
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
    """An account with what it holds today and its lowest point over the coming year.

    `is_spendable`: among those that are meant where no accounts are named.
    """

    account: Account
    today_balance: int
    lowest: LowPointModel | None
    short_by: int
    flows: int
    is_spendable: bool


class AccountsAnswer(BaseModel):
    today: datetime.date
    accounts: list[AccountRow]


@router.get("/accounts")
def read_accounts(home: Home) -> AccountsAnswer:
    """Every account, in the household's order."""
    forecast = year_ahead(home.moment)
    until = forecast.until.toordinal()
    meant = spendable(home.moment)
    return AccountsAnswer(
        today=home.today,
        accounts=[
            AccountRow(
                account=Account.of(run.account),
                today_balance=run.today_balance,
                lowest=low_point(lowest(run, last=until)),
                short_by=short_by(run, until),
                flows=sum(run.account.id in moved for moved in home.plan.accounts_moved.values()),
                is_spendable=run.account in meant,
            )
            for run in forecast.runs
        ],
    )
