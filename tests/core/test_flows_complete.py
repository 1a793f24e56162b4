"""Amounts that follow what was settled, pay by the hour, direct debits, flows seen in entries, and setting aside."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import pytest
from households import TODAY
from hypothesis import assume, given
from hypothesis import strategies as st
from seen import of

from next_penny.core.books.books import Books, books_from_entries
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.checks.plan import check
from next_penny.core.edits.settling.due import due_lines
from next_penny.core.edits.settling.settle import Settlement, settle
from next_penny.core.flows.amounts import FlowAmounts
from next_penny.core.flows.candidates import candidate_from, candidates
from next_penny.core.flows.occurrences import nominal_days
from next_penny.core.flows.setting_aside import Proposal, SavingWish, propose
from next_penny.core.forecast.projection import project
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Change, Flow, Hourly, Revision, SavingGoal
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError

OPENED = Opening(date(2026, 1, 1), 2_000_00)
ACCOUNTS = tuple(Account(id, id.title(), "checking", "USD", OPENED) for id in ("joint", "savings", "new"))
CATEGORIES = (Category("power", "Power"), Category("heat", "Heat"), Category("wages", "Wages", kind="income"))


def plan_of(*flows: Flow) -> Plan:
    plan = Plan(accounts=ACCOUNTS, categories=CATEGORIES, flows=flows)
    assert check(plan) == []
    return plan


def bill(id: str = "power", amount: int = 100_00, **more: object) -> Flow:
    fields = {
        "from_account": "joint",
        "category": "power",
        "rules": ("FREQ=MONTHLY;BYMONTHDAY=10",),
        "start": OPENED.date,
    }
    return Flow(id, id.title(), "bill", amount, **{**fields, **more})  # type: ignore[arg-type]


def paid(day: date, amount: int, payee: str = "Power", account: str = "joint", **more: object) -> Entry:
    legs = (Leg(-amount, account=account), Leg(amount, category="power"))
    return Entry(f"{payee}{day}", day, payee, legs, **more)  # type: ignore[arg-type]


def on_account(plan: Plan, books: Books, account: str, days: int = 400) -> list[tuple[str, int]]:
    events = project(of(plan, books, TODAY), TODAY + timedelta(days=days)).events
    return [(event.date.isoformat(), event.amount) for event in events if event.account == account]


def test_an_estimate_follows_the_average_of_the_last_settled_and_leaves_what_came_before() -> None:
    flow = bill(estimate=True, follows=3)
    settled = {
        date(2026, month, 10).toordinal(): amount
        for month, amount in ((9, 90_00), (10, 80_00), (11, 70_01), (12, 70_00))
    }
    amounts = FlowAmounts(flow, settled)
    told = {month: amounts.with_source(date(2026, month, 10).toordinal())[0] for month in (9, 10, 11, 12)}
    # Half up: (80.00 + 70.01 + 70.00) / 3 is 73.3367; what was expected in December knew nothing of December.
    assert told == {9: 100_00, 10: 90_00, 11: 85_00, 12: 80_00}
    assert amounts.with_source(date(2027, 4, 10).toordinal()) == (73_34, "average")
    # A new amount from here on begins the average anew; one set just this once is left out of it.
    revised = replace(flow, revisions=(Revision(date(2026, 12, 1), 60_00),))
    assert FlowAmounts(revised, settled).with_source(date(2026, 12, 10).toordinal()) == (60_00, "revision")
    assert FlowAmounts(revised, settled).with_source(date(2027, 1, 10).toordinal()) == (70_00, "average")
    odd = replace(flow, changes=(Change(date(2026, 12, 10), 70_00),))
    assert FlowAmounts(odd, settled).with_source(date(2027, 1, 10).toordinal())[0] == 80_00


def test_pay_by_the_hour_is_rounded_once_and_hours_hold_just_this_once() -> None:
    pay = Hourly(rate=23_45, share=Decimal("78.5"), hours=Decimal("37.5"))
    flow = Flow(
        "wage", "Wage", "income", 0, to_account="joint", category="wages", rules=("FREQ=WEEKLY;BYDAY=TH",),
        start=TODAY, hourly=pay, changes=(Change(date(2027, 3, 11), hours=Decimal("12.25")),),
        revisions=(Revision(date(2027, 3, 18), hourly=Hourly(25_00, Decimal("78.5"), Decimal(30))),),
    )  # fmt: skip
    # 23.45 x 37.5 x 0.785 = 690.309375; 23.45 x 12.25 x 0.785 = 225.5010625; 25 x 30 x 0.785 = 588.75.
    assert on_account(plan_of(flow), Books(), "joint", 20) == [
        ("2027-03-04", 690_31), ("2027-03-11", 225_50), ("2027-03-18", 588_75)
    ]  # fmt: skip


def test_from_here_on_another_account_and_category_leave_the_past_alone() -> None:
    flow = bill(revisions=(Revision(date(2027, 4, 1), from_account="new", category="heat"),), start=date(2027, 2, 1))
    plan = plan_of(flow)
    assert on_account(plan, Books(), "joint", 70) == [("2027-03-01", -100_00), ("2027-03-10", -100_00)]
    assert on_account(plan, Books(), "new", 70) == [("2027-04-10", -100_00), ("2027-05-10", -100_00)]
    for nominal, account, category in ((date(2027, 3, 10), "joint", "power"), (date(2027, 4, 10), "new", "heat")):
        (change,) = settle(of(plan, Books(), TODAY), Settlement("e", "power", nominal))
        assert isinstance(change.item, Entry)
        assert [leg.account or leg.category for leg in change.item.legs] == [account, category]


def test_what_always_happens_is_assumed_until_it_is_confirmed() -> None:
    flow = bill(always_happens=True, start=date(2027, 1, 1), remind_days=30)
    plan, recorded = (
        plan_of(flow),
        books_from_entries([paid(date(2027, 1, 10), 100_00, flow="power", nominal=date(2027, 1, 10))], TODAY),
    )
    moment = of(plan, recorded, TODAY)
    (assumed,) = moment.assumed
    assert (assumed.date, moment.books.before["joint"]) == (date(2027, 2, 10), -200_00)
    assert project(moment, TODAY).runs[0].today_balance == 2_000_00 - 200_00
    assert on_account(plan, recorded, "joint", 30) == [("2027-03-10", -100_00)]
    (line,) = due_lines(moment).lines
    assert (line.status, line.moves_lowest) == ("assumed", 0)
    # Confirmed with another amount: the assumption gives way to what is recorded.
    changes = settle(moment, Settlement("e", "power", date(2027, 2, 10), 99_00))
    confirmed = apply_to_books(recorded, changes, lambda id: None, TODAY)
    assert of(plan, confirmed, TODAY).assumed == ()
    assert confirmed.before["joint"] == -199_00


RHYTHMS = {
    "FREQ=WEEKLY;BYDAY=WE": 7, "FREQ=WEEKLY;INTERVAL=2;BYDAY=SA": 14, "FREQ=MONTHLY;BYMONTHDAY=31": 31,
    "FREQ=MONTHLY;BYMONTHDAY=5": 31, "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=20": 92,
    "FREQ=YEARLY;BYMONTH=6;BYMONTHDAY=14": 366, "FREQ=WEEKLY;INTERVAL=6;BYDAY=TU": 42,
}  # fmt: skip


@given(st.sampled_from(sorted(RHYTHMS)), st.integers(3, 8), st.integers(0, 400), st.data())
def test_a_flow_seen_in_entries_goes_on_where_they_end(rule: str, times: int, offset: int, data: st.DataObject) -> None:
    start = date(2016, 1, 1) + timedelta(days=offset)
    flow = bill(rules=(rule,), start=start)
    days = [date.fromordinal(day) for day in sorted(_days(flow, start, times + 1))]
    slow = [data.draw(st.integers(0, 1 if "WEEKLY" in rule else 3)) for _ in range(times)]
    assume(rule != "FREQ=MONTHLY;BYMONTHDAY=31" or not any(slow))
    if "WEEKLY" in rule:
        slow = [0] * times
    entries = [paid(day + timedelta(days=late), 25_00, "Dog walker") for day, late in zip(days[:-1], slow, strict=True)]
    (found,) = candidates(plan_of(), entries, [], entries[-1].date + timedelta(days=1))
    assert (found.payee, found.account, found.category, found.kind) == ("Dog walker", "joint", "power", "bill")
    assert (found.amount, found.is_estimate, found.times) == (25_00, False, times)
    assert found.first > entries[-1].date
    assert "INTERVAL=1;" not in found.rule
    # Exactly the rule where payments were on their day, within the slack of slow banks where they were late.
    assert abs((found.first - days[-1]).days) <= max(slow)
    if not any(slow) and times >= 4:
        proposed = bill(rules=(found.rule,), start=found.first)
        assert _days(proposed, found.first, 5) == _days(flow, days[-1], 5)
    assert candidates(plan_of(), entries, [found.key], TODAY) == []
    assert candidates(plan_of(bill("dog walker")), entries, [], entries[-1].date) == []


def _days(flow: Flow, first: date, count: int) -> list[int]:
    return nominal_days(flow, first, first.toordinal(), first.toordinal() + 4000)[:count]


def test_what_does_not_repeat_is_not_offered_but_may_be_asked_for() -> None:
    days = [date(2027, 1, 3), date(2027, 1, 9), date(2027, 2, 1), date(2027, 2, 25)]
    entries = [paid(day, 20_00 + place, "Grocer") for place, day in enumerate(days)]
    assert candidates(plan_of(), entries, [], TODAY) == []
    asked = candidate_from(entries[:1])
    assert asked is not None
    assert (asked.rule, asked.first, asked.amount) == ("FREQ=MONTHLY;BYMONTHDAY=3", date(2027, 2, 3), 20_00)
    several = candidate_from(entries)
    assert several is not None
    assert several.is_estimate
    assert several.amount == 20_02  # (20.01 + 20.02 + 20.03) / 3
    assert candidate_from([entries[0], paid(days[1], 5_00, account="new")]) is None


def proposed(plan: Plan, wish: SavingWish, books: Books) -> Proposal | None:
    """The proposal, or None where no transfer comes in time."""
    try:
        return propose(of(plan, books, TODAY), wish)
    except PlanError as error:
        if [problem.kind for problem in error.problems] != ["too_soon"]:
            raise
        return None


@given(st.integers(1, 3_000_00), st.integers(2, 400), st.integers(1, 28), st.booleans())
def test_a_goal_is_reached_to_the_cent_on_its_day(amount: int, days: int, month_day: int, by_paycheck: bool) -> None:
    wage = Flow(
        "wage", "Wage", "income", 900_00, to_account="joint", category="wages", start=date(2027, 1, 8), roll="before",
        rules=("FREQ=WEEKLY;INTERVAL=2;BYDAY=FR",),
    )  # fmt: skip
    plan, by = plan_of(wage), TODAY + timedelta(days=days)
    wish = SavingWish(
        "w", "joint", "savings", None, "Winter tyres", amount, by, month_day, "wage" if by_paycheck else None
    )
    proposal = proposed(plan, wish, Books())
    if proposal is None:
        return
    saving = replace(plan, flows=(wage, *proposal.flows))
    assert check(saving) == []
    moved = on_account(saving, Books(), "savings", 1000)
    assert sum(part for _, part in moved) == amount
    assert max(moved)[0] <= by.isoformat()
    assert {part for _, part in moved[:-1]} <= {proposal.level}
    assert 0 < moved[-1][1] <= proposal.level
    if by_paycheck:
        assert {day for day, _ in moved} <= {day for day, part in on_account(plan, Books(), "joint", 1000)}


@given(st.sampled_from([1, 3, 6, 12]), st.integers(1, 28), st.integers(1, 28), st.integers(1, 900_00))
def test_a_smoothed_bill_finds_its_money_there_every_time(months: int, on: int, month_day: int, amount: int) -> None:
    insurance = bill(
        "insurance", amount, rules=(f"FREQ=MONTHLY;INTERVAL={months};BYMONTHDAY={on}",), start=date(2027, 1, 1)
    )
    recorded = books_from_entries(
        [paid(date(2027, m, on), amount, flow="insurance", nominal=date(2027, m, on)) for m in (1, 2)], TODAY
    )
    plan = plan_of(insurance)
    proposal = propose(of(plan, recorded, TODAY), SavingWish("w", "joint", "savings", "insurance", month_day=month_day))
    saving = replace(plan, flows=(insurance, *proposal.flows))
    assert check(saving) == []
    opening = ACCOUNTS[1].opening.balance
    run = next(
        run for run in project(of(saving, recorded, TODAY), date(2029, 3, 1)).runs if run.account.id == "savings"
    )
    assert min(balance for _, balance in run.levels) >= opening
    first = next(day for day, part in on_account(saving, recorded, "savings", 800) if part < 0)
    before = [part for day, part in on_account(saving, recorded, "savings", 800) if day < first]
    assert sum(before) == amount
    assert proposal.flows[0].saves_for == SavingGoal("Insurance", amount, proposal.by, "insurance")


@pytest.mark.parametrize(
    ("wish", "field"),
    [
        (SavingWish("w", "joint", "joint", None, "Tyres", 100, date(2027, 9, 1)), "to_account"),
        (SavingWish("w", "joint", "savings", None, "", 100, date(2027, 9, 1)), "name"),
        (SavingWish("w", "joint", "savings", None, "Tyres", 0, date(2027, 9, 1)), "amount"),
        (SavingWish("w", "joint", "savings", None, "Tyres", 100, TODAY), "by"),
        (SavingWish("w", "joint", "savings", "nothing"), "flow"),
        (SavingWish("w", "joint", "savings", None, "Tyres", 100, date(2027, 9, 1), with_income="power"), "with_income"),
    ],
)
def test_a_wish_that_cannot_be_is_refused_at_its_field(wish: SavingWish, field: str) -> None:
    with pytest.raises(PlanError) as refused:
        propose(of(plan_of(bill()), Books(), TODAY), wish)
    assert refused.value.problems[0].loc == (field,)


def test_changes_of_entries_reach_the_average() -> None:
    flow = bill(estimate=True, follows=2, start=date(2027, 1, 1))
    january = paid(date(2027, 1, 10), 80_00, flow="power", nominal=date(2027, 1, 10))
    books = books_from_entries([january], TODAY)
    february = replace(
        january, id="f", nominal=date(2027, 2, 10), legs=(Leg(-60_00, "joint"), Leg(60_00, category="power"))
    )
    both = apply_to_books(books, [PlanChange("entry", "f", february)], lambda id: None, TODAY)
    assert on_account(plan_of(flow), both, "joint", 30) == [("2027-03-10", -70_00)]
    without = apply_to_books(both, [PlanChange("entry", january.id, None)], {january.id: january}.get, TODAY)
    assert on_account(plan_of(flow), without, "joint", 12) == [("2027-03-01", -100_00), ("2027-03-10", -60_00)]
