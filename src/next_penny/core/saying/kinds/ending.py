"""Sentences by which a flow ends, or some of its dates are left out."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import date, timedelta

from next_penny.core.dates.calendar import month_end, month_start
from next_penny.core.dates.sentences import full_day, month_name
from next_penny.core.flows.makers import Occurrence
from next_penny.core.plan.flows import Flow
from next_penny.core.saying.asking import Asking, on_day
from next_penny.core.saying.days import day_of, month_of
from next_penny.core.saying.kinds.changing import begins, ends
from next_penny.core.saying.kinds.single_dates import expected_by, in_month, one_date
from next_penny.core.saying.phrases import NotUnderstood
from next_penny.core.saying.readings import Meant, Reading

# More dates than these are named by the first and the last; more than those are no pause.
_NAMED = 6
_MOST_LEFT_OUT = 400


def end_or_leave_out(asking: Asking) -> Iterator[Reading]:
    """`no internet in may`, `no flute from july`: dates are left out, or the flow ends. Raises NotUnderstood."""
    slots = asking.said
    name = slots.name or slots.names.get("pay", "")
    flow = asking.flow_or_pay()
    if flow is None:
        if "flow" not in asking.choices:
            raise NotUnderstood(name or slots.said.text)
        yield Reading(f"Which “{name}” is left out?")
        return
    unused = slots.besides("name", "day", "month", "begins", "ends")
    # What a loan or a card is paid ends with it alone; a date of it may be left out.
    plan = asking.moment.plan
    is_bound = plan.paid_by(flow) is not None or flow.id in plan.maker_accounts
    readings = [reading for reading in _of_flow(asking, flow) if not (is_bound and _is_end(reading))]
    if not readings:
        raise NotUnderstood(name)
    for reading in readings:
        yield replace(reading, unused=unused)


def _is_end(reading: Reading) -> bool:
    return any(change.op == "update" for change in reading.changes)


def _of_flow(asking: Asking, flow: Flow) -> Iterator[Reading]:
    slots, today = asking.said, asking.moment.today
    first, last = begins(asking), ends(asking)
    is_end = bool(slots.verbs & {"stops", "cancels", "ends_then"}) and not slots.is_once
    if last is not None:
        yield _left_out_between(asking, flow, first or today, last)
    elif first is not None:
        yield _ends(flow, first - timedelta(days=1))
    elif is_end and slots.months:
        yield from _in_its_month(asking, flow)
    elif is_end:
        day = day_of(asking.moment, slots.days[0], is_past=False) if slots.days else today
        is_last = "ends_then" in slots.verbs and bool(slots.days)
        yield _ends(flow, day if is_last else day - timedelta(days=1))
    elif not (slots.months or slots.days or slots.is_once):
        asking.need("date")
        yield Reading(f"“{flow.name}” is left out on …")
    else:
        left = (in_month(asking, flow) if slots.months else []) or [one_date(asking, flow)]
        yield _left_out(asking, flow, left)


def _in_its_month(asking: Asking, flow: Flow) -> Iterator[Reading]:
    """What stops or ends in a month may come in it once more or not; what is cancelled in it may be that date alone."""
    verbs, month = asking.said.verbs, month_of(asking.moment, asking.said.months[0])
    before = _ends(flow, date.fromordinal(month_start(month)) - timedelta(days=1))
    after = _ends(flow, date.fromordinal(month_end(month)))
    if "cancels" in verbs:
        left = in_month(asking, flow)
        yield from [_left_out(asking, flow, left), before] if left else [before]
    else:
        yield from [after, before] if "ends_then" in verbs else [before, after]


def _ends(flow: Flow, last: date) -> Reading:
    sentence = f"“{flow.name}” ends: its last day is {full_day(last)}"
    return Reading(sentence, changes=[Meant("update", "flow", flow.id, {"until": last.isoformat()})])


def _left_out(asking: Asking, flow: Flow, left: Sequence[Occurrence]) -> Reading:
    where = f" in {month_name(month_of(asking.moment, asking.said.months[0]))}" if asking.said.months else ""
    return _without(asking, flow, left, f"“{flow.name}” is left out{where}")


def _left_out_between(asking: Asking, flow: Flow, first: date, last: date) -> Reading:
    """Each of its dates from a day to a day is left out, and it goes on after them."""
    left = [occurrence for occurrence in expected_by(asking, flow, last) if first <= occurrence.nominal <= last]
    if not 0 < len(left) <= _MOST_LEFT_OUT:
        phrase = asking.said.ends
        raise NotUnderstood(asking.said.said.between(phrase.begin, phrase.end) if phrase else flow.name)
    return _without(asking, flow, left, f"“{flow.name}” is left out until {full_day(last)}")


def _without(asking: Asking, flow: Flow, left: Sequence[Occurrence], sentence: str) -> Reading:
    days = [on_day(asking, occurrence.lands) for occurrence in left]
    listed = ", ".join(days) if len(days) <= _NAMED else f"{len(days)} times, {days[0]} to {days[-1]}"
    changes = [Meant("once", "flow", flow.id, {"left_out": True}, nominal=occurrence.nominal) for occurrence in left]
    return Reading(f"{sentence}: {listed}", changes=changes)
