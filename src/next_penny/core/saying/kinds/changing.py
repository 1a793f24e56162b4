"""Sentences about a flow or an allowance that there is: another amount, limit or rhythm from a day on, or once."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

from next_penny.core.dates.calendar import month_end, month_start
from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import parse_rule
from next_penny.core.dates.sentences import full_day, recurrence_sentence
from next_penny.core.flows.makers import next_occurrences
from next_penny.core.flows.settled import usual_amount
from next_penny.core.money import LARGEST_AMOUNT, format_amount, round_half_up
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import PERIOD_NAMES
from next_penny.core.plan.flows import Flow
from next_penny.core.saying.asking import Asking, on_day
from next_penny.core.saying.days import day_of, month_of, number_in
from next_penny.core.saying.kinds.single_dates import one_date
from next_penny.core.saying.phrases import NotUnderstood
from next_penny.core.saying.readings import Meant, Reading
from next_penny.core.saying.rhythms import Rhythm, takes_days

_PERIODS = {"FREQ=WEEKLY": "week", "FREQ=WEEKLY;INTERVAL=2": "two_weeks", "FREQ=MONTHLY": "month"}


def change_flow(asking: Asking, flow: Flow, rhythm: Rhythm | None) -> Reading:
    """A flow that is to be another from a day on, for a while, or just once."""
    slots, account = asking.said, asking.moment.plan.account_by_id[flow.main_account or ""]
    amount = _amount(asking, flow, account, rhythm)
    if is_just_once(asking, rhythm):
        return _just_once(asking, flow, amount, account)
    start = (said_start(asking, rhythm) if rhythm is not None else begins(asking)) or _next_or_today(asking, flow)
    if rhythm is not None and not slots.days:
        rhythm = _on_its_days(flow, rhythm, start)
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
    sentence = f"“{flow.name}” is {' '.join(wordings) or '…'} from {on_day(asking, start)}"
    if start < asking.moment.today:
        sentence = f"This changes days that have passed: {sentence}"
    change = Meant("revise", "flow", flow.id, value, start)
    if slots.ends is not None and list(value) == ["amount"] and flow.growth is None:
        return _for_a_while(asking, flow, change, sentence)
    was = format_amount(usual_amount(asking.moment, flow, start), account.currency)
    unused = slots.besides("name", "amounts", "percents", "rhythm", "days", "begins")
    return Reading(f"{sentence} on ({was} until then)", changes=[change], unused=unused)


def _on_its_days(flow: Flow, rhythm: Rhythm, start: date) -> Rhythm:
    """A rhythm for which no day is said keeps the flow's: what comes on Mondays does so every two weeks, too."""
    revised = flow.rule_steps.on(start)
    before = revised[1] if revised is not None else flow.rules
    if len(before) != 1 or len(rhythm.rules) != 1 or "BY" in rhythm.rules[0]:
        return rhythm
    parts, own = rhythm.rules[0].split(";"), before[0].split(";")
    days = [part for part in own if part.startswith(("BYDAY=", "BYMONTHDAY="))]
    return replace(rhythm, rules=(";".join([*parts, *days]),)) if parts[0] == own[0] else rhythm


def is_just_once(asking: Asking, rhythm: Rhythm | None) -> bool:
    """Whether one date alone is meant: the next one, one in a month, one on a day."""
    slots = asking.said
    return bool(slots.is_once or slots.months or (slots.days and rhythm is None and slots.begins is None))


def _for_a_while(asking: Asking, flow: Flow, change: Meant, sentence: str) -> Reading:
    """From a day to a day; then it is what it would have been."""
    slots, last, start = asking.said, ends(asking), change.start
    if last is None or start is None or last < start:
        raise NotUnderstood(slots.said.between(slots.ends.begin, slots.ends.end) if slots.ends else flow.name)
    after = last + timedelta(days=1)
    currency = asking.moment.plan.account_by_id[flow.main_account or ""].currency
    was, will = (usual_amount(asking.moment, flow, day) for day in (start, after))
    other = f"{format_amount(was, currency)} until then"
    other += f", {format_amount(will, currency)} after it" if will != was else " and after it"
    back = Meant("revise", "flow", flow.id, {"amount": will}, after)
    unused = slots.besides("name", "amounts", "percents", "days", "begins", "ends")
    return Reading(f"{sentence} until {full_day(last)} ({other})", changes=[change, back], unused=unused)


def begins(asking: Asking) -> date | None:
    """The day from which it is said to hold."""
    slots, moment = asking.said, asking.moment
    if slots.begins is not None and slots.begins.sort == "from_month":
        return date.fromordinal(month_start(month_of(moment, slots.begins)))
    if slots.begins is not None and slots.begins.sort == "from_year":
        return date(number_in(slots.begins.words[-1]) or moment.today.year + 1, 1, 1)
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


def _amount(asking: Asking, flow: Flow, account: Account, rhythm: Rhythm | None) -> int | None:
    """The amount that is said, or what a share more or less makes of the one in force; none where a rhythm alone is."""
    slots = asking.said
    signed = 1 if "up" in slots.verbs else -1 if "down" in slots.verbs else 0
    if slots.percents:
        share = Fraction(asking.percent() or Decimal(0)) * (signed or 1) / 100
        if not signed:
            raise NotUnderstood(slots.percents[0])
        amount_now = usual_amount(asking.moment, flow, begins(asking) or asking.moment.today)
        return _checked(round_half_up(amount_now * (1 + share)), slots.percents[0])
    is_said = bool(slots.amounts or "amount" in asking.answers)
    if not is_said and (not slots.verbs or (rhythm is not None and not signed)):
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
    one = one_date(asking, flow)
    if amount is None:
        asking.need("amount")
    wording = format_amount(amount, account.currency) if amount is not None else "…"
    sentence = f"“{flow.name}” of {on_day(asking, one.lands)} is {wording}, just this once"
    change = Meant("once", "flow", flow.id, {"amount": amount}, nominal=one.nominal)
    unused = asking.said.besides("name", "amounts", "percents", "month" if asking.said.months else "day")
    return Reading(sentence, changes=[change], unused=unused)


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
        unused=asking.said.besides("name", "amounts", "rhythm", "begins"),
    )
