"""Rules and dates in words: what a person reads instead of RFC 5545."""

from collections.abc import Sequence
from datetime import date

from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import Rule
from next_penny.core.dates.writing import current

DAY_NAMES = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MONTH_NAMES = (
    "January", "February", "March", "April", "May", "June", "July",
    "August", "September", "October", "November", "December",
)  # fmt: skip
_ORDINAL_WORDS = {1: "first", 2: "second", 3: "third", 4: "fourth", 5: "fifth", -1: "last", -2: "second-to-last"}
_UNITS = {"DAILY": "day", "WEEKLY": "week", "MONTHLY": "month", "YEARLY": "year"}
_WORKDAYS, _WEEKEND = {0, 1, 2, 3, 4}, {5, 6}


def short_day(day: date) -> str:
    """`Thu 18 Mar`, or `Thu Mar 18`."""
    return f"{day:%a} {_in_order(day.day, f'{day:%b}')}"


def full_day(day: date) -> str:
    """`18 March 2027`, or `March 18, 2027`."""
    comma = "" if _is_day_first() else ","
    return f"{_in_order(day.day, MONTH_NAMES[day.month - 1])}{comma} {day.year}"


def _is_day_first() -> bool:
    return current().date_order == "day_first"


def _in_order(day: int, month: str) -> str:
    return f"{day} {month}" if _is_day_first() else f"{month} {day}"


def month_name(month: int) -> str:
    """A month number as `March 2027`."""
    return f"{MONTH_NAMES[month % 12]} {month // 12}"


def joined(words: Sequence[str], last: str = "and") -> str:
    """`a, b and c`."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} {last} {words[-1]}" if words else ""


def ordinal(number: int) -> str:
    """`1st`, `22nd`, `13th`."""
    suffix = "th" if 10 <= number % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{suffix}"


def recurrence_sentence(schedule: Recurrence) -> str:
    """A schedule as one phrase: `every 2 weeks on Friday until 3 March 2028`."""
    phrases = [rule_sentence(rule, schedule.start) for rule in schedule.rules]
    if schedule.dates:
        shown = [full_day(day) for day in sorted(schedule.dates)[:4]]
        more = len(schedule.dates) - len(shown)
        phrases.append("on " + joined(shown + ([f"{more} more dates"] if more > 0 else [])))
    if not phrases:
        return "on no date yet"
    text = joined(phrases)
    if schedule.until:
        text += f" until {full_day(schedule.until)}"
    if schedule.count is not None:
        text += f", {_times(schedule.count)}"
    return text


def rule_sentence(rule: Rule, start: date) -> str:
    """One rule as a phrase; what the rule leaves open comes from `start`, as in the rule itself."""
    text = _picked(rule) if rule.by_set_position else _PHRASES[rule.frequency](rule, start)
    if rule.by_month and rule.frequency != "YEARLY":
        text += f" in {joined([MONTH_NAMES[month - 1] for month in sorted(rule.by_month)])}"
    if not rule.clip:
        text += ", skipping months without that day"
    if rule.until:
        text += f" until {full_day(rule.until)}"
    if rule.count is not None:
        text += f", {_times(rule.count)}"
    return text


def _times(count: int) -> str:
    return "once" if count == 1 else f"{count} times"


def _every(rule: Rule) -> str:
    unit = _UNITS[rule.frequency]
    return f"every {unit}" if rule.interval == 1 else f"every {rule.interval} {unit}s"


def _daily(rule: Rule, start: date) -> str:
    text = _every(rule)
    if rule.by_month_day:
        text += f" that is {_days_of_month(rule.by_month_day)} of a month"
    if rule.by_day:
        text += f" that is {joined([DAY_NAMES[day] for _, day in rule.by_day], 'or')}"
    return text


def _weekly(rule: Rule, start: date) -> str:
    days = {day for _, day in rule.by_day} or {start.weekday()}
    if days == _WORKDAYS:
        names = "Monday to Friday"
    elif days == _WEEKEND:
        names = "Saturday and Sunday"
    else:
        names = joined([DAY_NAMES[day] for day in sorted(days)])
    return f"{_every(rule)} on {names}"


def _monthly(rule: Rule, start: date) -> str:
    days = _days_within(rule, start.day)
    return f"on {days} of every month" if rule.interval == 1 else f"{_every(rule)} on {days}"


def _days_within(rule: Rule, default_day: int) -> str:
    if rule.by_month_day:
        text = _days_of_month(rule.by_month_day)
        return f"{text} if a {joined([_weekday(item) for item in rule.by_day], 'or')}" if rule.by_day else text
    if rule.by_day:
        every = all(number == 0 for number, _ in rule.by_day)
        return ("every " if every else "the ") + joined([_weekday(item) for item in rule.by_day])
    return _days_of_month((default_day,))


def _days_of_month(days: Sequence[int]) -> str:
    ordered = [day for day in days if day > 0] + [day for day in days if day < 0]
    return "the " + joined([_day_of_month(day) for day in ordered])


def _day_of_month(day: int) -> str:
    if day > 0:
        return ordinal(day)
    return "last day" if day == -1 else f"{_ordinal_word(day)} day"


def _ordinal_word(number: int) -> str:
    return _ORDINAL_WORDS.get(number) or (ordinal(number) if number > 0 else f"{ordinal(-number)}-to-last")


def _weekday(item: tuple[int, int]) -> str:
    number, day = item
    return f"{_ordinal_word(number)} {DAY_NAMES[day]}" if number else DAY_NAMES[day]


def _yearly(rule: Rule, start: date) -> str:
    months = [MONTH_NAMES[month - 1] for month in sorted(rule.by_month)]
    if not rule.by_day:
        if not months and not rule.by_month_day:
            months = [MONTH_NAMES[start.month - 1]]
        days = rule.by_month_day or (start.day,)
        if months and all(day > 0 for day in days):
            return f"{_every(rule)} on {joined([_in_order(day, month) for month in months for day in days])}"
    where = f" of {joined(months)}" if months else " of each month" if rule.by_month_day else " of the year"
    return f"{_every(rule)} on {_days_within(rule, start.day)}{where}"


def _picked(rule: Rule) -> str:
    """`the last of Monday to Friday in every month`: a choice among the days of each period."""
    places = joined([_ordinal_word(place) for place in rule.by_set_position])
    days = {day for _, day in rule.by_day}
    if days == _WORKDAYS and not rule.by_month_day:
        among = "weekday"
    elif days == _WEEKEND and not rule.by_month_day:
        among = "weekend day"
    elif rule.by_day:
        among = joined([_weekday(item) for item in rule.by_day], "or")
        among += f" that is {_days_of_month(rule.by_month_day)}" if rule.by_month_day else ""
    else:
        among = f"of {_days_of_month(rule.by_month_day)}" if rule.by_month_day else "such day"
    period = _every(rule).removeprefix("every ")
    period = f"every {period}" if rule.interval == 1 else f"each {period}"
    if rule.frequency == "YEARLY" and rule.by_month:
        period += f" in {joined([MONTH_NAMES[month - 1] for month in sorted(rule.by_month)])}"
    return f"on the {places} {among} of {period}"


_PHRASES = {"DAILY": _daily, "WEEKLY": _weekly, "MONTHLY": _monthly, "YEARLY": _yearly}
