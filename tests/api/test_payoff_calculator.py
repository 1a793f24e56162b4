"""The calculator of several debts over HTTP: the ledger of the rules, what never clears, and what cannot be asked."""

import random
import sys
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

sys.path.insert(0, str(Path(__file__).parent.parent / "core"))
from payoff_ledger import Json, pay_off

STRATEGIES = ("smallest_balance", "highest_rate", "custom", "minimums")
NOTHING = {"opening": 0, "interest": 0, "minimum": 0, "extra": 0, "closing": 0}


def random_wish(seed: int) -> Json:
    """Two to six debts with every kind of minimum, rates that change, and money that comes at odd times."""
    rng = random.Random(seed)
    debts = []
    for place in range(rng.randint(2, 6)):
        balance = rng.choice([0, rng.randint(1, 500), rng.randint(10_000, 3_000_000), 250_000])
        fixed = {"fixed": max(1, balance // rng.randint(5, 90))}
        share = {
            "percent": f"{rng.randint(0, 80) / 10}", "plus_interest": rng.random() < 0.6, "floor": rng.choice([0, 2500]),
        }  # fmt: skip
        steps = [
            {"from": f"{rng.randint(2026, 2031)}-{rng.randint(1, 12):02d}-{rng.randint(1, 28):02d}",
             "annual_rate": f"{rng.randint(0, 290) / 10}"} for _ in range(rng.randint(0, 3))
        ]  # fmt: skip
        rate = rng.choice(["0", "12.5", f"{rng.randint(0, 2999) / 100}"])
        debts.append({
            "id": f"debt-{place}", "balance": balance, "annual_rate": rate, "rate_changes": steps,
            "minimum": fixed if rng.random() < 0.5 else share,
        })  # fmt: skip
    order = [debt["id"] for debt in debts]
    rng.shuffle(order)
    return {
        "start": "2027-04", "debts": debts, "strategy": rng.choice(STRATEGIES), "order": order[: rng.randint(0, 6)],
        "extra_monthly": rng.choice([0, 5_000, 40_000]), "roll_freed": rng.random() < 0.7,
        "one_time": [{"month": f"2028-{rng.randint(1, 12):02d}", "amount": rng.randint(1, 200_000)} for _ in range(2)],
        "extra_changes": [{"from": "2029-02", "amount": rng.choice([0, 12_345])}] if rng.random() < 0.5 else [],
    }  # fmt: skip


def test_the_calculator_is_the_ledger_of_the_rules(demo: TestClient) -> None:
    ended = 0
    for seed in range(60):
        wish = random_wish(seed)
        answer = demo.post("/api/tools/payoff", json=wish)
        assert answer.status_code == 200, answer.text
        got, expected = answer.json(), pay_off(wish, wish["strategy"])
        ids = [debt["id"] for debt in wish["debts"] if debt["balance"]]
        in_full = [
            {**month, "debts": {id: month["debts"].get(id, NOTHING) for id in ids}} for month in expected["months"]
        ]
        never = sorted(id for id, owed in expected["owed"].items() if owed)
        assert sorted(each["id"] for each in got["never_clears"]) == never
        if never:
            assert got["debt_free"] is None
            # What is never cleared may grow beyond every number: the answer stops telling it there.
            assert got["months"][:60] == in_full[:60]
            continue
        ended += 1
        assert (got["months"], got["cleared"]) == (in_full, expected["cleared"])
        assert got["debt_free"] == (expected["months"][-1]["month"] if in_full else None)
        balances = sum(debt["balance"] for debt in wish["debts"])
        assert got["total_paid"] == balances + got["total_interest"]
        comparison = {each["strategy"]: each for each in got["comparison"]}
        assert set(comparison) == set(STRATEGIES)
        assert comparison[wish["strategy"]]["total_interest"] == got["total_interest"]
    assert ended > 30


def test_what_never_clears_is_told_with_what_would(demo: TestClient) -> None:
    debt = {"id": "a", "balance": 1_000_00, "annual_rate": "24", "minimum": {"fixed": 20_00}}
    wish = {"start": "2027-01", "debts": [debt], "strategy": "minimums"}
    got = demo.post("/api/tools/payoff", json=wish).json()
    (never,) = got["never_clears"]
    for strategy in got["comparison"]:
        assert strategy["saves_interest"] is strategy["saves_months"] is None
    for monthly, is_enough in ((never["needs_monthly"], True), (never["needs_monthly"] - 1, False)):
        alone = {**wish, "debts": [{**debt, "minimum": {"fixed": monthly}}]}
        months = pay_off(alone, "minimums")["months"]
        assert (len(months) <= 360) is is_enough


@pytest.mark.parametrize(("change", "loc"), [
    ({"extra_monthly": -1}, ["body", "extra_monthly"]),
    ({"one_time": [{"month": "2026-12", "amount": 5}]}, ["body", "one_time", 0, "month"]),
    ({"order": ["nobody"]}, ["body", "order", 0]),
    ({"strategy": "luck"}, ["body", "strategy"]),
    ({"debts": [{"id": "a", "balance": 5, "annual_rate": "1", "minimum": {}}]}, ["body", "debts", 0, "minimum"]),
    ({"debts": [{"id": "a", "balance": -5, "annual_rate": "1", "minimum": {"fixed": 1}}]}, ["body", "debts", 0, "balance"]),
])  # fmt: skip
def test_what_cannot_be_asked_is_told_at_its_field(demo: TestClient, change: Json, loc: list[Any]) -> None:
    debt = {"id": "a", "balance": 1_000_00, "annual_rate": "24", "minimum": {"fixed": 20_00}}
    answer = demo.post("/api/tools/payoff", json={"start": "2027-01", "debts": [debt], **change})
    assert answer.status_code == 422
    assert loc in [each["loc"] for each in answer.json()["detail"]]
    assert all(each["msg"].endswith(".") for each in answer.json()["detail"])


def test_a_debt_without_balance_and_an_order_that_misses_one_are_said(demo: TestClient) -> None:
    debts = [
        {"id": id, "name": id.title(), "balance": balance, "annual_rate": "10", "minimum": {"fixed": 10_00}}
        for id, balance in (("paid", 0), ("first", 100_00), ("second", 100_00))
    ]
    got = demo.post("/api/tools/payoff", json={
        "start": "2027-01", "debts": debts, "strategy": "custom", "order": ["second"], "extra_monthly": 20_00,
    }).json()  # fmt: skip
    assert got["notes"] == [
        "“Paid” has nothing to pay off: it is left out.", "The order does not name “First”: it comes last.",
    ]  # fmt: skip
    assert [each["id"] for each in got["cleared"]] == ["second", "first"]


# ---- The household's own
