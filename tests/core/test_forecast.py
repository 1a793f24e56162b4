"""The forecast against a plain walk over every day, and worked cases."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

from exact_loans import exact_schedule
from households import ACCOUNTS, TODAY, amounts, households
from hypothesis import given
from hypothesis import strategies as st

from next_penny.core.books import Books, books_from_entries
from next_penny.core.dates.business_days import business_calendar
from next_penny.core.flows.occurrences import FlowAmounts, nominal_days
from next_penny.core.forecast.explain import Explainer
from next_penny.core.forecast.low_points import lowest, stretches, top_ups
from next_penny.core.forecast.outlook import next_payday
from next_penny.core.forecast.projection import AccountRun, Forecast, project
from next_penny.core.forecast.tideline import recorded_levels, tideline
from next_penny.core.overlay import PlanChange, overlay
from next_penny.core.plan import (
    Account,
    Change,
    Entry,
    Flow,
    Growth,
    Household,
    Leg,
    Opening,
    Plan,
    Rate,
    Revision,
    Split,
)
from next_penny.core.recorded import overlay_books

UNTIL = TODAY + timedelta(days=150)
Household_ = tuple[Plan, tuple[Entry, ...]]


def end_of_day(run: AccountRun, day: date) -> int | None:
    held = [balance for number, balance in run.levels if number <= day.toordinal()]
    return held[-1] if held else None


def walked(plan: Plan, entries: tuple[Entry, ...], account: Account) -> dict[date, int]:
    """The end-of-day balances of one account from today, found day by day from the rules' wording."""
    calendar = business_calendar(plan.household.country)
    moves: dict[date, int] = {}
    settled = {(entry.flow, entry.nominal) for entry in entries}
    books = books_from_entries(entries, TODAY)
    for loan in (each for each in plan.accounts if each.loan is not None):
        for day, change_here in loan_moves(plan, loan, account):
            moves[day] = moves.get(day, 0) + change_here
    for flow in plan.flows:
        opened = plan.flow_opened(flow) if flow.account_ids else TODAY
        for number in nominal_days(flow, opened, TODAY.toordinal() - 400, UNTIL.toordinal() + 400):
            nominal = date.fromordinal(number)
            change = next((change for change in flow.changes if change.nominal == nominal), Change(nominal))
            landing = change.moved_to or date.fromordinal(calendar.roll_one(number, flow.roll))
            if change.left_out or (flow.id, nominal) in settled or landing < opened:
                continue
            if landing < TODAY and plan.household.past_due == "ignore":
                continue
            amount = FlowAmounts(flow, books.paid.get(flow.id, ())).with_source(number)[0]
            then = flow.on(nominal)
            apart = sum(split.amount for split in flow.splits)
            change_here = sum(split.amount for split in flow.splits if split.account == account.id)
            change_here -= amount if then.from_account == account.id else 0
            change_here += amount - apart if then.to_account == account.id else 0
            day = max(landing, TODAY)
            moves[day] = moves.get(day, 0) + change_here
    balance, balances = account.opening.balance, {}
    recorded = [(entry.date, leg.amount) for entry in entries for leg in entry.legs if leg.account == account.id]
    balance += sum(amount for day, amount in recorded if day < TODAY)
    day = TODAY
    while day <= UNTIL:
        balance += moves.get(day, 0) + sum(amount for when, amount in recorded if when == day)
        if day >= account.opening.date:
            balances[day] = balance
        day += timedelta(days=1)
    return balances


def loan_moves(plan: Plan, loan: Account, account: Account) -> Iterator[tuple[date, int]]:
    """What a loan of which nothing was settled moves on an account, by the exact schedule; past due moves today."""
    assert loan.loan is not None
    opened = max(loan.opening.date, plan.account_by_id["a"].opening.date)
    escrow = loan.loan.escrow[0].amount if loan.loan.escrow else 0
    for row in exact_schedule(loan.loan):
        if row["due"] < opened or (row["due"] < TODAY and plan.household.past_due == "ignore"):
            continue
        day = max(row["due"], TODAY)
        if account.id == "a":
            yield day, -(row["payment"] + row["extra"] + escrow)
        if account.id == loan.id:
            yield day, row["principal"] + row["extra"]
        if account.id == loan.loan.escrow_account:
            yield day, escrow


@given(households())
def test_the_forecast_is_what_a_walk_over_every_day_finds(household: Household_) -> None:
    plan, entries = household
    forecast = project(plan, books_from_entries(entries, TODAY), TODAY, UNTIL)
    for run in forecast.runs:
        by_day = walked(plan, entries, run.account)
        assert {day: end_of_day(run, day) for day in by_day} == by_day
        if run.account.loan is not None:
            assert stretches(run, UNTIL.toordinal()) == []
            continue
        low, floor, cushion = lowest(run), run.account.floor, run.account.cushion
        if low is not None:
            assert low.balance == min(by_day.values())
            assert low.day == min(day for day, balance in by_day.items() if balance == low.balance).toordinal()
        found = stretches(run, UNTIL.toordinal())
        below = {day.toordinal() for day, balance in by_day.items() if balance < floor}
        assert {day for s in found if s.below == "floor" for day in range(s.first, s.last + 1)} == below
        nearly = {day.toordinal() for day, balance in by_day.items() if balance < cushion}
        if cushion > floor:
            assert {day for s in found if s.below == "cushion" for day in range(s.first, s.last + 1)} == nearly
        for stretch in found:
            span = [by_day[date.fromordinal(day)] for day in range(stretch.first, stretch.last + 1)]
            assert stretch.balance == min(span) == by_day[date.fromordinal(stretch.deepest)]
            assert stretch.short_by == (floor if stretch.below == "floor" else cushion) - min(span)


@given(households())
def test_money_is_conserved_and_running_balances_follow_from_it(household: Household_) -> None:
    plan, entries = household
    books = books_from_entries(entries, TODAY)
    forecast = project(plan, books, TODAY, UNTIL)
    for run in forecast.runs:
        mine = [event for event in forecast.events if event.account == run.account.id]
        balance = run.account.opening.balance
        balance += books.before.get(run.account.id, 0) if run.is_open_today else 0
        for place, event in enumerate(mine):
            started = place == 0 or mine[place - 1].day != event.day
            day_start = balance if started else day_start  # noqa: F821
            outs = sum(other.amount for other in mine if other.day == event.day and other.amount < 0)
            balance += event.amount
            assert event.balance == balance
            assert event.intraday_low == day_start + outs
        assert not mine or balance == run.levels[-1][1]
    order = [(event.day, event.amount < 0, -abs(event.amount), event.name) for event in forecast.events]
    assert order == sorted(order)


@given(households())
def test_top_ups_are_the_least_money_as_late_as_possible(household: Household_) -> None:
    plan, entries = household
    for run in project(plan, books_from_entries(entries, TODAY), TODAY, UNTIL).runs:
        if run.account.loan is not None:
            assert top_ups(run) == []
            continue
        added, given_so_far = 0, {top_up.day: top_up.amount for top_up in top_ups(run)}
        for day, balance in run.levels:
            added += given_so_far.get(day, 0)
            assert balance + added >= run.account.floor
            if day in given_so_far:
                assert balance + added == run.account.floor
        assert (
            added == sum(given_so_far.values()) == max([0, *(run.account.floor - balance for _, balance in run.levels)])
        )


@given(households(), st.sampled_from(ACCOUNTS))
def test_choosing_accounts_changes_no_balance(household: Household_, chosen: str) -> None:
    plan, entries = household
    books = books_from_entries(entries, TODAY)
    whole, part = project(plan, books, TODAY, UNTIL), project(plan, books, TODAY, UNTIL, [chosen])
    assert part.runs[0].levels == next(run.levels for run in whole.runs if run.account.id == chosen)
    assert list(part.events) == [event for event in whole.events if event.account == chosen]


@given(households())
def test_the_tideline_is_the_sum_of_its_accounts(household: Household_) -> None:
    plan, entries = household
    books = books_from_entries(entries, TODAY)
    forecast = project(plan, books, TODAY, UNTIL)
    line = tideline(plan, forecast, {})
    for offset in range(0, 150, 7):
        day = TODAY + timedelta(days=offset)
        total = sum(end_of_day(run, day) or 0 for run in forecast.runs)
        held = [balance for number, balance in line.pencil if number <= day.toordinal()]
        assert (held[-1] if held else 0) == total
    for low in line.lows:
        assert low.headroom == low.balance - line.floor


@given(households(), st.data())
def test_entries_laid_over_the_books_are_as_if_they_had_been_recorded(
    household: Household_, data: st.DataObject
) -> None:
    plan, entries = household
    kept = tuple(entry for entry in entries if data.draw(st.booleans()))
    changes = [PlanChange("entry", entry.id, entry if entry in kept else None) for entry in entries]
    base = books_from_entries(entries, TODAY)
    laid = overlay_books(base, changes, {entry.id: entry for entry in entries}.get, TODAY)
    expected = project(plan, books_from_entries(kept, TODAY), TODAY, UNTIL)
    # One occurrence settled twice is refused where entries are saved, so only the balances before are comparable then.
    pairs = [(entry.flow, entry.nominal) for entry in entries if entry.flow]
    if len(pairs) == len(set(pairs)):
        assert [run.levels for run in project(plan, laid, TODAY, UNTIL).runs] == [run.levels for run in expected.runs]


def plan_of(*flows: Flow, opening: int = 1_000_00, floor: int = 0, country: str | None = None) -> Plan:
    accounts = (
        Account("joint", "Joint", "checking", "USD", Opening(TODAY, opening), floor, floor),
        Account("pot", "Pot", "savings", "USD", Opening(TODAY, 0)),
        Account("yen", "Yen", "cash", "JPY", Opening(TODAY, 0)),
    )
    return Plan(Household(country=country), accounts, flows=flows)


def bill(amount: int, **more: object) -> Flow:
    given_: dict[str, object] = {"rules": ("FREQ=MONTHLY;BYMONTHDAY=5",), "start": TODAY, **more}
    return Flow("bill", "Power", "bill", amount, from_account="joint", **given_)  # type: ignore[arg-type]


def told(plan: Plan, books: Books | None = None, months: int = 3) -> list[tuple[str, int, str]]:
    forecast = project(plan, books or Books(), TODAY, TODAY + timedelta(days=30 * months))
    explainer = Explainer(plan, forecast.books)
    return [(event.date.isoformat(), event.amount, explainer.why(event)) for event in forecast.events]


def test_every_event_says_why_in_one_sentence() -> None:
    moved = Change(date(2027, 4, 5), amount=70_00, moved_to=date(2027, 4, 9))
    flow = bill(50_00, roll="before", estimate=True, changes=(moved,), seasonal=((5, 30_00),))
    assert told(plan_of(flow, country="US")) == [
        ("2027-03-05", -50_00, "On the 5th of every month; about $50.00."),
        ("2027-04-09", -70_00, "On the 5th of every month; moved from Mon 5 Apr to Fri 9 Apr just this once; "
                               "$70.00 just this once."),
        ("2027-05-05", -30_00, "On the 5th of every month; $30.00 as set for May."),
    ]  # fmt: skip
    holiday = bill(50_00, rules=("FREQ=YEARLY;BYMONTH=5;BYMONTHDAY=31",), roll="before", start=date(2027, 1, 1))
    assert told(plan_of(holiday, country="US"), months=4) == [
        ("2027-05-28", -50_00, "Every year on 31 May; Mon 31 May is Memorial Day, so it lands on Fri 28 May; $50.00."),
    ]


def test_past_due_moves_today_or_is_ignored() -> None:
    late = bill(50_00, dates=(date(2027, 2, 20),), rules=())
    opened = Account("joint", "Joint", "checking", "USD", Opening(date(2027, 1, 1), 100_00))
    plan = Plan(accounts=(opened,), flows=(late,))
    assert told(plan) == [
        ("2027-03-01", -50_00, "On 20 February 2027; was due Sat 20 Feb, not settled, and is assumed to move today; $50.00."),
    ]  # fmt: skip
    ignoring = Plan(Household(past_due="ignore"), (opened,), flows=(late,))
    assert told(ignoring) == []
    paid = Entry(
        "e", TODAY, "Power", (Leg(-45_00, account="joint"), Leg(45_00, category="c")), "bill", date(2027, 2, 20)
    )
    settled = project(plan, books_from_entries([paid], TODAY), TODAY, UNTIL)
    assert [(event.amount, event.status, event.balance) for event in settled.events] == [(-45_00, "settled", 55_00)]
    assert (settled.runs[0].today_balance, settled.runs[0].steps) == (55_00, [])


def test_growth_compounds_from_its_date_and_is_rounded_once() -> None:
    flow = bill(100_05, rules=("FREQ=YEARLY;BYMONTH=3;BYMONTHDAY=1",), growth=Growth(Decimal("3"), TODAY))
    far = project(plan_of(flow), Books(), TODAY, date(2031, 3, 1))
    assert [-event.amount for event in far.events] == [100_05, 103_05, 106_14, 109_33, 112_61]


def test_a_change_from_here_on_leaves_what_came_before() -> None:
    revised = bill(50_00, revisions=(Revision(date(2027, 4, 1), 80_00, ("FREQ=MONTHLY;BYMONTHDAY=20",)),))
    assert [event[:2] for event in told(plan_of(revised), months=4)] == [
        ("2027-03-05", -50_00), ("2027-04-20", -80_00), ("2027-05-20", -80_00), ("2027-06-20", -80_00),
    ]  # fmt: skip


def test_a_paycheck_is_split_between_accounts_and_a_transfer_converts() -> None:
    pay = Flow(
        "pay", "Pay", "income", 900_00, to_account="joint", dates=(TODAY,), splits=(Split(150_00, account="pot"),)
    )
    abroad = Flow("yen", "Trip", "transfer", 100_00, from_account="joint", to_account="yen", dates=(TODAY,))
    plan = plan_of(pay, abroad)
    rates = (Rate(date(2027, 1, 1), "USD", "JPY", Decimal("150.5")),)
    forecast = project(replace(plan, rates=rates), Books(), TODAY, UNTIL)
    assert [run.levels[-1][1] for run in forecast.runs] == [1_650_00, 150_00, 15_050]


def test_the_days_and_the_money_until_payday() -> None:
    pay = Flow("pay", "Wages", "income", 500_00, to_account="joint", rules=("FREQ=WEEKLY;BYDAY=FR",), start=TODAY)
    plan = plan_of(pay, bill(300_00, dates=(TODAY + timedelta(days=2),), rules=()), floor=100_00)
    payday = next_payday(plan, project(plan, Books(), TODAY, UNTIL), "joint")
    assert payday is not None
    assert (payday.days_until, payday.free_until, date.fromordinal(payday.day)) == (4, 600_00, date(2027, 3, 5))


@given(amounts)
def test_a_what_if_changes_nothing_but_what_it_says(amount: int) -> None:
    plan = plan_of(bill(50_00))
    changed = overlay(plan, [PlanChange("flow", "bill", bill(amount))])
    assert (plan.flows[0].amount, changed.flows[0].amount) == (50_00, amount)
    assert overlay(changed, [PlanChange("flow", "bill", None)]).flows == ()


def test_recorded_levels_begin_where_the_picture_does() -> None:
    account = Account("a", "A", "checking", "USD", Opening(date(2027, 1, 1), 100))
    changes = [(date(2027, 1, 5).toordinal(), 10), (date(2027, 2, 5).toordinal(), -30)]
    first = date(2027, 1, 20).toordinal()
    levels = recorded_levels(account, changes, first, TODAY.toordinal())
    assert levels == [(first, 110), (date(2027, 2, 5).toordinal(), 80), (TODAY.toordinal(), 80)]


def test_an_empty_household_has_an_empty_forecast() -> None:
    forecast = project(Plan(), Books(), TODAY, UNTIL)
    assert isinstance(forecast, Forecast)
    assert (list(forecast.events), forecast.runs) == ([], ())
