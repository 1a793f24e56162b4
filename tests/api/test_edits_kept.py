"""What was revised stays as it was said: base amounts under growth, equal values, values taken back, single dates."""

from typing import Any

import pytest
from fastapi.testclient import TestClient
from test_robustness import TODAY

from answers import Json, done, refused
from next_penny.api.app import create_app
from next_penny.store.store import Store
from stores import new_store

BILL = {"name": "Dues", "kind": "bill", "from_account": "joint", "rules": ["FREQ=MONTHLY;BYMONTHDAY=5"],
        "start": "2024-01-01", "amount": 100_000, "category": "other"}  # fmt: skip


@pytest.fixture
def home() -> TestClient:
    store: Store = new_store()
    client = TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765")
    account = {"name": "Joint", "kind": "checking", "currency": "USD", "opening": {"date": "2027-01-01", "balance": 0}}
    loan = {"principal": 1_000_000, "annual_rate": "5", "payments": 120, "disbursed": "2027-02-15",
            "first_payment": "2027-03-15", "from_account": "joint"}  # fmt: skip
    card = {"limit": 100_000, "closing_day": 20, "due": {"day": 5}, "rates": [{"from": "2027-01-01", "annual_rate": "18"}],
            "minimum": {"floor": 2_500}, "pays": "minimum", "from_account": "joint"}  # fmt: skip
    save(client, ("add", "account", "joint", account), ("add", "category", "other", {"name": "Other"}))
    save(
        client,
        (
            "add",
            "account",
            "loan",
            {**account, "kind": "loan", "opening": {"date": "2027-02-15", "balance": -1_000_000}, "loan": loan},
        ),
    )
    save(client, ("add", "account", "card", {**account, "kind": "credit_card", "card": card}))
    return client


def change(op: str, kind: str, id: str, value: Any, **more: Any) -> Json:
    return {"op": op, "kind": kind, "id": id, "value": value, **more}


def save(client: TestClient, *changes: tuple[str, str, str, Any]) -> None:
    done(client.post("/api/changes", json={"changes": [change(*each) for each in changes]}))


def revise(client: TestClient, kind: str, id: str, start: str, value: Any, **more: Any) -> Any:
    return client.post("/api/changes", json={"changes": [change("revise", kind, id, value, **{"from": start}, **more)]})


def dues(client: TestClient, until: str) -> dict[str, int]:
    events = done(client.get(f"/api/forecast?until={until}&accounts=joint"))["events"]
    return {event["nominal"]: -event["amount"] for event in events if event["flow"] == "dues"}


def test_an_amount_revised_to_the_base_of_a_flow_that_grows_is_kept(home: TestClient) -> None:
    growing = {**BILL, "growth": {"percent": "10", "from": "2025-01-01"}, "known_since": None}
    growing.pop("known_since")
    save(home, ("add", "flow", "dues", growing))
    done(revise(home, "flow", "dues", "2027-09-01", {"amount": 100_000}))
    told = dues(home, "2029-02-01")
    assert (told["2027-08-05"], told["2027-09-05"], told["2028-01-05"], told["2029-01-05"]) == (
        121_000, 100_000, 110_000, 121_000)  # fmt: skip


def test_a_value_that_holds_already_is_kept_and_ends_what_was_planned_later(home: TestClient) -> None:
    save(home, ("add", "flow", "dues", BILL))
    done(revise(home, "flow", "dues", "2028-01-01", {"amount": 120_000}))
    done(revise(home, "flow", "dues", "2027-09-01", {"amount": 100_000}, keep_later=False))
    assert set(dues(home, "2028-06-30").values()) == {100_000}
    # And it holds when what is before it becomes another.
    done(revise(home, "flow", "dues", "2027-06-01", {"amount": 90_000}))
    told = dues(home, "2027-10-30")
    assert (told["2027-06-05"], told["2027-09-05"]) == (90_000, 100_000)
    rules = {"rules": BILL["rules"]}
    done(revise(home, "flow", "dues", "2027-10-01", rules))
    assert [each["from"] for each in done(home.get("/api/plan"))["flows"][0]["revisions"]] == [
        "2027-06-01", "2027-09-01", "2027-10-01"]  # fmt: skip


@pytest.mark.parametrize(
    ("id", "name", "value"),
    [
        ("loan", "annual_rate", "6"),
        ("loan", "payment", 12_000),
        ("loan", "escrow", 9_000),
        ("card", "annual_rate", "25"),
    ],
)
def test_what_is_planned_of_an_account_is_taken_back_and_else_refused(
    home: TestClient, id: str, name: str, value: Any
) -> None:
    before = done(home.get("/api/plan"))
    for taken_back in ({name: None}, None):
        done(revise(home, "account", id, "2027-09-01", {name: value}))
        assert done(home.get("/api/plan")) != before
        done(revise(home, "account", id, "2027-09-01", taken_back))
        assert done(home.get("/api/plan")) == before
        assert "Nothing is planned from that day" in refused(revise(home, "account", id, "2027-09-01", taken_back))[1]
    assert refused(revise(home, "account", "card", "2027-09-01", {"limit": None}))[1] == "This is needed."


def test_a_single_date_keeps_what_was_said_of_it(home: TestClient) -> None:
    save(home, ("add", "flow", "dues", BILL))
    once = change("once", "flow", "dues", {"amount": 100_000}, nominal="2027-05-05")
    done(home.post("/api/changes", json={"changes": [once]}))
    save(home, ("update", "flow", "dues", {"amount": 70_000}))
    told = dues(home, "2027-06-30")
    assert (told["2027-04-05"], told["2027-05-05"], told["2027-06-05"]) == (70_000, 100_000, 70_000)
    nothing = change("once", "flow", "dues", None, nominal="2027-05-06")
    assert "is not expected" in refused(home.post("/api/changes", json={"changes": [nothing]}))[1]
    done(home.post("/api/changes", json={"changes": [{**once, "value": None}]}))
    assert dues(home, "2027-06-30")["2027-05-05"] == 70_000


def test_entries_of_a_what_if_stand_in_its_register(home: TestClient) -> None:
    spent = change("spent", "entry", "new-1", {"date": "2027-02-20", "account": "joint", "amount": 4_200,
                   "payee": "Ferry kiosk", "parts": [{"category": "other"}]})  # fmt: skip
    done(home.post("/api/what-ifs", json={"id": "w", "name": "What if", "changes": [spent]}))
    told = done(home.get("/api/register?account=joint&what_if=w"))
    assert [(row["payee"], row["amount"], row["balance"]) for row in told["rows"]] == [("Ferry kiosk", -4_200, -4_200)]
    assert done(home.get("/api/register?account=joint"))["rows"] == []


def test_a_loan_that_is_still_to_be_paid_out_is_paid_down_by_nothing(home: TestClient) -> None:
    loan = {"principal": 500_000, "annual_rate": "5", "payments": 60, "disbursed": "2027-06-15",
            "first_payment": "2027-07-15", "from_account": "joint"}  # fmt: skip
    opening = {"date": "2027-06-15", "balance": -500_000}
    save(
        home,
        (
            "add",
            "account",
            "later",
            {"name": "Later", "kind": "loan", "currency": "USD", "opening": opening, "loan": loan},
        ),
    )
    (told,) = [each for each in done(home.get("/api/debts"))["loans"] if each["id"] == "later"]
    assert (told["owed"], told["paid_down"], told["paid_down_percent"]) == (0, 0, 0)


def test_a_cards_payment_that_is_put_off_is_still_its_next_one(home: TestClient) -> None:
    bought = change("spent", "entry", "new-2", {"date": "2027-02-18", "account": "card", "amount": 60_000,
                    "payee": "Sail loft", "parts": [{"category": "other"}]})  # fmt: skip
    done(home.post("/api/changes", json={"changes": [bought]}))

    def told() -> tuple[int, int]:
        card = done(home.get("/api/debts"))["cards"][0]
        paid = [each for each in done(home.get("/api/forecast?until=2027-04-30&accounts=card"))["events"]
                if each["source"] == "card_payment" and each["nominal"] == card["next_due"]]  # fmt: skip
        return card["next_payment"], paid[0]["amount"]

    before = told()
    assert before[0] == before[1] > 0
    put_off = change("once", "flow", "card-payment", {"moved_to": "2027-03-11"}, nominal="2027-03-05")
    done(home.post("/api/changes", json={"changes": [put_off]}))
    assert told() == before


def test_every_cause_that_is_told_explains_something(demo: TestClient) -> None:
    for balance, interest in ((-1, 0), (21_345_67, 9_876_54), (22_000_000, 100), (0, 999_999)):
        statement = {"date": "2027-02-27", "principal_balance": abs(balance), "interest_to_date": interest,
                     "escrow_balance": 123_456, "escrow_to_date": 40_000, "last_split": None}  # fmt: skip
        causes = done(demo.post("/api/loans/house/statement-check", json=statement))["causes"]
        assert all(cause["explains"] for cause in causes)


@pytest.mark.parametrize("day", ["2027-02-20", "2027-03-20"])
def test_money_paid_by_hand_on_a_loan_counts_once_and_on_its_day(home: TestClient, day: str) -> None:
    loan = {"principal": 120_000, "annual_rate": "0", "payments": 12, "disbursed": "2027-02-01",
            "first_payment": "2027-03-27", "from_account": "joint"}  # fmt: skip
    opening = {"date": "2027-02-01", "balance": -120_000}
    save(home, ("remove", "account", "loan", None), ("remove", "account", "card", None))
    save(
        home,
        (
            "add",
            "account",
            "boat",
            {"name": "Boat", "kind": "loan", "currency": "USD", "opening": opening, "loan": loan},
        ),
    )
    moved = change("moved", "entry", "new-3", {"date": day, "account": "joint", "to_account": "boat", "amount": 50_000})
    done(home.post("/api/changes", json={"changes": [moved]}))
    is_ahead = day > TODAY.isoformat()
    told = done(home.get("/api/debts"))
    assert told["this_month"]["principal"] == 10_000 + 50_000 * is_ahead
    assert told["next_twelve"]["principal"] == 70_000 + 50_000 * is_ahead
    (year,) = told["years"]
    assert (year["recorded"], year["principal"], year["paid_so_far"]) == (50_000, 70_000, 120_000)
