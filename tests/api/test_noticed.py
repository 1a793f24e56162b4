"""What is worth a look: entries that stand twice, prices that rose, payees never seen, told until looked at."""

from typing import Any

from fastapi.testclient import TestClient

from answers import done, plan_alone


def record(client: TestClient, id: str, day: str, payee: str, amount: int, **more: Any) -> None:
    """An entry from checking, in the category of odds and ends."""
    legs = [{"account": "joint", "amount": -amount}, {"category": "sundries", "amount": amount}]
    value = {"date": day, "payee": payee, "legs": legs, **more}
    done(client.post("/api/changes", json={"changes": [{"op": "add", "kind": "entry", "id": id, "value": value}]}))


def told(client: TestClient, kind: str) -> dict[str, str]:
    return {each["key"]: each["sentence"] for each in done(client.get("/api/review/noticed")) if each["kind"] == kind}


def test_an_entry_that_stands_twice_is_found_and_removed(demo: TestClient) -> None:
    assert told(demo, "doubled") == {}
    record(demo, "a", "2027-02-20", "The Quay Bakery", 12_40)
    for id, day, payee, amount in (
        ("far", "2027-02-26", "The Quay Bakery", 12_40), ("other", "2027-02-21", "The Quay Bakery", 12_50),
        ("who", "2027-02-21", "Another Bakery", 12_40), ("none", "2027-02-21", "", 12_40),
    ):  # fmt: skip
        record(demo, id, day, payee, amount)
    assert told(demo, "doubled") == {}
    record(demo, "b", "2027-02-25", "the quay bakery", 12_40)
    # Five days after the first, one day before that of the 26th.
    assert set(told(demo, "doubled")) == {"doubled:a:b", "doubled:b:far"}
    assert told(demo, "doubled")["doubled:a:b"] == "the quay bakery, $12.40, stands on Sat Feb 20 and on Thu Feb 25."
    done(demo.post("/api/changes", json={"changes": [{"op": "remove", "kind": "entry", "id": "b"}]}))
    assert told(demo, "doubled") == {}


def test_two_dates_of_a_flow_are_no_doubles_but_a_hand_entry_beside_one_is(demo: TestClient) -> None:
    flow = {"name": "Milk", "kind": "bill", "amount": 900, "from_account": "joint", "category": "sundries",
            "rules": ["FREQ=WEEKLY;BYDAY=MO,TH"], "start": "2027-02-01", "known_since": None}  # fmt: skip
    done(demo.post("/api/changes", json={"changes": [{"op": "add", "kind": "flow", "id": "milk", "value": flow}]}))
    for day in ("2027-02-15", "2027-02-18"):
        record(demo, f"milk-{day}", day, "Milk", 900, flow="milk", nominal=day)
    assert told(demo, "doubled") == {}
    record(demo, "hand", "2027-02-19", "Milk", 900)
    assert list(told(demo, "doubled")) == ["doubled:milk-2027-02-18:hand"]
    # A bill that came to more than before is told; to less, or the same, it is not.
    for day, amount, rises in (("2027-02-22", 950, 1), ("2027-02-25", 950, 1), ("2027-02-28", 800, 1)):
        nominal = day if day != "2027-02-28" else "2027-03-01"
        record(demo, f"m-{day}", day, "Milk", amount, flow="milk", nominal=nominal)
        assert len(told(demo, "dearer")) == rises
    assert told(demo, "dearer") == {
        "dearer:milk:2027-02-22": "“Milk” came to $9.50 on Mon Feb 22; $9.00 on Thu Feb 18."
    }


def test_a_payee_never_seen_is_told_until_it_was_looked_at_and_undo_leaves_that(demo: TestClient) -> None:
    plan = plan_alone(done(demo.get("/api/plan")))
    record(demo, "n1", "2027-02-27", "Thistle and Thread", 5_00)
    record(demo, "n2", "2027-02-28", "Thistle and Thread", 6_00)
    key = "payee:thistle and thread"
    assert told(demo, "new_payee")[key] == "Thistle and Thread is new, on Sat Feb 27."
    left = done(demo.post("/api/review/noticed/seen", json={"keys": [key, "payee:nobody"]}))
    assert key not in [each["key"] for each in left]
    assert key not in told(demo, "new_payee")
    for _ in range(2):
        done(demo.post("/api/undo"))
    assert plan_alone(done(demo.get("/api/plan"))) == plan
    done(demo.post("/api/redo"))
    assert key not in told(demo, "new_payee")
