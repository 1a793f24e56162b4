"""Each flow at a glance: how it reads, when it is next, what it costs in a year, and month by month."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_number, month_start
from next_penny.core.flows.amounts import amount_on, hourly_on, rules_on
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import Occurrence, next_occurrences, past_due
from next_penny.core.plan.flows import Flow, FlowKind, Hourly


@dataclass(frozen=True, slots=True)
class FlowSummary:
    """Amounts are in the main account's currency. `months` are the sums of twelve calendar months, this one first.

    `amount_now`, `rules_now`, `hourly_now` and `flow_now` (its accounts and category) are those in force today.
    """

    flow: Flow
    currency: str
    sentence: str
    amount_now: int
    flow_now: Flow
    hourly_now: Hourly | None
    rules_now: tuple[str, ...]
    next: Occurrence | None
    past_due: int
    yearly: int
    months: tuple[int, ...]


def summarize(moment: Moment, flow: Flow) -> FlowSummary:
    """One flow as seen from today. The year is the twelve months that begin today."""
    today, maker = moment.today, maker_of(moment, flow)
    this_month, year_end = month_number(today), add_months(today, 12).toordinal() - 1
    last = max(month_start(this_month + 12) - 1, year_end)
    year = maker.occurrences(min(month_start(this_month), moment.now), last)
    rows = list(zip(year.landing.tolist(), year.amount.tolist(), strict=True))
    coming = next_occurrences(moment, flow, today - timedelta(days=1), 1)
    months = [0] * 12
    for day, amount in rows:
        ahead = month_number(date.fromordinal(day)) - this_month
        if ahead < 12:
            months[ahead] += amount
    return FlowSummary(
        flow=flow,
        currency=moment.plan.currency_of(flow),
        sentence=maker.rhythm(),
        amount_now=amount_on(flow, today),
        flow_now=flow.on(today),
        hourly_now=hourly_on(flow, today),
        rules_now=rules_on(flow, today),
        next=coming[0] if coming else None,
        past_due=len(past_due(moment, flow).nominal),
        yearly=sum(amount for day, amount in rows if moment.now <= day <= year_end),
        months=tuple(months),
    )


def yearly_by_kind(summaries: Iterable[FlowSummary]) -> dict[tuple[FlowKind, str], int]:
    """A year's total of each kind in each currency."""
    totals: dict[tuple[FlowKind, str], int] = {}
    for summary in summaries:
        key = (summary.flow.kind, summary.currency)
        totals[key] = totals.get(key, 0) + summary.yearly
    return totals
