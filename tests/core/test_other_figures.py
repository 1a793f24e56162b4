"""Single figures and dates that pages tell, each against a plain sum or a search through all days."""

from collections import defaultdict
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from itertools import pairwise

import pytest
from households import TODAY, Document, documents, moment_from
from hypothesis import given, settings
from hypothesis import strategies as st
from seen import seen

from effort import examples
from next_penny.core.ahead.remedies import remedies
from next_penny.core.dates.business_days import BusinessCalendar
from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import parse_rule
from next_penny.core.edits.month_cells import MonthAmount, month_changes
from next_penny.core.edits.paying_by_move import payment_meant
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.flows.makers import expected
from next_penny.core.flows.occurrences import next_landings, other_month_note
from next_penny.core.forecast.low_points import stretches
from next_penny.core.forecast.outlook import bills_ahead, held_periods, next_payday, pay_periods
from next_penny.core.forecast.projection import project
from next_penny.core.forecast.shallows import shallows
from next_penny.core.loans.extras import extras_from
from next_penny.core.money import amounts_of
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import CardTerms, DueRule
from next_penny.core.plan.terms.loans import Extra, LoanTerms
from next_penny.core.problems import PlanError
from next_penny.core.saying.days import day_of
from next_penny.core.saying.phrases import Phrase

UNTIL = TODAY + timedelta(days=150)
JOINT = Account("joint", "Joint", "checking", "USD", Opening(date(2026, 1, 1), 500_00))


@given(documents(), st.sampled_from("abc"))
@settings(max_examples=examples(150))
def test_paydays_bills_and_causes_are_sums_of_the_events_between(document: Document, account: str) -> None:
    forecast = project(moment_from(document), UNTIL)
    kinds = {flow["id"]: flow["kind"] for flow in document["flows"]}
    mine = [event for event in forecast.events if event.account == account]
    incomes = [event for event in mine if kinds.get(event.flow or "") == "income" and event.amount > 0
               and event.day > TODAY.toordinal()]  # fmt: skip
    days = sorted({event.day for event in incomes})
    found, run = pay_periods(forecast, account), forecast.run_of[account]
    assert [(each.first, each.last) for each in found] == [(first, then - 1) for first, then in pairwise(days)][:6]
    for each in found:
        within = [event for event in mine if each.first <= event.day <= each.last]
        assert each.amount == sum(event.amount for event in incomes if event.day == each.first)
        assert each.to_pay == -sum(event.amount for event in within if event.amount < 0)
        assert each.left == [balance for day, balance in run.levels if day <= each.last][-1]
    payday = next_payday(forecast, account)
    assert (payday is None) == (not incomes)
    if payday is not None:
        soon = max(event.amount for event in incomes if event.day <= days[0] + 35)
        assert (payday.day, payday.amount) == next(
            (event.day, event.amount) for event in incomes if 2 * event.amount >= soon
        )
    for each in bills_ahead(forecast, account):
        due = [-event.amount for event in mine if event.amount < 0 and event.status != "settled"
               and kinds.get(event.flow or "") == "bill" and event.day < TODAY.toordinal() + each.days]  # fmt: skip
        assert (each.count, each.amount) == (len(due), sum(due))
    held = defaultdict[tuple[str, int | None], list[int]](list)
    for event in forecast.events:
        if event.allowance is not None and event.amount < 0:
            held[event.account, event.nominal].append(-event.amount)
    assert {(each.account, each.begins): (each.days, each.amount) for each in held_periods(forecast.events)} == {
        key: (len(amounts), sum(amounts)) for key, amounts in held.items()
    }
    for shallow in shallows(forecast, account, 3):
        deepest, level = shallow.stretch.deepest, dict[int, int]()
        for day in range(deepest - 27, deepest):
            known = [balance for begins, balance in run.levels if begins == day]
            level |= {day: known[0]} if known else {}
        high = max(level, key=lambda day: (level[day], day)) if level else deepest - 27
        sums = defaultdict[str, int](int)
        for event in mine:
            if high < event.day <= deepest and event.amount < 0:
                sums[event.name] -= event.amount
        assert list(map(tuple, shallow.causes)) == sorted(sums.items(), key=lambda cause: (-cause[1], cause[0]))[:3]


@given(documents(), st.integers(0, 400_00), st.integers(0, 5), st.booleans())
@settings(max_examples=examples(150))
def test_an_amount_typed_into_a_month_is_what_comes_in_it(
    document: Document, amount: int, ahead: int, is_onward: bool
) -> None:
    moment, month = moment_from(document), 2027 * 12 + 2 + ahead
    for flow in moment.plan.flows[:2]:
        try:
            changes = month_changes(moment, [MonthAmount(flow.id, month, amount, is_onward)])
        except PlanError:
            continue
        after = apply_to_moment(moment, changes, lambda _: None)
        # What is past due counts today.
        rows = expected(after, after.plan.flow_by_id[flow.id], date(2028, 1, 1).toordinal())
        days = [max(date.fromordinal(lands), TODAY) for lands in rows.landing.tolist()]
        inside = [each for day, each in zip(days, rows.amount.tolist(), strict=True)
                  if day.year * 12 + day.month - 1 == month]  # fmt: skip
        assert sum(inside) == amount
        assert max(inside) - min(inside) <= 1


def test_what_cannot_be_typed_into_a_month_is_refused() -> None:
    rent = Flow("rent", "Rent", "bill", 100_00, "joint", rules=("FREQ=MONTHLY;BYMONTHDAY=5",), start=date(2027, 1, 5))
    moment = seen(Plan(Household(), (JOINT,), flows=(rent,)), (), TODAY)
    for cell in (MonthAmount("rent", 2027 * 12 + 2, -1, onward=False), MonthAmount("rent", 2026 * 12 + 11, 5, onward=False),
                 MonthAmount("none", 2027 * 12 + 2, 5, onward=False)):  # fmt: skip
        with pytest.raises(PlanError):
            month_changes(moment, [cell])
    # What is past due is expected today, and shares what is typed into this month.
    (change,) = month_changes(moment, [MonthAmount("rent", 2027 * 12 + 2, 50_00, onward=False)])
    after = apply_to_moment(moment, [change], lambda _: None)
    assert expected(after, after.plan.flows[0], date(2027, 3, 31).toordinal()).amount.tolist() == [16_67, 16_66, 16_67]
    yearly = replace(rent, rules=("FREQ=YEARLY;BYMONTH=1;BYMONTHDAY=31",))
    moment = seen(Plan(Household(), (JOINT,), flows=(yearly,)), (), TODAY)
    (change,) = month_changes(moment, [MonthAmount("rent", 2027 * 12 + 3, 70_00, onward=False)])
    assert isinstance(change.item, Flow)
    # April has no 31st: the day nearest to it.
    assert change.item.dates == (date(2027, 4, 30),)


@given(st.integers(0, 40), st.integers(0, 60), st.sampled_from(["none", "before", "after", "nearest"]))
def test_the_next_landings_of_a_schedule_are_found_by_walking(back: int, count: int, roll: str) -> None:
    start, after = TODAY - timedelta(days=back), TODAY + timedelta(days=3)
    calendar, schedule = BusinessCalendar(None), Recurrence((parse_rule("FREQ=WEEKLY;BYDAY=SA,WE"),), start=start)
    wanted, day = [], start
    while len(wanted) < count + 4:
        if day.weekday() in (2, 5):
            shift = {"none": 0, "before": -1, "after": 2, "nearest": -1}[roll] if day.weekday() == 5 else 0
            wanted.append((day, day + timedelta(days=shift)))
        day += timedelta(days=1)
        wanted = [each for each in wanted if each[1] >= after]
    found = next_landings(schedule, calendar, roll, after, count)  # type: ignore[arg-type]
    assert list(map(tuple, found)) == sorted(wanted, key=lambda each: each[1])[:count]
    note = other_month_note(found)
    moved = [each for each in found if each.lands.month != each.nominal.month]
    assert (note is None) == (not moved)
    if note is not None and len(moved) > 1:
        assert f"{len(moved) - 1} more of these {len(found)}" in note


@given(st.integers(0, 900), st.integers(1, 6), st.integers(0, 6))
def test_a_placed_weekday_is_this_months_or_the_next(ahead: int, place: int, weekday: int) -> None:
    names = ("first", "second", "third", "fourth")
    if place > len(names):
        return
    today = TODAY + timedelta(days=ahead)
    said = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")[weekday]
    moment = seen(Plan(Household(), (JOINT,)), (), today)
    found = day_of(moment, Phrase("placed_weekday", (names[place - 1], said), 0, 0), is_past=False)
    day = today
    while not (day.weekday() == weekday and (day.day - 1) // 7 == place - 1):
        day += timedelta(days=1)
    assert found == day


@pytest.mark.parametrize(
    ("text", "means"),
    [
        ("12", [12, 1200, 12000]), ("12.5", [1250, 12500]), (" 1 234,50", [123450, 1234500]), ("-3", [3, 300, 3000]),
        # Three digits behind a mark are thousands, or thousandths.
        ("1,234", [1234, 123400, 1234000]), ("1.234.567,89", [123456789, 1234567890]), ("12.345.", [12345, 1234500, 12345000]),
        ("Quay", []), ("", []), ("1234567890123", []), ("4.2x", []), ("²", []), ("0.05", [5, 50]),
    ],
)  # fmt: skip
def test_a_number_that_is_looked_for_may_be_of_any_currency(text: str, means: list[int]) -> None:
    assert amounts_of(text) == means


def test_a_payment_is_meant_by_its_amount_within_fifteen_days() -> None:
    terms = LoanTerms(1_200_00, Decimal(0), date(2026, 12, 15), date(2027, 1, 15), 12, from_account="joint")
    loan = Account("loan", "Loan", "loan", "USD", Opening(date(2026, 12, 15), -1_200_00), loan=terms)
    pays = Flow("pays", "Loan", "loan_payment", 0, "joint", "loan")
    moment = seen(Plan(Household(), (JOINT, loan), flows=(pays,)), (), TODAY)

    def meant(amount: int, day: date) -> date | None:
        found = payment_meant(moment, "loan", amount, day)
        return found and found.nominal

    # Of two as near, the earlier; sixteen days are too many, and so is a cent.
    assert meant(100_00, date(2027, 3, 1)) == date(2027, 2, 15)
    assert meant(100_00, date(2027, 3, 2)) == date(2027, 3, 15)
    assert meant(100_00, date(2026, 12, 31)) == date(2027, 1, 15)
    assert meant(100_00, date(2026, 12, 30)) is None
    assert meant(100_01, date(2027, 3, 1)) is None
    assert payment_meant(moment, "joint", 100_00, TODAY) is None


@given(st.integers(1, 5), st.integers(0, 30), st.none() | st.integers(0, 12))
def test_extras_from_a_day_on_keep_their_step(every: int, months: int, begun: int | None) -> None:
    dues = [date(2027 + (2 + at) // 12, (2 + at) % 12 + 1, 15) for at in range(60)]
    start = None if begun is None else dues[begun] - timedelta(days=3)
    kept = Extra(5_00, every=every, start=start)
    once, over = Extra(1_00, date=dues[months]), Extra(2_00, every=1, until=dues[months])
    terms = LoanTerms(60_000_00, Decimal(0), date(2027, 2, 15), dues[0], 60, extras=(kept, once, over))
    for first in (dues[months], dues[months] + timedelta(days=1)):
        found = extras_from(terms, first)
        assert [extra.amount for extra in found] == ([5_00, 1_00, 2_00] if first == dues[months] else [5_00])
        begins, wanted = begun or 0, {due for at, due in enumerate(dues) if at >= (begun or 0)
                                      and (at - (begun or 0)) % every == 0 and due >= first}  # fmt: skip
        again = found[0].start
        assert again is not None
        at = next(place for place, due in enumerate(dues) if due >= again)
        assert {due for place, due in enumerate(dues) if place >= at and (place - at) % every == 0} == wanted
        assert begins <= at


def short_household(**more: Account) -> Plan:
    """Short by 60.00 from 20 March until pay comes on the 28th: rent of 400.00 on 20 March, food of 10.00 a day."""
    rent = Flow("rent", "Rent", "bill", 400_00, "joint", dates=(date(2027, 3, 20),))
    pay = Flow("pay", "Pay", "income", 900_00, to_account="joint", dates=(date(2027, 3, 28),))
    eat = Allowance("eat", "Eating", 80_00, "joint", "week", categories=("food",), start=date(2027, 3, 1),
                    until=date(2027, 3, 21))  # fmt: skip
    return Plan(Household(), (JOINT, *more.values()), categories=(Category("food", "Food"),), flows=(rent, pay),
                allowances=(eat,))  # fmt: skip


def test_an_allowance_is_trimmed_by_as_little_as_mends_it() -> None:
    moment = seen(short_household(), (), TODAY)
    until = date(2027, 4, 30)
    run = project(moment, until).run_of["joint"]
    (short,) = stretches(run, until.toordinal())
    # 500.00 less 80.00 on the 7th and the 14th, the rent on the 20th, and 80.00 on the 21st.
    assert (short.first, short.short_by) == (date(2027, 3, 20).toordinal(), 140_00)
    # None of the weeks to come is worth 140.00, and one allowance is trimmed in one of them.
    assert remedies(moment, run.account, short, until) == []
    deeper = replace(moment.plan, accounts=(replace(JOINT, opening=Opening(date(2026, 1, 1), 590_01)),))
    moment = seen(deeper, (), TODAY)
    (short,) = stretches(project(moment, until).run_of["joint"], until.toordinal())
    assert short.short_by == 49_99
    found = {remedy.title: remedy.moved for remedy in remedies(moment, deeper.accounts[0], short, until)}
    assert found == {"Spend $49.99 less on “Eating” from Mon Mar 8 to Sun Mar 14": 49_99,
                     "Spend $49.99 less on “Eating” from Mon Mar 15 to Sun Mar 21": 49_99}  # fmt: skip


@pytest.mark.parametrize(("limit", "is_offered"), [(400_00, True), (399_99, False)])
def test_a_bill_is_paid_by_a_card_that_has_room_for_it(limit: int, is_offered: bool) -> None:
    card = Account("card", "Wharf card", "credit_card", "USD", Opening(TODAY, 0),
                   card=CardTerms(limit, 28, DueRule(days_after=25), from_account="joint"))  # fmt: skip
    plan = short_household(card=card)
    moment, until = seen(plan, (), TODAY), date(2027, 3, 31)
    (short,) = stretches(project(moment, until).run_of["joint"], until.toordinal())
    titles = [remedy.title for remedy in remedies(moment, JOINT, short, until)]
    assert ("Pay “Rent” of Sat Mar 20 by Wharf card" in titles) == is_offered


@pytest.mark.parametrize(("spare", "steps"), [((40_00, 40_00, 40_00), 3), ((70_00, 60_00, 40_00), 2), ((119_99,), 0)])
def test_as_few_transfers_as_can_be_fill_a_stretch(spare: tuple[int, ...], steps: int) -> None:
    tins = [Account(f"t{at}", f"Tin {at}", "cash", "USD", Opening(TODAY, amount)) for at, amount in enumerate(spare)]
    joint = replace(JOINT, opening=Opening(TODAY, 280_00))
    rent = Flow("rent", "Rent", "bill", 400_00, "joint", dates=(date(2027, 3, 20),))
    pay = Flow("pay", "Pay", "income", 900_00, to_account="joint", dates=(date(2027, 3, 28),))
    moment, until = seen(Plan(Household(), (joint, *tins), flows=(rent, pay)), (), TODAY), date(2027, 3, 31)
    (short,) = stretches(project(moment, until).run_of["joint"], until.toordinal())
    assert short.short_by == 120_00
    found = [each for each in remedies(moment, joint, short, until) if "rent" not in each.title.lower()]
    assert {each.steps for each in found} == ({steps} if steps else set())
    assert all(each.moved >= 120_00 for each in found)
    for each in found:
        after = apply_to_moment(moment, each.changes, lambda _: None)
        assert min(balance for _, balance in project(after, until).run_of["joint"].levels) >= 0


def test_a_bill_of_the_day_before_a_stretch_waits_as_short_as_mends_it() -> None:
    club = Flow("club", "Club", "bill", 100_00, "joint", dates=(date(2027, 3, 19),), late_days=5)
    rent = Flow("rent", "Rent", "bill", 450_00, "joint", dates=(date(2027, 3, 20),))
    pay = Flow("pay", "Pay", "income", 900_00, to_account="joint", dates=(date(2027, 3, 22),))
    moment, until = seen(Plan(Household(), (JOINT,), flows=(club, rent, pay)), (), TODAY), date(2027, 3, 31)
    (short,) = stretches(project(moment, until).run_of["joint"], until.toordinal())
    (found,) = remedies(moment, JOINT, short, until)
    assert found.title == "Pay “Club” on Mon Mar 22 instead of Fri Mar 19"
