"""A bill as one line: what it is, how much, and when: “Rent 1150 1st”, “Insurance 600 every year on Feb 29”."""

import re
from dataclasses import replace
from datetime import date
from typing import Any

from next_penny.core.books.moment import Moment
from next_penny.core.dates.recurrence import recurrence_days
from next_penny.core.dates.sentences import full_day, recurrence_sentence
from next_penny.core.money import LARGEST_AMOUNT, format_amount, read_amount, words_of
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import Flow
from next_penny.core.problems import PlanError, refused
from next_penny.core.saying.asking import Asking
from next_penny.core.saying.gathered import gathered
from next_penny.core.saying.kinds.planning import when
from next_penny.core.saying.phrases import NotUnderstood, said
from next_penny.core.saying.rhythms import rhythm_of

_WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
_BETWEEN = {"on", "the", "every", "each", "of", "month", "day"}
_HAS_DIGIT, _IS_PLAIN = re.compile(r"\d"), re.compile(r"[^A-Za-z]*")
_DAY_OF_MONTH = re.compile(r"(\d{1,2})(st|nd|rd|th|\.)?")
_LAST_DAY_OF_MONTH = 31
_SHORTEST_WEEKDAY = 3
# By then the first day of any rhythm has come, also of one on February 29.
_FAR = 9 * 366


def read_bill_line(moment: Moment, id: str, text: str, account: Account) -> Flow:
    """The bill that a line says, paid from an account from today on. Raises PlanError at `text`.

    The amount is written as the household writes amounts; what stands before it is the name, after it when it is due:
    a day of the month or week, a rhythm, or one day.
    """
    words, unread = words_of(text), None
    # “Loan 2 250 3rd”: the day may be a bare number too, so the last number before it is the amount.
    for place in reversed(range(len(words))):
        if not _HAS_DIGIT.search(words[place]):
            continue
        due = _when(moment, words[place + 1 :])
        if due is None:
            continue
        try:
            amount = read_amount(words[place], account.currency)
        except PlanError as error:
            # “Flat 4b”: a number in a name is none that was meant to be read.
            unread = unread or (error if _IS_PLAIN.fullmatch(words[place]) else None)
        else:
            return _bill(id, " ".join(words[:place]).replace("\N{NARROW NO-BREAK SPACE}", " "), amount, due, account)
    if unread is not None:
        raise refused("text", str(unread), "amount")
    if not any(map(_HAS_DIGIT.search, words)):
        raise refused("text", "Say how much it is, such as “Rent 1150 1st”.", "needed")
    raise refused("text", "Say on which day it is due, such as “Rent 1150 1st” or “Choir 12 Friday”.", "needed")


def _when(moment: Moment, words: list[str]) -> dict[str, Any] | None:
    """What is said after the amount, as the fields of a flow that say when it occurs; None where it is no day."""
    if (rule := _rule_of(words)) is not None:
        return {"rules": (rule,), "start": moment.today}
    try:
        slots = gathered(said(" ".join(words), ()))
        asking = Asking(moment, slots, [], {})
        rhythm, day = rhythm_of(moment, slots), asking.day(is_past=False)
        if slots.verbs or slots.rest or slots.besides("rhythm", "days" if rhythm else "day", "begins", "ends"):
            return None
        if rhythm is None:
            return {"dates": (day,)} if day is not None and day >= moment.today else None
        fields = when(asking, rhythm)
    except NotUnderstood:
        return None
    bounds = {name: date.fromisoformat(fields[name]) for name in ("start", "until") if name in fields}
    return fields | bounds | {"rules": tuple(fields["rules"])}


def _rule_of(words: list[str]) -> str | None:
    """What is said after the amount, as a rule; None where it is no day."""
    telling = [word for word in (word.lower().strip(",;") for word in words) if word not in _BETWEEN]
    if len(telling) != 1:
        return None
    (day,) = telling
    if day == "last":
        return "FREQ=MONTHLY;BYMONTHDAY=-1"
    if (number := _DAY_OF_MONTH.fullmatch(day)) and 1 <= int(number[1]) <= _LAST_DAY_OF_MONTH:
        return f"FREQ=MONTHLY;BYMONTHDAY={int(number[1])}"
    stem = day.rstrip(".").removesuffix("s") if len(day) > _SHORTEST_WEEKDAY else day
    meant = [name for name in _WEEKDAYS if len(stem) >= _SHORTEST_WEEKDAY and name.startswith(stem)]
    return f"FREQ=WEEKLY;BYDAY={meant[0][:2].upper()}" if len(meant) == 1 else None


def _bill(id: str, name: str, amount: int, due: dict[str, Any], account: Account) -> Flow:
    if not name:
        raise refused("text", "Say what it is, before the amount.", "needed")
    if not 0 < amount <= LARGEST_AMOUNT:
        raise refused("text", "Write an amount above zero that money can be counted in.", "range")
    return replace(Flow(id, name, "bill", amount, account.id, None), **due)


def bill_sentence(bill: Flow, account: Account, today: date) -> str:
    """What a line was read as: amount, rhythm, account and first day."""
    amount, schedule = format_amount(bill.amount, account.currency), bill.schedule(today)
    days = recurrence_days(schedule, today.toordinal(), today.toordinal() + _FAR) if bill.rules else []
    first = f", first on {full_day(date.fromordinal(days[0]))}" if days else ""
    return f"{bill.name}: {amount} {recurrence_sentence(schedule)} from {account.name}{first}"
