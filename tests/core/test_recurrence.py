"""Recurrence against a walk over every day, and worked cases."""

from datetime import date, timedelta

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from next_penny.core.dates.recurrence import Recurrence, recurrence_days, rule_days
from next_penny.core.dates.rules import WEEKDAYS, RuleError, parse_rule


def days_of(rule: str, start: str, until: str) -> list[str]:
    first, last = date.fromisoformat(start), date.fromisoformat(until)
    found = rule_days(parse_rule(rule), first, first.toordinal(), last.toordinal())
    return [date.fromordinal(day).isoformat() for day in found]


@pytest.mark.parametrize(
    ("rule", "start", "until", "expected"),
    [
        # The 31st falls on the last day of shorter months; a named 30th and 31st then count once.
        ("FREQ=MONTHLY;BYMONTHDAY=31", "2027-01-01", "2027-05-01", ["2027-01-31", "2027-02-28", "2027-03-31", "2027-04-30"]),
        ("FREQ=MONTHLY;BYMONTHDAY=30,31", "2027-01-30", "2027-03-01", ["2027-01-30", "2027-01-31", "2027-02-28"]),
        ("FREQ=MONTHLY", "2027-01-31", "2027-04-30", ["2027-01-31", "2027-02-28", "2027-03-31", "2027-04-30"]),
        ("FREQ=MONTHLY;BYMONTHDAY=31;SKIP=OMIT", "2027-01-01", "2027-05-31", ["2027-01-31", "2027-03-31", "2027-05-31"]),
        ("FREQ=MONTHLY;BYMONTHDAY=15,-1", "2028-02-01", "2028-03-15", ["2028-02-15", "2028-02-29", "2028-03-15"]),
        # 29 February falls on 28 February in a common year.
        ("FREQ=YEARLY", "2028-02-29", "2032-03-01", ["2028-02-29", "2029-02-28", "2030-02-28", "2031-02-28", "2032-02-29"]),
        ("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29", "2027-01-01", "2028-12-31", ["2027-02-28", "2028-02-29"]),
        # The start anchors the interval, and is an occurrence only if the rule gives it.
        ("FREQ=WEEKLY;INTERVAL=2;BYDAY=FR", "2027-01-06", "2027-02-10", ["2027-01-08", "2027-01-22", "2027-02-05"]),
        ("FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,FR", "2027-01-06", "2027-01-31", ["2027-01-08", "2027-01-18", "2027-01-22"]),
        # The week's first day decides which Sunday belongs to the second week (RFC 5545's own example).
        ("FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO", "1997-08-05", "1999-01-01",
         ["1997-08-05", "1997-08-10", "1997-08-19", "1997-08-24"]),
        ("FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU", "1997-08-05", "1999-01-01",
         ["1997-08-05", "1997-08-17", "1997-08-19", "1997-08-31"]),
        ("FREQ=MONTHLY;BYDAY=2TU", "2027-01-01", "2027-03-31", ["2027-01-12", "2027-02-09", "2027-03-09"]),
        ("FREQ=MONTHLY;BYDAY=5FR", "2027-01-01", "2027-07-31", ["2027-01-29", "2027-04-30", "2027-07-30"]),
        ("FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13", "2026-01-01", "2026-12-31", ["2026-02-13", "2026-03-13", "2026-11-13"]),
        ("FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1", "2027-01-01", "2027-02-28", ["2027-01-29", "2027-02-26"]),
        ("FREQ=YEARLY;BYDAY=20MO", "1997-05-19", "1999-12-31", ["1997-05-19", "1998-05-18", "1999-05-17"]),
        ("FREQ=YEARLY;BYMONTH=3;BYDAY=-1SU", "2027-01-01", "2028-12-31", ["2027-03-28", "2028-03-26"]),
        ("FREQ=MONTHLY;BYMONTH=1,12;BYMONTHDAY=5", "2027-01-01", "2028-02-28", ["2027-01-05", "2027-12-05", "2028-01-05"]),
        ("FREQ=DAILY;INTERVAL=10;UNTIL=20270125", "2027-01-01", "2028-01-01", ["2027-01-01", "2027-01-11", "2027-01-21"]),
    ],
)  # fmt: skip
def test_worked_cases(rule: str, start: str, until: str, expected: list[str]) -> None:
    assert days_of(rule, start, until) == expected


def walk_every_day(text: str, start: date, last: date) -> list[date]:
    """The rule's days found by asking of every day whether it belongs, as the standard words it."""
    parts = dict(part.split("=") for part in text.split(";"))
    frequency, interval = parts["FREQ"], int(parts.get("INTERVAL", 1))
    months = {int(month) for month in parts.get("BYMONTH", "").split(",") if month}
    month_days = [int(day) for day in parts.get("BYMONTHDAY", "").split(",") if day]
    by_day = [(int(item[:-2] or 0), WEEKDAYS.index(item[-2:])) for item in parts.get("BYDAY", "").split(",") if item]
    positions = [int(position) for position in parts.get("BYSETPOS", "").split(",") if position]

    def period(day: date) -> int:
        if frequency == "DAILY":
            return day.toordinal()
        if frequency == "WEEKLY":
            return (day.toordinal() - 1) // 7
        return day.year * 12 + day.month if frequency == "MONTHLY" else day.year

    def length(day: date) -> int:
        return ((day.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)).day

    def is_month_day(day: date, wanted: int) -> bool:
        place = wanted if wanted > 0 else length(day) + 1 + wanted
        return day.day == (place if 1 <= place <= length(day) else length(day))

    def is_weekday(day: date, ordinal: int, weekday: int) -> bool:
        if day.weekday() != weekday:
            return False
        if ordinal == 0:
            return True
        whole_year = frequency == "YEARLY" and not months and not month_days
        first = day.replace(month=1, day=1) if whole_year else day.replace(day=1)
        end = day.replace(month=12, day=31) if whole_year else day.replace(day=length(day))
        place = (day - first).days // 7 + 1 if ordinal > 0 else -((end - day).days // 7 + 1)
        return place == ordinal

    def belongs(day: date) -> bool:
        if (period(day) - period(start)) % interval:
            return False
        if months and day.month not in months:
            return False
        if month_days and not any(is_month_day(day, wanted) for wanted in month_days):
            return False
        if by_day:
            return any(is_weekday(day, ordinal, weekday) for ordinal, weekday in by_day)
        if frequency == "WEEKLY":
            return day.weekday() == start.weekday()
        if frequency in ("MONTHLY", "YEARLY") and not month_days:
            in_month = frequency == "MONTHLY" or months or day.month == start.month
            return bool(in_month) and is_month_day(day, start.day)
        return True

    by_period: dict[int, list[date]] = {}
    day = start - timedelta(days=366)
    while day <= last + timedelta(days=366):
        if belongs(day):
            by_period.setdefault(period(day), []).append(day)
        day += timedelta(days=1)
    found = []
    for days in by_period.values():
        chosen = {p - 1 if p > 0 else len(days) + p for p in positions} if positions else set(range(len(days)))
        found += [day for place, day in enumerate(days) if place in chosen]
    return [day for day in sorted(found) if start <= day <= last]


def numbers(lowest: int, highest: int, *, negative: bool = False) -> st.SearchStrategy[str]:
    one = st.integers(lowest, highest)
    signed = st.builds(lambda number, sign: number * sign, one, st.sampled_from([1, -1])) if negative else one
    return st.lists(signed, min_size=1, max_size=4, unique=True).map(lambda items: ",".join(map(str, items)))


@st.composite
def rules(draw: st.DrawFn) -> str:
    frequency = draw(st.sampled_from(["DAILY", "WEEKLY", "MONTHLY", "YEARLY"]))
    parts = [f"FREQ={frequency}", f"INTERVAL={draw(st.integers(1, 5))}"]
    if draw(st.booleans()):
        parts.append(f"BYMONTH={draw(numbers(1, 12))}")
    if frequency != "WEEKLY" and draw(st.booleans()):
        parts.append(f"BYMONTHDAY={draw(numbers(1, 31, negative=True))}")
    if draw(st.booleans()):
        plain = frequency in ("DAILY", "WEEKLY")
        ordinal = st.just("") if plain else st.sampled_from(["", "1", "2", "5", "-1", "-2"])
        days = st.lists(st.tuples(ordinal, st.sampled_from(WEEKDAYS)).map("".join), min_size=1, max_size=4, unique=True)
        parts.append("BYDAY=" + ",".join(draw(days)))
    if len(parts) > 2 and draw(st.booleans()):
        parts.append(f"BYSETPOS={draw(numbers(1, 4, negative=True))}")
    return ";".join(parts)


starts = st.dates(date(2019, 1, 1), date(2030, 12, 31))


@given(rules(), starts, st.integers(0, 1500))
@example("FREQ=YEARLY;INTERVAL=4;BYMONTHDAY=29;BYMONTH=2", date(2028, 2, 29), 1500)
def test_every_rule_gives_the_days_that_a_walk_over_every_day_finds(rule: str, start: date, length: int) -> None:
    last = start + timedelta(days=length)
    found = [date.fromordinal(day) for day in rule_days(parse_rule(rule), start, start.toordinal(), last.toordinal())]
    assert found == walk_every_day(rule, start, last)


@given(rules(), starts, st.integers(0, 800), st.integers(0, 400), st.integers(1, 60))
def test_a_window_is_a_part_of_the_whole_and_a_count_its_beginning(
    rule: str, start: date, skipped: int, length: int, count: int
) -> None:
    begin = start.toordinal()
    whole = rule_days(parse_rule(rule), start, begin, begin + 1200)
    window = rule_days(parse_rule(rule), start, begin + skipped, begin + skipped + length)
    assert window == [day for day in whole if begin + skipped <= day <= begin + skipped + length]
    counted = rule_days(parse_rule(f"{rule};COUNT={count}"), start, begin + skipped, begin + 1200)
    assert counted == [day for day in whole[:count] if day >= begin + skipped]


def test_rules_unite_with_dates_and_a_count_counts_exceptions() -> None:
    schedule = Recurrence(
        rules=(parse_rule("FREQ=MONTHLY;BYMONTHDAY=1"), parse_rule("FREQ=MONTHLY;BYMONTHDAY=1,15")),
        dates=(date(2027, 1, 20),),
        exceptions=(date(2027, 1, 15),),
        start=date(2027, 1, 1),
        count=5,
    )
    days = recurrence_days(schedule, date(2027, 1, 1).toordinal(), date(2028, 1, 1).toordinal())
    assert [date.fromordinal(day).isoformat() for day in days] == [
        "2027-01-01",
        "2027-01-20",
        "2027-02-01",
        "2027-02-15",
    ]
    later = recurrence_days(schedule, date(2027, 2, 1).toordinal(), date(2028, 1, 1).toordinal())
    assert later == days[2:]


@pytest.mark.parametrize(
    ("rule", "says"),
    [
        ("FREQ=HOURLY", "DAILY, WEEKLY, MONTHLY or YEARLY"),
        ("FREQ=MONTHLY;BYHOUR=3", "BYHOUR"),
        ("FREQ=MONTHLY;BYMONTHDAY=32", "BYMONTHDAY takes 1 to 31"),
        ("FREQ=MONTHLY;BYDAY=XX", "not a weekday"),
        ("FREQ=WEEKLY;BYDAY=2TU", "monthly or yearly"),
        ("FREQ=WEEKLY;BYMONTHDAY=2", "cannot name days of the month"),
        ("FREQ=DAILY;COUNT=3;UNTIL=20270101", "not both"),
        ("FREQ=DAILY;INTERVAL=0", "INTERVAL takes a whole number from 1"),
        ("FREQ=DAILY;FREQ=DAILY", "twice"),
        ("every friday", "NAME=value"),
        ("FREQ=DAILY;UNTIL=20271399", "UNTIL takes a date"),
        ("FREQ=MONTHLY;BYSETPOS=1", "BYSETPOS picks among"),
    ],
)
def test_what_cannot_be_read_is_said_in_a_sentence(rule: str, says: str) -> None:
    with pytest.raises(RuleError, match=says):
        parse_rule(rule)
