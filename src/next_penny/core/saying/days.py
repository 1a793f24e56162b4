"""Days as they are said, as dates: from today on, or, in the past tense, back from it (docs/rules.md)."""

import re
from collections.abc import Callable
from datetime import date, timedelta

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_end, month_number
from next_penny.core.dates.rules import WEEKDAYS
from next_penny.core.dates.writing import current
from next_penny.core.flows.makers import next_occurrences
from next_penny.core.saying.phrases import NotUnderstood, Phrase, meaning_of

_MOST_MONTHS = 12 * 9


def day_of(moment: Moment, phrase: Phrase, *, is_past: bool) -> date:
    """The date that a phrase of a day means. Raises NotUnderstood where there is none."""
    day = _READERS[phrase.sort if phrase.sort in _READERS else phrase.words[0]](moment, phrase, is_past)
    if day is None:
        raise NotUnderstood(" ".join(word for word in phrase.words if word not in _READERS))
    return day


def month_of(moment: Moment, phrase: Phrase, *, is_past: bool = False) -> int:
    """The month (its number) that is named: this year's or the next one's; in the past tense the last."""
    text, this = phrase.words[-1].lower(), month_number(moment.today)
    month = month_named(text)
    if month is None:
        return this + (1 if meaning_of("which", text) == "next" else 0)
    if (year := re.search(r"20\d\d", text)) is not None:
        return int(year[0]) * 12 + month
    ahead = (month - this) % 12
    return this + ahead - (12 if is_past and ahead else 0)


def month_named(text: str) -> int | None:
    """The month that a text names, January 0; None where it names none."""
    meant = meaning_of("month", text)
    return int(meant) - 1 if meant is not None else None


def weekday_code(text: str) -> str:
    """A weekday as in a rule: `FR`."""
    return meaning_of("weekday", text) or ""


def weekday_named(text: str) -> int:
    """A weekday, Monday 0."""
    return WEEKDAYS.index(weekday_code(text))


def place_of(text: str) -> int:
    """`second` is 2."""
    return int(meaning_of("place", text) or 0)


def _in_days(moment: Moment, phrase: Phrase, is_past: bool) -> date:
    text = phrase.words[-1]
    count, unit = number_in(text) or 1, meaning_of("unit", text)
    if unit == "month":
        return add_months(moment.today, count)
    return moment.today + timedelta(days=count * (7 if unit == "week" else 1))


def _iso(moment: Moment, phrase: Phrase, is_past: bool) -> date | None:
    return _made(*map(int, phrase.words[-1].split("-")))


def _slashed(moment: Moment, phrase: Phrase, is_past: bool) -> date | None:
    numbers = list(map(int, phrase.words[-1].split("/")))
    day, month = numbers[:2] if current().date_order == "day_first" else numbers[1::-1]
    if len(numbers) > 2:
        return _made(numbers[2] + (2000 if numbers[2] < 100 else 0), month, day)
    return _nearest(moment, month, day, is_past)


def _month_day(moment: Moment, phrase: Phrase, is_past: bool) -> date | None:
    text = phrase.words[-1]
    month = (month_named(text) or 0) + 1
    year = re.search(r"20\d\d", text)
    day = number_in(re.sub(r"20\d\d", "", text))
    return _made(int(year[0]), month, day) if year else _nearest(moment, month, day, is_past)


def _nearest(moment: Moment, month: int, day: int, is_past: bool) -> date | None:
    """The next date of a year's day from today on, or the last up to today; 29 February in a year that has it."""
    step = -1 if is_past else 1
    years = (moment.today.year + step * ahead for ahead in range(9))
    dates = (_made(year, month, day) for year in years)
    return next((one_day for one_day in dates if one_day and step * (one_day - moment.today).days >= 0), None)


def number_in(text: str) -> int:
    """The first number in a text, in figures or a small one in words: of “23rd”, 23; 0 where there is none."""
    match = re.search(r"\d+", text)
    return int(match[0] if match is not None else meaning_of("number", text) or 0)


def _made(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day)
    except ValueError:
        return None


def _ordinal(moment: Moment, phrase: Phrase, is_past: bool) -> date | None:
    """The next day of a month with this number, or the last."""
    day, this, step = number_in(phrase.words[-1]), month_number(moment.today), -1 if is_past else 1
    months = (this + step * ahead for ahead in range(_MOST_MONTHS))
    dates = (_made(month // 12, month % 12 + 1, day) for month in months)
    return next((one_day for one_day in dates if one_day and step * (one_day - moment.today).days >= 0), None)


def _end_of_month(moment: Moment, phrase: Phrase, is_past: bool) -> date:
    this = month_number(moment.today)
    return date.fromordinal(month_end(this - 1 if is_past else this))


def _payday(moment: Moment, phrase: Phrase, is_past: bool) -> date | None:
    incomes = [flow for flow in moment.plan.flows if flow.kind == "income"]
    coming = [
        next_occurrence.lands for flow in incomes for next_occurrence in next_occurrences(moment, flow, moment.today, 1)
    ]
    return min(coming, default=None)


def _weekday(moment: Moment, phrase: Phrase, is_past: bool) -> date:
    wanted, today = weekday_named(phrase.words[-1]), moment.today
    if is_past:
        return today - timedelta(days=(today.weekday() - wanted) % 7)
    return today + timedelta(days=(wanted - today.weekday()) % 7)


def _next_weekday(moment: Moment, phrase: Phrase, is_past: bool) -> date:
    """The one after the coming one, where that is this week's."""
    coming, begins = _weekday(moment, phrase, False), (current().week_starts_on - 1) % 7
    week_ends = moment.today + timedelta(days=6 - (moment.today.weekday() - begins) % 7)
    return coming + timedelta(days=7) if coming <= week_ends else coming


def _last_weekday(moment: Moment, phrase: Phrase, is_past: bool) -> date:
    before = _weekday(moment, phrase, True)
    return before - timedelta(days=7) if before == moment.today else before


def _placed(moment: Moment, phrase: Phrase, is_past: bool) -> date | None:
    """`second friday`: that of this month, or of the next where it has passed."""
    place, wanted, this = place_of(phrase.words[-2]), weekday_named(phrase.words[-1]), month_number(moment.today)
    for month in (this, this + 1):
        first = date(month // 12, month % 12 + 1, 1)
        day = first + timedelta(days=(wanted - first.weekday()) % 7 + 7 * (place - 1))
        if day >= moment.today:
            return day
    return None


_READERS: dict[str, Callable[[Moment, Phrase, bool], date | None]] = {
    "today": lambda moment, phrase, is_past: moment.today,
    "yesterday": lambda moment, phrase, is_past: moment.today - timedelta(days=1),
    "tomorrow": lambda moment, phrase, is_past: moment.today + timedelta(days=1),
    "in_days": _in_days, "iso_day": _iso, "slashed": _slashed, "month_day": _month_day, "ordinal": _ordinal,
    "end_of_month": _end_of_month, "payday": _payday, "weekday": _weekday, "next_weekday": _next_weekday,
    "last_weekday": _last_weekday, "placed_weekday": _placed,
}  # fmt: skip
DAYS = frozenset(_READERS)
