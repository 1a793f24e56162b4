"""Subscriptions: what a flow has cost so far, what it costs, and when its price rose."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from itertools import pairwise
from typing import Literal

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import a_year_before
from next_penny.core.flows.summary import FlowSummary
from next_penny.core.money import round_half_up


@dataclass(frozen=True, slots=True)
class PriceChange:
    """A payment that was of another amount than the one before it."""

    day: date
    before: int
    after: int


@dataclass(frozen=True, slots=True)
class Subscription:
    """Amounts in the flow's currency; `monthly` is a twelfth of the coming year's cost, rounded.

    first_paid, last_paid: of the payments recorded so far; the last may be known from before the household began.
    lately: what was paid in the year up to today. An ended subscription has no next date and costs nothing more; an
    overdue one has a payment past due.
    """

    stands: Literal["running", "overdue", "ended"]
    first_paid: date | None
    last_paid: date | None

    monthly: int
    yearly: int
    paid_so_far: int
    lately: int
    payments: int
    days_until: int | None
    changes: tuple[PriceChange, ...]

    @property
    def rises(self) -> tuple[PriceChange, ...]:
        """When it got dearer."""
        return tuple(change for change in self.changes if change.after > change.before)


def subscription(
    summary: FlowSummary, paid: Sequence[tuple[date, int]], today: date, *, is_overdue: bool
) -> Subscription:
    """A subscription as it stands; `paid` holds (day, amount) of its recorded payments, oldest first."""
    known = [day for day, _ in paid[-1:]] + ([summary.flow.last_paid] if summary.flow.last_paid else [])
    return Subscription(
        stands="overdue" if is_overdue else "running" if summary.next else "ended",
        first_paid=paid[0][0] if paid else None,
        last_paid=max(known, default=None),
        monthly=_monthly(summary),
        yearly=summary.yearly,
        paid_so_far=sum(amount for _, amount in paid),
        lately=sum(amount for day, amount in paid if a_year_before(today) < day <= today),
        payments=len(paid),
        days_until=(summary.next.lands - today).days if summary.next else None,
        changes=tuple(
            PriceChange(day, before, after) for (_, before), (day, after) in pairwise(paid) if after != before
        ),
    )


@dataclass(frozen=True, slots=True)
class Sums:
    """What all subscriptions cost, in the household's currency."""

    currency: str
    monthly: int
    yearly: int


def together(moment: Moment, summaries: Sequence[FlowSummary]) -> Sums:
    """Subscriptions added up at today's rates. Raises NoRate where one cannot be converted."""
    plan, currency = moment.plan, moment.plan.household.currency
    yearly = [plan.converted(summary.yearly, summary.currency, currency, moment.today) for summary in summaries]
    monthly = [plan.converted(_monthly(summary), summary.currency, currency, moment.today) for summary in summaries]
    return Sums(currency, sum(monthly), sum(yearly))


def _monthly(summary: FlowSummary) -> int:
    return round_half_up(Fraction(summary.yearly, 12))
