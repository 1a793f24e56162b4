"""Subscriptions: what they cost, and whose price rose."""

import datetime
from typing import Literal

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.flows.flows import NextModel, next_of
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.flows.makers import past_due
from next_penny.core.flows.subscriptions import PriceChange, Subscription, subscription, together
from next_penny.core.flows.summary import FlowSummary, summarize
from next_penny.core.plan.rates import NoRate

router = APIRouter(prefix="/api", tags=["places"])


class PriceChangeModel(BaseModel):
    date: datetime.date
    before: int
    after: int


class SubscriptionRow(BaseModel):
    """A subscription as it stands; `days_until` is null for one that has ended. last_paid: recorded, or from before.

    lately: what was paid in the year up to today. rises: those of the price changes that made it dearer.
    """

    flow: str
    name: str
    stands: Literal["running", "overdue", "ended"]
    first_paid: datetime.date | None
    last_paid: datetime.date | None
    currency: str
    next: NextModel | None
    monthly: int
    yearly: int
    paid_so_far: int
    lately: int
    payments: int
    days_until: int | None
    rises: list[PriceChangeModel]
    changes: list[PriceChangeModel]


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
                summary,
                subscription(
                    summary,
                    home.reading.payments(summary.flow),
                    home.today,
                    is_overdue=bool(len(past_due(home.moment, summary.flow).nominal)),
                ),
            )
            for summary in summaries
        ],
        currency=home.plan.household.currency,
        monthly=monthly,
        yearly=yearly,
        notes=notes,
    )


def _subscription_row(summary: FlowSummary, subscription: Subscription) -> SubscriptionRow:
    return SubscriptionRow(
        flow=summary.flow.id,
        name=summary.flow.name,
        stands=subscription.stands,
        first_paid=subscription.first_paid,
        last_paid=subscription.last_paid,
        currency=summary.currency,
        next=next_of(summary),
        monthly=subscription.monthly,
        yearly=subscription.yearly,
        paid_so_far=subscription.paid_so_far,
        lately=subscription.lately,
        payments=subscription.payments,
        days_until=subscription.days_until,
        rises=[_price_change(rise) for rise in subscription.rises],
        changes=[_price_change(change) for change in subscription.changes],
    )


def _price_change(change: PriceChange) -> PriceChangeModel:
    return PriceChangeModel(date=change.day, before=change.before, after=change.after)
