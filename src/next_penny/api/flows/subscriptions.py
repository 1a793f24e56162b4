"""Subscriptions: what they cost, and whose price rose."""

import datetime
from typing import Literal

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.flows.flows import NextModel, flow_row
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.flows.makers import past_due
from next_penny.core.flows.subscriptions import Subscription, subscription, together
from next_penny.core.flows.summary import FlowSummary, summarize
from next_penny.core.plan.rates import NoRate

router = APIRouter(prefix="/api", tags=["places"])


class PriceRiseModel(BaseModel):
    date: datetime.date
    before: int
    after: int


class SubscriptionRow(BaseModel):
    """A subscription as it stands; `days_until` is null for one that has ended. last_paid: recorded, or from before."""

    flow: str
    name: str
    stands: Literal["running", "overdue", "ended"]
    last_paid: datetime.date | None
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
def read_subscriptions(home: HomeOrWhatIf) -> SubscriptionsAnswer:
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
            _subscription_row(
                each,
                subscription(
                    each,
                    home.reading.payments(each.flow),
                    home.today,
                    is_overdue=bool(len(past_due(home.moment, each.flow).nominal)),
                ),
            )
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
        stands=stands.stands,
        last_paid=stands.last_paid,
        currency=summary.currency,
        next=flow_row(summary).next,
        monthly=stands.monthly,
        yearly=stands.yearly,
        paid_so_far=stands.paid_so_far,
        payments=stands.payments,
        days_until=stands.days_until,
        rises=[PriceRiseModel(date=rise.day, before=rise.before, after=rise.after) for rise in stands.rises],
    )
