"""Sentences by which a date of a flow comes on another day: put off, brought forward, late."""

from collections.abc import Iterator
from datetime import date, timedelta

from next_penny.core.flows.makers import Occurrence
from next_penny.core.plan.flows import Flow
from next_penny.core.saying.asking import Asking, on_day
from next_penny.core.saying.days import day_of, month_of, number_in
from next_penny.core.saying.kinds.single_dates import expected_by, in_month, one_date
from next_penny.core.saying.phrases import NotUnderstood, Phrase, meaning_of
from next_penny.core.saying.readings import Meant, Reading

# Further away nothing is put off.
_MOST_DAYS = 366


def is_of_another_day(asking: Asking) -> bool:
    """Whether a day is said for something that is expected anyway, and nothing of an amount or an account."""
    slots = asking.said
    is_more = bool(slots.amounts or slots.percents or slots.rhythms or "off" in slots.verbs)
    if is_more or not (slots.name or "pay" in slots.names):
        return False
    if slots.shifted is not None or slots.instead_of is not None or slots.verbs & {"put_off", "reschedule", "sooner"}:
        return True
    is_day = bool(slots.days) or (slots.ends is not None and slots.ends.sort == "until_day")
    return is_day and bool(slots.verbs & {"move", "comes", "pay"}) and "target" not in slots.names


def put_on_another_day(asking: Asking) -> Iterator[Reading]:
    """`move internet to the 24th`: one date of a flow moved; of two that may be meant each is a reading.

    Raises NotUnderstood where no flow of that name is, or no such date of it.
    """
    slots = asking.said
    name = slots.name or slots.names["pay"]
    flow = asking.flow_or_pay()
    if flow is None:
        if "flow" not in asking.choices:
            raise NotUnderstood(name)
        yield Reading(f"Which “{name}” is meant?")
        return
    if slots.shifted is not None:
        one = one_date(asking, flow)
        yield _moved(asking, flow, one, one.lands + timedelta(days=_days(slots.verbs, slots.shifted)), slots.shifted)
        return
    phrase = slots.days[0] if slots.days else slots.ends
    if phrase is None or phrase.sort == "until_month":
        raise NotUnderstood(slots.said.between(phrase.begin, phrase.end) if phrase else slots.said.text.strip())
    for one, day in _meant(asking, flow, phrase):
        yield _moved(asking, flow, one, day, phrase)


def _meant(asking: Asking, flow: Flow, phrase: Phrase) -> Iterator[tuple[Occurrence, date]]:
    """The date that is meant, and its new day: the one it comes instead of, that of a month, else the nearest or next.

    What is put off comes before its new day, what is brought forward after it.
    """
    slots, moment = asking.said, asking.moment
    if slots.months and (coming := in_month(asking, flow)):
        month = month_of(moment, slots.months[0])
        yield coming[0], _in_its_month(asking, month, phrase)
        return
    day = day_of(moment, phrase, is_past=False)
    coming = expected_by(asking, flow, max(day, moment.today) + timedelta(days=_MOST_DAYS))
    if slots.instead_of is not None:
        instead = day_of(moment, slots.instead_of, is_past=False)
        coming = [one for one in coming if instead in (one.nominal, one.lands)]
    if slots.verbs & {"put_off", "sooner"}:
        coming = [one for one in coming if (one.lands < day) == ("put_off" in slots.verbs)]
    if not coming:
        part = slots.instead_of or phrase
        raise NotUnderstood(slots.said.between(part.begin, part.end))
    nearest = min(coming, key=lambda one: abs(one.lands - day))
    for one in dict.fromkeys([nearest] if slots.verbs & {"put_off", "sooner"} else [nearest, coming[0]]):
        yield one, day


def _in_its_month(asking: Asking, month: int, phrase: Phrase) -> date:
    if phrase.words[0] != "ordinal" and phrase.sort != "ordinal":
        return day_of(asking.moment, phrase, is_past=False)
    try:
        return date(month // 12, month % 12 + 1, number_in(phrase.words[-1]))
    except ValueError:
        raise NotUnderstood(asking.said.said.between(phrase.begin, phrase.end)) from None


def _days(verbs: set[str], phrase: Phrase) -> int:
    text = phrase.words[-1]
    count = (number_in(text) or 1) * (7 if meaning_of("unit", text) == "week" else 1)
    return -count if meaning_of("shift", text) == "earlier" or "sooner" in verbs else count


def _moved(asking: Asking, flow: Flow, one: Occurrence, day: date, phrase: Phrase) -> Reading:
    if not 0 < abs((day - one.lands).days) <= _MOST_DAYS or day < asking.moment.today:
        raise NotUnderstood(asking.said.said.between(phrase.begin, phrase.end))
    change = Meant("once", "flow", flow.id, {"moved_to": day.isoformat()}, nominal=one.nominal)
    sentence = f"“{flow.name}” of {on_day(asking, one.lands)} comes on {on_day(asking, day)}, just this once"
    used = ("name", "month", "day", "shifted", *(["ends"] if phrase.sort == "until_day" else []))
    instead = [] if asking.said.months else ["instead_of"]
    return Reading(sentence, changes=[change], unused=asking.said.besides(*used, *instead))
