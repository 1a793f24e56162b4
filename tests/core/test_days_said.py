"""Days as a person says them, on any day of the year, against a walk from that day (RULES §20)."""

from calendar import monthrange
from collections.abc import Callable
from datetime import date, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st
from said import MOMENT, PAYEES

from effort import examples
from next_penny.core.saying.meaning import understand

WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
MONTHS = ("january", "february", "march", "april", "may", "june", "july", "august", "september", "october",
          "november", "december")  # fmt: skip
PLACES = ("first", "second", "third", "fourth")


def walked(today: date, is_it: Callable[[date], bool], *, back: bool = False) -> date:
    """The first day from one on, or back from it, that is as wanted."""
    while not is_it(today):
        today += timedelta(days=-1 if back else 1)
    return today


def months_on(day: date, count: int) -> date:
    month = day.year * 12 + day.month - 1 + count
    year, month = month // 12, month % 12 + 1
    return date(year, month, min(day.day, monthrange(year, month)[1]))


def meant(today: date, text: str) -> str:
    moment = type(MOMENT)(MOMENT.plan, today)
    (reading,) = understand(moment, text, PAYEES, {"category": "out"}, "new").readings
    value = reading.changes[0].value or {}
    return str(value["dates"][0] if "dates" in value else value["date"])


todays = st.dates(date(2027, 1, 1), date(2028, 12, 31))


@given(todays, st.integers(0, 6), st.integers(1, 31), st.integers(0, 11), st.integers(0, 3), st.integers(1, 40))
@settings(max_examples=examples(200))
def test_a_day_that_is_said_is_the_one_that_a_walk_from_today_comes_to(
    today: date, weekday: int, number: int, month: int, place: int, count: int
) -> None:
    name = WEEKDAYS[weekday]
    coming = walked(today, lambda day: day.weekday() == weekday)
    sunday = walked(today, lambda day: day.weekday() == 6)
    week_on = timedelta(days=7)
    before = walked(today - timedelta(days=1), lambda day: day.weekday() == weekday, back=True)
    suffix = {1: "st", 2: "nd", 3: "rd"}.get(number % 10 if number not in (11, 12, 13) else 0, "th")
    short = min(number, 28 if month == 1 else 30)

    def is_placed(day: date) -> bool:
        return day.weekday() == weekday and (day.day - 1) // 7 == place

    wanted = {
        f"haircut 38 on {name}": coming, f"haircut 38 next {name}": coming + week_on if coming <= sunday else coming,
        f"paid gardener 38 last {name}": before,
        f"haircut 38 on the {number}{suffix}": walked(today, lambda day: day.day == number),
        f"paid gardener 38 on the {number}{suffix}": walked(today, lambda day: day.day == number, back=True),
        f"haircut 38 on {short} {MONTHS[month]}": walked(today, lambda day: (day.day, day.month) == (short, month + 1)),
        f"haircut 38 in {count} days": today + timedelta(days=count),
        f"haircut 38 in {count} weeks": today + timedelta(days=7 * count),
        f"haircut 38 in {count} months": months_on(today, count),
        "haircut 38 at the end of the month": today.replace(day=monthrange(today.year, today.month)[1]),
        f"haircut 38 on the {PLACES[place]} {name}": walked(today, is_placed),
        "haircut 38 tomorrow": today + timedelta(days=1), "paid gardener 38 yesterday": today - timedelta(days=1),
    }  # fmt: skip
    assert {text: meant(today, text) for text in wanted} == {text: day.isoformat() for text, day in wanted.items()}
