"""A rhythm as one picks it part by part, and the rule (RFC 5545, as docs/rules.md names it) that it comes to.

Not every rule is one: those that a picker cannot show are told in a sentence alone.
"""

from dataclasses import dataclass, fields
from datetime import date
from typing import Literal

from next_penny.core.dates.rules import WEEKDAYS, Frequency, Rule, RuleError, parse_rule

Within = Literal["days", "weekday"]


@dataclass(frozen=True, slots=True)
class Rhythm:
    """Every so many days, weeks, months or years; each part is there, also those that its unit does not use.

    weekdays: `MO` to `SU`, of weeks. within: whether months and years have `month_days` (-1 is the last) or the
    `place`-th `place_day` (-1: the last). months: 1 to 12, of years.
    """

    unit: Frequency
    every: int
    weekdays: tuple[str, ...]
    within: Within
    month_days: tuple[int, ...]
    place: int
    place_day: str
    months: tuple[int, ...]


def rhythm_from(day: date, unit: Frequency = "MONTHLY") -> Rhythm:
    """The rhythm that begins on a day: on that weekday, that day of the month, in that month."""
    weekday = WEEKDAYS[day.weekday()]
    return Rhythm(unit, 1, (weekday,), "days", (day.day,), 1, weekday, (day.month,))


def rhythm_of(text: str, start: date) -> Rhythm | None:
    """The rhythm that a rule is for something that starts on a day; None for rules that are none, or cannot be read."""
    try:
        rule = parse_rule(text)
    except RuleError:
        return None
    usual = rhythm_from(start, rule.frequency)
    if not _is_pickable(rule):
        return None
    weekdays = tuple(WEEKDAYS[weekday] for ordinal, weekday in rule.by_day if not ordinal)
    nth = next(((ordinal, WEEKDAYS[weekday]) for ordinal, weekday in rule.by_day if ordinal), None)
    rhythm = Rhythm(
        rule.frequency, rule.interval, weekdays or usual.weekdays, "weekday" if nth is not None else "days",
        rule.by_month_day or usual.month_days, nth[0] if nth is not None else usual.place,
        nth[1] if nth is not None else usual.place_day, rule.by_month or usual.months,
    )  # fmt: skip
    return rhythm if _says_all(rhythm, rule) else None


def _says_all(rhythm: Rhythm, rule: Rule) -> bool:
    """Whether the rule of a rhythm has everything that a rule says, parts that no picker knows among it."""
    spelt = parse_rule(rule_of(rhythm))
    pairs = ((getattr(rule, part.name), getattr(spelt, part.name)) for part in fields(Rule))
    return all(value in ((), written) or (isinstance(value, tuple) and {*value} == {*written})
               for value, written in pairs)  # fmt: skip


def _is_pickable(rule: Rule) -> bool:
    """Whether a picker has a gap for each part of a rule."""
    nth = [ordinal for ordinal, _ in rule.by_day if ordinal]
    match rule.frequency:
        case "DAILY":
            return not (rule.by_day or rule.by_month_day or rule.by_month)
        case "WEEKLY":
            return not (nth or rule.by_month_day or rule.by_month)
        case "MONTHLY" | "YEARLY":
            is_one = not rule.by_day or (len(rule.by_day) == 1 and nth[:1] in ([1], [2], [3], [4], [-1]))
            says_days = bool(rule.by_day or rule.by_month_day)
            in_months = not rule.by_month if rule.frequency == "MONTHLY" else bool(rule.by_month) or not says_days
            counts_forward = all(day >= -1 for day in rule.by_month_day)
            return is_one and in_months and counts_forward and not (rule.by_day and rule.by_month_day)


def rule_of(rhythm: Rhythm) -> str:
    """The rule that a rhythm comes to."""
    parts = [f"FREQ={rhythm.unit}"]
    if rhythm.every != 1:
        parts.append(f"INTERVAL={rhythm.every}")
    if rhythm.unit == "WEEKLY":
        parts.append(f"BYDAY={','.join(day for day in WEEKDAYS if day in rhythm.weekdays)}")
    if rhythm.unit == "YEARLY":
        parts.append(f"BYMONTH={','.join(map(str, rhythm.months))}")
    if rhythm.unit in ("MONTHLY", "YEARLY"):
        days = f"BYMONTHDAY={','.join(map(str, rhythm.month_days))}"
        parts.append(days if rhythm.within == "days" else f"BYDAY={rhythm.place}{rhythm.place_day}")
    return ";".join(part for part in parts if not part.endswith("="))
