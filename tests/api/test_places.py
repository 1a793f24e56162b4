"""What the places show, held against the fixed forecast: the tideline, settling, allowances, undo of everything."""

from datetime import date, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from answers import plan_alone
from next_penny.api.app import create_app
from next_penny.demo import fill_with_demo
from stores import new_store

TODAY = date(2027, 3, 1)
Json = dict[str, Any]


def tideline(client: TestClient, **more: Any) -> Json:
    body = {"from": "2027-02-20", "until": "2027-06-01", **more}
    answer = client.post("/api/tideline", json=body)
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def level(levels: list[list[Any]], day: str) -> int:
    held = [balance for when, balance in levels if when <= day]
    return held[-1] if held else 0


def every_day(first: date, last: date) -> list[str]:
    return [(first + timedelta(days=number)).isoformat() for number in range((last - first).days + 1)]


def test_the_tideline_is_the_forecast_after_today_and_the_register_before(demo: TestClient) -> None:
    line = tideline(demo)["line"]
    forecast = demo.get("/api/forecast?until=2027-06-01&accounts=joint").json()["accounts"][0]
    for day in every_day(TODAY, date(2027, 6, 1)):
        expected = level(forecast["steps"], day) if day >= forecast["steps"][0][0] else forecast["today_balance"]
        assert level(line["pencil"], day) == expected
    assert line["ink"][-1] == ["2027-03-01", forecast["today_balance"]]
    rows = demo.get("/api/register?account=joint").json()["rows"]
    for day in every_day(date(2027, 2, 20), date(2027, 2, 28)):
        assert level(line["ink"], day) == next(row["balance"] for row in rows if row["date"] <= day)
    assert (line["floor"], line["cushion"], line["currency"]) == (250_00, 600_00, "USD")


def test_the_tideline_of_several_accounts_is_their_sum(demo: TestClient) -> None:
    # What a debt is added to has no floor to be above or below.
    with_card = tideline(demo, accounts=["joint", "heron"])["line"]
    assert (with_card["lowest"], with_card["lows"]) == (None, [])
    whole = tideline(demo, accounts=["joint", "rainy-day", "tin"])["line"]
    parts = [tideline(demo, accounts=[account])["line"] for account in ("joint", "rainy-day", "tin")]
    for day in every_day(TODAY, date(2027, 6, 1)):
        assert level(whole["pencil"], day) == sum(level(part["pencil"], day) for part in parts)
    assert whole["floor"] == sum(part["floor"] for part in parts)
    lows = {low["date"][:7]: low["balance"] for low in whole["lows"]}
    for month, lowest in lows.items():
        days = [day for day in every_day(TODAY, date(2027, 6, 1)) if day.startswith(month)]
        assert lowest == min(level(whole["pencil"], day) for day in days)


def test_accounts_in_other_currencies_are_added_at_the_days_rate(demo: TestClient) -> None:
    plan = demo.get("/api/plan").json()
    euro = {"id": "euro", "name": "Trip", "kind": "savings", "currency": "EUR",
            "opening": {"date": "2027-02-01", "balance": 100_00}}  # fmt: skip
    plan["accounts"].append(euro)
    plan["rates"] = [{"date": "2027-01-01", "from": "EUR", "to": "USD", "rate": "1.10"}]
    assert demo.put("/api/plan", json=plan).status_code == 200
    joint, both = (tideline(demo, accounts=chosen)["line"] for chosen in (["joint"], ["joint", "euro"]))
    assert both["currency"] == "USD"
    assert both["ink"][-1][1] == joint["ink"][-1][1] + 110_00
    assert tideline(demo, accounts=["euro"])["line"]["ink"][-1] == ["2027-03-01", 100_00]


def test_a_draft_is_drawn_in_copper_and_an_account_that_is_no_more_is_forgotten(demo: TestClient) -> None:
    change = {"op": "update", "kind": "flow", "id": "gran", "value": {"amount": 100_00}}
    answer = tideline(demo, changes=[change], accounts=["gone"])
    assert answer["accounts"] == ["joint"]
    paid = 3  # on the 28th of March, April and May
    last = "2027-06-01"
    assert level(answer["copper"]["pencil"], last) - level(answer["line"]["pencil"], last) == 290_00 * paid
    assert tideline(demo)["copper"] is None


def test_an_account_that_opens_later_begins_there(demo: TestClient) -> None:
    value = {"name": "New savings", "kind": "savings", "opening": {"date": "2027-04-10", "balance": 50_00}}
    change = {"op": "add", "kind": "account", "id": "later", "value": {**value, "currency": "USD"}}
    copper = tideline(demo, changes=[change], accounts=["later"])["copper"]
    assert copper["ink"] == []
    assert copper["pencil"] == [["2027-04-10", 50_00]]
    demo.post("/api/changes", json={"changes": [change]})
    told = demo.get("/api/forecast?until=2027-05-01&accounts=later").json()["accounts"][0]
    assert (told["today_balance"], told["steps"]) == (0, [["2027-04-10", 50_00]])
    assert demo.get("/api/forecast?until=2027-04-01&accounts=later").json()["accounts"][0]["lowest"] is None


CHANGES: list[Json] = [
    {"op": "add", "kind": "account", "id": "jar", "value": {"name": "Jar", "kind": "cash", "currency": "USD",
                                                            "opening": {"date": "2027-03-01", "balance": 5}}},
    {"op": "update", "kind": "account", "id": "tin", "value": {"name": "Biscuit tin"}},
    {"op": "add", "kind": "category", "id": "pets", "value": {"name": "Pets"}},
    {"op": "update", "kind": "category", "id": "boat", "value": {"group": "Water"}},
    {"op": "update", "kind": "household", "id": "household", "value": {"name": "Others", "past_due": "ignore"}},
    {"op": "add", "kind": "flow", "id": "cat", "value": {"name": "Cat", "kind": "bill", "amount": 9, "from_account": "tin",
                                                         "dates": ["2027-04-01"]}},
    {"op": "update", "kind": "flow", "id": "phones", "value": {"splits": [{"category": "child", "amount": 100}],
                                                               "seasonal": {"2": 1}}},
    {"op": "remove", "kind": "flow", "id": "boathouse"},
    {"op": "add", "kind": "allowance", "id": "fun", "value": {"name": "Fun", "limit": 9, "account": "tin",
                                                              "categories": ["boat"]}},
    {"op": "update", "kind": "allowance", "id": "groceries", "value": {"timing": "at_end", "week_starts": "TH"}},
    {"op": "remove", "kind": "allowance", "id": "pleasure"},
    {"op": "add", "kind": "entry", "id": "vet", "value": {"date": "2027-03-01", "payee": "Vet", "legs": [
        {"account": "tin", "amount": -7}, {"category": "child", "amount": 7}]}},
    {"op": "remove", "kind": "entry", "id": "flute-2027-01-12"},
]  # fmt: skip


@pytest.mark.parametrize("change", CHANGES, ids=lambda change: f"{change['op']} {change['kind']}")
def test_every_kind_of_change_is_kept_and_undone(demo: TestClient, change: Json) -> None:
    before = plan_alone(demo.get("/api/plan").json())
    saved = demo.post("/api/changes", json={"changes": [change]})
    assert saved.status_code == 200, saved.text
    after = plan_alone(demo.get("/api/plan").json())
    assert after != before
    for name, value in (change.get("value") or {}).items():
        lists = {
            "account": "accounts",
            "flow": "flows",
            "allowance": "allowances",
            "category": "categories",
            "entry": "entries",
        }
        items = [after] if change["kind"] == "household" else after[lists[change["kind"]]]
        held = items[0] if change["kind"] == "household" else next(item for item in items if item["id"] == change["id"])
        assert held[name] == value
    assert demo.post("/api/undo").json()["redo"] == saved.json()["undo"]
    assert plan_alone(demo.get("/api/plan").json()) == before
    demo.post("/api/redo")
    assert plan_alone(demo.get("/api/plan").json()) == after


def test_all_changes_together_are_one_step(demo: TestClient) -> None:
    before = plan_alone(demo.get("/api/plan").json())
    saved = demo.post("/api/changes", json={"changes": CHANGES}).json()
    assert saved["undo"] == f"Added “Jar” and {len(CHANGES) - 1} more"
    demo.post("/api/undo")
    assert plan_alone(demo.get("/api/plan").json()) == before
    assert demo.get("/api/history").json() == {"undo": None, "redo": saved["undo"], "done": None, "notes": []}


def test_putting_off_and_leaving_out_move_the_forecast(demo: TestClient) -> None:
    lines = [
        {"flow": "mortgage", "nominal": "2027-03-01", "do": "put_off", "to": "2027-03-09"},
        {"flow": "fuel", "nominal": "2027-03-01", "do": "leave_out"},
    ]
    assert demo.post("/api/settle", json={"lines": lines}).json()["undo"] == "Put off “Mortgage” and 1 more"
    events = demo.get("/api/forecast?until=2027-03-10&accounts=joint").json()["events"]
    assert [event["date"] for event in events if event["flow"] == "mortgage"] == ["2027-03-09"]
    assert not [event for event in events if event["flow"] == "fuel" and event["nominal"] == "2027-03-01"]
    why = next(event["why"] for event in events if event["flow"] == "mortgage")
    assert "moved from Mon Mar 1 to Tue Mar 9 just this once" in why
    wrong = {**lines[0], "to": "2027-02-01"}
    refused = demo.post("/api/settle", json={"lines": [wrong]}).json()["detail"][0]
    assert (refused["loc"], refused["msg"]) == (["body", "lines", 0, "to"], "Put it off to today or a later day.")


def test_taking_back_makes_it_expected_again(demo: TestClient) -> None:
    before = [line["nominal"] for line in demo.get("/api/settle").json()["due"]]
    demo.post(
        "/api/settle", json={"lines": [{"flow": "fuel", "nominal": "2027-03-01", "do": "settle", "amount": 51_20}]}
    )
    settled = demo.get("/api/settle").json()["settled"]
    assert [(entry["name"], entry["amount"]) for entry in settled] == [("Fuel", -51_20)]
    demo.post("/api/changes", json={"changes": [{"op": "remove", "kind": "entry", "id": settled[0]["entry"]}]})
    after = demo.get("/api/settle").json()
    assert ([line["nominal"] for line in after["due"]], after["settled"]) == (before, [])


def test_held_back_money_says_why(demo: TestClient) -> None:
    events = demo.get("/api/forecast?until=2027-03-31&accounts=joint").json()["events"]
    groceries = [event for event in events if event["name"] == "Groceries"]
    assert sum(event["amount"] for event in groceries) == -880_00
    assert groceries[0]["flow"] is None
    assert groceries[0]["why"] == (
        "Held back for “Groceries”: what is left of $880.00 a month, taken evenly over the days left."
    )
    row = demo.get("/api/allowances").json()["allowances"][0]["now"]
    assert (row["limit"], row["used"], row["held_back"], row["days_left"]) == (880_00, 0, 880_00, 30)


def test_a_category_used_in_two_allowances_is_refused_at_its_field(demo: TestClient) -> None:
    value = {"name": "More food", "limit": 5, "account": "joint", "categories": ["boat", "groceries"]}
    change = {"op": "add", "kind": "allowance", "id": "more", "value": value}
    detail = demo.post("/api/changes", json={"changes": [change]}).json()["detail"][0]
    assert detail["loc"] == ["body", "changes", 0, "value", "categories", 1]
    assert detail["msg"] == "“Groceries” is in the allowance “Groceries” already."


def test_another_days_forecast_is_another_forecast() -> None:
    store = new_store()
    fill_with_demo(store, TODAY)
    days = iter([TODAY, TODAY + timedelta(days=1)])
    day = {"now": next(days)}
    client = TestClient(create_app(store, lambda: day["now"]), base_url="http://127.0.0.1:8765")
    first = client.get("/api/forecast?until=2027-04-01").json()
    day["now"] = next(days)
    second = client.get("/api/forecast?until=2027-04-01").json()
    assert (first["today"], second["today"]) == ("2027-03-01", "2027-03-02")
    late = {event["flow"] for event in second["events"] if event["status"] == "past_due"}
    assert late == {"flute", "mortgage", "fuel"}
