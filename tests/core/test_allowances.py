"""Allowances: what is left, what is held back, and what the forecast takes, by hand and as properties."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from seen import of

from next_penny.core.books.books import Books, books_from_entries
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.checks.plan import check
from next_penny.core.flows.allowances import periods, status
from next_penny.core.forecast.overspending import overspending_cost
from next_penny.core.forecast.projection import project
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance, LimitRevision
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan

TODAY = date(2027, 3, 10)
FOOD = Allowance("food", "Food", 310_00, "a", categories=("food",), start=date(2027, 3, 1))
ACCOUNT = Account("a", "A", "checking", "USD", Opening(date(2027, 1, 1), 2_000_00))


def plan_of(allowance: Allowance = FOOD, *flows: Flow) -> Plan:
    return Plan(accounts=(ACCOUNT,), categories=(Category("food", "Food"),), flows=flows, allowances=(allowance,))


def bought(day: date, amount: int, id: str = "e") -> Entry:
    return Entry(id, day, "Shop", (Leg(-amount, account="a"), Leg(amount, category="food")))


def moves(plan: Plan, entries: list[Entry], until: date) -> list[tuple[str, int]]:
    events = project(of(plan, books_from_entries(entries, TODAY), TODAY), until).events
    return [(event.date.isoformat(), event.amount) for event in events if event.allowance == "food"]


def test_what_is_left_is_taken_on_the_last_day() -> None:
    entries = [bought(date(2027, 3, 4), 80_00, "one"), bought(date(2027, 3, 8), -5_00, "refund")]
    assert moves(plan_of(), entries, date(2027, 5, 31)) == [
        ("2027-03-31", -235_00), ("2027-04-30", -310_00), ("2027-05-31", -310_00),
    ]  # fmt: skip


def test_evenly_it_is_taken_from_tomorrow_in_parts_that_sum_exactly() -> None:
    evenly = replace(FOOD, timing="evenly")
    taken = moves(plan_of(evenly), [bought(date(2027, 3, 4), 210_00)], date(2027, 3, 31))
    assert (taken[0][0], taken[-1][0], len(taken)) == ("2027-03-11", "2027-03-31", 21)
    assert sum(amount for _, amount in taken) == -100_00
    # 100.00 over 21 days is 4.7619…: rounded as it accumulates, not day by day.
    assert [amount for _, amount in taken[:4]] == [-4_76, -4_76, -4_77, -4_76]
    last_day = replace(evenly, until=TODAY)
    # Ending within the month, it has the limit's share of 10 of 31 days.
    assert moves(plan_of(last_day), [], date(2027, 3, 31)) == [("2027-03-10", -100_00)]


def test_bills_in_its_categories_are_committed_not_held_back_twice() -> None:
    box = Flow("box", "Vegetable box", "bill", 25_00, from_account="a", category="food",
               rules=("FREQ=WEEKLY;BYDAY=FR",), start=date(2027, 3, 12))  # fmt: skip
    assert moves(plan_of(FOOD, box), [], date(2027, 4, 30)) == [("2027-03-31", -235_00), ("2027-04-30", -185_00)]
    cut = moves(plan_of(FOOD, box), [], date(2027, 3, 20))
    assert cut == []


@pytest.mark.parametrize(
    ("carry", "february", "march"),
    [("none", 200_00, 310_00), ("forward", 200_00, 420_00), ("forward", 350_00, 270_00)],
)
def test_what_was_left_or_overspent_is_carried_forward(carry: str, february: int, march: int) -> None:
    allowance = replace(FOOD, carry=carry, start=date(2027, 2, 1))
    plan, books = plan_of(allowance), books_from_entries([bought(date(2027, 2, 9), february)], TODAY)
    stands = status(of(plan, books, TODAY), allowance)
    assert stands is not None
    assert (stands.period.limit, stands.days_left, stands.daily_pace) == (march, 21, march // 21)


def test_overspending_now_shortens_the_next_period_only_when_carried() -> None:
    entries = [bought(date(2027, 3, 4), 360_00)]
    assert moves(plan_of(), entries, date(2027, 4, 30)) == [("2027-04-30", -310_00)]
    carried = replace(FOOD, carry="forward")
    assert moves(plan_of(carried), entries, date(2027, 5, 31)) == [("2027-04-30", -260_00), ("2027-05-31", -310_00)]


@pytest.mark.parametrize(("spent", "carry", "cost"), [(360_00, "none", 50_00), (310_00, "none", 0), (310_01, "none", 1),
                                                      (360_00, "forward", 50_00)])  # fmt: skip
def test_overspending_costs_what_the_lowest_point_is_lower_by(spent: int, carry: str, cost: int) -> None:
    # Next month's limit is 50.00 less where what was overspent is carried: by the year's end that is made up for.
    allowance = replace(FOOD, carry=carry)
    pay = Flow("pay", "Pay", "income", 310_00, to_account="a", rules=("FREQ=MONTHLY;BYMONTHDAY=25",), start=TODAY)
    moment = of(plan_of(allowance, pay), books_from_entries([bought(date(2027, 3, 4), spent)], TODAY), TODAY)
    stands = status(moment, allowance)
    assert stands is not None
    assert overspending_cost(moment, stands) == cost


def test_a_limit_can_change_from_a_date_on() -> None:
    revised = replace(FOOD, revisions=(LimitRevision(date(2027, 4, 15), 400_00),))
    assert [amount for _, amount in moves(plan_of(revised), [], date(2027, 5, 31))] == [-310_00, -310_00, -400_00]


@pytest.mark.parametrize(
    ("allowance", "day", "bounds"),
    [
        (replace(FOOD, period="week", week_starts=4), date(2027, 3, 10), ("2027-03-05", "2027-03-11")),
        (replace(FOOD, period="two_weeks", week_starts=0), date(2027, 3, 17), ("2027-03-15", "2027-03-28")),
        (replace(FOOD, start=date(2027, 3, 9), until=date(2027, 3, 20)), TODAY, ("2027-03-09", "2027-03-20")),
    ],
)
def test_periods_begin_where_the_household_says(allowance: Allowance, day: date, bounds: tuple[str, str]) -> None:
    period = next(periods(of(plan_of(allowance), Books(), day), allowance, day.toordinal()))
    assert tuple(date.fromordinal(number).isoformat() for number in (period.first, period.last)) == bounds


@given(
    st.sampled_from(["week", "two_weeks", "month"]), st.sampled_from(["at_end", "evenly"]), st.integers(0, 500_00),
    st.lists(st.tuples(st.integers(-40, 0), st.integers(-50_00, 200_00)), max_size=5), st.integers(1, 120_00),
)  # fmt: skip
def test_a_purchase_within_the_limit_moves_the_forecast_only_until_the_period_ends(
    period: str, timing: str, limit: int, past: list[tuple[int, int]], price: int
) -> None:
    allowance = replace(FOOD, period=period, timing=timing, limit=limit)
    plan = plan_of(allowance)
    entries = [bought(max(TODAY + timedelta(days=d), date(2027, 3, 1)), a, f"e{n}") for n, (d, a) in enumerate(past)]
    books, until = books_from_entries(entries, TODAY), TODAY + timedelta(days=70)
    stands = status(of(plan, books, TODAY), allowance)
    assert stands is not None
    shopping = bought(TODAY, price, "new")
    after_books = apply_to_books(books, [PlanChange("entry", "new", shopping)], lambda id: None, TODAY)
    before, after = (project(of(plan, each, TODAY), until).runs[0].levels for each in (books, after_books))
    assert after_books == books_from_entries([*entries, shopping], TODAY)
    # To the end of the forecast it costs only what is beyond the limit.
    beyond = max(0, price - max(0, stands.period.left)) if stands.period.left > 0 else price
    assert before[-1][1] - after[-1][1] == beyond


def test_a_category_is_in_one_allowance_at_a_time() -> None:
    twice = replace(plan_of(), allowances=(FOOD, replace(FOOD, id="other")))
    assert [(problem.loc, problem.kind) for problem in check(twice)] == [
        (("allowances", 1, "categories", 0), "category_in_two")
    ]
    before = replace(FOOD, id="other", start=date(2026, 1, 1), until=date(2027, 2, 28))
    assert check(replace(plan_of(), allowances=(FOOD, before))) == []
