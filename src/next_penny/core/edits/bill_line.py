"""A bill as one line: what it is, how much, and on which day of the month or week (“Rent 1150 1st”)."""

import re
from dataclasses import replace
from datetime import date

from next_penny.core.dates.recurrence import recurrence_days
from next_penny.core.dates.sentences import full_day, recurrence_sentence
from next_penny.core.money import LARGEST_AMOUNT, format_amount, read_amount, words_of
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import Flow
from next_penny.core.problems import PlanError, refused

_WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
_BETWEEN = {"on", "the", "every", "each", "of", "month", "day"}
_DAY_OF_MONTH = re.compile(r"(\d{1,2})(st|nd|rd|th|\.)?")
_LAST_DAY_OF_MONTH = 31
_SHORTEST_WEEKDAY = 3
_A_YEAR = 366


def read_bill_line(id: str, text: str, account: Account, today: date) -> Flow:
    """The bill that a line says, paid from an account from today on. Raises PlanError at `text`.

    The amount is written as the household writes amounts; what stands before it is the name, after it the day.
    """
    words = words_of(text)
    amounts = [(place, amount) for place in range(len(words)) if (amount := _amount(words[place], account)) is not None]
    # “Loan 2 250 3rd”: the day may be a bare number too, so the last number before it is the amount.
    for place, amount in reversed(amounts):
        rule = _rule_of(words[place + 1 :])
        if rule is not None:
            return _bill(
                id, " ".join(words[:place]).replace("\N{NARROW NO-BREAK SPACE}", " "), amount, rule, account, today
            )
    if not amounts:
        raise refused("text", "Say how much it is, such as “Rent 1150 1st”.", "needed")
    raise refused("text", "Say on which day it is due, such as “Rent 1150 1st” or “Choir 12 Friday”.", "needed")


def _amount(word: str, account: Account) -> int | None:
    try:
        return read_amount(word, account.currency)
    except PlanError:
        return None


def _rule_of(words: list[str]) -> str | None:
    """What is said after the amount, as a rule; None where it is no day."""
    said = [word for word in (word.lower().strip(",;") for word in words) if word not in _BETWEEN]
    if len(said) != 1:
        return None
    (day,) = said
    if day == "last":
        return "FREQ=MONTHLY;BYMONTHDAY=-1"
    if (number := _DAY_OF_MONTH.fullmatch(day)) and 1 <= int(number[1]) <= _LAST_DAY_OF_MONTH:
        return f"FREQ=MONTHLY;BYMONTHDAY={int(number[1])}"
    stem = day.rstrip(".").removesuffix("s") if len(day) > _SHORTEST_WEEKDAY else day
    meant = [name for name in _WEEKDAYS if len(stem) >= _SHORTEST_WEEKDAY and name.startswith(stem)]
    return f"FREQ=WEEKLY;BYDAY={meant[0][:2].upper()}" if len(meant) == 1 else None


def _bill(id: str, name: str, amount: int, rule: str, account: Account, today: date) -> Flow:
    if not name:
        raise refused("text", "Say what it is, before the amount.", "needed")
    if not 0 < amount <= LARGEST_AMOUNT:
        raise refused("text", "Write an amount above zero that money can be counted in.", "range")
    return replace(Flow(id, name, "bill", amount, account.id, None), rules=(rule,), start=today)


def bill_sentence(bill: Flow, account: Account, today: date) -> str:
    """What a line was read as: amount, rhythm, account and first day."""
    amount, when = format_amount(bill.amount, account.currency), bill.schedule(today)
    days = recurrence_days(when, today.toordinal(), today.toordinal() + _A_YEAR)
    first = f", first on {full_day(date.fromordinal(days[0]))}" if days else ""
    return f"{bill.name}: {amount} {recurrence_sentence(when)} from {account.name}{first}"
