"""Rhythms as they are said, as RFC 5545 rules; they read as the rule sentences do."""

import re
from dataclasses import dataclass
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.dates.rules import RuleError, parse_rule
from next_penny.core.flows.makers import next_occurrences
from next_penny.core.plan.flows import Flow
from next_penny.core.saying.days import day_of, number_in, place_of, weekday_code
from next_penny.core.saying.gathered import Gathered
from next_penny.core.saying.phrases import NotUnderstood, Phrase, is_word, meaning_of

# Where no days are said, the usual two.
_TWICE = "FREQ=MONTHLY;BYMONTHDAY=1,15"
_UNITS = {"day": ("DAILY", 1), "week": ("WEEKLY", 1), "fortnight": ("WEEKLY", 2), "month": ("MONTHLY", 1),
          "quarter": ("MONTHLY", 3), "half_year": ("MONTHLY", 6), "year": ("YEARLY", 1)}  # fmt: skip
_WORKDAYS = "FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR"


@dataclass(frozen=True, slots=True)
class Rhythm:
    """The rule that was said; of paydays, the income whose days they are. start: where that income goes on."""

    rules: tuple[str, ...]
    income: Flow | None = None
    start: date | None = None


def rhythm_of(moment: Moment, slots: Gathered) -> Rhythm | None:
    """What was said of how it repeats; None where nothing was. Raises NotUnderstood, also of what is no rule."""
    rhythm = _rhythm_of(moment, slots)
    try:
        for rule in rhythm.rules if rhythm is not None else ():
            parse_rule(rule)
    except RuleError as error:
        phrases = slots.rhythms or slots.days
        raise NotUnderstood(slots.said.between(phrases[0].begin, phrases[0].end)) from error
    return rhythm


def _rhythm_of(moment: Moment, slots: Gathered) -> Rhythm | None:
    if not slots.rhythms:
        # “on the 1st from April”: what begins at some time and has a day of the month repeats monthly.
        days = _month_days(slots)
        return Rhythm((f"FREQ=MONTHLY;BYMONTHDAY={days}",)) if days and (slots.begins or slots.ends) else None
    phrase = slots.rhythms[0]
    if "paydays" in phrase.words:
        return _paydays(moment)
    if phrase.sort == "rhythm_on":
        return Rhythm((f"FREQ=MONTHLY;BYMONTHDAY={number_in(phrase.words[-1])}",))
    base = _adverb(phrase.words[-1]) if phrase.sort == "adverb" else _every(slots, phrase)
    return Rhythm((_on_days(moment, slots, base.replace(";INTERVAL=1;", ";").removesuffix(";INTERVAL=1")),))


def _adverb(text: str) -> str:
    """`monthly`, `a week`, `twice a month`."""
    meant = is_word("adverb", text) or meaning_of("unit", text) or ""
    return _TWICE if meant == "half_month" else "FREQ={};INTERVAL={}".format(*_UNITS[meant])


def _paydays(moment: Moment) -> Rhythm:
    incomes = [flow for flow in moment.plan.flows if flow.kind == "income"]
    coming = [(next_occurrence.lands, next_occurrence.nominal, flow) for flow in incomes
              for next_occurrence in next_occurrences(moment, flow, moment.today, 1)]  # fmt: skip
    if not coming:
        raise NotUnderstood("payday")
    # The income that carries the household, where there are several.
    _, nominal, flow = max(coming, key=lambda candidate: (candidate[2].base_amount, candidate[0]))
    return Rhythm(flow.rules, flow, nominal)


def _every(slots: Gathered, phrase: Phrase) -> str:
    """`every other friday`, `every 2 weeks`, `every 2nd of the month`."""
    words, interval = phrase.words, 1
    if phrase.sort == "rhythm_other":
        interval = 2
    elif phrase.sort == "rhythm_of":
        number = next(word for word in words[1:] if re.match(r"\d", word) or is_word("number", word))
        interval = number_in(number)
        is_of_month = meaning_of("unit", words[-1]) == "month"
        if is_of_month and meaning_of("belongs", slots.said.between(phrase.begin, phrase.end)) is not None:
            return f"FREQ=MONTHLY;BYMONTHDAY={interval}"
    kind = words[0]
    if kind == "unit":
        frequency, times = _UNITS[meaning_of("unit", words[-1]) or ""]
        return f"FREQ={frequency};INTERVAL={interval * times}"
    if kind == "workdays":
        return _WORKDAYS
    if kind == "every_last":
        return f"FREQ=MONTHLY;BYDAY=-1{weekday_code(words[-1])}"
    if kind == "every_placed" and place_of(words[-2]) == 2 and meaning_of("unit", slots.said.text) != "month":
        return f"FREQ=WEEKLY;INTERVAL=2;BYDAY={weekday_code(words[-1])}"
    if kind == "every_placed":
        return f"FREQ=MONTHLY;BYDAY={place_of(words[-2])}{weekday_code(words[-1])}"
    days = [code for word in words[1:] if (code := weekday_code(word))]
    return f"FREQ=WEEKLY;INTERVAL={interval};BYDAY={','.join(dict.fromkeys(days))}"


def _on_days(moment: Moment, slots: Gathered, rule: str) -> str:
    """A rule with the days that were said beside it; these are days of the rhythm then, not dates."""
    if rule == _TWICE and (days := _month_days(slots)):
        return f"FREQ=MONTHLY;BYMONTHDAY={days}"
    if "BYDAY" in rule or "BYMONTHDAY" in rule or not slots.days:
        return rule
    day = slots.days[0]
    if rule.startswith("FREQ=WEEKLY") and day.sort in ("weekday", "next_weekday"):
        return f"{rule};BYDAY={weekday_code(day.words[-1])}"
    if rule.startswith("FREQ=MONTHLY"):
        if day.sort == "end_of_month":
            return f"{rule};BYMONTHDAY=-1"
        if day.sort == "last_weekday":
            return f"{rule};BYDAY=-1{weekday_code(day.words[-1])}"
        if day.sort == "placed_weekday":
            return f"{rule};BYDAY={place_of(day.words[-2])}{weekday_code(day.words[-1])}"
        if days := _month_days(slots):
            return f"{rule};BYMONTHDAY={days}"
    if rule.startswith("FREQ=YEARLY") and day.sort == "month_day":
        on = day_of(moment, day, is_past=False)
        return f"{rule};BYMONTH={on.month};BYMONTHDAY={on.day}"
    return rule


def _month_days(slots: Gathered) -> str:
    return ",".join(str(number_in(day.words[-1])) for day in slots.days if day.sort == "ordinal")


def takes_days(slots: Gathered, rhythm: Rhythm) -> bool:
    """Whether the days that were said are the rhythm's own; else the first of them is where it begins."""
    return bool(slots.days) and ("BYDAY" in rhythm.rules[0] or "BYMONTHDAY" in rhythm.rules[0])
