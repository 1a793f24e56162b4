"""Rules as text and as data: the subset of RFC 5545 recurrence rules that docs/rules.md names."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Literal, get_args

from next_penny.core.problems import NextPennyError

Frequency = Literal["DAILY", "WEEKLY", "MONTHLY", "YEARLY"]


WEEKDAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")


Reader = Callable[[str], object]


class RuleError(NextPennyError, ValueError):
    """A rule that cannot be read; the message is a sentence for the person who wrote it."""


@dataclass(frozen=True, slots=True)
class Rule:
    """One recurrence rule. `by_day` holds (ordinal or 0, weekday) with Monday 0; empty parts do not restrict."""

    frequency: Frequency
    interval: int = 1
    by_day: tuple[tuple[int, int], ...] = ()
    by_month_day: tuple[int, ...] = ()
    by_month: tuple[int, ...] = ()
    by_set_position: tuple[int, ...] = ()
    count: int | None = None
    until: date | None = None
    week_start: int = 0
    clip: bool = True


@lru_cache(maxsize=4096)
def parse_rule(text: str) -> Rule:
    """Read a rule such as `FREQ=MONTHLY;BYMONTHDAY=15,-1`.

    Raises RuleError, with a sentence, for anything outside docs/rules.md.
    """
    parts: dict[str, str] = {}
    for part in text.removeprefix("RRULE:").strip().rstrip(";").split(";"):
        name, equals, value = part.partition("=")
        name = name.strip().upper()
        if not equals or not value.strip():
            raise RuleError(f"“{part}” in the rule is not of the form NAME=value.")
        if name in parts:
            raise RuleError(f"The rule gives {name} twice.")
        parts[name] = value.strip().upper()
    unknown = parts.keys() - _READERS.keys() - {"FREQ", "RSCALE"}
    if unknown:
        raise RuleError(f"The rule uses {', '.join(sorted(unknown))}, which is not supported.")
    if parts.get("FREQ") not in get_args(Frequency):
        raise RuleError("A rule repeats DAILY, WEEKLY, MONTHLY or YEARLY: FREQ must be one of these.")
    if parts.get("RSCALE", "GREGORIAN") != "GREGORIAN":
        raise RuleError("Only the Gregorian calendar is supported: leave RSCALE out.")
    fields = {field: read(parts[name]) for name, (field, read) in _READERS.items() if name in parts}
    rule = Rule(parts["FREQ"], **fields)  # type: ignore[arg-type]
    _refuse_contradictions(rule)
    return rule


def _refuse_contradictions(rule: Rule) -> None:
    if rule.count is not None and rule.until is not None:
        raise RuleError("A rule ends by COUNT or by UNTIL, not both.")
    if rule.by_month_day and rule.frequency == "WEEKLY":
        raise RuleError("A weekly rule cannot name days of the month.")
    if any(ordinal for ordinal, _ in rule.by_day) and rule.frequency in ("DAILY", "WEEKLY"):
        raise RuleError("“Second Tuesday” and the like need a monthly or yearly rule.")
    if rule.by_set_position and not (rule.by_day or rule.by_month_day or rule.by_month):
        raise RuleError("BYSETPOS picks among days that BYDAY, BYMONTHDAY or BYMONTH give: name one of these.")


def _numbers(name: str, lowest: int, highest: int, *, negative: bool = False) -> Reader:
    def read(value: str) -> tuple[int, ...]:
        if not re.fullmatch(r"[+-]?\d{1,4}(,[+-]?\d{1,4})*", value):
            raise RuleError(f"{name} takes whole numbers with commas between them, not “{value}”.")
        numbers = tuple(int(number) for number in value.split(","))
        for number in numbers:
            if not lowest <= (abs(number) if negative else number) <= highest:
                raise RuleError(f"{name} takes {lowest} to {highest}{' or their negatives' if negative else ''}.")
        return numbers

    return read


def _number(name: str, highest: int) -> Reader:
    def read(value: str) -> int:
        if not value.isascii() or not value.isdigit() or not 1 <= int(value[:6]) <= highest:
            raise RuleError(f"{name} takes a whole number from 1 to {highest}.")
        return int(value)

    return read


def _days(value: str) -> tuple[tuple[int, int], ...]:
    days = []
    for item in value.split(","):
        match = re.fullmatch(r"([+-]?\d{1,2})?(MO|TU|WE|TH|FR|SA|SU)", item.strip())
        ordinal = int(match[1] or 0) if match else 0
        if not match or (match[1] and not 1 <= abs(ordinal) <= 53):
            raise RuleError(f"“{item}” is not a weekday such as FR, 2TU or -1MO.")
        days.append((ordinal, WEEKDAYS.index(match[2])))
    return tuple(days)


def _until(value: str) -> date:
    match = re.fullmatch(r"(\d{4})-?(\d{2})-?(\d{2})(T\d{6}Z?)?", value)
    try:
        return date(int(match[1]), int(match[2]), int(match[3])) if match else date.fromisoformat(value)
    except ValueError:
        raise RuleError(f"UNTIL takes a date such as 20271231, not “{value}”.") from None


def _week_start(value: str) -> int:
    if value not in WEEKDAYS:
        raise RuleError("WKST takes one weekday such as MO.")
    return WEEKDAYS.index(value)


def _skip(value: str) -> bool:
    if value not in ("BACKWARD", "OMIT"):
        raise RuleError("SKIP takes BACKWARD (the month's last day) or OMIT.")
    return value == "BACKWARD"


_READERS: dict[str, tuple[str, Reader]] = {
    "INTERVAL": ("interval", _number("INTERVAL", 999)),
    "BYDAY": ("by_day", _days),
    "BYMONTHDAY": ("by_month_day", _numbers("BYMONTHDAY", 1, 31, negative=True)),
    "BYMONTH": ("by_month", _numbers("BYMONTH", 1, 12)),
    "BYSETPOS": ("by_set_position", _numbers("BYSETPOS", 1, 366, negative=True)),
    "COUNT": ("count", _number("COUNT", 99999)),
    "UNTIL": ("until", _until),
    "WKST": ("week_start", _week_start),
    "SKIP": ("clip", _skip),
}
