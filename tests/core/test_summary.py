"""Flows at a glance, subscriptions, what is in force on a day, and the books as a what-if sees them."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from households import TODAY, Document, documents, read
from hypothesis import given
from hypothesis import strategies as st
from ledger import Ledger
from seen import of, seen

from next_penny.core.books.books import Books, books_from_entries
from next_penny.core.books.moment import Cache
from next_penny.core.checks.plan import check
from next_penny.core.dates.business_days import business_calendar
from next_penny.core.dates.calendar import add_months, clipped_day, month_length, month_number, whole_years
from next_penny.core.flows.amounts import amount_on, rules_on
from next_penny.core.flows.assumed import moment_of
from next_penny.core.flows.makers import expected, past_due
from next_penny.core.flows.occurrences import landings, nominal_days, occurrences
from next_penny.core.flows.subscriptions import PriceChange, subscription
from next_penny.core.flows.summary import summarize
from next_penny.core.forecast.projection import project
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.flows import Change, Flow, Revision
from next_penny.core.plan.plan import Plan

OPENED = date(2026, 1, 1)
PLAN = Plan(accounts=(Account("a", "A", "checking", "USD", Opening(OPENED, 0)),))


def bill(**more: object) -> Flow:
    fields: dict[str, object] = {"rules": ("FREQ=MONTHLY;BYMONTHDAY=10",), "start": OPENED, **more}
    return Flow("f", "Power", "bill", 50_00, from_account="a", **fields)  # type: ignore[arg-type]


def settled_until_today(flow: Flow) -> Books:
    past = past_due(of(replace(PLAN, flows=(flow,)), Books(), TODAY), flow)
    return Books(settled={flow.id: dict.fromkeys(past.nominal.tolist(), 0)})


def test_a_flow_at_a_glance() -> None:
    flow = bill(seasonal=((12, 80_00),))
    plan = replace(PLAN, flows=(flow,))
    told = summarize(of(plan, settled_until_today(flow), TODAY), flow)
    assert told.sentence == "on the 10th of every month"
    assert told.next is not None
    assert (told.next.lands, told.next.amount) == (date(2027, 3, 10), 50_00)
    assert told.months == (50_00,) * 9 + (80_00,) + (50_00,) * 2
    assert (told.yearly, told.past_due) == (630_00, 0)
    assert summarize(of(plan, Books(), TODAY), flow).past_due == 14


@pytest.mark.parametrize(
    ("more", "next_day"),
    [
        ({"rules": ("FREQ=YEARLY;INTERVAL=3;BYMONTH=1;BYMONTHDAY=5",)}, date(2029, 1, 5)),
        ({"until": date(2027, 2, 1)}, None),
        ({"changes": (Change(date(2027, 3, 10), moved_to=date(2027, 3, 20)),)}, date(2027, 3, 20)),
        ({"changes": (Change(date(2027, 3, 10), left_out=True),)}, date(2027, 4, 10)),
        ({"rules": (), "dates": (date(2028, 7, 1),)}, date(2028, 7, 1)),
    ],
)
def test_the_next_date_wherever_it_is(more: dict[str, object], next_day: date | None) -> None:
    flow = bill(**more)
    told = summarize(of(replace(PLAN, flows=(flow,)), settled_until_today(flow), TODAY), flow)
    assert (told.next.lands if told.next else None) == next_day


@given(documents())
def test_the_coming_year_of_a_flow_is_its_part_of_the_forecast(document: Document) -> None:
    plan, _ = read(document)
    plan = replace(plan, household=replace(plan.household, past_due="ignore"))
    year_end = add_months(TODAY, 12) - timedelta(days=1)
    for flow in plan.flows:
        told = summarize(of(plan, Books(), TODAY), flow)
        coming = expected(of(plan, Books(), TODAY), flow, (year_end).toordinal())
        assert told.yearly == int(coming.amount.sum())
        if told.next is not None and len(coming.landing):
            assert told.next.lands.toordinal() == int(coming.landing.min())


def test_a_revision_is_in_force_from_its_date_on() -> None:
    flow = bill(
        revisions=(
            Revision(date(2027, 5, 1), 60_00),
            Revision(date(2027, 2, 1), rules=("FREQ=WEEKLY",)),
            Revision(date(2027, 8, 1), 70_00, ("FREQ=DAILY",)),
        )
    )
    told = [(amount_on(flow, day), rules_on(flow, day)[0][:11]) for day in (OPENED, date(2027, 3, 1), date(2027, 6, 1))]
    assert told == [(50_00, "FREQ=MONTHL"), (50_00, "FREQ=WEEKLY"), (60_00, "FREQ=WEEKLY")]
    assert (amount_on(flow, date(2028, 1, 1)), rules_on(flow, date(2028, 1, 1))) == (70_00, ("FREQ=DAILY",))


def test_a_revised_rhythm_is_anchored_where_it_begins() -> None:
    flow = bill(
        rules=("FREQ=WEEKLY;BYDAY=FR",),
        revisions=(Revision(date(2027, 3, 12), rules=("FREQ=WEEKLY;INTERVAL=2;BYDAY=FR",)),),
    )
    days = nominal_days(flow, OPENED, date(2027, 3, 1).toordinal(), date(2027, 4, 10).toordinal())
    assert [date.fromordinal(day).day for day in days] == [5, 12, 26, 9]
    counted = replace(flow, start=date(2027, 2, 26), count=4)
    days = nominal_days(counted, OPENED, date(2027, 3, 10).toordinal(), date(2027, 12, 1).toordinal())
    assert [date.fromordinal(day).isoformat() for day in days] == ["2027-03-12", "2027-03-26"]


@given(
    st.sets(st.integers(0, 40)), st.sampled_from(["none", "before", "after", "nearest"]), st.sampled_from([None, "US"])
)
def test_what_lands_in_a_window_is_what_lands_at_all(moved: set[int], roll: str, country: str | None) -> None:
    calendar = business_calendar(country)
    days = [TODAY + timedelta(days=number) for number in sorted(moved)]
    changes = tuple(Change(day, moved_to=day + timedelta(days=30)) for day in days[::3])
    flow = bill(rules=(), dates=tuple(days), roll=roll, changes=changes)
    begin, end = TODAY.toordinal() - 30, TODAY.toordinal() + 120
    whole = occurrences(flow, OPENED, calendar, begin, end)
    assert len(whole.nominal) == len(days)
    for first in range(begin, end, 37):
        part = occurrences(flow, OPENED, calendar, first, first + 36)
        inside = (first <= whole.landing) & (whole.landing <= first + 36)
        assert part.landing.tolist() == whole.landing[inside].tolist()
    assert [n for n, _ in landings(flow.schedule(OPENED), calendar, "none", begin, end)] == whole.nominal.tolist()


def test_a_subscription_that_rose_twice() -> None:
    flow = bill(subscription=True)
    told = summarize(of(replace(PLAN, flows=(flow,)), settled_until_today(flow), TODAY), flow)
    paid = [
        (date(2026, 1, 10), 40_00),
        (date(2026, 2, 10), 45_00),
        (date(2026, 3, 10), 45_00),
        (date(2026, 4, 10), 50_00),
    ]
    stands = subscription(told, paid, TODAY, is_overdue=False)
    assert (stands.monthly, stands.yearly, stands.paid_so_far, stands.days_until) == (50_00, 600_00, 180_00, 9)
    assert stands.rises == (PriceChange(date(2026, 2, 10), 40_00, 45_00), PriceChange(date(2026, 4, 10), 45_00, 50_00))
    assert subscription(told, [], TODAY, is_overdue=False).rises == ()
    # When it was paid last is what is recorded, or what the household says, whichever is later.
    for said, last in ((None, date(2026, 4, 10)), (date(2026, 4, 9), date(2026, 4, 10)), (TODAY, TODAY)):
        named = replace(told, flow=replace(told.flow, last_paid=said))
        assert subscription(named, paid, TODAY, is_overdue=False).last_paid == last
    assert (stands.first_paid, stands.payments, stands.lately) == (date(2026, 1, 10), 4, 95_00)


@given(documents(), documents(), st.integers(1, 60))
def test_what_is_remembered_of_one_moment_never_shows_in_another(one: Document, two: Document, days: int) -> None:
    memory, until = Cache(), TODAY + timedelta(days=days)
    for document in (one, two, {**one, "flows": two["flows"], "entries": []}, one):
        plan, entries = read(document)
        if check(plan):
            continue  # the flows of one household need not suit the accounts of another
        books = books_from_entries(entries, TODAY)
        with_memory = moment_of(plan, books, TODAY, memory)
        memory = with_memory.cache
        afresh = project(seen(plan, entries, TODAY), until)
        assert [run.levels for run in project(with_memory, until).runs] == [run.levels for run in afresh.runs]


@given(st.dates(date(1950, 1, 1), date(2200, 1, 1)), st.integers(-600, 600))
def test_months_are_added_with_the_clip(day: date, months: int) -> None:
    later = add_months(day, months)
    assert month_number(later) == month_number(day) + months
    assert later.day == min(day.day, month_length(month_number(later)))
    assert date.fromordinal(clipped_day(month_number(later), 31)).day == month_length(month_number(later))


@given(st.dates(date(1950, 1, 1), date(2100, 1, 1)), st.integers(0, 40_000))
def test_whole_years_are_anniversaries(start: date, days: int) -> None:
    end = start + timedelta(days=days)
    years = whole_years(start, end)
    assert add_months(start, 12 * years) <= end < add_months(start, 12 * (years + 1))


@given(documents(), st.dates(TODAY - timedelta(days=40), TODAY + timedelta(days=70)))
def test_a_flows_year_is_what_lands_in_it_by_month_and_in_all(document: Document, today: date) -> None:
    flows = [{**flow, "always_happens": False, "follows": 0, "estimate": False} for flow in document["flows"]]
    document = {**document, "flows": flows, "entries": []}
    plan, _ = read(document)
    moment, ledger = seen(plan, (), today), Ledger(document, today)
    this_month, a_year_on = month_number(today), add_months(today, 12)
    for told, flow in zip((summarize(moment, flow) for flow in plan.flows), flows, strict=True):
        rows = [(lands, amount) for _, lands, amount in ledger.unsettled(flow)]
        assert told.yearly == sum(amount for lands, amount in rows if today <= lands < a_year_on)
        assert told.months == tuple(
            sum(amount for lands, amount in rows if month_number(lands) == this_month + ahead) for ahead in range(12)
        )
        coming = [(lands, amount) for lands, amount in rows if lands >= today]
        if coming:
            assert told.next is not None
            assert told.next.lands == min(coming)[0]
        assert told.past_due == sum(lands < today for lands, _ in rows)
