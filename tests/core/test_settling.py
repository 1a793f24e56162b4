"""Settling: what is due, what each line does to the lowest point, and what settling records."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from acting_households import acting_documents
from households import Document, documents, read
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import Ledger
from seen import of

from effort import examples
from next_penny.core.books.books import Books, books_from_entries
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.checks.entries import check_entry
from next_penny.core.checks.plan import check
from next_penny.core.edits.settling.due import DueLine, due_lines, left_out_lately
from next_penny.core.edits.settling.settle import Settlement, leave_out, put_off, settle
from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import project
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Change, Flow, Split
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import CardTerms, DueRule, StatementChange
from next_penny.core.problems import PlanError

TODAY = date(2027, 3, 1)
OPENED = Opening(date(2027, 1, 1), 500_00)
RENT = Flow("rent", "Rent", "bill", 300_00, from_account="a", category="home", rules=("FREQ=MONTHLY;BYMONTHDAY=20",),
            start=date(2027, 2, 1), remind_days=25)  # fmt: skip
PLAN = Plan(
    accounts=(Account("a", "A", "checking", "USD", OPENED), Account("b", "B", "savings", "USD", OPENED)),
    categories=(Category("home", "Home"),),
    flows=(RENT,),
)
LATE, NEXT = date(2027, 2, 20), date(2027, 3, 20)


def after(plan: Plan, changes: list[PlanChange]) -> tuple[Plan, Books]:
    changed = apply(plan, changes)
    assert check(changed) == []
    for change in changes:
        if isinstance(change.item, Entry):
            assert check_entry(changed, change.item) == []
    return changed, apply_to_books(Books(), changes, lambda id: None, TODAY)


def due(plan: Plan, books: Books) -> list[DueLine]:
    return due_lines(of(plan, books, TODAY)).lines


def expected_events(plan: Plan, books: Books) -> list[tuple[str, int, str]]:
    events = project(of(plan, books, TODAY), TODAY + timedelta(days=60)).events
    return [(event.date.isoformat(), event.amount, event.status) for event in events]


def test_past_due_comes_first_then_what_is_due_within_the_days_of_reminder() -> None:
    lines = due(PLAN, Books())
    assert [(date.fromordinal(line.nominal), line.status) for line in lines] == [(LATE, "past_due"), (NEXT, "coming")]
    ignoring = replace(PLAN, household=replace(PLAN.household, past_due="ignore"))
    assert [line.status for line in due(ignoring, Books())] == ["past_due", "coming"]
    assert len(due(replace(PLAN, flows=(replace(RENT, remind_days=3),)), Books())) == 1


def test_settled_as_expected_it_is_recorded_when_it_was_expected() -> None:
    plan, books = after(PLAN, settle(of(PLAN, Books(), TODAY), Settlement("e", "rent", LATE)))
    assert books.before == {"a": -300_00}
    assert books.spent["home", "a"] == [(LATE.toordinal(), 300_00)]
    assert expected_events(plan, books)[0] == ("2027-03-20", -300_00, "expected")


def test_settled_otherwise_it_is_recorded_as_it_was() -> None:
    settlement = Settlement("e", "rent", NEXT, amount=310_00, day=TODAY, account="b")
    plan, books = after(PLAN, settle(of(PLAN, Books(), TODAY), settlement))
    assert [entry.legs[0] for entry in books.ahead] == [Leg(-310_00, account="b")]
    assert expected_events(plan, books)[:2] == [("2027-03-01", -310_00, "settled"), ("2027-03-01", -300_00, "past_due")]


def test_of_a_part_the_rest_stays_expected() -> None:
    part = Settlement("e", "rent", LATE, amount=120_00, day=TODAY, is_part=True)
    plan, books = after(PLAN, settle(of(PLAN, Books(), TODAY), part))
    assert expected_events(plan, books)[:2] == [("2027-03-01", -180_00, "past_due"), ("2027-03-01", -120_00, "settled")]
    rest, rest_books = after(plan, settle(of(plan, books, TODAY), Settlement("r", "rent", LATE)))
    assert rest_books.before == {"a": -180_00}
    assert expected_events(rest, rest_books)[0][0] == "2027-03-20"


def test_leaving_out_and_putting_off_are_just_this_once() -> None:
    plan, books = after(PLAN, leave_out(of(PLAN, Books(), TODAY), "rent", LATE))
    assert [event[0] for event in expected_events(plan, books)] == ["2027-03-20", "2027-04-20"]
    plan, books = after(PLAN, put_off(of(PLAN, Books(), TODAY), "rent", NEXT, date(2027, 4, 2)))
    assert [event[0] for event in expected_events(plan, books)] == ["2027-03-01", "2027-04-02", "2027-04-20"]


def test_a_paycheck_is_recorded_with_its_parts() -> None:
    pay = Flow("pay", "Pay", "income", 900_00, to_account="a", dates=(TODAY,), splits=(Split(150_00, account="b"),))
    plan = replace(PLAN, flows=(pay,))
    changes = settle(of(plan, Books(), TODAY), Settlement("e", "pay", TODAY, amount=880_00))
    after(plan, changes)
    entry = next(change.item for change in changes if isinstance(change.item, Entry))
    assert entry.legs == (Leg(730_00, account="a"), Leg(150_00, account="b"), Leg(-880_00, category="unsorted-income"))


@pytest.mark.parametrize(
    ("settlement", "field", "says"),
    [
        (Settlement("e", "nothing", LATE), "flow", "no flow"),
        (Settlement("e", "rent", date(2027, 3, 21)), "nominal", "is not expected"),
        (Settlement("e", "rent", LATE, amount=300_00, is_part=True), "amount", "less than \\$300.00"),
        (Settlement("e", "rent", LATE, amount=-5), "amount", "without a sign"),
    ],
)
def test_what_cannot_be_settled_says_why(settlement: Settlement, field: str, says: str) -> None:
    with pytest.raises(PlanError, match=says) as refusal:
        settle(of(PLAN, Books(), TODAY), settlement)
    assert refusal.value.problems[0].loc == (field,)


def test_an_occurrence_is_settled_once() -> None:
    _, books = after(PLAN, settle(of(PLAN, Books(), TODAY), Settlement("e", "rent", LATE)))
    with pytest.raises(PlanError, match="is settled already"):
        settle(of(PLAN, books, TODAY), Settlement("f", "rent", LATE))


@given(documents() | acting_documents(), st.integers(0, 60), st.data())
@settings(max_examples=examples(160))
def test_each_line_says_what_it_does_to_the_lowest_point(document: Document, days: int, data: st.DataObject) -> None:
    """Also where an allowance, a sweep, what is set aside or what is assumed follows from it."""
    document = {**document, "flows": [{**flow, "remind_days": days} for flow in document["flows"]]}
    plan, entries = read(document)
    books = books_from_entries(entries, TODAY)
    lines = [line for line in due(plan, books) if line.status != "assumed"]
    if not lines:
        return
    line = data.draw(st.sampled_from(lines))
    on = line.flow.on(date.fromordinal(line.nominal))
    account, until = on.main_account or "", TODAY + timedelta(days=366)
    if plan.account_by_id[account].is_debt:
        assert line.moves_lowest is None
        return
    if line.flow.id in {flow.id for flow in plan.flows}:
        without = apply(plan, leave_out(of(plan, books, TODAY), line.flow.id, date.fromordinal(line.nominal)))
    else:
        # A card's payment: its money is there, and what the card asks for later stays.
        day = date.fromordinal(max(line.landing, TODAY.toordinal()))
        is_ahead = line.landing >= TODAY.toordinal() or plan.household.past_due == "carry"
        back = Flow("back", "Back", "income", line.amount * is_ahead, to_account=account, dates=(day,), start=day)
        without = apply(plan, [PlanChange("flow", "back", back)])
    before, left = (lowest(project(of(each, books, TODAY), until, [account]).runs[0]) for each in (plan, without))
    if before is not None and left is not None:
        assert left.balance - before.balance == line.moves_lowest


@given(documents(), st.lists(st.integers(0, 30), min_size=3, max_size=3), st.integers(0, 5), st.integers(1, 9))
def test_what_is_due_is_what_is_unsettled_by_each_flows_days_of_reminder(
    document: Document, reminds: list[int], first: int, most: int
) -> None:
    flows = [{**flow, "remind_days": days, "always_happens": False, "follows": 0, "estimate": False}
             for flow, days in zip(document["flows"], reminds * 9, strict=False)]  # fmt: skip
    document = {**document, "flows": flows, "allowances": []}
    plan, entries = read(document)
    moment, ledger = of(plan, books_from_entries(entries, TODAY), TODAY), Ledger(document, TODAY)
    wanted = []
    for flow in flows:
        for nominal, lands, amount in ledger.unsettled(flow):
            if lands <= TODAY + timedelta(days=flow["remind_days"]):
                rank = 0 if lands < TODAY else 1 if lands == TODAY else 2
                wanted.append(((rank, lands, flow["name"]), flow["id"], nominal, amount))
    page = due_lines(moment)
    assert page.in_all == len(wanted)
    told = [(line.flow.id, date.fromordinal(line.nominal), line.amount) for line in page.lines]
    assert sorted(told) == sorted((id, nominal, amount) for _, id, nominal, amount in wanted)
    names = {"past_due": 0, "today": 1, "coming": 2}
    keys = [(names[line.status], date.fromordinal(line.landing), line.flow.name) for line in page.lines]
    assert keys == sorted(key for key, *_ in wanted)
    part = due_lines(moment, first, most)
    assert (part.lines, part.in_all) == (page.lines[first : first + most], len(wanted))


def test_what_was_left_out_within_a_year_is_told_the_newest_first() -> None:
    first, last = TODAY - timedelta(days=366), TODAY + timedelta(days=25)
    dates = tuple(day + timedelta(days=by) for day in (first, last) for by in (-1, 0, 1))
    left = tuple(Change(day, left_out=True) for day in dates)
    odd = replace(RENT, rules=(), start=None, dates=(*dates, TODAY), changes=(*left, Change(TODAY, amount=5)))
    opened = replace(PLAN.accounts[0], opening=Opening(date(2026, 1, 1), 0))
    card = CardTerms(500_00, 28, DueRule(days_after=20), from_account="a",
                     changes=tuple(StatementChange(closing, left_out=True) for closing in CLOSINGS))  # fmt: skip
    owing = Account("v", "V", "credit_card", "USD", Opening(date(2026, 1, 1), -1), card=card)
    plan = replace(PLAN, accounts=(opened, PLAN.accounts[1], owing), flows=(odd,))
    told = left_out_lately(of(plan, Books(), TODAY))
    assert [(each.flow.id, each.nominal, each.amount) for each in told] == [
        ("rent", last, 300_00), ("rent", last - timedelta(days=1), 300_00), ("v-payment", date(2027, 2, 17), 0),
        ("v-payment", date(2026, 3, 20), 0), ("rent", first + timedelta(days=1), 300_00), ("rent", first, 300_00),
    ]  # fmt: skip
    by_hand = replace(owing, card=replace(card, from_account=None))
    told = left_out_lately(of(replace(plan, accounts=(opened, by_hand)), Books(), TODAY))
    assert {each.flow.id for each in told} == {"rent"}


# Statements left out that are due on 20 March 2026, 17 February 2027 and 20 March 2027.
CLOSINGS = (date(2026, 2, 28), date(2027, 1, 28), date(2027, 2, 28))


def test_what_is_put_off_comes_today_or_later() -> None:
    moment = of(PLAN, Books(), TODAY)
    (change,) = put_off(moment, "rent", LATE, TODAY)
    assert isinstance(change.item, Flow)
    assert change.item.changes == (Change(LATE, moved_to=TODAY),)
    with pytest.raises(PlanError) as refused:
        put_off(moment, "rent", LATE, TODAY - timedelta(days=1))
    assert refused.value.problems[0].loc == ("to",)


@pytest.mark.parametrize(("ahead", "today", "is_open"), [(-1, 500_00, True), (0, 500_00, True), (1, 0, False)])
def test_an_account_is_open_from_its_first_day_on(ahead: int, today: int, is_open: bool) -> None:
    opened = Opening(TODAY + timedelta(days=ahead), 500_00)
    plan = replace(PLAN, accounts=(replace(PLAN.accounts[0], opening=opened),), flows=())
    (run,) = project(of(plan, Books(), TODAY), TODAY + timedelta(days=9)).runs
    assert (run.today_balance, run.is_open_today) == (today, is_open)
    assert run.levels == [(TODAY.toordinal() + max(0, ahead), 500_00)]
