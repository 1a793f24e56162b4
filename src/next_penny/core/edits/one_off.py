"""One date of a flow set otherwise, just this once, or moved with all dates after it."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.dates.landing import NOTHING_EXCEPTIONAL, lands_on
from next_penny.core.dates.moving import moved_rules
from next_penny.core.dates.sentences import full_day
from next_penny.core.edits.revising import Edited, revise_flow
from next_penny.core.flows.amounts import rules_on
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.plan.flows import Change, Flow
from next_penny.core.problems import refused


def change_one_off(moment: Moment, flow: Flow, nominal: date, values: Mapping[str, object] | None) -> Flow:
    """The flow with other values for one date; without values, as planned again.

    An amount is kept even where it is the planned one: it holds when that becomes another. Raises PlanError for a date
    that the flow has not.
    """
    existing = flow.change_by_nominal.get(nominal.toordinal())
    others = tuple(change for change in flow.changes if change.nominal != nominal)
    plain = replace(flow, changes=others)
    number = nominal.toordinal()
    if values is None and (existing is not None or _occurs(moment, flow, number)):
        return plain
    if existing is None and not _occurs(moment, flow, number):
        raise refused("nominal", f"“{flow.name}” of {full_day(nominal)} is not expected.", "not_expected")
    change = replace(existing or Change(nominal), **(values or {}))  # type: ignore[arg-type]
    # One that was moved beyond the end before, as where the flow was ended since, may still be left out.
    moved = change.moved_to if existing is None or change.moved_to != existing.moved_to else None
    if flow.until is not None and moved is not None and moved > flow.until >= nominal:
        message = f"“{flow.name}” ends on {full_day(flow.until)}: choose a day until then, or let it end later."
        raise refused("moved_to", message, "range")
    if change.hours is not None:
        change = replace(change, amount=None)
    lands = lands_on(nominal, flow.roll, moment.calendar, NOTHING_EXCEPTIONAL)
    if change.moved_to == lands:
        change = replace(change, moved_to=None)
    own = (change,) if change != Change(nominal) else ()
    return replace(flow, changes=tuple(sorted((*others, *own), key=lambda one_change: one_change.nominal)))


def move_onward(moment: Moment, flow: Flow, nominal: date, day: date) -> Edited[Flow]:
    """The flow with a date of it, and those after it, on another day of the week or month. Raises PlanError.

    What was changed for single dates after it stays with those dates, and is told.
    """
    if flow.dates:
        raise refused("moved_to", f"“{flow.name}” has days of its own: open it to change them.", "not_possible")
    if not _occurs(moment, flow, nominal.toordinal()):
        raise refused("from", f"“{flow.name}” of {full_day(nominal)} is not expected.", "not_expected")
    rules = moved_rules(rules_on(flow, nominal), nominal, day)
    if rules is None:
        raise refused("moved_to", f"From here on, “{flow.name}” can be moved within its own week or month: "
                      "for another rhythm open it.", "not_possible")  # fmt: skip
    plain = replace(flow, changes=tuple(change for change in flow.changes if change.nominal != nominal))
    edited = revise_flow(plain, {"rules": rules}, min(nominal, day), moment.today)
    days = maker_of(moment, edited.item).nominal_days(*sorted((nominal.toordinal(), day.toordinal())))
    if day.toordinal() not in days or nominal.toordinal() in days:
        raise refused("moved_to", f"“{flow.name}” cannot be moved there: open it and change its rule.", "not_possible")
    if any(change.nominal > nominal for change in flow.changes):
        return Edited(edited.item, [*edited.notes, "What was changed for single dates later stays with those dates."])
    return edited


def _occurs(moment: Moment, flow: Flow, nominal: int) -> bool:
    return nominal in maker_of(moment, flow).nominal_days(nominal, nominal)
