"""A rule moved to another day of its week or month: the 15th to the 17th, Friday to Monday."""

from collections.abc import Sequence
from datetime import date

from next_penny.core.dates.calendar import month_length, month_number, weekday
from next_penny.core.dates.rules import WEEKDAYS, parse_rule


def moved_rules(rules: Sequence[str], nominal: date, day: date) -> tuple[str, ...] | None:
    """Rules that give `day` in the place of `nominal`, and as before otherwise; None where no rule can say so.

    A weekly rule is moved within its week (from the weekday its weeks begin on), a monthly or yearly one within its
    month, by the one part of it that names the nominal day.
    """
    for place, text in enumerate(rules):
        moved = _moved(text, nominal, day)
        if moved is not None:
            return (*rules[:place], moved, *rules[place + 1 :])
    return None


def _moved(text: str, nominal: date, day: date) -> str | None:
    rule = parse_rule(text)
    if rule.by_set_position or any(ordinal for ordinal, _ in rule.by_day) or rule.count is not None:
        return None
    if rule.frequency == "WEEKLY":
        if _week(nominal, rule.week_start) != _week(day, rule.week_start):
            return None
        old, new = WEEKDAYS[weekday(nominal.toordinal())], WEEKDAYS[weekday(day.toordinal())]
        return _with_part(text, "BYDAY", old, new)
    if rule.frequency in ("MONTHLY", "YEARLY") and not rule.by_day:
        if month_number(nominal) != month_number(day):
            return None
        named = rule.by_month_day or (nominal.day,)
        length = month_length(month_number(nominal))
        old_number = next((number for number in named if _lands(number, length) == nominal.day), None)
        if old_number is None:
            return None
        if rule.frequency == "YEARLY" and not rule.by_month and not rule.by_month_day:
            # Without its month a day of the month would be one of every month (RFC 5545).
            text = _with_part(text, "BYMONTH", "", str(day.month))
        return _with_part(text, "BYMONTHDAY", str(old_number), str(day.day))
    return None


def _week(day: date, week_start: int) -> int:
    return (day.toordinal() - 1 - week_start) // 7


def _lands(number: int, length: int) -> int:
    """The day of the month that BYMONTHDAY names: negative ones from its end, those beyond it on its last day."""
    return max(1, length + 1 + number) if number < 0 else min(number, length)


def _with_part(text: str, name: str, old: str, new: str) -> str:
    """The rule with one value of a part in the place of another; a part that it lacks is added."""
    parts = text.rstrip(";").split(";")
    for place, part in enumerate(parts):
        key, _, value = part.partition("=")
        if key.strip().upper() == name:
            values = [
                new if one_part.strip().upper().removeprefix("+") == old else one_part for one_part in value.split(",")
            ]
            return ";".join([*parts[:place], f"{key}={','.join(dict.fromkeys(values))}", *parts[place + 1 :]])
    return ";".join([*parts, f"{name}={new}"])
