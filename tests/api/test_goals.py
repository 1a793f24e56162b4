"""Goals, against sums that this test adds up by itself from the plan and its entries (RULES, §15)."""

from calendar import monthrange
from datetime import date, timedelta
from fractions import Fraction
from functools import cache
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import done, plan_alone, refused
from effort import examples
from next_penny.api.app import create_app
from next_penny.store.store import Store
from stores import new_file

TODAY = date(2027, 2, 17)
ACCOUNTS = {"a": "checking", "b": "cash", "s": "savings", "d": "credit_card"}
INCOME, SPENT = ("i1", "i2"), ("c1", "c2", "c3")
# How each sort of movement changes accounts and categories by an amount.
SORTS: dict[str, list[tuple[str, str, int]]] = {
    "i1": [("account", "a", 1), ("category", "i1", -1)], "i2": [("account", "s", 1), ("category", "i2", -1)],
    "c1": [("account", "a", -1), ("category", "c1", 1)], "c2": [("account", "d", -1), ("category", "c2", 1)],
    "c3": [("account", "b", -1), ("category", "c3", 1)],
    "save": [("account", "a", -1), ("account", "s", 1)], "unsave": [("account", "s", -1), ("account", "b", 1)],
    "repay": [("account", "a", -1), ("account", "d", 1)],
}  # fmt: skip
FLOW_KINDS = {"i1": "income", "i2": "income", "c1": "bill", "c2": "bill", "c3": "bill"}
SUMS = st.integers(1, 90_000)
DAYS = st.dates(date(2027, 1, 1), date(2027, 4, 30))
FLOWS = st.lists(
    st.tuples(st.sampled_from(sorted(SORTS)), SUMS, st.integers(1, 31), st.sets(st.integers(1, 4))), max_size=6
)
ENTRIES = st.lists(st.tuples(st.sampled_from(sorted(SORTS)), SUMS, DAYS, st.booleans()), max_size=10)
GOALS = st.lists(st.tuples(
    st.sampled_from(["earn", "save", "repay", "give", "spend_at_most"]),
    st.sampled_from(["month", "year", None]), st.one_of(st.none(), DAYS), st.integers(0, 90),
    st.booleans(), st.integers(1, 10_000), st.sets(st.sampled_from(SPENT), min_size=1), st.booleans(),
), min_size=1, max_size=4)  # fmt: skip
Line = tuple[str, int, date, int]  # a sort of movement, its amount, its day; and -1 where it was taken back


def legs(sort: str, amount: int) -> list[tuple[str, str, int]]:
    return [(what, id, sign * amount) for what, id, sign in SORTS[sort]]


def measure(goal: Any, sort: str, amount: int) -> int:
    """What a movement counts towards a goal, in the words of the rules."""
    sides = legs(sort, amount)
    on = {id: change for what, id, change in sides if what == "account"}
    categories = {id: change for what, id, change in sides if what == "category"}
    if goal["kind"] == "save" and goal["accounts"]:
        return sum(change for id, change in on.items() if id in goal["accounts"]
                   and any(other not in (id, "d") and on[other] * change < 0 for other in on))  # fmt: skip
    if goal["kind"] == "save":
        return on.get("s", 0) if any(id in "ab" and change * on.get("s", 0) < 0 for id, change in on.items()) else 0
    if goal["kind"] == "repay":
        return on.get("d", 0) if any(id in "abs" and change < 0 < on.get("d", 0) for id, change in on.items()) else 0
    named = goal["categories"] or (INCOME if goal["kind"] == "earn" else SPENT)
    return abs(sum(change for id, change in categories.items() if id in named)) * (-1 if amount < 0 else 1)


def period(goal: Any) -> tuple[date, date]:
    start, until = (date.fromisoformat(goal[name]) if goal[name] else None for name in ("from", "until"))
    if goal["per"] is None:
        assert start
        assert until
        return start, until
    day = min(max(TODAY, start or TODAY), until or date.max)
    first, last = day.replace(day=1), day.replace(day=monthrange(day.year, day.month)[1])
    if goal["per"] == "year":
        first, last = date(day.year, 1, 1), date(day.year, 12, 31)
    return max(first, start or first), min(last, until or last)


@cache
def served() -> TestClient:
    """One app for all households, one after the other."""
    return TestClient(create_app(Store(new_file()), lambda: TODAY), base_url="http://127.0.0.1:8765")


class Household:
    """What is expected and recorded, as plain lines, beside the document that says the same."""

    def __init__(self, flows: Any, entries: Any) -> None:
        self.recorded: list[Line] = [(sort, -sum if back else sum, day, 1) for sort, sum, day, back in entries]
        self.expected: list[Line] = []
        documents = []
        for number, (sort, amount, day, months) in enumerate(flows):
            on = [date(2027, month, min(day, monthrange(2027, month)[1])) for month in sorted(months)]
            self.expected += [(sort, amount, max(each, TODAY), 1) for each in on]
            flow = {"id": f"f{number}", "name": f"F{number}", "kind": FLOW_KINDS.get(sort, "transfer"), "amount": amount,
                    "dates": [each.isoformat() for each in on]}  # fmt: skip
            for what, id, sign in SORTS[sort]:
                flow["category" if what == "category" else "to_account" if sign > 0 else "from_account"] = id
            documents.append(flow)
        self.document = {
            "format": "next-penny-plan", "version": 1, "currency": "USD", "flows": [f for f in documents if f["dates"]],
            "accounts": [{"id": id, "name": id, "kind": kind, "opening": {"date": "2026-12-31", "balance": 0}}
                         for id, kind in ACCOUNTS.items()],
            "categories": [{"id": id, "name": id, "kind": "income" if id in INCOME else "expense"} for id in INCOME + SPENT],
            "allowances": [{"id": "l", "name": "L", "limit": 50_000, "categories": ["c1", "c2"], "account": "a"}],
            "entries": [{"id": f"e{number}", "date": day.isoformat(), "payee": "P", "legs": [
                {what: id, "amount": change} for what, id, change in legs(sort, amount)]}
                for number, (sort, amount, day, _) in enumerate(self.recorded)],
        }  # fmt: skip

    def held_back(self, last: date) -> int:
        """What the allowance holds back in months that end by a day: what is neither used nor expected."""
        held, first = 0, TODAY.replace(day=1)
        while (end := first.replace(day=monthrange(first.year, first.month)[1])) <= last:
            lines = [*(line for line in self.recorded if line[2] >= first), *(line for line in self.expected)]
            used = sum(amount for sort, amount, day, _ in lines if sort in ("c1", "c2") and first <= day <= end)
            held += max(0, 50_000 - used)
            first = end + timedelta(days=1)
        return held

    def of(self, goal: Any) -> tuple[int, int]:
        """So far, and by the end."""
        first, last = period(goal)
        past = sum(
            measure(goal, sort, amount) for sort, amount, day, _ in self.recorded if first <= day <= min(last, TODAY)
        )
        rest = sum(
            measure(goal, sort, amount)
            for sort, amount, day, _ in self.recorded
            if max(first, TODAY + timedelta(days=1)) <= day <= last
        )
        rest += sum(
            measure(goal, sort, amount) for sort, amount, day, _ in self.expected if max(first, TODAY) <= day <= last
        )
        if goal["kind"] in ("give", "spend_at_most") and (
            not goal["categories"] or {"c1", "c2"} <= set(goal["categories"])
        ):
            before = self.held_back(first - timedelta(days=1)) if first > TODAY else 0
            rest += self.held_back(last) - before if last >= TODAY else 0
        return past, past + rest


@settings(max_examples=examples(30), deadline=None)
@given(flows=FLOWS, entries=ENTRIES, wishes=GOALS)
def test_goals_are_what_the_rules_make_of_plan_and_entries(flows: Any, entries: Any, wishes: Any) -> None:
    household = Household(flows, entries)
    goals = []
    for number, (kind, per, start, length, is_share, size, categories, is_named) in enumerate(wishes):
        begin = start or (date(2027, 2, 1) if per is None else None)
        goal: dict[str, Any] = {
            "id": f"g{number}",
            "name": "G",
            "kind": kind,
            "per": per,
            "accounts": [],
            "categories": [],
        }
        goal |= {"from": begin and begin.isoformat(), "until": begin and (begin + timedelta(days=length)).isoformat()}
        goal |= {"share": f"{size // 100}.{size % 100:02}"} if is_share else {"amount": size * 10}
        if kind in ("save", "repay"):
            goal["accounts"] = (["s"] if kind == "save" else ["d"]) if is_named else []
        elif kind == "give" or is_named:
            goal["categories"] = sorted(categories) if kind != "earn" else ["i1"]
        goals.append(goal)
    client = served()
    done(client.put("/api/plan", json={**household.document, "goals": goals}))
    for goal, answer in zip(goals, done(client.get("/api/goals")), strict=True):
        first, last = period(goal)
        so_far, by_end = household.of(goal)
        income = household.of({**goal, "kind": "earn", "categories": []})[1]
        target = goal.get("amount", max(0, int(income * Fraction(goal.get("share", 0)) / 100 + Fraction(1, 2))))
        is_spending, begin = goal["kind"] == "spend_at_most", max(first, TODAY)
        months = 12 * (last.year - begin.year) + last.month - begin.month + 1 if last >= begin else 0
        needed = max(0, (target - so_far) // months if is_spending else -((so_far - target) // months)) if months else 0
        behind = max(0, by_end - target if is_spending else target - by_end)
        assert (answer["from"], answer["to"]) == (first.isoformat(), last.isoformat())
        told = [answer[name] for name in ("target", "so_far", "by_end", "behind", "needed_monthly", "met")]
        assert told == [target, so_far, by_end, behind, needed, behind == 0]
        is_divided = goal["kind"] in ("give", "spend_at_most") and len({"c1", "c2"} & set(goal["categories"])) == 1
        assert any("names only some of its categories" in note for note in answer["notes"]) == is_divided


def put(client: TestClient, op: str, id: str, **value: Any) -> Any:
    return client.post("/api/changes", json={"changes": [{"op": op, "kind": "goal", "id": id, "value": value or None}]})


def test_a_goal_that_changes_from_met_to_missed_is_told_until_it_was_looked_at(demo: TestClient) -> None:
    food = {"name": "Food", "kind": "spend_at_most", "per": "month", "amount": 900_00, "categories": ["groceries"]}
    plan = plan_alone(done(demo.get("/api/plan")))
    done(put(demo, "add", "food", **food))
    assert done(demo.get("/api/goals/missed"))["missed"] == []
    done(put(demo, "update", "food", amount=800_00))
    assert done(demo.get("/api/goals/missed"))["missed"] == []  # it was never seen met
    done(put(demo, "update", "food", amount=900_00))
    done(demo.post("/api/goals/seen"))
    done(put(demo, "update", "food", amount=800_00))
    sentence = "March 2027: $0.00 of at most $800.00 spent so far; the forecast ends at $880.00, $80.00 too much."
    assert done(demo.get("/api/goals/missed"))["missed"] == [{"name": "Food", "sentence": sentence}]
    # How it stood is no matter of undo.
    done(demo.post("/api/goals/seen"))
    for _ in range(4):
        done(demo.post("/api/undo"))
    assert plan_alone(done(demo.get("/api/plan"))) == plan
    assert done(demo.get("/api/goals/missed"))["missed"] == []


def test_what_a_goal_names_is_merged_with_it_and_does_not_vanish(demo: TestClient) -> None:
    done(
        put(demo, "add", "g", name="G", kind="spend_at_most", per="year", amount=1, categories=["sundries", "outings"])
    )
    before = done(demo.get("/api/goals"))
    taken = demo.post("/api/changes", json={"changes": [{"op": "remove", "kind": "category", "id": "sundries"}]})
    assert "1 more" in refused(taken)[1]
    done(demo.post("/api/categories/merge", json={"from": "sundries", "into": "outings"}))
    assert done(demo.get("/api/plan"))["goals"][-1]["categories"] == ["outings"]
    assert done(demo.get("/api/goals"))[-1]["so_far"] == before[-1]["so_far"] > 0
    done(demo.post("/api/undo"))
    assert done(demo.get("/api/goals")) == before


@pytest.mark.parametrize(("field", "value", "told"), [
    ("share", "100.5", "at most 100"), ("share", "0", "more than 0"), ("amount", 0, "more than zero"),
    ("until", "2027-01-01", "before it starts"), ("categories", ["wages"], "“Wages”"), ("per", None, "which day"),
    ("accounts", ["joint"], "by categories"), ("name", " ", "Give it a name"), ("categories", [], "Choose"),
])  # fmt: skip
def test_a_goal_that_cannot_be_is_refused_at_its_field(demo: TestClient, field: str, value: Any, told: str) -> None:
    joint = done(demo.get("/api/accounts"))["accounts"][0]["account"]["id"]
    goal = {"name": "G", "kind": "give", "per": "month", "from": "2027-02-01", "categories": ["sundries"]}
    goal |= {"share": "10"} if field != "amount" else {}
    goal |= {field: [joint] if field == "accounts" else value}
    loc, sentence = refused(put(demo, "add", "g", **goal))
    assert loc[:5] == ["body", "changes", 0, "value", "until" if field == "per" else field]
    assert told in sentence
    assert [goal["id"] for goal in done(demo.get("/api/goals"))] == ["put-by", "owe-less", "treats"]


def test_shares_of_more_than_all_income_are_taken_and_said(demo: TestClient) -> None:
    done(put(demo, "add", "s", name="Put by", kind="save", per="month", share="70"))
    done(put(demo, "remove", "put-by"))
    told = done(put(demo, "add", "r", name="Pay off", kind="repay", per="month", share="40,5"))["notes"]
    assert told == ["“Put by” and “Pay off” together ask for 110.5 percent of a month's income."]
    *_, first, second = done(demo.get("/api/goals"))
    assert first["notes"] == second["notes"] != []
    assert first["target"] + second["target"] > 6410_20
