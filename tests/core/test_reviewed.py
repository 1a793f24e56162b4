"""Expected and actual over any stretch, and goals with them, against sums by hand over days (RULES §14, §15)."""

from collections import defaultdict
from collections.abc import Sequence
from datetime import date, timedelta
from fractions import Fraction
from itertools import pairwise

from households import TODAY, Document, iso, read
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up
from reviewed_households import CATEGORIES, DEBTS, OPENED, Remembers, households, of_limit, written
from seen import seen

from effort import examples
from next_penny.core.dates.calendar import month_number
from next_penny.core.review.occurrences import occurrences_over
from next_penny.core.review.records import RowKey, Two
from next_penny.core.review.review import review
from next_penny.core.review.side_by_side import category_months
from next_penny.core.review.stretches import stretch_before, stretch_with, year_before


def expected_rows(document: Document, first: date, last: date) -> dict[RowKey, int]:
    rows: defaultdict[RowKey, int] = defaultdict(int)
    for allowance in document["allowances"]:
        rows[RowKey("allowance", allowance["id"])] += of_limit(allowance["limit"], first, last)
    for flow in document["flows"]:
        if flow["kind"] == "transfer":
            continue
        for nominal in flow["dates"]:
            is_allowed = flow["category"] == "food" and document["allowances"]
            if iso(first) <= nominal <= iso(last) and not is_allowed:
                kind = "income" if flow["kind"] == "income" else "expense"
                rows[RowKey(kind, flow["category"])] += flow["amount"]  # type: ignore[arg-type]
    return rows


def actual_rows(inside: Sequence[Document]) -> dict[RowKey, int]:
    rows: defaultdict[RowKey, int] = defaultdict(int)
    for entry in inside:
        for leg in entry["legs"]:
            if "category" in leg:
                kind = CATEGORIES[leg["category"]]
                rows[RowKey(kind, leg["category"])] += leg["amount"] * (-1 if kind == "income" else 1)  # type: ignore[arg-type]
    return rows


def moved_by(inside: Sequence[Document]) -> tuple[int, int, int]:
    """What was saved, repaid and borrowed."""
    saved = repaid = borrowed = 0
    for entry in inside:
        moves = {leg["account"]: leg["amount"] for leg in entry["legs"] if "account" in leg}
        for account, amount in moves.items():
            against = [id for id, other in moves.items() if other * amount < 0]
            is_from_own = any(id not in DEBTS for id in against)
            if account == "s" and any(id not in (*DEBTS, "s") for id in against):
                saved += amount
            if account in DEBTS and amount > 0 and is_from_own:
                repaid += amount
            if account == "l" and amount < 0 and is_from_own:
                borrowed -= amount
    return saved, repaid, borrowed


@given(households(), st.integers(-10, 120), st.integers(1, 100), written)
@settings(max_examples=examples(300))
def test_a_stretch_is_the_sum_of_what_was_expected_and_of_what_is_recorded(
    document: Document, after: int, length: int, until: date | None
) -> None:
    plan, recorded = read(document)
    moment = seen(plan, recorded, TODAY)
    first = OPENED + timedelta(days=after)
    last = first + timedelta(days=length - 1)
    found = review(moment, Remembers(recorded, moment, until), first, last)
    inside = [entry for entry in document["entries"] if iso(first) <= entry["date"] <= min(iso(last), iso(TODAY))]
    expected, actual = expected_rows(document, first, last), actual_rows(inside)
    shown = {row.key: row.sums for row in found.rows}
    assert {key: two.expected for key, two in shown.items() if two.expected} == {k: v for k, v in expected.items() if v}
    assert {key: two.actual for key, two in shown.items() if two.actual} == {k: v for k, v in actual.items() if v}
    for side, of in (("expected", expected), ("actual", actual)):
        came = sum(amount for key, amount in of.items() if key.kind == "income")
        went = sum(amount for key, amount in of.items() if key.kind != "income")
        assert (getattr(found.totals.income, side), getattr(found.totals.spending, side)) == (came, went)
        assert getattr(found.totals.kept, side) == came - went
    kept, income = found.totals.kept, found.totals.income.actual
    share = Fraction(1000 * kept.actual, income) if income > 0 else None
    assert kept.share == (None if share is None else half_up(share) if share >= 0 else -half_up(-share))
    assert (found.moved.saved, found.moved.repaid, found.moved.borrowed) == moved_by(inside)
    for group, name_of in ((found.payees, lambda entry: entry["payee"]),
                           (found.accounts, lambda entry: entry["legs"][0]["account"])):  # fmt: skip
        for row in group:
            name = row.payee if group is found.payees else row.account  # type: ignore[union-attr]
            mine = actual_rows([entry for entry in inside if name_of(entry) == name])
            assert row.received == sum(amount for key, amount in mine.items() if key.kind == "income")
            assert row.spent == sum(amount for key, amount in mine.items() if key.kind == "expense")
    spent = {entry["id"]: sum(v for k, v in actual_rows([entry]).items() if k.kind == "expense") for entry in inside}
    assert [row.amount for row in found.largest] == sorted((v for v in spent.values() if v > 0), reverse=True)[:10]
    for use in found.allowances:
        assert (use.limit, use.used) == (expected[RowKey("allowance", use.id)], actual[RowKey("expense", "food")])


@given(households(), st.integers(-10, 120), st.integers(1, 100), written)
@settings(max_examples=examples(200))
def test_every_occurrence_of_a_stretch_is_told_once_with_what_became_of_it(
    document: Document, after: int, length: int, until: date | None
) -> None:
    plan, recorded = read(document)
    moment = seen(plan, recorded, TODAY)
    first = OPENED + timedelta(days=after)
    last = first + timedelta(days=length - 1)
    told = occurrences_over(moment, Remembers(recorded, moment, until), first, last)
    paid = {(entry["flow"], entry["nominal"]): entry for entry in document["entries"]}
    wanted = []
    for flow in document["flows"]:
        sign = 1 if flow["kind"] == "income" else -1
        for nominal in flow["dates"]:
            if not iso(first) <= nominal <= iso(last):
                continue
            entry = paid.get((flow["id"], nominal))
            late = "past_due" if document["past_due"] == "carry" else "not_paid"
            status = "settled" if entry else "expected" if nominal >= iso(TODAY) else late
            actual = entry["legs"][0]["amount"] if entry else 0
            wanted.append((flow["id"], nominal, sign * flow["amount"], actual, status))
    assert sorted(
        (row.row.source, iso(row.row.nominal), row.expected, row.actual, row.status) for row in told
    ) == sorted(wanted)


@given(st.dates(date(1990, 1, 1), date(2060, 12, 31)), st.sampled_from(["week", "month", "quarter", "year"]))
def test_named_stretches_follow_each_other_without_a_gap_and_have_one_before(day: date, per: str) -> None:
    stretch = stretch_with(per, day)  # type: ignore[arg-type]
    assert stretch.first <= day <= stretch.last
    later, earlier = stretch_with(per, stretch.later), stretch_with(per, stretch.earlier)  # type: ignore[arg-type]
    assert (later.first - stretch.last, stretch.first - earlier.last) == (timedelta(days=1), timedelta(days=1))
    assert (earlier.first, earlier.last) == stretch_before(stretch.first, stretch.last)
    first, last = year_before(stretch.first, stretch.last)
    if per == "week":
        assert (first.year, last.year) == (stretch.first.year - 1, stretch.last.year - 1)
    else:
        same = stretch_with(per, stretch.first.replace(year=stretch.first.year - 1))  # type: ignore[arg-type]
        assert (first, last) == (same.first, same.last)


@given(
    households(), st.sampled_from([(2027, 1), (2027, 2), (2027, 3), (2027, 4), (2026, 12)]), st.integers(1, 4), written
)
@settings(max_examples=examples(100))
def test_months_side_by_side_are_the_reviews_of_each_and_of_the_year_so_far(
    document: Document, last_month: tuple[int, int], count: int, until: date | None
) -> None:
    plan, recorded = read(document)
    moment = seen(plan, recorded, TODAY)
    sources, last = Remembers(recorded, moment, until), month_number(date(*last_month, 1))
    found = category_months(moment, sources, last - count + 1, count)
    months = [date(month // 12, month % 12 + 1, 1) for month in range(last - count + 1, last + 2)]
    reviews = [review(moment, sources, begin, end - timedelta(days=1)) for begin, end in pairwise(months)]
    assert list(found.months) == [each.totals for each in reviews]
    assert found.income == tuple(sum(each.totals.income[at] for each in reviews) for at in (0, 1))
    assert found.spending == tuple(sum(each.totals.spending[at] for each in reviews) for at in (0, 1))
    end = min(months[-1] - timedelta(days=1), TODAY)
    year = review(moment, sources, date(end.year, 1, 1), end)
    # On 1 March the same days end on 1 March; a month's last day is held against that of the same month.
    assert (found.so_far, found.year_ago.first, found.year_ago.last) == (
        year.totals, date(end.year - 1, 1, 1), end.replace(year=end.year - 1)
    )  # fmt: skip
    sums = [{row.key: row.sums for row in each.rows} for each in reviews]
    for row in found.rows:
        assert list(row.cells) == [month.get(row.key, Two()) for month in sums]
        assert row.so_far == next((each.sums for each in year.rows if each.key == row.key), Two())
        assert row.total == tuple(sum(cell[at] for cell in row.cells) for at in (0, 1))
    wanted = {key for month in (*sums, {row.key: row.sums for row in year.rows}) for key in month}
    assert wanted <= {row.key for row in found.rows}
    most = [max(row.total) for row in found.rows]
    assert most == sorted(most, reverse=True)
