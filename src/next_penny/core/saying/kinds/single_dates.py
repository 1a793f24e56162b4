"""Of a flow that there is, the dates that a sentence means: in a month, on a day, from a day to a day, or the next."""

from datetime import date, timedelta

from next_penny.core.dates.calendar import month_end, month_number
from next_penny.core.flows.makers import Occurrence, expected, next_occurrences
from next_penny.core.plan.flows import Flow
from next_penny.core.saying.asking import Asking
from next_penny.core.saying.days import day_of, month_of
from next_penny.core.saying.phrases import NotUnderstood

# A date may land so many days from its own.
_REACH = 31


def one_date(asking: Asking, flow: Flow) -> Occurrence:
    """The date of a flow that is meant: in a month, on a day, or the next. Raises NotUnderstood where there is none."""
    slots, moment = asking.said, asking.moment
    if slots.months:
        coming = in_month(asking, flow)
    elif slots.days:
        day = day_of(moment, slots.days[0], is_past=False)
        coming = [
            occurrence for occurrence in expected_by(asking, flow, day) if day in (occurrence.nominal, occurrence.lands)
        ]
    else:
        coming = next_occurrences(moment, flow, moment.today - timedelta(days=1), 1)
    if not coming:
        part = slots.months[0] if slots.months else slots.days[0] if slots.days else None
        raise NotUnderstood(slots.said.between(part.begin, part.end) if part else flow.name)
    return coming[0]


def in_month(asking: Asking, flow: Flow) -> list[Occurrence]:
    """What is expected of a flow with its own date in the month that is named."""
    month = month_of(asking.moment, asking.said.months[0])
    coming = expected_by(asking, flow, date.fromordinal(month_end(month)))
    return [occurrence for occurrence in coming if month_number(occurrence.nominal) == month]


def expected_by(asking: Asking, flow: Flow, last: date) -> list[Occurrence]:
    """What is expected of a flow around a day and before it, today and later."""
    rows = expected(asking.moment, flow, last.toordinal() + _REACH)
    return [Occurrence(date.fromordinal(nominal), date.fromordinal(lands), amount)
            for nominal, lands, amount in zip(*(column.tolist() for column in rows), strict=True)
            if lands >= asking.moment.now]  # fmt: skip
