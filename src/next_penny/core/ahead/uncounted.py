"""Money lent that may not come back: what is marked in the run of days, and what is told in it but in no balance."""

from datetime import date
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.forecast.events import STATUSES, EventTable
from next_penny.core.loans.lent.dues import Due
from next_penny.core.loans.lent.standing import lent_standing
from next_penny.core.plan.flows import repayment_id
from next_penny.core.plan.plan import Plan


class Uncounted(NamedTuple):
    """A repayment that nobody counts on: of which flow and account, into which, and what is due."""

    flow: str
    lent: str
    account: str
    name: str
    due: Due


def may_not_come(plan: Plan, events: EventTable) -> list[bool]:
    """By event, whether it is counted but may not come; what came is sure."""
    doubtful = [_is_doubtful(plan, origin.flow) for origin in events.origins]
    columns = events.columns
    return [
        doubtful[origin] and STATUSES[status] != "settled"
        for origin, status in zip(columns.origin.tolist(), columns.status.tolist(), strict=True)
    ]


def _is_doubtful(plan: Plan, flow: str | None) -> bool:
    existing = plan.flow_by_id.get(flow or "")
    lent = plan.lent_by(existing) if existing is not None else None
    return lent is not None and lent.lending.sure == "doubtful"


def uncounted(moment: Moment, until: date) -> list[Uncounted]:
    """What is to come back by a day and is in no balance, by the day on which it would come."""
    repayments = []
    for account in moment.plan.accounts:
        flow = moment.plan.flow_by_id.get(repayment_id(account.id))
        if flow is None or moment.plan.lent_by(flow) is None or account.lending.sure != "left_out":
            continue
        for due in lent_standing(moment, account).dues(until.toordinal()):
            repayments.append(Uncounted(flow.id, account.id, account.lending.into_account or "", flow.name, due))
    return sorted(repayments, key=lambda repayment: repayment.due.lands)
