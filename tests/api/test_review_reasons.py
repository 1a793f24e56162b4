"""What was different in a month, a household of one difference each: the reason is what the books say (rules.md)."""

from datetime import date
from typing import Any

import pytest
from fastapi.testclient import TestClient

from answers import Json, done
from next_penny.api.app import create_app
from stores import new_store

TODAY = date(2027, 3, 1)


def flow(id: str, day: int, **more: Any) -> Json:
    return {"id": id, "name": id.capitalize(), "kind": "bill", "amount": 100_00, "from_account": "a", "category": "c",
            "rules": [f"FREQ=MONTHLY;BYMONTHDAY={day}"], "start": f"2027-02-{day:02}", **more}  # fmt: skip


def entry(id: str, day: str, amount: int, of: tuple[str, int] | None = None, **more: Any) -> Json:
    """Money out, or in below zero; `of`: which flow's day it settles."""
    settles = {"flow": of[0], "nominal": f"2027-02-{of[1]:02}"} if of else {}
    legs = [{"account": "a", "amount": -amount}, {"category": "i" if amount < 0 else "c", "amount": amount}]
    return {"id": id, "date": day, "payee": id.capitalize(), "legs": legs, **settles, **more}


FLOWS = [
    flow("skipped", 2), flow("late", 3), flow("halved", 4),
    flow("doubled", 5), flow("dearer", 6), flow("guessed", 7, estimate=True), flow("moved", 8), flow("kept", 9),
    {"id": "pay", "name": "Pay", "kind": "income", "amount": 900_00, "to_account": "a", "category": "i",
     "rules": ["FREQ=MONTHLY;BYMONTHDAY=10"], "start": "2027-02-10"},
    {"id": "saving", "name": "Saving", "kind": "transfer", "amount": 50_00, "from_account": "a", "to_account": "s",
     "rules": ["FREQ=MONTHLY;BYMONTHDAY=11"], "start": "2027-02-11"},
]  # fmt: skip
ENTRIES = [
    entry("half", "2027-02-04", 40_00, ("halved", 4), part=True),
    entry("first", "2027-02-05", 100_00, ("doubled", 5)),
    entry("again", "2027-02-06", 100_00, ("doubled", 5), part=True),
    entry("more", "2027-02-06", 112_50, ("dearer", 6)), entry("guess", "2027-02-07", 90_00, ("guessed", 7)),
    entry("later", "2027-02-12", 100_00, ("moved", 8)), entry("right", "2027-02-09", 100_00, ("kept", 9)),
    entry("wages", "2027-02-10", -880_00, ("pay", 10)),
    {"id": "put by", "date": "2027-02-11", "payee": "", "flow": "saving", "nominal": "2027-02-11",
     "legs": [{"account": "a", "amount": -30_00}, {"account": "s", "amount": 30_00}]},
    entry("kiosk", "2027-02-13", 7_00), entry("found", "2027-02-14", -3_00),
    {**entry("feast", "2027-02-15", 80_00), "legs": [{"account": "a", "amount": -80_00}, {"category": "f", "amount": 80_00}]},
]  # fmt: skip
SAYS = {
    "Skipped": ("left_out", "left out; $100.00 was expected"),
    "Late": ("past_due", "past due; $100.00 was expected"),
    "Halved": ("in_part", "$40.00 of $100.00; the rest is past due"),
    "Doubled": ("paid_twice", "paid twice, $200.00 in all; $100.00 was expected"),
    "Dearer": ("price", "$112.50, $12.50 more than planned: the price changed"),
    "Guessed": ("estimate", "$90.00, $10.00 less than estimated"),
    "Moved": ("other_day", "$100.00 on Fri Feb 12 in place of Mon Feb 8"),
    "Pay": ("amount", "$880.00 came in, $20.00 less than planned"),
    "Saving": ("amount", "$30.00, $20.00 less than planned"),
    "Kiosk": ("unexpected", "$7.00 went out, unplanned"),
    "Found": ("unexpected", "$3.00 came in, unplanned"),
}


@pytest.fixture
def client() -> TestClient:
    client = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")
    kinds = {"c": "expense", "f": "expense", "i": "income"}
    account = {"kind": "checking", "opening": {"date": "2027-01-01", "balance": 5_000_00}}
    done(client.put("/api/plan", json={
        "format": "next-penny-plan", "version": 1, "currency": "USD", "flows": FLOWS, "entries": ENTRIES,
        "accounts": [{"id": "a", "name": "A", **account}, {"id": "s", "name": "S", **account, "kind": "savings"}],
        "categories": [{"id": id, "name": id, "kind": kind} for id, kind in kinds.items()],
        "allowances": [{"id": "food", "name": "Food", "limit": 200_00, "period": "month", "categories": ["f"],
                        "account": "a", "from": "2027-01-01"}],
    }))  # fmt: skip
    # What is left out once its day is over had been expected.
    line = {"flow": "skipped", "nominal": "2027-02-02", "do": "leave_out"}
    done(client.post("/api/settle", json={"lines": [line]}))
    return client


def test_each_difference_has_its_reason_and_the_largest_comes_first(client: TestClient) -> None:
    found = done(client.get("/api/review?from=2027-02-01&to=2027-02-28"))
    assert {each["name"]: (each["reason"], each["sentence"]) for each in found["different"]} == SAYS
    assert found["different_count"] == len(SAYS)
    sizes = [abs(each["actual"] - each["expected"]) for each in found["different"]]
    assert sizes == sorted(sizes, reverse=True)
    # Of one account alone, what is on no leg of it is not told; of no days there is nothing.
    of_savings = done(client.get("/api/review?from=2027-02-01&to=2027-02-28&accounts=s"))["different"]
    assert [each["name"] for each in of_savings] == ["Saving"]
    assert done(client.get("/api/review?from=2027-01-01&to=2027-01-31"))["different"] == []


def test_a_row_opens_to_what_is_behind_it(client: TestClient) -> None:
    def behind(**query: str) -> Json:
        return done(client.get("/api/review/line", params={"from": "2027-02-01", "to": "2027-02-28", **query}))

    spent = behind(kind="expense", categories="c")
    flows = {each["name"]: (each["expected"], each["actual"], each["times"]) for each in spent["flows"]}
    assert flows == {
        "Skipped": (100_00, 0, 1), "Late": (100_00, 0, 1), "Halved": (100_00, 40_00, 1), "Doubled": (100_00, 200_00, 1),
        "Dearer": (100_00, 112_50, 1), "Guessed": (100_00, 90_00, 1), "Moved": (100_00, 100_00, 1),
        "Kept": (100_00, 100_00, 1), "": (0, 7_00, 1),
    }  # fmt: skip
    assert sum(each["amount"] for each in spent["payees"]) == 649_50
    assert spent["entries"][0]["payee"] == "Kiosk"
    came = behind(kind="income", categories="i")
    assert [(each["payee"], each["amount"]) for each in came["payees"]] == [("Wages", 880_00), ("Found", 3_00)]
    # What an allowance expects is in none of its flows.
    food = behind(kind="expense", categories="f")
    assert [(each["flow"], each["expected"], each["actual"]) for each in food["flows"]] == [(None, 0, 80_00)]
    assert behind(kind="expense", categories="nobody") == {"categories": [], "flows": [], "payees": [], "entries": []}
