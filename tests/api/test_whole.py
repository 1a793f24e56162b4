"""The app as a whole: every view follows every change, back and forth, and for several people at once."""

import shutil
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from next_penny.store.store import Store
from stores import demo_file

TODAY = date(2027, 3, 1)
LINE = {"accounts": ["joint", "rainy-day"], "from": "2027-01-01", "until": "2027-08-01", "changes": []}
VIEWS = (
    "household", "plan", "forecast?until=2027-09-01", "ahead?until=2027-05-01&from=2027-02-01", "flows", "subscriptions",
    "accounts", "allowances", "settle", "register?account=joint&from=2026-11-01", "entries/choices", "candidates",
    "set-aside", "debts", "debts/house", "debts/engine",
)  # fmt: skip
Json = dict[str, Any]


def client_of(file: Path) -> TestClient:
    return TestClient(create_app(Store(file), lambda: TODAY), base_url="http://127.0.0.1:8765")


@pytest.fixture
def file(tmp_path: Path) -> Path:
    return Path(shutil.copy(demo_file(), tmp_path / "home.sqlite3"))


def done(client: TestClient, path: str, body: Any) -> Json:
    answer = client.post(f"/api/{path}", json=body)
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def seen(client: TestClient) -> dict[str, Any]:
    """All that the household can look at."""
    told = {view: client.get(f"/api/{view}") for view in VIEWS}
    assert {view for view, answer in told.items() if answer.status_code != 200} == set()
    return {view: answer.json() for view, answer in told.items()} | {"tideline": done(client, "tideline", LINE)}


def settle_all(client: TestClient) -> None:
    due = client.get("/api/settle").json()["due"]
    ways: list[Json] = [{"do": "settle"}, {"do": "leave_out"}, {"do": "put_off", "to": "2027-03-20"}]
    lines = [{"flow": line["flow"], "nominal": line["nominal"], **ways[n % 3]} for n, line in enumerate(due)]
    done(client, "settle", {"lines": lines})


def adopt(client: TestClient, wish: Json) -> None:
    told = done(client, "debts/alternatives", {"account": "house", "variants": [wish], "horizon_months": 24})
    done(client, "changes", {"changes": told["outcomes"][1]["changes"]})


def change(**change: Any) -> Callable[[TestClient], None]:
    return lambda client: done(client, "changes", {"changes": [change]}) and None


def put_twice_the_pay(client: TestClient) -> None:
    plan = client.get("/api/plan").json()
    flows = [{**flow, "amount": 2 * flow["amount"]} if flow["kind"] == "income" else flow for flow in plan["flows"]]
    assert client.put("/api/plan", json={**plan, "flows": flows}).status_code == 200


SHOPPING = {"date": "2027-03-01", "payee": "Much", "tags": ["feast"],
            "legs": [{"account": "joint", "amount": -990_00}, {"category": "groceries", "amount": 990_00}]}  # fmt: skip
DEEDS: dict[str, Callable[[TestClient], None]] = {
    "settling all that is due": settle_all,
    "shortening a loan": lambda client: adopt(client, {"name": "Sooner", "payments": 90}),
    "refinancing it": lambda client: adopt(client, {"name": "Anew", "refinance": True, "fees": 900_00}),
    "overspending": change(op="add", kind="entry", id="much", value=SHOPPING),
    "ignoring what is past due": change(op="update", kind="household", id="household", value={"past_due": "ignore"}),
    "merging a category": lambda client: done(client, "categories/merge", {"from": "boat", "into": "child"}) and None,
    "taking another plan": put_twice_the_pay,
}


@pytest.mark.parametrize("deed", DEEDS.values(), ids=DEEDS.keys())
def test_every_view_follows_what_was_done_and_undone(file: Path, deed: Callable[[TestClient], None]) -> None:
    client = client_of(file)
    before = seen(client)
    deed(client)
    after = seen(client)
    assert after["tideline"] != before["tideline"] or deed is DEEDS["merging a category"]
    assert after == seen(client_of(file))
    label = client.get("/api/history").json()["undo"]
    client.post("/api/undo")
    assert seen(client) == before == seen(client_of(file))
    assert client.get("/api/history").json() == {"undo": None, "redo": label, "done": None, "notes": []}
    client.post("/api/redo")
    assert seen(client) == after


def test_settling_answers_with_the_tideline_as_it_then_is(file: Path) -> None:
    client = client_of(file)
    line = client.get("/api/settle").json()["due"][0]
    lines = [{"flow": line["flow"], "nominal": line["nominal"], "do": "settle"}]
    plan = client.get("/api/plan").json()
    draft = {"op": "remove", "kind": "flow", "id": "nobody"}
    for field, value in (("until", "2027-02-01"), ("changes", [draft])):
        refused = client.post("/api/settle", json={"lines": lines, "tideline": {**LINE, field: value}})
        assert (refused.status_code, refused.json()["detail"][0]["loc"]) == (422, ["body", "tideline", field])
    assert client.get("/api/plan").json() == plan
    told = done(client, "settle", {"lines": lines, "tideline": LINE})
    assert told["tideline"] == done(client, "tideline", LINE)
    assert (told["undo"], told["redo"]) == (client.get("/api/history").json()["undo"], None)
    client.post("/api/undo")
    assert done(client, "settle", {"lines": lines})["tideline"] is None


def test_several_people_at_once_see_one_household(file: Path) -> None:
    client = client_of(file)
    due = client.get("/api/settle").json()["due"]
    entries = [{**SHOPPING, "payee": f"Shop {number}"} for number in range(12)]
    work: list[Callable[[], int]] = [
        *(lambda entry=entry, n=n: client.post("/api/changes", json={"changes": [
            {"op": "add", "kind": "entry", "id": f"shop{n}", "value": entry}]}).status_code
          for n, entry in enumerate(entries)),
        *(lambda line=line: client.post("/api/settle", json={"lines": [
            {"flow": line["flow"], "nominal": line["nominal"], "do": "settle"}]}).status_code for line in due),
        *(lambda view=view: client.get(f"/api/{view}").status_code for view in VIEWS),
    ]  # fmt: skip
    with ThreadPoolExecutor(6) as several:
        assert set(several.map(lambda each: each(), work)) == {200}
    told = seen(client)
    assert told == seen(client_of(file))
    assert told["settle"]["due"] == []
    named = {entry["payee"] for entry in told["plan"]["entries"]}
    assert {entry["payee"] for entry in entries} <= named
    for _ in range(len(entries) + len(due)):
        assert client.post("/api/undo").json()["done"]
    assert client.get("/api/history").json()["undo"] is None
