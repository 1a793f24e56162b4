"""Sentences about a flow that there is: another amount or rhythm from a day on, or once; one date left out; its end."""

from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import parse_rule
from next_penny.core.dates.sentences import full_day, month_name, recurrence_sentence
from next_penny.core.flows.makers import Occurrence, expected, next_occurrences
from next_penny.core.flows.settled import usual_amount
from next_penny.core.money import LARGEST_AMOUNT, format_amount, round_half_up
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import PERIOD_NAMES
from next_penny.core.plan.flows import Flow
from next_penny.core.saying.asking import Asking, on_day
from next_penny.core.saying.days import day_of, month_of
from next_penny.core.saying.phrases import NotUnderstood
from next_penny.core.saying.readings import Meant, Reading
from next_penny.core.saying.rhythms import Rhythm, takes_days

# A date may land so many days from its own.
_REACH = 31
_PERIODS = {"FREQ=WEEKLY": "week", "FREQ=WEEKLY;INTERVAL=2": "two_weeks", "FREQ=MONTHLY": "month"}


def change_flow(asking: Asking, flow: Flow, rhythm: Rhythm | None) -> Reading:
    """A flow that is to be another from a day on, or just once."""
    account = asking.moment.plan.account_by_id[flow.main_account or ""]
    amount = _amount(asking, flow, account)
    if (
        asking.said.is_once
        or asking.said.months
        or (asking.said.days and rhythm is None and asking.said.begins is None)
    ):
        return _just_once(asking, flow, amount, account)
    start = (said_start(asking, rhythm) if rhythm is not None else begins(asking)) or _next_or_today(asking, flow)
    value: dict[str, object] = {}
    if amount is not None:
        value["amount"] = amount
    if rhythm is not None:
        value["rules"] = list(rhythm.rules)
    if not value:
        asking.need("amount")
    wordings = [format_amount(amount, account.currency)] if amount is not None else []
    if rhythm is not None:
        rules = tuple(parse_rule(rule) for rule in rhythm.rules)
        wordings.append(recurrence_sentence(Recurrence(rules, start=start)))
    was = format_amount(usual_amount(asking.moment, flow, start), account.currency)
    sentence = f"“{flow.name}” is {' '.join(wordings) or '…'} from {on_day(asking, start)} on ({was} until then)"
    if start < asking.moment.today:
        sentence = f"This changes days that have passed: {sentence}"
    return Reading(sentence, changes=[Meant("revise", "flow", flow.id, value, start)])


def begins(asking: Asking) -> date | None:
    """The day from which it is said to hold."""
    slots, moment = asking.said, asking.moment
    if slots.begins is not None and slots.begins.sort == "from_month":
        return date.fromordinal(month_start(month_of(moment, slots.begins)))
    if slots.begins is not None:
        return day_of(moment, slots.begins, is_past=False)
    return moment.today if slots.from_now else None


def said_start(asking: Asking, rhythm: Rhythm) -> date | None:
    """The day from which a rhythm is said to hold: said so, or a day that is not the rhythm's own."""
    start = begins(asking)
    if start is None and asking.said.days and not takes_days(asking.said, rhythm):
        return day_of(asking.moment, asking.said.days[0], is_past=False)
    return start


def ends(asking: Asking) -> date | None:
    """The last day on which it is said to hold."""
    slots, moment = asking.said, asking.moment
    if slots.ends is None:
        return None
    if slots.ends.sort == "until_month":
        return date.fromordinal(month_end(month_of(moment, slots.ends)))
    return day_of(moment, slots.ends, is_past=False)


def _next_or_today(asking: Asking, flow: Flow) -> date:
    """Where nothing is said of when: from the next date that is still to come."""
    coming = next_occurrences(asking.moment, flow, asking.moment.today - timedelta(days=1), 1)
    return min(coming[0].nominal, coming[0].lands) if coming else asking.moment.today


def _amount(asking: Asking, flow: Flow, account: Account) -> int | None:
    """The amount that is said, or what a share more or less makes of the one in force."""
    slots = asking.said
    signed = 1 if "up" in slots.verbs else -1 if "down" in slots.verbs else 0
    if slots.percents:
        share = Fraction(asking.percent() or Decimal(0)) * (signed or 1) / 100
        if not signed:
            raise NotUnderstood(slots.percents[0])
        amount_now = usual_amount(asking.moment, flow, begins(asking) or asking.moment.today)
        return _checked(round_half_up(amount_now * (1 + share)), slots.percents[0])
    if not slots.amounts and "amount" not in asking.answers and not slots.verbs:
        return None
    amount = asking.amount(account)
    if amount is None or not signed:
        return amount
    amount_now = usual_amount(asking.moment, flow, begins(asking) or asking.moment.today)
    return _checked(amount_now + signed * amount, slots.amounts[0])


def _checked(amount: int, part: str) -> int:
    if not 0 <= amount <= LARGEST_AMOUNT:
        raise NotUnderstood(part)
    return amount


def _just_once(asking: Asking, flow: Flow, amount: int | None, account: Account) -> Reading:
    one = _one_date(asking, flow)
    if amount is None:
        asking.need("amount")
    wording = format_amount(amount, account.currency) if amount is not None else "…"
    sentence = f"“{flow.name}” of {on_day(asking, one.lands)} is {wording}, just this once"
    return Reading(sentence, changes=[Meant("once", "flow", flow.id, {"amount": amount}, nominal=one.nominal)])


def _one_date(asking: Asking, flow: Flow) -> Occurrence:
    """The date of a flow that is meant: in a month, on a day, or the next. Raises NotUnderstood where there is none."""
    slots, moment = asking.said, asking.moment
    if slots.months:
        coming = _in_month(asking, flow)
    elif slots.days:
        day = day_of(moment, slots.days[0], is_past=False)
        coming = [
            occurrence for occurrence in _until(asking, flow, day) if day in (occurrence.nominal, occurrence.lands)
        ]
    else:
        coming = next_occurrences(moment, flow, moment.today - timedelta(days=1), 1)
    if not coming:
        part = slots.months[0] if slots.months else slots.days[0] if slots.days else None
        raise NotUnderstood(slots.said.between(part.begin, part.end) if part else flow.name)
    return coming[0]


def change_limit(asking: Asking, rhythm: Rhythm) -> Reading | None:
    """`groceries 400 a month` is said of the allowance of that name and period; None where there is none."""
    allowance = asking.allowance()
    if allowance is None or _PERIODS.get(rhythm.rules[0].split(";BY")[0]) != allowance.period:
        return None
    account = asking.moment.plan.account_by_id[allowance.account]
    amount = asking.amount(account)
    if amount is None:
        return None
    start = begins(asking) or asking.moment.today
    sentence = f"The limit of “{allowance.name}” is {format_amount(amount, account.currency)}"
    return Reading(
        f"{sentence} every {PERIOD_NAMES[allowance.period]} from {on_day(asking, start)} on",
        changes=[Meant("revise", "allowance", allowance.id, {"limit": amount}, start)],
    )


def leave_out(asking: Asking) -> Reading:
    """`no internet in may`, `no flute from july`: one date is left out, or the flow ends."""
    slots = asking.said
    flow = asking.flow()
    if flow is None:
        if "flow" in asking.choices:
            return Reading(f"Which “{slots.name}” is left out?")
        raise NotUnderstood(slots.name or slots.said.text)
    start = begins(asking)
    if start is None and "stops" in slots.verbs and not slots.months and not slots.is_once:
        start = day_of(asking.moment, slots.days[0], is_past=False) if slots.days else asking.moment.today
    if start is not None:
        last = start - timedelta(days=1)
        sentence = f"“{flow.name}” ends: its last day is {full_day(last)}"
        return Reading(sentence, changes=[Meant("update", "flow", flow.id, {"until": last.isoformat()})])
    if not (slots.months or slots.days or slots.is_once):
        asking.need("date")
        return Reading(f"“{flow.name}” is left out on …")
    left = (_in_month(asking, flow) if slots.months else []) or [_one_date(asking, flow)]
    days = ", ".join(on_day(asking, occurrence.lands) for occurrence in left)
    where = f" in {month_name(month_of(asking.moment, slots.months[0]))}" if slots.months else ""
    changes = [Meant("once", "flow", flow.id, {"left_out": True}, nominal=occurrence.nominal) for occurrence in left]
    return Reading(f"“{flow.name}” is left out{where}: {days}", changes=changes)


def _in_month(asking: Asking, flow: Flow) -> list[Occurrence]:
    """What is expected of a flow with its own date in the month that is named."""
    month = month_of(asking.moment, asking.said.months[0])
    coming = _until(asking, flow, date.fromordinal(month_end(month)))
    return [occurrence for occurrence in coming if month_number(occurrence.nominal) == month]


def _until(asking: Asking, flow: Flow, last: date) -> list[Occurrence]:
    """What is expected of a flow around a day and before it, today and later."""
    rows = expected(asking.moment, flow, last.toordinal() + _REACH)
    return [Occurrence(date.fromordinal(nominal), date.fromordinal(lands), amount)
            for nominal, lands, amount in zip(*(column.tolist() for column in rows), strict=True)
            if lands >= asking.moment.now]  # fmt: skip
