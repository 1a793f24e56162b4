"""Low points, shallow stretches and what is missing, against every day of an account looked at one by one."""

from datetime import date, timedelta
from itertools import groupby

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from effort import examples
from next_penny.core.dates.calendar import month_number
from next_penny.core.forecast.low_points import (
    Stretch,
    TopUp,
    available,
    by_month,
    lowest,
    short_by,
    stretches,
    top_ups,
)
from next_penny.core.forecast.projection import AccountRun
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.terms.cards import CardTerms, DueRule

TODAY = date(2027, 3, 30)
NOW = TODAY.toordinal()

near_zero = st.integers(-3, 6)
runs = st.lists(st.tuples(st.integers(1, 4), near_zero), min_size=1, max_size=12)


def run_of(levels: list[tuple[int, int]], account: Account) -> tuple[AccountRun, list[int]]:
    """A run whose balances hold for so many days each, and its balance at the end of each day."""
    by_day = [balance for length, balance in levels for _ in range(length)]
    begins = np.cumsum([0, *(length for length, _ in levels[:-1])]) + NOW
    balances = np.array([balance for _, balance in levels], dtype=np.int64)
    return AccountRun(account, levels[0][1], begins, balances, is_open_today=True), by_day


@given(runs, st.integers(-1, 2), st.integers(0, 3), st.integers(0, 50), st.integers(0, 50))
@settings(max_examples=examples(400))
def test_what_is_told_of_an_account_is_what_its_days_are(
    levels: list[tuple[int, int]], floor: int, above: int, first: int, length: int
) -> None:
    account = Account("a", "A", "checking", "USD", Opening(TODAY, 0), floor=floor, cushion=floor + above)
    run, by_day = run_of(levels, account)
    last = NOW + len(by_day) - 1
    found = lowest(run)
    assert found is not None
    assert (found.balance, found.headroom) == (min(by_day), min(by_day) - floor)
    assert found.day == NOW + by_day.index(min(by_day))
    # Of a part: what holds on its first day began before it, perhaps.
    begin, end = NOW + first, NOW + first + length
    some = {day: by_day[min(day - NOW, len(by_day) - 1)] for day in range(begin, end + 1)}
    part = lowest(run, begin, end)
    assert part is not None
    assert part.balance == min(some.values())
    assert part.day == next(day for day, balance in some.items() if balance == part.balance)
    until = lowest(run, last=min(end, last))
    assert until is not None
    assert until.balance == min(by_day[: end - NOW + 1])
    assert short_by(run, min(end, last)) == max(0, floor - min(by_day[: end - NOW + 1]))
    wanted = []
    for below, threshold in (("floor", floor), ("cushion", floor + above))[: 2 if above else 1]:
        for is_short, days in groupby(range(NOW, last + 1), lambda day, limit=threshold: by_day[day - NOW] < limit):
            if is_short:
                here = {day: by_day[day - NOW] for day in days}
                least = min(here.values())
                deepest = next(day for day, balance in here.items() if balance == least)
                wanted.append(Stretch(below, min(here), max(here), deepest, least, threshold - least))  # type: ignore[arg-type]
    key = {"floor": 1, "cushion": 0}
    assert sorted(stretches(run, last), key=lambda each: (each.first, key[each.below])) == sorted(
        wanted, key=lambda each: (each.first, key[each.below])
    )
    added, needed = 0, []
    for day, balance in enumerate(by_day, NOW):
        if balance + added < floor:
            needed.append(TopUp(day, floor - balance - added))
            added = floor - balance
    assert top_ups(run) == needed
    months = sorted({month_number(date.fromordinal(each.day)) for each in needed})
    assert by_month(needed) == [
        (month, sum(each.amount for each in needed if month_number(date.fromordinal(each.day)) == month))
        for month in months
    ]


@given(runs, st.integers(0, 5))
@settings(max_examples=examples(100))
def test_a_debt_is_below_nothing_and_has_what_is_left_of_its_limit(levels: list[tuple[int, int]], limit: int) -> None:
    card = CardTerms(limit, 10, DueRule(day=28))
    run, _ = run_of(levels, Account("c", "C", "credit_card", "USD", Opening(TODAY - timedelta(9), 0), card=card))
    assert (stretches(run, NOW + 99), top_ups(run), short_by(run, NOW + 99)) == ([], [], 0)
    days, left = available(run)
    # The first is told where it is another than it was when today began.
    assert list(zip(days, left, strict=True)) == [(day, limit - max(0, -balance)) for day, balance in run.levels[1:]]
