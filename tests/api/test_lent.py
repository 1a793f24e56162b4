"""Money lent, through what a client sees: received, settled, put off; its figures are in the core's own tests."""

from datetime import date, timedelta
from typing import Any

from fastapi.testclient import TestClient

from answers import Json, done, plan_alone, refused
from next_penny.api.app import create_app
from stores import new_store

TODAY, OPENED = date(2027, 3, 1), date(2026, 9, 10)
_CLIENT = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")


def household(lent: Json | None, balance: int, entries: Any = ()) -> Json:
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "entries": list(entries),
        "accounts": [
            {"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2026-09-10", "balance": 0}},
            {"id": "tin", "name": "Tin", "kind": "cash", "opening": {"date": "2026-09-10", "balance": 0}},
            {"id": "l", "name": "Lent", "kind": "owed_to_us", "opening": {"date": "2026-09-10", "balance": balance},
             "lent": lent},
        ],
    }  # fmt: skip


def is_coming(event: Json) -> bool:
    """Whether an event is expected on the account into which it comes back."""
    return bool(event["account"] == "a" and event["status"] != "settled")


def test_what_comes_as_it_comes_and_what_is_beyond_it() -> None:
    lending = {"id": "lent-more", "date": "2027-01-05", "payee": "Bo",
               "legs": [{"account": "a", "amount": -5_000}, {"account": "l", "amount": 5_000}]}  # fmt: skip
    done(_CLIENT.put("/api/plan", json=household(None, 20_000, [lending])))
    before = plan_alone(done(_CLIENT.get("/api/plan")))
    row = done(_CLIENT.get("/api/lent"))[0]
    assert [row[name] for name in ("to", "owed", "lent", "late", "next", "sure")] == [
        "Lent", 25_000, 25_000, None, None, "counted"
    ]  # fmt: skip
    assert (
        row["reminder"]
        == "Dear Lent, of what I lent you on September 10, 2026 $250.00 is still open: when would it suit you?"
    )

    def receive(**values: Any) -> Any:
        return _CLIENT.post(
            "/api/lent/l/receive", json={"date": "2027-02-01", "amount": 1000, "account": "a", **values}
        )

    for values, field, says in (
        ({"account": None}, "account", "Say into which account"), ({"account": "l"}, "account", "choose another"),
        ({"amount": 0}, "amount", "more than nothing"), ({"date": "2027-03-02"}, "date", "today or before"),
        ({"date": "2026-09-09"}, "date", "begins on"), ({"principal": 1001}, "principal", "come to"),
        ({"principal": 1, "interest": 2}, "interest", "come to"), ({"interest": -1}, "interest", "without a sign"),
        ({"amount": 25_001}, "rest", "$0.01 is more"),
    ):  # fmt: skip
        loc, words = refused(receive(**values))
        assert field in loc
        assert says in words
    assert (
        "no money that was lent"
        in refused(_CLIENT.post("/api/lent/a/receive", json={"date": "2027-02-01", "amount": 1}))[1]
    )
    # Lending more takes nothing of what has accrued, not even what does not make a cent yet.
    days = [OPENED + timedelta(each) for each in range(1, 29)]
    legs = [{"account": "a", "amount": -1}, {"account": "l", "amount": 1}]
    entries = [{**lending, "id": f"more {day}", "date": day.isoformat(), "legs": legs} for day in days]
    done(_CLIENT.put("/api/plan", json=household({"to": "Bo", "annual_rate": "1"}, 1000, entries)))
    evenings = sum(1000 + min(number, 28) for number in range((TODAY - OPENED).days))
    assert done(_CLIENT.get("/api/lent"))[0]["accrued"] == (evenings + 18_250) // 36_500 > 0
    _CLIENT.post("/api/undo")
    # Interest alone is earned, and owed stays; a gift is income and no repayment; what is owed back is below zero.
    done(receive(interest=1000))
    done(receive(amount=26_000, rest="gift"))
    row = done(_CLIENT.get("/api/lent"))[0]
    assert (row["owed"], row["interest_earned"], row["repaid"], row["reminder"]) == (0, 1000, 25_000, None)
    done(receive(amount=300, rest="owed_back"))
    assert done(_CLIENT.get("/api/lent"))[0]["owed"] == -300
    plan = done(_CLIENT.get("/api/plan"))
    assert {leg["category"]: leg["amount"] for each in plan["entries"] for leg in each["legs"] if "category" in leg} == {
        "lent-interest": -1000, "gifts-received": -1000
    }  # fmt: skip
    assert done(_CLIENT.put("/api/plan", json=plan)) == plan
    for _ in range(4):
        _CLIENT.post("/api/undo")
    assert plan_alone(done(_CLIENT.get("/api/plan"))) == before


def test_repayments_are_settled_left_out_and_put_off_as_any_and_may_be_in_no_balance() -> None:
    lent = {"to": "Bo", "into_account": "a",
            "repays": {"amount": 5_000, "rules": ["FREQ=MONTHLY;BYMONTHDAY=10"], "start": "2027-02-01"}}  # fmt: skip

    def settle(**line: Any) -> Any:
        return _CLIENT.post("/api/settle", json={"lines": [{"flow": "l-repayment", "do": "settle", **line}]})

    def coming() -> list[tuple[str, int]]:
        events = done(_CLIENT.get("/api/forecast?until=2027-12-31"))["events"]
        return [
            (each["date"], each["amount"])
            for each in events
            if (each["account"], each["status"] == "settled") == ("a", False)
        ]

    done(_CLIENT.put("/api/plan", json=household(lent, 20_000)))
    assert coming() == [("2027-03-01", 5000), ("2027-03-10", 5000), ("2027-04-10", 5000), ("2027-05-10", 5000)]
    # What is due stands in Settle as money that comes, on the account that it comes to.
    due = done(_CLIENT.get("/api/settle"))["due"]
    assert [(each["kind"], each["account"], each["amount"]) for each in due] == [("income", "a", 5000)]
    assert due[0]["moves_lowest"] < 0  # without it the lowest point would be lower
    # Review tells what became of a day by the sums, whatever entries name; and what is owed by person and in all.
    for came, stands, actual in ((0, "past_due", 0), (2000, "past_due", -2000), (4000, "settled", -5000)):
        if came:
            done(_CLIENT.post("/api/lent/l/receive", json={"date": "2027-02-20", "amount": came}))
        told = done(_CLIENT.get("/api/review?from=2027-02-01&to=2027-02-28"))["occurrences"]
        assert [(each["status"], each["expected"], each["actual"]) for each in told] == [(stands, -5000, actual)]
    totals = done(_CLIENT.get("/api/lent/totals"))
    assert [(each["to"], each["owed"], each["late"], each["repaid"]) for each in (*totals["people"], totals["all"])] == [
        ("Bo", 14_000, 0, 6_000), ("", 14_000, 0, 6_000)
    ]  # fmt: skip
    for _ in range(2):
        _CLIENT.post("/api/undo")
    # A part leaves the rest due; early, by name, it is due no more.
    done(settle(nominal="2027-02-10", amount=2000))
    assert coming()[0] == ("2027-03-01", 3000)
    done(settle(nominal="2027-03-10", date="2027-03-01"))
    assert coming() == [("2027-03-01", 3000), ("2027-04-10", 5000), ("2027-05-10", 5000)]
    done(settle(nominal="2027-04-10", do="put_off", to="2027-04-20"))
    done(settle(nominal="2027-02-10", do="leave_out"))
    assert coming() == [("2027-04-20", 5000), ("2027-05-10", 5000), ("2027-06-10", 3000)]
    assert "more than the $130.00 that is owed" in refused(settle(nominal="2027-05-10", amount=13_001))[1]
    for sure, balance in (("doubtful", 13_000), ("left_out", 0)):
        value = {"lent": {**lent, "sure": sure}}
        done(
            _CLIENT.post(
                "/api/changes", json={"changes": [{"op": "update", "kind": "account", "id": "l", "value": value}]}
            )
        )
        assert sum(amount for _, amount in coming()) == balance
        assert done(_CLIENT.get("/api/lent"))[0]["next"] == {"date": "2027-04-20", "amount": 5000}
        ahead = done(_CLIENT.get("/api/ahead?until=2027-12-31&accounts=a"))
        marked = [each["amount"] for each in ahead["events"] if each["may_not_come"]]
        assert (sum(marked), sum(each["amount"] for each in ahead["uncounted"])) == (balance, 13_000 - balance)
    # It goes where the account says now, whatever was set of single dates; its flow is nobody's own; all goes with it.
    into = {"lent": {**lent, "into_account": "tin", "sure": "counted"}}
    done(
        _CLIENT.post("/api/changes", json={"changes": [{"op": "update", "kind": "account", "id": "l", "value": into}]})
    )
    events = done(_CLIENT.get("/api/forecast?until=2027-12-31"))["events"]
    assert [(each["date"], each["amount"]) for each in events if each["account"] == "tin"] == [
        ("2027-04-20", 5000), ("2027-05-10", 5000), ("2027-06-10", 3000)
    ]  # fmt: skip
    written = done(_CLIENT.get("/api/plan"))
    assert done(_CLIENT.put("/api/plan", json=written)) == written
    own = {"kind": "flow", "id": "l-repayment"}
    for change in ({"op": "update", "value": {"amount": 1}}, {"op": "remove"}):
        assert "what was agreed" in refused(_CLIENT.post("/api/changes", json={"changes": [{**own, **change}]}))[1]
    gone = {"changes": [{"op": "remove", "kind": "account", "id": "l"}]}
    assert "what has happened is kept" in refused(_CLIENT.post("/api/changes", json=gone))[1]
    for each in done(_CLIENT.get("/api/plan"))["entries"]:
        done(_CLIENT.post("/api/changes", json={"changes": [{"op": "remove", "kind": "entry", "id": each["id"]}]}))
    done(_CLIENT.put("/api/plan", json={**done(_CLIENT.get("/api/plan")), "expected": [], "expected_until": None}))
    done(_CLIENT.post("/api/changes", json=gone))
    _CLIENT.post("/api/undo")
    for value, says in (
        ({**lent, "into_account": None}, "into which account"), ({**lent, "into_account": "l"}, "choose another"),
        ({**lent, "to": " "}, "to whom"), ({**lent, "annual_rate": "101"}, "from 0 to 100"),
        ({**lent, "repays": {**lent["repays"], "amount": 0}}, "more than nothing"),
    ):  # fmt: skip
        change = {"op": "update", "kind": "account", "id": "l", "value": {"lent": value}}
        assert says in refused(_CLIENT.post("/api/changes", json={"changes": [change]}))[1]
