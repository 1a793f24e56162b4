"""Business days, sentences, and money as text."""

from datetime import date
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from next_penny.core.dates.business_days import Roll, business_calendar
from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import parse_rule
from next_penny.core.dates.sentences import recurrence_sentence
from next_penny.core.money import DECIMALS, convert, format_amount, round_half_up


@pytest.mark.parametrize(
    ("day", "roll", "country", "lands"),
    [
        ("2027-03-06", "before", None, "2027-03-05"),
        ("2027-03-06", "after", None, "2027-03-08"),
        ("2027-03-06", "nearest", None, "2027-03-05"),
        ("2027-03-07", "nearest", None, "2027-03-08"),
        # Good Friday to Easter Monday, and Christmas Day on a Saturday with its Friday observance.
        ("2027-03-26", "after", "DE", "2027-03-30"),
        ("2027-12-25", "before", "US", "2027-12-23"),
        # Labor Day, a Monday, is nearer to Tuesday than to Friday; a Tuesday holiday ties, and the earlier wins.
        ("2027-09-06", "nearest", "US", "2027-09-07"),
        ("2026-07-04", "none", "US", "2026-07-04"),
        ("2025-11-11", "nearest", "US", "2025-11-10"),
    ],
)
def test_rolling_off_weekends_and_bank_holidays(day: str, roll: Roll, country: str | None, lands: str) -> None:
    landed = business_calendar(country).roll_one(date.fromisoformat(day).toordinal(), roll)
    assert date.fromordinal(landed).isoformat() == lands


@given(st.dates(date(1950, 1, 1), date(2250, 1, 1)), st.sampled_from(["US", "GB", "DE", None]))
def test_a_rolled_day_is_the_closest_open_one_on_its_side(day: date, country: str | None) -> None:
    calendar, number = business_calendar(country), day.toordinal()
    before, after = calendar.roll_one(number, "before"), calendar.roll_one(number, "after")
    assert before <= number <= after
    assert (before == number) == (after == number)
    assert calendar.roll_one(before, "after") == before
    assert calendar.roll_one(after, "before") == after
    nearest = calendar.roll_one(number, "nearest")
    assert nearest == (before if number - before <= after - number else after)


@pytest.mark.parametrize(
    ("rules", "sentence"),
    [
        (["FREQ=WEEKLY;INTERVAL=2;BYDAY=FR"], "every 2 weeks on Friday"),
        (["FREQ=MONTHLY;BYMONTHDAY=15,-1"], "on the 15th and last day of every month"),
        (["FREQ=MONTHLY;BYDAY=2TU"], "on the second Tuesday of every month"),
        (["FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=20"], "every 3 months on the 20th"),
        (["FREQ=YEARLY;BYMONTH=4;BYMONTHDAY=15"], "every year on April 15"),
        (["FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR"], "every week on Monday to Friday"),
        (["FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1"], "on the last weekday of every month"),
        (["FREQ=DAILY", "FREQ=MONTHLY"], "every day and on the 4th of every month"),
        (["FREQ=MONTHLY;BYMONTHDAY=31;SKIP=OMIT"], "on the 31st of every month, skipping months without that day"),
        (["FREQ=WEEKLY;COUNT=3"], "every week on Monday, 3 times"),
        (["FREQ=YEARLY;BYMONTH=3;BYDAY=-1SU"], "every year on the last Sunday of March"),
    ],
)
def test_rules_read_as_sentences(rules: list[str], sentence: str) -> None:
    assert recurrence_sentence(Recurrence(tuple(map(parse_rule, rules)), start=date(2027, 1, 4))) == sentence


def test_dates_and_ends_are_part_of_the_sentence() -> None:
    schedule = Recurrence(
        (parse_rule("FREQ=DAILY"),), (date(2027, 5, 1),), start=date(2027, 1, 4), until=date(2028, 3, 3)
    )
    assert recurrence_sentence(schedule) == "every day and on May 1, 2027 until March 3, 2028"


@given(st.fractions(min_value=-(10**9), max_value=10**9))
def test_rounding_is_half_up_away_from_zero(value: Fraction) -> None:
    rounded = round_half_up(value)
    assert abs(rounded - value) <= Fraction(1, 2)
    if abs(rounded - value) == Fraction(1, 2):
        assert abs(rounded) > abs(value)


def test_amounts_read_as_people_write_them() -> None:
    assert format_amount(-123456, "USD") == "-$1,234.56"
    assert format_amount(5, "JPY") == "¥5"
    assert format_amount(1234, "BHD") == "BHD\u00a01.234"
    assert (DECIMALS["JPY"], DECIMALS["BHD"], DECIMALS["EUR"]) == (0, 3, 2)
    assert convert(10_00, Fraction("155.555"), "USD", "JPY") == 1556
    assert convert(1_000, 1 / Fraction("155.555"), "JPY", "USD") == 643
