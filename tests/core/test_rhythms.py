"""Rhythms as one picks them, and the rules that they come to."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from effort import examples
from next_penny.core.dates.recurrence import rule_days
from next_penny.core.dates.rhythms import Rhythm, rhythm_from, rhythm_of, rule_of
from next_penny.core.dates.rules import WEEKDAYS, parse_rule
from next_penny.formats.documents.rhythms import Rhythm as Picked

START = date(2027, 3, 1)  # a Monday
weekdays = st.lists(st.sampled_from(WEEKDAYS), min_size=1, max_size=7, unique=True).map(
    lambda days: tuple(sorted(days, key=WEEKDAYS.index))
)
rhythms = st.builds(
    Rhythm, st.sampled_from(["DAILY", "WEEKLY", "MONTHLY", "YEARLY"]), st.integers(1, 40), weekdays,
    st.sampled_from(["days", "weekday"]), st.lists(st.integers(1, 31) | st.just(-1), min_size=1, unique=True).map(tuple),
    st.sampled_from([1, 2, 3, 4, -1]), st.sampled_from(WEEKDAYS),
    st.lists(st.integers(1, 12), min_size=1, unique=True).map(tuple),
)  # fmt: skip


@given(rhythms, st.dates(date(2000, 1, 1), date(2060, 1, 1)))
def test_a_rhythm_that_is_written_is_read_as_it_was_whatever_day_it_starts(rhythm: Rhythm, start: date) -> None:
    read = rhythm_of(rule_of(rhythm), start)
    assert read is not None
    used = {"DAILY": set(), "WEEKLY": {"weekdays"}, "MONTHLY": {"within"}, "YEARLY": {"within", "months"}}[rhythm.unit]
    if "within" in used:
        used |= {"month_days"} if rhythm.within == "days" else {"place", "place_day"}
    # What its unit does not use follows the day on which it starts.
    rest = rhythm_from(start, rhythm.unit)
    assert read == replace(rest, every=rhythm.every, **{name: getattr(rhythm, name) for name in used})


days = st.integers(-31, 31).filter(bool)
nth = st.tuples(st.sampled_from(["", "1", "2", "5", "-1", "-2"]), st.sampled_from(WEEKDAYS)).map("".join)
parts = {
    "INTERVAL": st.integers(1, 9), "BYMONTHDAY": st.lists(days, min_size=1, max_size=2),
    "BYDAY": st.lists(nth, min_size=1, max_size=2), "BYMONTH": st.lists(st.integers(1, 12), min_size=1, max_size=3),
    "BYSETPOS": st.sampled_from([1, -1]), "COUNT": st.integers(1, 9), "UNTIL": st.just("20280101"),
    "WKST": st.sampled_from(WEEKDAYS), "SKIP": st.sampled_from(["OMIT", "BACKWARD"]),
}  # fmt: skip
texts = st.tuples(
    st.sampled_from(["DAILY", "WEEKLY", "MONTHLY", "YEARLY"]), st.fixed_dictionaries({}, optional=parts)
).map(lambda rule: ";".join([f"FREQ={rule[0]}", *(f"{name}={written(value)}" for name, value in rule[1].items())]))


def written(value: object) -> str:
    return ",".join(map(str, value)) if isinstance(value, list) else str(value)


@given(texts, st.dates(date(2020, 1, 1), date(2030, 1, 1)))
@settings(max_examples=examples(1200))
def test_whatever_rule_is_shown_as_a_rhythm_has_the_days_of_that_rhythm(text: str, start: date) -> None:
    read = rhythm_of(text, start)
    if read is None:
        return
    first, last = start.toordinal(), start.toordinal() + 3000
    assert Picked.of(read).to_rule() == rule_of(read)
    assert rule_days(parse_rule(rule_of(read)), start, first, last) == rule_days(parse_rule(text), start, first, last)


@given(st.dates(date(2000, 1, 1), date(2060, 1, 1)), st.sampled_from(["DAILY", "WEEKLY", "MONTHLY", "YEARLY"]))
def test_a_rhythm_from_a_day_first_comes_on_that_day(day: date, unit: str) -> None:
    rule = rule_of(rhythm_from(day, unit))  # type: ignore[arg-type]
    first, last = day.toordinal(), (day + timedelta(days=366)).toordinal()
    assert rule_days(parse_rule(rule), day, first, last)[0] == first


@pytest.mark.parametrize("rule", [
    "FREQ=MONTHLY;BYSETPOS=-1;BYDAY=MO,TU", "FREQ=MONTHLY;BYDAY=MO,FR", "FREQ=MONTHLY;BYDAY=5FR", "FREQ=DAILY;BYDAY=MO",
    "FREQ=WEEKLY;BYMONTH=3;BYDAY=MO", "FREQ=YEARLY;BYMONTHDAY=5", "FREQ=MONTHLY;BYMONTHDAY=1;COUNT=3", "FREQ=YEARLY;BYYEARDAY=9",
    "FREQ=MONTHLY;BYMONTH=3;BYMONTHDAY=1", "often", "",
    "FREQ=MONTHLY;BYMONTHDAY=-2", "FREQ=WEEKLY;WKST=SU;INTERVAL=2", "FREQ=MONTHLY;SKIP=OMIT;BYMONTHDAY=31",
])  # fmt: skip
def test_a_rule_that_has_no_gap_for_a_part_is_no_rhythm(rule: str) -> None:
    assert rhythm_of(rule, START) is None
