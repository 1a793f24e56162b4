"""An amount typed into a month of a flow: what its dates in that month become, or its amount from then on."""

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_start
from next_penny.core.edits.one_off import change_one_off
from next_penny.core.edits.revising import revise_flow
from next_penny.core.flows.makers import expected
from next_penny.core.money import even_parts, rounded_quotient
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow
from next_penny.core.problems import PlanError, Problem, refused

EDITABLE = ("income", "bill", "transfer")


class MonthAmount(NamedTuple):
    """What is still expected of a flow in a month (its number) is to be this much, positive; or from it on."""

    flow: str
    month: int
    amount: int
    onward: bool


def month_changes(moment: Moment, wanted: Sequence[MonthAmount]) -> list[PlanChange]:
    """The flows as they are with these amounts. Raises PlanError with each problem at ("cells", place, field).

    Where a flow comes several times in the month, the amount is spread over them, exact to the minor unit.
    """
    flows: dict[str, Flow] = {}
    problems: list[Problem] = []
    for place, cell in enumerate(wanted):
        flow = flows.get(cell.flow) or moment.plan.flow_by_id.get(cell.flow)
        try:
            flows[cell.flow] = _with_amount(moment, flow, cell)
        except PlanError as error:
            problems += [Problem(("cells", place, *each.loc), each.message, each.kind) for each in error.problems]
    if problems:
        raise PlanError(problems)
    return [PlanChange("flow", id, flow) for id, flow in flows.items() if flow != moment.plan.flow_by_id[id]]


def _with_amount(moment: Moment, flow: Flow | None, cell: MonthAmount) -> Flow:
    if flow is None or flow.kind not in EDITABLE or flow.id in moment.plan.maker_accounts:
        raise refused("flow", "This row follows from something else: open it to change it.", "not_possible")
    if cell.amount < 0:
        raise refused("amount", "Give the amount without a sign.", "negative")
    coming = expected(moment, flow, month_end(cell.month))
    days = [day for day, lands in zip(coming.nominal.tolist(), coming.landing.tolist(), strict=True)
            if lands >= month_start(cell.month)]  # fmt: skip
    if not days:
        raise refused("month", f"“{flow.name}” is not expected in that month.", "not_expected")
    if cell.onward:
        if flow.hourly is not None:
            raise refused("amount", f"“{flow.name}” is paid by the hour: open it to change its pay.", "not_possible")
        usual = rounded_quotient(cell.amount, len(days))
        flow = revise_flow(flow, {"amount": usual}, date.fromordinal(days[0]), moment.today).item
    for day, part in zip(days, even_parts(cell.amount, len(days)), strict=True):
        flow = change_one_off(moment, flow, date.fromordinal(day), {"amount": part})
    return flow
