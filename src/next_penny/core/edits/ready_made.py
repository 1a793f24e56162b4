"""What-ifs that need two or three figures: a group dearer, an income lost, a bill that comes early.

Each gives a name and the changes to the plan; nothing is recorded.
"""

from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months
from next_penny.core.dates.sentences import full_day
from next_penny.core.edits.one_off import change_one_off
from next_penny.core.edits.revising import revise_allowance, revise_flow
from next_penny.core.flows.allowances import limit_on
from next_penny.core.flows.makers import expected, next_occurrences
from next_penny.core.flows.settled import usual_amount
from next_penny.core.money import round_half_up
from next_penny.core.plan.allowances import LimitRevision
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow, Revision
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import refused

LONGEST_LOSS_MONTHS = 60
STEEPEST_PERCENT = 1000


class ReadyMade(NamedTuple):
    """A what-if that can be laid over the plan, and how it is called."""

    name: str
    changes: list[PlanChange]


def groups(plan: Plan) -> list[str]:
    """The groups of categories in which flows or allowances have amounts of their own."""
    named = {plan.group_of((flow.category,)) for flow in _own_amounts(plan)}
    named |= {plan.group_of(allowance.categories) for allowance in plan.allowances}
    return sorted(named - {""}, key=str.lower)


def group_changed(moment: Moment, group: str, percent: Decimal, start: date) -> ReadyMade:
    """Every flow and allowance of a group by a percentage more or less from a day on, what is planned later too.

    Loan payments follow from their loans: they are left alone.
    """
    plan = moment.plan
    if group not in groups(plan):
        said = f"Nothing is planned in “{group}”: choose another group." if group else "Choose a group."
        raise refused("group", said, "unknown_id")
    if not -100 <= percent <= STEEPEST_PERCENT or percent == 0:
        raise refused("percent", f"Give a percentage from -100 to {STEEPEST_PERCENT} other than 0.", "range")
    _refuse_past(moment, start)
    share = 1 + Fraction(percent) / 100
    changes = [*_dearer_flows(moment, group, share, start), *_dearer_allowances(moment, group, share, start)]
    if not changes:
        raise refused("from", f"Nothing in “{group}” is planned from then on.", "not_possible")
    way = "up" if percent > 0 else "down"
    return ReadyMade(f"{group} {way} {abs(percent).normalize():f} % from {full_day(start)}", changes)


def _refuse_past(moment: Moment, start: date) -> None:
    if start < moment.today:
        raise refused("from", "A what-if is of days to come: choose today or a later day.", "range")


def _own_amounts(plan: Plan) -> Iterator[Flow]:
    for flow in plan.flows:
        if flow.kind in ("income", "bill", "transfer"):
            yield flow


def _dearer_flows(moment: Moment, group: str, share: Fraction, start: date) -> Iterator[PlanChange]:
    for flow in _own_amounts(moment.plan):
        if moment.plan.group_of((flow.category,)) != group or (flow.until is not None and flow.until < start):
            continue
        later = tuple(
            _dearer_revision(revision, share) if revision.start > start else revision for revision in flow.revisions
        )
        scaled = _dearer_seasons(moment, replace(flow, revisions=later), share, start)
        amount = round_half_up(usual_amount(moment, flow, start) * share)
        item = revise_flow(scaled, {"amount": amount, "hourly": None}, start, moment.today).item
        if item != flow:
            yield PlanChange("flow", flow.id, item)


def _dearer_seasons(moment: Moment, flow: Flow, share: Fraction, start: date) -> Flow:
    """Amounts of calendar months know no day from which they hold: what is expected before it is set just this once."""
    if not flow.seasonal:
        return flow
    coming = expected(moment, flow, start.toordinal() - 1)
    amounts = zip(coming.nominal.tolist(), coming.amount.tolist(), strict=True)
    seasonal = tuple((month, round_half_up(amount * share)) for month, amount in flow.seasonal)
    dearer = replace(flow, seasonal=seasonal)
    for nominal, amount in amounts:
        if nominal < start.toordinal() and date.fromordinal(nominal).month in dict(seasonal):
            dearer = change_one_off(moment, dearer, date.fromordinal(nominal), {"amount": amount})
    return dearer


def _dearer_revision(revision: Revision, share: Fraction) -> Revision:
    if revision.base is None:
        return revision
    return replace(revision, amount=round_half_up(revision.base * share), hourly=None)


def _dearer_allowances(moment: Moment, group: str, share: Fraction, start: date) -> Iterator[PlanChange]:
    for allowance in moment.plan.allowances:
        if moment.plan.group_of(allowance.categories) != group or (allowance.until and allowance.until < start):
            continue
        later = tuple(
            LimitRevision(revision.start, round_half_up(revision.limit * share)) if revision.start > start else revision
            for revision in allowance.revisions
        )
        limit = round_half_up(limit_on(allowance, start.toordinal()) * share)
        item = revise_allowance(replace(allowance, revisions=later), {"limit": limit}, start, moment.today).item
        if item != allowance:
            yield PlanChange("allowance", allowance.id, item)


def income_lost(moment: Moment, flow_id: str, start: date, months: int) -> ReadyMade:
    """An income that does not come for some months from a day on."""
    flow = moment.plan.flow_by_id.get(flow_id)
    if flow is None or flow.kind != "income":
        raise refused("flow", "Choose an income.", "unknown_id")
    if not 1 <= months <= LONGEST_LOSS_MONTHS:
        raise refused("months", f"Give 1 to {LONGEST_LOSS_MONTHS} months.", "range")
    _refuse_past(moment, start)
    first, last = start.toordinal(), add_months(start, months).toordinal() - 1
    coming = expected(moment, flow, last)
    lost = flow
    for nominal in coming.nominal[coming.landing >= first].tolist():
        lost = change_one_off(moment, lost, date.fromordinal(nominal), {"left_out": True})
    if lost == flow:
        raise refused("from", f"“{flow.name}” brings nothing in these months.", "not_possible")
    span = "a month" if months == 1 else f"{months} months"
    return ReadyMade(f"{flow.name} lost for {span} from {full_day(start)}",
                     [PlanChange("flow", flow.id, lost)])  # fmt: skip


def bill_early(moment: Moment, flow_id: str, nominal: date | None, day: date) -> ReadyMade:
    """A bill that is to be paid on an earlier day: that of a nominal date, or the next one that is not settled."""
    flow = moment.plan.flow_by_id.get(flow_id)
    if flow is None or flow.kind != "bill":
        raise refused("flow", "Choose a bill.", "unknown_id")
    coming = next_occurrences(moment, flow, moment.today - timedelta(days=1), 1) if nominal is None else ()
    due = coming[0].lands if coming else nominal
    if due is None:
        raise refused("flow", f"“{flow.name}” is not expected any more.", "not_expected")
    if not moment.today <= day < due:
        raise refused("day", f"Choose a day from today on, before the bill is due on {full_day(due)}.", "range")
    moved = change_one_off(moment, flow, coming[0].nominal if coming else due, {"moved_to": day})
    return ReadyMade(f"{flow.name} already on {full_day(day)}", [PlanChange("flow", flow.id, moved)])
