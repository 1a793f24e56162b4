"""An amount typed into a month of a flow: what its dates in that month become, or its amount from then on."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_start
from next_penny.core.edits.one_off import change_one_off
from next_penny.core.edits.revising import revise_flow
from next_penny.core.flows.makers import expected, next_occurrences
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

    Where a flow comes several times in the month, the amount is spread over them, exact to the minor unit; where it
    does not come, it is given a date.
    """
    flows: dict[str, Flow] = {}
    problems: list[Problem] = []
    for place, cell in enumerate(wanted):
        flow = flows.get(cell.flow) or moment.plan.flow_by_id.get(cell.flow)
        try:
            flows[cell.flow] = _with_amount(moment, flow, cell)
        except PlanError as error:
            problems += [
                Problem(("cells", place, *problem.loc), problem.message, problem.kind) for problem in error.problems
            ]
    if problems:
        raise PlanError(problems)
    return [PlanChange("flow", id, flow) for id, flow in flows.items() if flow != moment.plan.flow_by_id[id]]


def _with_amount(moment: Moment, flow: Flow | None, cell: MonthAmount) -> Flow:
    if flow is None or flow.kind not in EDITABLE or flow.id in moment.plan.maker_accounts:
        raise refused("flow", "This row follows from something else: open it to change it.", "not_possible")
    if cell.amount < 0:
        raise refused("amount", "Give the amount without a sign.", "negative")
    if cell.onward and flow.hourly is not None:
        raise refused("amount", f"“{flow.name}” is paid by the hour: open it to change its pay.", "not_possible")
    days = _days_in(moment, flow, cell.month)
    if not days:
        return _begun_in(moment, flow, cell)
    if cell.onward:
        usual = rounded_quotient(cell.amount, len(days))
        flow = revise_flow(flow, {"amount": usual}, date.fromordinal(days[0]), moment.today).item
    for day, part in zip(days, even_parts(cell.amount, len(days)), strict=True):
        flow = change_one_off(moment, flow, date.fromordinal(day), {"amount": part})
    return flow


def _days_in(moment: Moment, flow: Flow, month: int) -> list[int]:
    """The nominal days of a flow that are expected in a month: what is past due is expected today."""
    coming = expected(moment, flow, month_end(month))
    return [day for day, lands in zip(coming.nominal.tolist(), coming.landing.tolist(), strict=True)
            if month_start(month) <= max(lands, moment.now) <= month_end(month)]  # fmt: skip


def _begun_in(moment: Moment, flow: Flow, cell: MonthAmount) -> Flow:
    """The flow with a date in a month in which it has none, or monthly from then on, on its usual day or near it."""
    if month_end(cell.month) < moment.now:
        raise refused("month", f"“{flow.name}” has no date in that month, which is over.", "not_expected")
    for day in _near_its_usual(moment, flow, cell.month):
        if cell.onward:
            rules = (f"FREQ=MONTHLY;BYMONTHDAY={day.day}",)
            begun = revise_flow(flow, {"amount": cell.amount, "rules": rules}, day, moment.today).item
        else:
            begun = replace(flow, dates=tuple(sorted({*flow.dates, day})))
        if _days_in(moment, begun, cell.month) == [day.toordinal()]:
            return change_one_off(moment, begun, day, {"amount": cell.amount})
    raise refused("month", f"“{flow.name}” cannot come in that month as it is: open it to change it.", "not_expected")


def _near_its_usual(moment: Moment, flow: Flow, month: int) -> list[date]:
    """Days of a month, today or later, the nearest to the day of the month on which the flow comes first."""
    following = next_occurrences(moment, flow, moment.today, 1)
    usual = following[0].nominal.day if following else (flow.start or moment.today).day
    days = range(max(month_start(month), moment.now), month_end(month) + 1)
    return sorted(map(date.fromordinal, days), key=lambda day: (abs(day.day - usual), day))
