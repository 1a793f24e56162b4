"""What a review tells of a stretch: what was different, what is worth a look, what is behind a row (RULES §14)."""

from collections import defaultdict
from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import pytest
from households import TODAY, Document, iso, read
from hypothesis import given, settings
from hypothesis import strategies as st
from reviewed_households import CATEGORIES, Remembers, days, households, lengths, paid_of, written
from seen import seen

from effort import examples
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.memory import Expected
from next_penny.core.plan.plan import Plan
from next_penny.core.review.detail.behind import behind
from next_penny.core.review.detail.different import different
from next_penny.core.review.noticing import noticed
from next_penny.core.review.occurrences import Became, occurrences_over
from next_penny.core.review.records import Kept, RowKey, Totals, Two
from next_penny.core.review.review import review
from next_penny.core.review.sums import Sums
from next_penny.core.review.telling import Line, groups_of, lines_of, sentence_of


def money(amount: int) -> str:
    return f"${amount // 100:,}.{amount % 100:02}"


@given(households(), days, lengths, written)
@settings(max_examples=examples(200))
def test_what_was_different_is_each_other_amount_or_day_and_what_nobody_planned(
    document: Document, first: date, length: int, until: date | None
) -> None:
    plan, recorded = read(document)
    last, moment = first + timedelta(days=length - 1), seen(plan, recorded, TODAY)
    unplanned = [entry for entry in recorded if entry.flow is None and first <= entry.date <= min(last, TODAY)]
    found = different(plan, occurrences_over(moment, Remembers(recorded, moment, until), first, last), unplanned)
    wanted, paid = [], paid_of(document)
    for flow in document["flows"]:
        sign = 1 if flow["kind"] == "income" else -1
        for nominal in flow["dates"]:
            entry = paid.get((flow["id"], nominal))
            if not iso(first) <= nominal <= iso(last) or (entry is None and nominal >= iso(TODAY)):
                continue
            if entry is None:
                reason = "past_due" if document["past_due"] == "carry" else "not_paid"
                wanted.append((reason, flow["id"], nominal, sign * flow["amount"], 0))
            elif abs(entry["legs"][0]["amount"]) != flow["amount"]:
                reason = "price" if flow["kind"] == "bill" else "amount"
                wanted.append((reason, flow["id"], nominal, sign * flow["amount"], entry["legs"][0]["amount"]))
            elif entry["date"] != nominal:
                wanted.append(("other_day", flow["id"], nominal, sign * flow["amount"], sign * flow["amount"]))
    of_flows = [each for each in found if each.reason != "unexpected"]
    assert sorted((each.reason, each.flow, iso(each.day), each.expected, each.actual) for each in of_flows) == sorted(
        wanted
    )
    assert {each.entry for each in found if each.reason == "unexpected"} == {entry.id for entry in unplanned}
    sizes = [abs(each.actual - each.expected) for each in found]
    assert sizes == sorted(sizes, reverse=True)
    for each in of_flows:
        words = each.sentence
        if each.reason == "price":
            more = "more" if abs(each.actual) > abs(each.expected) else "less"
            assert (
                f"{money(abs(abs(each.actual) - abs(each.expected)))} {more} than planned: the price changed" in words
            )
        assert money(abs(each.expected if each.reason in ("past_due", "not_paid") else each.actual)) in words


@given(households(), st.data())
@settings(max_examples=examples(200))
def test_what_stands_twice_rose_or_is_new_is_worth_a_look(document: Document, data: st.DataObject) -> None:
    plan, recorded = read(document)
    since, later = TODAY - timedelta(days=62), data.draw(st.integers(0, 200))
    begun = data.draw(st.sampled_from([TODAY - timedelta(days=124), TODAY - timedelta(days=123)]))
    first_seen = {name: min((entry.date for entry in recorded if entry.payee == name), default=TODAY)
                  - timedelta(days=later * (name == "Tarn")) for name in ("Mill", "Quay", "Tarn")}  # fmt: skip
    found = noticed(seen(plan, recorded, TODAY), recorded, first_seen, begun)
    wanted, ordered = set(), sorted(document["entries"], key=lambda entry: (entry["date"], entry["id"]))
    amount_of = {entry["id"]: entry["legs"][0] for entry in ordered}
    for at, entry in enumerate(ordered):
        leg, day = amount_of[entry["id"]], date.fromisoformat(entry["date"])
        if not since <= day <= TODAY:
            continue
        both = [leg for leg in entry["legs"] if "account" in leg]
        is_plain = len(both) == 1
        for other in ordered[:at]:
            near = (day - date.fromisoformat(other["date"])).days <= 5 and not (entry["flow"] and other["flow"])
            alike = (
                amount_of[other["id"]] == leg
                and other["payee"] == entry["payee"]
                and len(other["legs"]) == len(entry["legs"])
            )
            if near and alike and is_plain and len([leg for leg in other["legs"] if "account" in leg]) == 1:
                wanted.add(("doubled", entry["id"]))
        flow = next((flow for flow in document["flows"] if flow["id"] == entry["flow"]), None)
        if flow is not None and flow["kind"] == "bill":
            before = [other for other in ordered[:at] if other["flow"] == flow["id"]]
            if before and -leg["amount"] > -amount_of[before[-1]["id"]]["amount"]:
                wanted.add(("dearer", entry["id"]))
        if entry["flow"] is None and is_plain and begun <= TODAY - timedelta(days=124):
            same = [other["id"] for other in ordered if other["payee"] == entry["payee"] and other["date"] == entry["date"]
                    and other["flow"] is None and len([leg for leg in other["legs"] if "account" in leg]) == 1]  # fmt: skip
            if first_seen[entry["payee"]] == day and same[0] == entry["id"]:
                wanted.add(("new_payee", entry["id"]))
    of_plain = {(each.kind, each.entry) for each in found if len([leg for leg in by_id(document, each.entry)["legs"]
                                                                  if "account" in leg]) == 1}  # fmt: skip
    assert of_plain == wanted
    newest = [by_id(document, each.entry)["date"] for each in found]
    assert newest == sorted(newest, reverse=True)
    assert len({each.key for each in found}) == len(found)


def by_id(document: Document, id: str) -> Document:
    return next(entry for entry in document["entries"] if entry["id"] == id)


def legs_on(document: Document, category: str, first: date, last: date) -> list[tuple[Document, int]]:
    sign = -1 if CATEGORIES[category] == "income" else 1
    return [(entry, sign * leg["amount"]) for entry in document["entries"] for leg in entry["legs"]
            if leg.get("category") == category and iso(first) <= entry["date"] <= min(iso(last), iso(TODAY))]  # fmt: skip


@given(households(), days, lengths, st.sampled_from(sorted(CATEGORIES)), written)
@settings(max_examples=examples(200))
def test_behind_a_row_is_its_sum_by_flow_by_payee_and_by_entry(
    document: Document, first: date, length: int, category: str, until: date | None
) -> None:
    plan, recorded = read({**document, "allowances": []})
    last, kind = first + timedelta(days=length - 1), CATEGORIES[category]
    moment = seen(plan, recorded, TODAY)
    sums = Sums(moment, Remembers(recorded, moment, until), first, last, None)
    found, rows = behind(sums, [RowKey(kind, category)]), legs_on(document, category, first, last)  # type: ignore[arg-type]
    by_payee, by_flow = defaultdict[str, list[int]](list), defaultdict[Any, list[int]](list)
    for entry, amount in rows:
        by_payee[entry["payee"]].append(amount)
        by_flow[entry["flow"]].append(amount)
    assert {each.payee: (each.amount, each.entries) for each in found.payees} == {
        payee: (sum(amounts), len(amounts)) for payee, amounts in by_payee.items()
    }
    expected = {flow["id"]: [n for n in flow["dates"] if iso(first) <= n <= iso(last)] for flow in document["flows"]
                if flow["category"] == category}  # fmt: skip
    named = {flow: nominals for flow, nominals in expected.items() if nominals}
    amounts = {flow["id"]: flow["amount"] for flow in document["flows"]}
    wanted = {}
    for flow in {*named, *by_flow}:
        times = {*named.get(flow, ()), *(entry["nominal"] or entry["id"] for entry, _ in rows if entry["flow"] == flow)}
        wanted[flow] = (amounts.get(flow, 0) * len(named.get(flow, ())), sum(by_flow.get(flow, ())), len(times))
    assert {each.flow: (*each.sums, each.times) for each in found.flows} == wanted
    assert sorted(each.entry.id for each in found.entries) == sorted(entry["id"] for entry, _ in rows)
    assert [sum(each.amount for each in part) for part in (found.categories, found.payees, found.entries)] == [
        sum(amount for _, amount in rows)
    ] * 3
    for ordered in ([-max(each.sums) for each in found.flows], [-each.amount for each in found.payees],
                    [-each.entry.date.toordinal() for each in found.entries]):  # fmt: skip
        assert ordered == sorted(ordered)


@given(households(), days, lengths, written)
@settings(max_examples=examples(150))
def test_a_review_is_read_by_line_and_group_and_said_in_one_sentence(
    document: Document, first: date, length: int, until: date | None
) -> None:
    plan, recorded = read(document)
    last = min(first + timedelta(days=length - 1), TODAY + timedelta(days=60))
    if last < first:
        return
    moment = seen(plan, recorded, TODAY)
    found = review(moment, Remembers(recorded, moment, until), first, last)
    lines, kept = lines_of(found), found.totals.kept
    assert sum(line.gained for line in lines) == kept.actual - kept.expected
    assert sorted(id(row) for line in lines for row in line.rows or ()) == sorted(
        id(row) for row in found.rows if row.of_allowance and any(line.key.id == row.of_allowance for line in lines)
    )
    groups = groups_of(lines)
    assert [sum(side) for side in zip(*(group.sums for group in groups), strict=True)] == (
        [sum(side) for side in zip(*(line.sums for line in lines), strict=True)])  # fmt: skip
    for ordered in (lines, groups):
        assert [max(each.sums) for each in ordered] == sorted((max(each.sums) for each in ordered), reverse=True)
    said, off = sentence_of(found.totals, lines, "USD", TODAY), kept.actual - kept.expected
    moved = found.totals.income.actual or found.totals.spending.actual
    if first > TODAY:
        assert money(abs(kept.expected)) in said
        assert ("to keep" in said) == (kept.expected >= 0)
    elif not moved:
        assert "nothing was earned or spent" in said
    else:
        assert f"you {'kept' if kept.actual >= 0 else 'spent more than came in:'} {money(abs(kept.actual))}" in said
        if last <= TODAY and off:
            assert f"{money(abs(off))} {'more' if off > 0 else 'less'} than expected" in said
        if last > TODAY:
            assert " so far" in said
            assert (
                f"{money(abs(kept.expected))} is expected to be {'kept' if kept.expected >= 0 else 'missing'}" in said
            )
        if "most of it" in said:
            named = [line for line in lines if line.name in said.rpartition("most of it ")[2]]
            assert 2 * sum(line.gained for line in named if line.gained * off > 0) * (1 if off > 0 else -1) > abs(off)


def line(name: str, expected: int, actual: int) -> Line:
    return Line(RowKey("expense", name), name, "", Two(expected, actual), ())


@pytest.mark.parametrize(
    ("gained", "named"),
    [
        # One that is three quarters of it is named alone; else two that are more than half together.
        ((75, 25), "A"), ((74, 26), "A and B"), ((30, 21, 20, 29), "A and D"), ((25, 25, 25, 25), ""),
        ((26, 25, 25, 24), "A and B"), ((120, -20), "A"),
    ],
)  # fmt: skip
def test_what_made_the_difference_is_named_where_few_things_did(gained: tuple[int, ...], named: str) -> None:
    lines = [line(name, amount, 0) for name, amount in zip("ABCD", gained, strict=False)]
    totals = Totals(date(2027, 2, 1), date(2027, 2, 28), Two(0, 1_000), Two(0, 900))
    assert " so far" in sentence_of(totals, lines, "USD", date(2027, 2, 27))
    assert sentence_of(totals, lines, "USD", date(2027, 2, 28)) == (
        "In February 2027 you kept $1.00, 10.0\u00a0% of what came in; $1.00 more than expected"
        f"{f', most of it {named}' if named else ''}."
    )


@pytest.mark.parametrize(("income", "spent", "share"), [(100_00, 100_05, -1), (100_00, 99_95, 1), (100_00, 100_04, 0),
                                                        (0, 5, None), (3, 1, 667), (3, 4, -333)])  # fmt: skip
def test_the_share_kept_is_rounded_away_from_zero_at_the_half(income: int, spent: int, share: int | None) -> None:
    totals = Totals(date(2027, 2, 1), date(2027, 2, 28), Two(0, income), Two(0, spent))
    assert totals.kept == Kept(0, income - spent, share)


@pytest.mark.parametrize(
    ("income", "spending", "said"),
    [
        (
            Two(100, 50),
            Two(100, 20),
            "you kept $0.30 so far, 60.0\u00a0% of what came in; $0.00 is expected to be kept",
        ),
        (Two(99, 20), Two(100, 50), "you spent more than came in: $0.30 so far; $0.01 is expected to be missing"),
        (Two(100, 20), Two(100, 20), "you kept $0.00 so far; $0.00 is expected to be kept"),
        (Two(5, 0), Two(0, 0), "nothing was earned or spent so far; $0.05 is expected to be kept"),
    ],
)
def test_what_is_still_expected_of_a_month_is_said_with_its_sign(income: Two, spending: Two, said: str) -> None:
    totals = Totals(date(2027, 2, 1), date(2027, 2, 28), income, spending)
    assert sentence_of(totals, [], "USD", date(2027, 2, 27)) == f"In February 2027 {said} by its end."


BILL = Flow("f", "Power", "bill", 90_00, "a", rules=("FREQ=MONTHLY",), start=date(2027, 1, 10))
DUE = date(2027, 2, 10)


@pytest.mark.parametrize(
    ("flow", "status", "actual", "days", "reason", "says"),
    [
        (BILL, "expected", 0, (), None, None), (BILL, "settled", -90_00, (DUE,), None, None),
        (BILL, "left_out", 0, (), "left_out", "left out; $90.00 was expected"),
        (BILL, "past_due", 0, (), "past_due", "past due; $90.00 was expected"),
        (BILL, "past_due", -30_00, (date(2027, 2, 9),), "in_part", "$30.00 on Tue Feb 9 of $90.00; the rest is past due"),
        (BILL, "expected", -30_00, (DUE,), None, None),
        (BILL, "settled", -90_00, (date(2027, 2, 9), DUE), "other_day",
         "$90.00 in parts from Tue Feb 9 to Wed Feb 10, in place of Wed Feb 10"),
        (BILL, "settled", -90_00, (date(2027, 2, 9),), "other_day", "$90.00 on Tue Feb 9 in place of Wed Feb 10"),
        (BILL, "settled", -180_00, (DUE, DUE), "paid_twice", "paid twice, $180.00 in all; $90.00 was expected"),
        (BILL, "settled", -180_00, (DUE, DUE, DUE), "paid_twice", "paid 3 times, $180.00 in all; $90.00 was expected"),
        (BILL, "settled", -179_99, (DUE, DUE), "price", "$179.99, $89.99 more than planned: the price changed"),
        (BILL, "settled", -180_00, (DUE,), "price", "$180.00, $90.00 more than planned: the price changed"),
        (BILL, "settled", -89_99, (DUE,), "price", "$89.99, $0.01 less than planned: the price changed"),
        (replace(BILL, estimate=True), "assumed", -91_00, (DUE,), "estimate", "$91.00, $1.00 more than estimated"),
        (None, "settled", -91_00, (date(2027, 2, 12),), "amount", "$91.00 on Fri Feb 12, $1.00 more than planned"),
    ],
)  # fmt: skip
def test_an_occurrence_that_went_otherwise_says_why(
    flow: Flow | None, status: Any, actual: int, days: tuple[date, ...], reason: str | None, says: str | None
) -> None:
    account = Account("a", "A", "checking", "USD", Opening(date(2027, 1, 1), 0))
    plan = Plan(accounts=(account,), flows=(flow,) if flow else ())
    row = Expected("f", DUE, DUE, "Power", "bill", (Leg(-90_00, "a"), Leg(90_00, category="food")))
    found = different(plan, [Became(row, -90_00, actual, "a", status, days)], [])
    assert [(each.reason, each.sentence, each.day, each.actual) for each in found] == (
        [(reason, says, DUE, actual)] if reason else []
    )
