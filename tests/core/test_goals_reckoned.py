"""Goals, so far and by the end of their period, against sums by hand over what is recorded and to come (RULES §15)."""

from datetime import date, timedelta
from fractions import Fraction

from households import TODAY, Document, iso, read
from hypothesis import event, given, settings
from hypothesis import strategies as st
from ledger import half_up
from reviewed_households import (
    DEBTS,
    OPENED,
    Legs,
    Remembers,
    days,
    earned_or_spent,
    held_back,
    households,
    to_come,
)
from seen import seen

from effort import examples
from next_penny.core.review.goals.progress import progress_of

LAST = OPENED + timedelta(days=400)


@st.composite
def goals(draw: st.DrawFn) -> Document:
    kind = draw(st.sampled_from(["earn", "save", "repay", "give", "spend_at_most"]))
    by_kind = {"earn": ["pay", "gift"], "give": ["fun", "home", "food"], "spend_at_most": ["food", "home", "fun"]}
    named = draw(st.lists(st.sampled_from(by_kind.get(kind, ["x"])), max_size=2, unique=True))
    accounts = draw(st.lists(st.sampled_from(["l", "v"] if kind == "repay" else ["s"]), max_size=1))
    per = draw(st.sampled_from(["month", "year", None]))
    first, last = sorted(draw(st.lists(days, min_size=2, max_size=2, unique=True)))
    cut = per is None or draw(st.booleans())
    share = draw(st.none() | st.sampled_from(["12.5", "33.3", "5"]))
    return {
        "id": "g", "name": "Goal", "kind": kind, "per": per,
        "from": iso(first) if cut else None, "until": iso(last) if cut else None,
        "amount": draw(st.integers(1, 300_00)) if share is None else None, "share": share,
        "categories": named if kind in by_kind else [], "accounts": [] if kind in by_kind else accounts,
    }  # fmt: skip


def period_of(goal: Document) -> tuple[date, date]:
    start, until = (date.fromisoformat(goal[name]) if goal[name] else None for name in ("from", "until"))
    if goal["per"] is None:
        assert start
        assert until
        return start, until
    day = min(max(TODAY, start or TODAY), until or LAST)
    first = day.replace(day=1) if goal["per"] == "month" else date(day.year, 1, 1)
    after = (first + timedelta(days=32)).replace(day=1) if goal["per"] == "month" else date(day.year + 1, 1, 1)
    return max(first, start or first), min(after - timedelta(days=1), until or LAST)


def counted(goal: Document, legs: Legs, *, otherwise: str | None = None) -> int:
    """What legs count towards a goal; otherwise: what a leg without a category is."""
    moves = [(leg["account"], leg["amount"]) for leg in legs if "account" in leg]
    if goal["kind"] in ("save", "repay"):
        wanted = goal["accounts"] or (["s"] if goal["kind"] == "save" else list(DEBTS))
        return sum(
            amount for account, amount in moves
            if account in wanted and (goal["kind"] == "save" or amount > 0)
            and any(other not in (*DEBTS, account) and against * amount < 0 for other, against in moves)
        )  # fmt: skip
    kind = "income" if goal["kind"] == "earn" else "expense"
    return earned_or_spent(legs, kind, goal["categories"], otherwise)


@given(households(), goals())
@settings(max_examples=examples(500))
def test_a_goal_comes_as_far_as_what_is_recorded_and_to_come_sums_to(document: Document, goal: Document) -> None:
    document = {**document, "goals": [goal]}
    plan, recorded = read(document)
    found = progress_of(seen(plan, recorded, TODAY), Remembers(recorded))[0]
    first, last = period_of(goal)
    assert (found.days.first, found.days.last) == (first, last)
    inside = [entry for entry in document["entries"] if iso(first) <= entry["date"] <= iso(last)]
    so_far = sum(counted(goal, entry["legs"]) for entry in inside if entry["date"] <= iso(TODAY))
    rest = sum(counted(goal, entry["legs"]) for entry in inside if entry["date"] > iso(TODAY))
    coming = list(to_come(document, max(first, TODAY), last))
    rest += sum(counted(goal, legs, otherwise=what) for _, legs, what in coming)
    if goal["kind"] in ("give", "spend_at_most") and (not goal["categories"] or "food" in goal["categories"]):
        rest += held_back(document, first, last)
    income = sum(earned_or_spent(entry["legs"], "income", [], None) for entry in inside)
    income += sum(earned_or_spent(legs, "income", [], what) for _, legs, what in coming)
    target = goal["amount"]
    if target is None:
        target = max(0, half_up(Fraction(max(0, income)) * Fraction(goal["share"]) / 100))
    assert (found.so_far, found.by_end, found.target, found.income) == (so_far, so_far + rest, target, income)
    is_most = goal["kind"] == "spend_at_most"
    assert found.behind == max(0, so_far + rest - target if is_most else target - so_far - rest)
    months = months_left(first, last)
    if months:
        exact = Fraction(target - so_far, months)
        assert found.needed_monthly == max(0, exact.__floor__() if is_most else exact.__ceil__())
    event(f"{goal['kind']}, behind: {found.behind > 0}, over: {last < TODAY}")


def months_left(first: date, last: date) -> int:
    """The months of a period from today's on, the running one among them."""
    begin = max(first, TODAY)
    return 0 if last < begin else 12 * (last.year - begin.year) + last.month - begin.month + 1
