"""Rhythms as one picks them, and the rules that they come to."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from next_penny.core.dates.recurrence import rule_days
from next_penny.core.dates.rhythms import Rhythm, rhythm_from, rhythm_of, rule_of
from next_penny.core.dates.rules import WEEKDAYS, parse_rule

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


@given(st.dates(date(2000, 1, 1), date(2060, 1, 1)), st.sampled_from(["DAILY", "WEEKLY", "MONTHLY", "YEARLY"]))
def test_a_rhythm_from_a_day_first_comes_on_that_day(day: date, unit: str) -> None:
    rule = rule_of(rhythm_from(day, unit))  # type: ignore[arg-type]
    first, last = day.toordinal(), (day + timedelta(days=366)).toordinal()
    assert rule_days(parse_rule(rule), day, first, last)[0] == first


@pytest.mark.parametrize("rule", [
    "FREQ=MONTHLY;BYSETPOS=-1;BYDAY=MO,TU", "FREQ=MONTHLY;BYDAY=MO,FR", "FREQ=MONTHLY;BYDAY=5FR", "FREQ=DAILY;BYDAY=MO",
    "FREQ=WEEKLY;BYMONTH=3;BYDAY=MO", "FREQ=YEARLY;BYMONTHDAY=5", "FREQ=MONTHLY;BYMONTHDAY=1;COUNT=3", "FREQ=YEARLY;BYYEARDAY=9",
    "FREQ=MONTHLY;BYMONTH=3;BYMONTHDAY=1", "often", "",
])  # fmt: skip
def test_a_rule_that_has_no_gap_for_a_part_is_no_rhythm(rule: str) -> None:
    assert rhythm_of(rule, START) is None
