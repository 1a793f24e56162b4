"""The forecast against a plain walk over every day, and worked cases."""

import sys
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import numpy as np
from households import ACCOUNTS, TODAY, Document, amounts, documents, read
from hypothesis import assume, given
from hypothesis import strategies as st
from ledger import Ledger
from seen import seen, whys

from next_penny.core.books.books import books_from_entries
from next_penny.core.books.moment import Cache, Moment
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.flows.assumed import with_assumed
from next_penny.core.forecast.low_points import lowest, stretches, top_ups
from next_penny.core.forecast.outlook import next_payday
from next_penny.core.forecast.projection import AccountRun, Forecast, project
from next_penny.core.forecast.running import running
from next_penny.core.forecast.tideline import recorded_levels, tideline
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Change, Flow, Growth, Revision, Split
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate

UNTIL = TODAY + timedelta(days=150)


def end_of_day(run: AccountRun, day: date) -> int | None:
    held = [balance for number, balance in run.levels if number <= day.toordinal()]
    return held[-1] if held else None


@given(documents())
def test_the_forecast_is_what_a_walk_over_every_day_finds(document: Document) -> None:
    plan, entries = read(document)
    forecast, ledger = project(seen(plan, entries, TODAY), UNTIL), Ledger(document, TODAY)
    for run in forecast.runs:
        by_day = ledger.balances(run.account.id, UNTIL)
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


HUGE = 2**61


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 2), st.integers(-HUGE, HUGE)), max_size=12))
def test_each_account_adds_up_by_itself_even_where_all_together_leave_64_bits(
    moved: list[tuple[int, int, int]],
) -> None:
    moved.sort(key=lambda movement: movement[0])
    starts = (5, -7, 0)
    after, low, ends = list[int](), list[int](), [dict[int, int]() for _ in starts]
    for at, (day, account, _) in enumerate(moved):
        mine = [(on, amount) for on, of, amount in moved[: at + 1] if of == account]
        today = [amount for on, of, amount in moved if of == account and on == day]
        after.append(starts[account] + sum(amount for _, amount in mine))
        before = starts[account] + sum(amount for on, amount in mine if on < day)
        low.append(before + sum(amount for amount in today if amount < 0))
        ends[account][day] = after[-1]
    assume(all(abs(balance) < 2**63 for balance in (*after, *low)))
    days, accounts, amounts = np.array(moved, dtype=np.int64).reshape(-1, 3).T
    found = running(accounts, days, amounts, starts)
    assert (found.balance.tolist(), found.intraday_low.tolist()) == (after, low)
    assert [dict(zip(end.days.tolist(), end.balances.tolist(), strict=True)) for end in found.day_ends] == ends


@given(documents())
def test_money_is_conserved_and_running_balances_follow_from_it(document: Document) -> None:
    plan, entries = read(document)
    forecast = project(seen(plan, entries, TODAY), UNTIL)
    books = forecast.moment.books
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


@given(documents())
def test_top_ups_are_the_least_money_as_late_as_possible(document: Document) -> None:
    plan, entries = read(document)
    for run in project(seen(plan, entries, TODAY), UNTIL).runs:
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


@given(documents(), st.sampled_from(ACCOUNTS))
def test_choosing_accounts_changes_no_balance(document: Document, chosen: str) -> None:
    plan, entries = read(document)
    whole, part = project(seen(plan, entries, TODAY), UNTIL), project(seen(plan, entries, TODAY), UNTIL, [chosen])
    assert part.runs[0].levels == next(run.levels for run in whole.runs if run.account.id == chosen)
    assert list(part.events) == [event for event in whole.events if event.account == chosen]


@given(documents())
def test_the_tideline_is_the_sum_of_its_accounts(document: Document) -> None:
    plan, entries = read(document)
    forecast = project(seen(plan, entries, TODAY), UNTIL)
    forecast = project(forecast.moment, UNTIL, ["a", "b"])
    line = tideline(forecast, ["a", "b"], {})
    for offset in range(0, 150, 7):
        day = TODAY + timedelta(days=offset)
        total = sum(end_of_day(run, day) or 0 for run in forecast.runs)
        held = [balance for number, balance in line.pencil if number <= day.toordinal()]
        assert (held[-1] if held else 0) == total
    for low in line.lows:
        assert low.headroom == low.balance - line.floor


@given(documents(), st.data())
def test_entries_laid_over_the_books_are_as_if_they_had_been_recorded(document: Document, data: st.DataObject) -> None:
    plan, entries = read(document)
    kept = tuple(entry for entry in entries if data.draw(st.booleans()))
    changes = [PlanChange("entry", entry.id, entry if entry in kept else None) for entry in entries]
    base = books_from_entries(entries, TODAY)
    laid = apply_to_books(base, changes, {entry.id: entry for entry in entries}.get, TODAY)
    expected = project(seen(plan, kept, TODAY), UNTIL)
    # One occurrence settled twice is refused where entries are saved, so only the balances before are comparable then.
    pairs = [(entry.flow, entry.nominal) for entry in entries if entry.flow]
    if len(pairs) == len(set(pairs)):
        assert [run.levels for run in project(with_assumed(Moment(plan, TODAY, laid, (), laid)), UNTIL).runs] == [
            run.levels for run in expected.runs
        ]


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


def told(plan: Plan, months: int = 3) -> list[tuple[str, int, str]]:
    forecast = project(seen(plan, (), TODAY), TODAY + timedelta(days=30 * months))
    sentences = whys(forecast)
    return [(event.date.isoformat(), event.amount, why) for event, why in zip(forecast.events, sentences, strict=True)]


def test_every_event_says_why_in_one_sentence() -> None:
    moved = Change(date(2027, 4, 5), amount=70_00, moved_to=date(2027, 4, 9))
    flow = bill(50_00, roll="before", estimate=True, changes=(moved,), seasonal=((5, 30_00),))
    assert told(plan_of(flow, country="US")) == [
        ("2027-03-05", -50_00, "On the 5th of every month; about $50.00."),
        ("2027-04-09", -70_00, "On the 5th of every month; moved from Mon Apr 5 to Fri Apr 9 just this once; "
                               "$70.00 just this once."),
        ("2027-05-05", -30_00, "On the 5th of every month; $30.00 as set for May."),
    ]  # fmt: skip
    holiday = bill(50_00, rules=("FREQ=YEARLY;BYMONTH=5;BYMONTHDAY=31",), roll="before", start=date(2027, 1, 1))
    assert told(plan_of(holiday, country="US"), months=4) == [
        ("2027-05-28", -50_00, "Every year on May 31; Mon May 31 is Memorial Day, so it lands on Fri May 28; $50.00."),
    ]


def test_past_due_moves_today_or_is_ignored() -> None:
    late = bill(50_00, dates=(date(2027, 2, 20),), rules=())
    opened = Account("joint", "Joint", "checking", "USD", Opening(date(2027, 1, 1), 100_00))
    plan = Plan(accounts=(opened,), flows=(late,))
    assert told(plan) == [
        ("2027-03-01", -50_00, "On February 20, 2027; was due Sat Feb 20, not settled, and is assumed to move today; $50.00."),
    ]  # fmt: skip
    ignoring = Plan(Household(past_due="ignore"), (opened,), flows=(late,))
    assert told(ignoring) == []
    paid = Entry(
        "e", TODAY, "Power", (Leg(-45_00, account="joint"), Leg(45_00, category="c")), "bill", date(2027, 2, 20)
    )
    settled = project(seen(plan, [paid], TODAY), UNTIL)
    assert [(event.amount, event.status, event.balance) for event in settled.events] == [(-45_00, "settled", 55_00)]
    assert (settled.runs[0].today_balance, settled.runs[0].steps) == (55_00, [])


def test_growth_compounds_from_its_date_and_is_rounded_once() -> None:
    flow = bill(100_05, rules=("FREQ=YEARLY;BYMONTH=3;BYMONTHDAY=1",), growth=Growth(Decimal("3"), TODAY))
    far = project(seen(plan_of(flow), (), TODAY), date(2031, 3, 1))
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
    forecast = project(seen(replace(plan, rates=rates), (), TODAY), UNTIL)
    assert [run.levels[-1][1] for run in forecast.runs] == [1_650_00, 150_00, 15_050]


def test_the_days_and_the_money_until_payday() -> None:
    pay = Flow("pay", "Wages", "income", 500_00, to_account="joint", rules=("FREQ=WEEKLY;BYDAY=FR",), start=TODAY)
    plan = plan_of(pay, bill(300_00, dates=(TODAY + timedelta(days=2),), rules=()), floor=100_00)
    payday = next_payday(project(seen(plan, (), TODAY), UNTIL), "joint")
    assert payday is not None
    assert (payday.days_until, payday.free_until, date.fromordinal(payday.day)) == (4, 600_00, date(2027, 3, 5))


@given(amounts)
def test_a_what_if_changes_nothing_but_what_it_says(amount: int) -> None:
    plan = plan_of(bill(50_00))
    changed = apply(plan, [PlanChange("flow", "bill", bill(amount))])
    assert (plan.flows[0].amount, changed.flows[0].amount) == (50_00, amount)
    assert apply(changed, [PlanChange("flow", "bill", None)]).flows == ()


def test_recorded_levels_begin_where_the_picture_does() -> None:
    account = Account("a", "A", "checking", "USD", Opening(date(2027, 1, 1), 100))
    changes = [(date(2027, 1, 5).toordinal(), 10), (date(2027, 2, 5).toordinal(), -30)]
    first = date(2027, 1, 20).toordinal()
    levels = recorded_levels(account, changes, first, TODAY.toordinal())
    assert levels == [(first, 110), (date(2027, 2, 5).toordinal(), 80), (TODAY.toordinal(), 80)]


def test_an_empty_household_has_an_empty_forecast() -> None:
    forecast = project(seen(Plan(), (), TODAY), UNTIL)
    assert isinstance(forecast, Forecast)
    assert (list(forecast.events), forecast.runs) == ([], ())


def test_what_is_paid_back_of_money_lent_stops_at_nothing() -> None:
    lent = Account("lent", "Quillon", "owed_to_us", "USD", Opening(date(2027, 2, 1), 290_00))
    joint = Account("joint", "Joint", "checking", "USD", Opening(date(2027, 2, 1), 0))
    back = Flow("back", "Back", "transfer", 100_00, from_account="lent", to_account="joint",
                rules=("FREQ=MONTHLY;BYMONTHDAY=5",), start=date(2027, 2, 1))  # fmt: skip
    more = Flow("more", "More", "transfer", 20_00, from_account="joint", to_account="lent", dates=(date(2027, 6, 10),))
    plan = Plan(Household(), (lent, joint), flows=(back, more))
    # February's is past due, and is taken to come today; what is lent again comes back too.
    forecast = project(seen(plan, (), date(2027, 3, 1)), date(2028, 3, 1))
    columns = forecast.events.columns
    told = [(date.fromordinal(day), amount) for day, amount, account in zip(
        columns.day.tolist(), columns.amount.tolist(), columns.account.tolist(), strict=True) if account == 1]  # fmt: skip
    assert told == [(date(2027, 3, 1), 100_00), (date(2027, 3, 5), 100_00), (date(2027, 4, 5), 90_00),
                    (date(2027, 6, 10), -20_00), (date(2027, 7, 5), 20_00)]  # fmt: skip
    assert forecast.run_of["lent"].levels[-1][1] == 0
    assert any(why.endswith("$100.00; only $90.00 is still owed.") for why in whys(forecast))
    # What was paid back by hand is not expected any more.
    paid = Entry("e", date(2027, 3, 1), "Quillon", (Leg(-250_00, "lent"), Leg(250_00, "joint")))
    assert project(seen(plan, (paid,), date(2027, 3, 1)), date(2028, 3, 1)).run_of["joint"].levels[-1][1] == 290_00


def test_what_is_remembered_is_shared_by_threads() -> None:
    """Several questions at once ask the same moment until many different days; each gets its answer, none fails."""
    cache, interval = Cache(), sys.getswitchinterval()

    def ask(step: int) -> None:
        for number in range(3000):
            day = number * step % 23
            assert Cache(cache).recall(("some", day), (day,), lambda day=day: day) == day
            assert cache.recall(("other", number % 5, day), (day,), lambda day=day: day) == day

    sys.setswitchinterval(1e-6)
    try:
        with ThreadPoolExecutor(4) as threads:
            list(threads.map(ask, (1, 3, 7, 11)))
    finally:
        sys.setswitchinterval(interval)
