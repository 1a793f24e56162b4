"""What is written down to be remembered, and what is learnt from it: at a year's end, and for the plan (RULES §14)."""

from collections import defaultdict
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest
from households import TODAY, Document, iso, read
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from reviewed_households import OPENED, Remembers, days, households, lengths, of_limit, paid_of, written
from seen import seen

from effort import examples
from next_penny.core.edits.settling.settle import Settlement, leave_out, settle
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.memory import Key
from next_penny.core.plan.plan import Plan
from next_penny.core.review.forward.habits import habits
from next_penny.core.review.forward.proposals import proposals
from next_penny.core.review.forward.year_end import year_end
from next_penny.core.review.occurrences import occurrences_over
from next_penny.core.review.remembering import cut_short, days_to_write, ended, landed, of_key, settled_by


@given(households(), days, lengths)
@settings(max_examples=examples(150))
def test_what_landed_is_written_down_once_with_what_it_would_record(
    document: Document, first: date, length: int
) -> None:
    plan, recorded = read(document)
    last, moment = first + timedelta(days=length - 1), seen(plan, recorded, TODAY)
    rows = list(landed(moment, first, last))
    wanted = [(flow["id"], nominal) for flow in document["flows"] for nominal in flow["dates"]
              if iso(first) <= nominal <= iso(last)]  # fmt: skip
    flows = [row for row in rows if not row.is_allowance]
    assert sorted((row.source, iso(row.nominal)) for row in flows) == sorted(wanted)
    assert all(of_key(moment, row.key) == row and sum(leg.amount for leg in row.legs) == 0 for row in flows)
    assert of_key(moment, Key("f0", date(2030, 1, 1))) is None
    ends = [day for day in range(first.toordinal(), last.toordinal() + 1)
            if date.fromordinal(day + 1).day == 1 and document["allowances"]]  # fmt: skip
    periods = [row for row in rows if row.is_allowance]
    assert [row.lands.toordinal() for row in periods] == ends
    for row in periods:
        assert row.limit == of_limit(document["allowances"][0]["limit"], row.nominal, row.lands)
        assert row.nominal == max(row.lands.replace(day=1), OPENED)
    assert list(landed(moment, last, first - timedelta(days=1))) == []
    assert days_to_write(first, TODAY) == (first + timedelta(days=1), TODAY - timedelta(days=1))


@given(households(), st.data())
@settings(max_examples=examples(150))
def test_what_is_settled_before_its_day_is_written_down_as_it_was_expected(
    document: Document, data: st.DataObject
) -> None:
    plan, recorded = read(document)
    before, paid = seen(plan, recorded, TODAY), paid_of(document)
    free = [(flow["id"], nominal, flow["amount"]) for flow in document["flows"] for nominal in flow["dates"]
            if (flow["id"], nominal) not in paid]  # fmt: skip
    if free:
        flow, nominal, amount = data.draw(st.sampled_from(free))
        day = date.fromisoformat(nominal)
        changes = settle(before, Settlement("new", flow, day, amount + 5, TODAY))
        after = apply_to_moment(before, changes, {entry.id: entry for entry in recorded}.get)
        rows = list(settled_by(before, after, [Key(flow, day)]))
        assert [(row.source, row.nominal) for row in rows] == ([(flow, day)] if day >= TODAY else [])
        assert all(max(leg.amount for leg in row.legs) == amount for row in rows)
        left = apply_to_moment(before, leave_out(before, flow, day), {entry.id: entry for entry in recorded}.get)
        assert [row.nominal for row in settled_by(before, left, [])] == ([day] if day == TODAY else [])
    if document["allowances"]:
        (allowance,) = plan.allowances
        now = apply_to_moment(before, [PlanChange("allowance", allowance.id, None)], lambda _: None)
        # Today is the first of its month: none of the running period has passed.
        assert list(cut_short(before, now)) == []
        middle = seen(plan, recorded, TODAY + timedelta(days=9))
        gone = apply_to_moment(middle, [PlanChange("allowance", allowance.id, None)], lambda _: None)
        (row,) = cut_short(middle, gone)
        assert (row.nominal, row.lands) == (TODAY, TODAY + timedelta(days=8))
        assert row.limit == half_up(Fraction(9 * allowance.limit, 31))
        assert list(cut_short(middle, middle)) == []


@given(households(), written)
@settings(max_examples=examples(150))
def test_a_year_ends_where_its_accounts_stand_and_tells_what_was_off(document: Document, until: date | None) -> None:
    plan, recorded = read(document)
    moment, paid = seen(plan, recorded, TODAY), paid_of(document)
    found = year_end(moment, Remembers(recorded, moment, until), 2027)
    upto = {at: defaultdict[str, int](int) for at in ("2026-12-31", iso(TODAY))}
    for entry in document["entries"]:
        for leg in entry["legs"]:
            for at, sums in upto.items():
                sums[leg.get("account", "")] += leg["amount"] if entry["date"] <= at else 0
    assert [(each.begins, each.ends) for each in found.standings] == [
        tuple(sums[account["id"]] for sums in upto.values()) for account in document["accounts"]
    ]
    assert found.worth == tuple(sum(sums[account["id"]] for account in document["accounts"]) for sums in upto.values())
    off = []
    for flow in document["flows"]:
        sums = [abs(paid[flow["id"], nominal]["legs"][0]["amount"]) for nominal in flow["dates"]
                if "2027-01-01" <= nominal <= iso(TODAY) and (flow["id"], nominal) in paid]  # fmt: skip
        coming = [n for n in flow["dates"] if n > iso(TODAY) and (flow["id"], n) not in paid]
        if sums and coming:
            fitting = half_up(Fraction(sum(sums), len(sums)))
            if (
                10 * abs(sum(sums) - len(sums) * flow["amount"]) > len(sums) * flow["amount"]
                and fitting != flow["amount"]
            ):
                off.append((flow["id"], flow["amount"], fitting, date.fromisoformat(coming[0])))
    assert [(each.id, each.planned, each.amount, each.begins) for each in found.off] == off
    habit = habits(moment, Remembers(recorded, moment, until)).flows
    for flow in document["flows"]:
        settled = [(paid[flow["id"], n], n) for n in flow["dates"] if n <= iso(TODAY) and (flow["id"], n) in paid]
        ratios = [(abs(entry["legs"][0]["amount"]), flow["amount"]) for entry, _ in settled]
        late = [(date.fromisoformat(entry["date"]) - date.fromisoformat(n)).days for entry, n in settled]
        mine = habit.get(flow["id"])
        assert (list(map(tuple, mine.ratios)), list(mine.late)) if mine else (ratios, late) == ([], [])


@pytest.mark.parametrize(
    ("used", "fitting"),
    # The mean, an exact half up; none where it is the limit's, nor where as much was given back as spent, or more.
    [
        ((10, 10, 11), 10),
        ((10, 10, 11, 11), 11),
        ((-5_00, 3, -2_00), None),
        ((-5_00, 3_00, 2_00), None),
        ((-5_00, 3_00, 2_02), 1),
        ((100_01, 100_01, 99_98), None),
        ((1, 2), None),
    ],
)
def test_a_limit_that_is_proposed_can_be_taken_over(used: tuple[int, ...], fitting: int | None) -> None:
    ends = [date(2026, 11, 30), date(2026, 12, 31), date(2027, 1, 31), date(2027, 2, 28)][-len(used) :]
    entries = [
        {"id": iso(end), "date": iso(end), "payee": "Mill",
         "legs": [{"account": "a", "amount": -amount}, {"category": "food", "amount": amount}]}
        for end, amount in zip(ends, used, strict=True)
    ]  # fmt: skip
    document = {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "country": None,
        "accounts": [{"id": "a", "name": "A", "kind": "checking", "currency": "USD",
                      "opening": {"date": iso(ends[0].replace(day=1)), "balance": 0}}],
        "categories": [{"id": "food", "name": "Food", "kind": "expense"}],
        "allowances": [{"id": "meals", "name": "Meals", "limit": 100_00, "account": "a", "period": "month",
                        "categories": ["food"]}],
        "flows": [], "entries": entries,
    }  # fmt: skip
    plan, recorded = read(document)
    moment = seen(plan, recorded, TODAY)
    found = proposals(moment, Remembers(recorded, moment, TODAY - timedelta(days=1)))
    assert [(each.id, each.planned, each.amount, each.begins) for each in found] == (
        [] if fitting is None else [("meals", 100_00, fitting, date(2027, 4, 1))]
    )


@pytest.mark.parametrize(("upto", "rest"), [(None, (1, 28)), (1, (2, 28)), (27, (28, 28)), (28, None)])
def test_of_a_period_that_ends_only_what_is_not_remembered_is_written_down(
    upto: int | None, rest: tuple[int, int] | None
) -> None:
    account = Account("a", "A", "checking", "USD", Opening(date(2027, 1, 1), 0))
    eat = Allowance("meals", "Meals", 28_00, "a", categories=("food",))
    moment = seen(Plan(accounts=(account,), categories=(Category("food", "Food"),), allowances=(eat,)), (), TODAY)
    february = date(2027, 2, 1)
    whole = [row for row in landed(moment, february, date(2027, 2, 28)) if row.is_allowance]
    known = [replace(whole[0], lands=february.replace(day=upto), limit=upto * 1_00)] if upto else []
    rows = list(ended(moment, eat, february, date(2027, 2, 28), known))
    told = [(row.nominal.day, row.lands.day, row.limit) for row in rows]
    assert told == ([(*rest, (rest[1] - rest[0] + 1) * 1_00)] if rest else [])
    # One that ends the day before, or the day after, is of another stretch.
    assert list(ended(moment, eat, date(2027, 3, 1), date(2027, 3, 30))) == []
    assert list(ended(moment, eat, february, date(2027, 2, 27))) == []


@pytest.mark.parametrize("month", [3, 4, 5])
def test_what_was_settled_early_is_told_as_it_was_expected_then_and_once(month: int) -> None:
    account = Account("a", "A", "checking", "USD", Opening(date(2027, 1, 1), 0))
    days = [date(2027, at, 10) for at in (3, 4, 5)]
    rent = Flow("rent", "Rent", "bill", 50_00, "a", dates=tuple(days))
    early = days[month - 3]
    paid = Entry("e", TODAY, "Rent", (Leg(-60_00, "a"), Leg(60_00, category="home")), "rent", early)
    moment = seen(Plan(accounts=(account,), categories=(Category("home", "Home"),), flows=(rent,)), [paid], TODAY)
    sources = Remembers([paid], moment, TODAY - timedelta(days=1))
    sources.rows.append(replace(next(iter(landed(moment, early, early))), name="As it was called"))
    told = occurrences_over(moment, sources, TODAY, date(2027, 5, 31))
    assert [(each.row.nominal, each.row.name, each.status) for each in told] == [
        (day, "As it was called", "settled") if day == early else (day, "Rent", "expected") for day in days
    ]
