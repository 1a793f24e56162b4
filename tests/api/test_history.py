"""The history of changes: what each did to the lowest point ahead, and undoing back to any of them."""

from datetime import date
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import done, plan_alone, refused
from effort import examples
from next_penny.api.app import create_app
from next_penny.store.store import Store
from stores import new_file

TODAY = date(2027, 3, 1)
ACCOUNT = {"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2027-01-01", "balance": 100_000}}
BILL = {"kind": "bill", "from_account": "a"}
Lowest = tuple[str, int]


def served(file: Any) -> tuple[Store, TestClient]:
    store = Store(file)
    return store, TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765")


def lowest_of(bills: dict[str, tuple[int, int]]) -> Lowest:
    """By hand: what the one account is at its lowest, from today on, with bills of one date each in April."""
    balance = lowest = 100_000
    day = "2027-03-01"
    for number in range(1, 31):
        balance -= sum(amount for on, amount in bills.values() if on == number)
        if balance < lowest:
            lowest, day = balance, f"2027-04-{number:02}"
    return day, lowest


def told(step: Any, side: str) -> Lowest:
    return step["lowest"][side]["date"], step["lowest"][side]["balance"]


ACTS = st.lists(
    st.tuples(st.sampled_from(["bill", "undo", "redo", "back"]), st.sampled_from("xyz"), st.integers(1, 30),
              st.integers(1, 50_000)), min_size=3, max_size=12,
)  # fmt: skip


@settings(max_examples=examples(12), deadline=None)
@given(acts=ACTS)
def test_each_change_keeps_what_it_did_and_can_be_undone_back_to(acts: list[tuple[str, str, int, int]]) -> None:
    file = new_file()
    store, client = served(file)
    done(client.post("/api/changes", json={"changes": [
        {"op": "add", "kind": "account", "id": "a", "value": {k: v for k, v in ACCOUNT.items() if k != "id"}}]}))  # fmt: skip
    # The states that undo walks over, and where it is; what each step did is kept beside the state after it.
    states: list[dict[str, tuple[int, int]]] = [{}]
    at = 0
    for act, name, day, amount in acts:
        steps = done(client.get("/api/history/steps"))[:-1][::-1]
        if act == "bill":
            op = "update" if name in states[at] else "add"
            value = {**BILL, "name": name, "amount": amount, "dates": [f"2027-04-{day:02}"]}
            done(
                client.post("/api/changes", json={"changes": [{"op": op, "kind": "flow", "id": name, "value": value}]})
            )
            states[at + 1 :] = [{**states[at], name: (day, amount)}]
            at += 1
        elif act == "undo" and at > 0:
            done(client.post("/api/undo"))
            at -= 1
        elif act == "redo" and at + 1 < len(states):
            done(client.post("/api/redo"))
            at += 1
        elif act == "back" and steps:
            aimed = min(day, len(steps)) - 1
            answer = client.post(f"/api/history/steps/{steps[aimed]['id']}/undo")
            if aimed < at:
                later = at - aimed - 1
                assert (f"{later} later change" in done(answer)["done"]) == (later > 0)
                at = aimed
            else:
                assert refused(answer)[0] == ["path", "step"]
        flows = {
            flow["id"]: (int(flow["dates"][0][-2:]), flow["amount"]) for flow in done(client.get("/api/plan"))["flows"]
        }
        assert flows == states[at]
    store.close()
    # What was worked out after the answers is in the file.
    store, client = served(file)
    steps = done(client.get("/api/history/steps"))[:-1][::-1]
    assert [step["undone"] for step in steps] == [number >= at for number in range(len(states) - 1)]
    for step, before, after in zip(steps, states, states[1:], strict=False):
        assert (told(step, "before"), told(step, "after")) == (lowest_of(before), lowest_of(after))
        assert step["at"].startswith("2027-03-01T")
    store.close()


def test_a_window_is_told_once_what_moved_its_lowest_point(demo: TestClient) -> None:
    seen = done(demo.get("/api/history/since"))
    known = {"household": seen["household"], "step": seen["step"], **seen["lowest"]}
    assert seen["sentence"] is None
    bill = {**BILL, "from_account": "joint", "name": "Roof", "amount": 13_100_00, "dates": ["2027-04-12"]}
    accounts = done(demo.get("/api/accounts"))["accounts"]
    bill["from_account"] = accounts[0]["account"]["id"]
    add = {"op": "add", "kind": "flow", "id": "roof", "value": bill}
    plan = plan_alone(done(demo.get("/api/plan")))
    done(demo.post("/api/changes", json={"changes": [add]}))
    done(
        demo.post(
            "/api/changes", json={"changes": [{"op": "update", "kind": "flow", "id": "roof", "value": {"notes": "!"}}]}
        )
    )
    news = done(demo.get("/api/history/since", params=known))
    assert [each["sentence"] for each in news["changes"]] in ([], ["Added “Roof”: $13,100.00"])  # worked out or not yet
    assert "$12,399.70 on March 3, 2027" in news["sentence"]
    assert news["lowest"]["balance"] < known["balance"] - 11_000_00
    again = {"household": news["household"], "step": news["step"], **news["lowest"]}
    assert done(demo.get("/api/history/since", params=again))["sentence"] is None
    # Another household's numbers say nothing of this one.
    assert done(demo.get("/api/history/since", params={**known, "household": "other"}))["sentence"] is None
    first = done(demo.get("/api/history/steps"))[-1]["id"]
    done(demo.post(f"/api/history/steps/{first}/undo"))
    assert plan_alone(done(demo.get("/api/plan"))) == plan
    assert done(demo.get("/api/history/since", params=known))["sentence"] is None
