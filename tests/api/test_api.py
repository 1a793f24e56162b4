"""The fixed surface: documents, forecasts, previews and calculators, and what they refuse."""

import json
from collections.abc import Iterator
from datetime import date
from itertools import pairwise
from typing import Any

import pytest
from fastapi.testclient import TestClient

from answers import plan_alone
from next_penny.api.app import create_app
from next_penny.demo import fill_with_demo
from stores import new_store

TODAY = date(2027, 3, 1)
Json = dict[str, Any]


@pytest.fixture
def client() -> Iterator[TestClient]:
    store = new_store()
    yield TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765")
    store.close()


def document(**more: Any) -> Json:
    account = {"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2027-03-01", "balance": 1000_00}}
    plan = {"format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": [account]}
    return {**plan, **more}


RENT = {
    "id": "rent", "name": "Rent", "kind": "bill", "amount": 900_00, "from_account": "a", "start": "2027-03-01",
    "rules": ["FREQ=MONTHLY;BYMONTHDAY=5"],
}  # fmt: skip


def refusal(response: Any) -> list[tuple[list[str | int], str]]:
    assert response.status_code == 422, response.text
    details = response.json()["detail"]
    assert all(set(detail) == {"loc", "msg", "type"} for detail in details)
    return [(detail["loc"], detail["msg"]) for detail in details]


def test_health(client: TestClient) -> None:
    answer = client.get("/api/health").json()
    assert (answer["status"], answer["today"]) == ("ok", "2027-03-01")


def test_a_plan_comes_out_as_it_went_in_with_defaults_for_what_was_left_out(client: TestClient) -> None:
    flow = {
        **RENT, "category": "home", "to_account": None, "payee": "Mr. O'Hara", "dates": ["2027-05-01"],
        "except": ["2027-06-05"], "until": "2030-01-01", "count": None, "roll": "nearest", "seasonal": {"1": 14500},
        "growth": {"percent": "3.50", "from": "2027-03-01"},
        "revisions": [{"from": "2028-01-01", "amount": 5, "rules": ["FREQ=DAILY", "FREQ=YEARLY"]}],
        "changes": [{"nominal": "2027-04-05", "amount": 1, "moved_to": "2027-04-09", "left_out": False}],
        "splits": [{"category": "home", "amount": 7}], "estimate": True, "subscription": True, "remind_days": 9,
        "late_days": 4, "may_skip": True, "may_pause": True, "alarm_days": 0,
        "notes": "line\nline",
    }  # fmt: skip
    entry = {
        "id": "e", "date": "2027-03-05", "payee": "Mr. O'Hara", "flow": "rent", "nominal": "2027-03-05", "notes": "",
        "legs": [{"account": "a", "amount": -5}, {"category": "home", "amount": 5}],
        "bank_ids": [{"account": "a", "id": "n"}],
    }  # fmt: skip
    account = {
        "id": "a", "name": "A", "kind": "savings", "currency": "EUR", "opening": {"date": "2027-03-01", "balance": -5},
        "floor": -100, "cushion": 200, "spendable": False, "savings": None, "card": None, "sweep": None, "loan": None,
    }  # fmt: skip
    allowance = {
        "id": "food", "name": "Food", "limit": 400_00, "period": "two_weeks", "week_starts": "SU", "account": "a",
        "categories": ["home"], "timing": "evenly", "carry": "forward", "from": "2027-03-01", "until": "2029-01-01",
        "revisions": [{"from": "2028-01-01", "limit": 450_00}],
    }  # fmt: skip
    whole = document(
        name="Us", country="DE", past_due="ignore", notation="1 234,56", week_starts="SA", date_order="month_first",
        accounts=[account], flows=[flow], entries=[entry], allowances=[allowance],
        categories=[{"id": "home", "name": "Home", "group": "G", "kind": "income"}],
        rates=[{"date": "2027-01-01", "from": "EUR", "to": "USD", "rate": "1.0850"}], way_out=None, statement_checks=[], what_ifs=[], goals=[],
        readings=[{"account": "a", "date": "2027-03-02", "balance": -7, "source": "bank"}],
        statements=[],
        payee_rules=[{"id": "r", "contains": "O'H", "account": "a", "least": 1, "most": None, "category": "home"}],
        bank_lines=[{"account": "a", "id": "n", "date": "2027-03-05", "amount": -5},
                    {"account": "a", "text": "Mr. O'Hara\nnote", "date": "2027-03-06", "amount": -6, "waiting": True}],
        expected_until="2027-02-28", expected=[
            {"flow": "gone", "nominal": "2027-02-05", "lands": "2027-02-06", "name": "Gone", "kind": "bill",
             "legs": [{"account": "a", "amount": -7}, {"category": None, "amount": 7}]},
            {"allowance": "food", "nominal": "2027-02-15", "lands": "2027-02-28", "name": "Food", "kind": "allowance",
             "limit": 400_00, "categories": ["home"], "account": "a"},
        ],
    )  # fmt: skip
    assert client.put("/api/plan", json=whole).json() == whole
    assert client.get("/api/plan").json() == whole
    assert client.put("/api/plan", json=document()).status_code == 200
    small = client.get("/api/plan").json()
    assert small["accounts"][0]["currency"] == "USD"
    assert (small["flows"], small["past_due"], small["country"]) == ([], "carry", None)
    assert client.post("/api/undo").json()["done"] == "Undone: replaced the whole plan"
    assert client.get("/api/plan").json() == whole


@pytest.mark.parametrize(
    ("wrong", "loc", "says"),
    [
        ({"version": 2}, ["body", "version"], "Update the app"),
        ({"colour": "red"}, ["body", "colour"], "no such field"),
        ({"currency": "ABC"}, ["body", "currency"], "not a currency"),
        ({"flows": [{**RENT, "from_account": "zz"}]}, ["body", "flows", 0, "from_account"], "no account “zz”"),
        ({"flows": [{**RENT, "amount": 12.5}]}, ["body", "flows", 0, "amount"], "whole number of minor units"),
        ({"flows": [{**RENT, "amount": 10**15}]}, ["body", "flows", 0, "amount"], "too large"),
        ({"flows": [{**RENT, "start": "2027-02-30"}]}, ["body", "flows", 0, "start"], "not a day of the calendar"),
        ({"flows": [{**RENT, "start": 20270228}]}, ["body", "flows", 0, "start"], "YYYY-MM-DD"),
        ({"flows": [{**RENT, "name": "\ud800"}]}, ["body", "flows", 0, "name"], "cannot be kept"),
        ({"flows": [{**RENT, "name": "a\x00b"}]}, ["body", "flows", 0, "name"], "cannot be kept"),
        ({"flows": [{**RENT, "kind": "gift"}]}, ["body", "flows", 0, "kind"], "choose 'income', 'bill'"),
        ({"flows": [{**RENT, "growth": {"percent": "lots", "from": "2027-01-01"}}]},
         ["body", "flows", 0, "growth", "percent"], "decimal number"),
        ({"accounts": None}, ["body", "accounts"], "list"),
        ({"entries": [{"id": "e", "date": "2027-03-05", "legs": [{"account": "a", "amount": 5}]}]},
         ["body", "entries", 0, "legs"], "sum to zero"),
    ],
)  # fmt: skip
def test_a_wrong_document_is_refused_at_its_field_and_changes_nothing(
    client: TestClient, wrong: Json, loc: list[str | int], says: str
) -> None:
    client.put("/api/plan", json=document(name="Before"))
    body = json.dumps({**document(), **wrong}).encode()
    found = refusal(client.put("/api/plan", content=body, headers={"content-type": "application/json"}))
    assert found[0][0] == loc
    assert says in found[0][1]
    checked = client.post("/api/plan/check", content=body, headers={"content-type": "application/json"}).json()
    assert (checked["ok"], checked["detail"][0]["loc"]) == (False, loc)
    assert client.get("/api/plan").json()["name"] == "Before"


def test_the_forecast_of_a_small_household(client: TestClient) -> None:
    pay = {**RENT, "id": "pay", "name": "Pay", "kind": "income", "from_account": None, "to_account": "a",
           "amount": 300_00, "rules": ["FREQ=MONTHLY;BYMONTHDAY=5,20"]}  # fmt: skip
    accounts = [{**document()["accounts"][0], "floor": 50_00, "cushion": 450_00}]
    client.put("/api/plan", json=document(accounts=accounts, flows=[RENT, pay]))
    answer = client.get("/api/forecast", params={"until": "2027-04-10"}).json()
    assert answer["accounts"] == [
        {
            "id": "a", "currency": "USD", "today_balance": 1000_00,
            "available": None,
            "steps": [["2027-03-05", 400_00], ["2027-03-20", 700_00], ["2027-04-05", 100_00]],
            "lowest": {"date": "2027-04-05", "balance": 100_00, "headroom": 50_00},
            "stretches": [
                {"below": "cushion", "from": "2027-03-05", "to": "2027-03-19", "deepest": "2027-03-05",
                 "balance": 400_00, "short_by": 50_00},
                {"below": "cushion", "from": "2027-04-05", "to": "2027-04-10", "deepest": "2027-04-05",
                 "balance": 100_00, "short_by": 350_00},
            ],
            "top_ups": [],
        }
    ]  # fmt: skip
    assert answer["events"][0] == {
        "date": "2027-03-05", "nominal": "2027-03-05", "flow": "pay", "name": "Pay", "account": "a", "amount": 300_00,
        "balance": 1300_00, "intraday_low": 100_00, "status": "expected",
        "source": "flow", "why": "On the 5th and 20th of every month; $300.00.",
    }  # fmt: skip
    assert [event["balance"] for event in answer["events"]] == [1300_00, 400_00, 700_00, 1000_00, 100_00]


def test_a_preview_tells_before_and_after_and_changes_nothing(demo: TestClient) -> None:
    plan = demo.get("/api/plan").json()
    change = {"op": "update", "kind": "flow", "id": "gran", "value": {"amount": 590_00}}
    body = {"until": "2027-05-01", "changes": [change]}
    answer = demo.post("/api/forecast/preview", json=body).json()
    plain = demo.get("/api/forecast", params={"until": "2027-05-01"}).json()
    assert [low["lowest"] for low in answer["before"]["accounts"]] == [each["lowest"] for each in plain["accounts"]]
    assert [low["lowest"] for low in answer["after"]["accounts"]] == [each["lowest"] for each in answer["accounts"]]
    paid = [event for event in plain["events"] if event["flow"] == "gran"]
    assert answer["accounts"][0]["steps"][-1][1] == plain["accounts"][0]["steps"][-1][1] - 200_00 * len(paid)
    assert answer["after"]["debt_free"] == "2049-07"
    assert demo.get("/api/plan").json() == plan
    saved = demo.post("/api/changes", json={"changes": [change]}).json()
    assert saved["undo"] == "Changed “For Gran's helper”: $590.00"
    after = demo.get("/api/forecast", params={"until": "2027-05-01"}).json()
    assert after["accounts"] == answer["accounts"]
    demo.post("/api/undo")
    assert demo.get("/api/plan").json() == plan


@pytest.mark.parametrize(
    ("change", "loc", "says"),
    [
        ({"op": "add", "kind": "flow", "id": "mortgage", "value": {}}, ["id"], "already"),
        ({"op": "update", "kind": "flow", "id": "zz", "value": {}}, ["id"], "no flow “zz”"),
        ({"op": "remove", "kind": "account", "id": "joint"}, [], "is used by “Mortgage”"),
        ({"op": "update", "kind": "flow", "id": "gran", "value": {"until": "2020-01-01"}}, ["value", "until"], "ends"),
        ({"op": "update", "kind": "flow", "id": "mortgage", "value": {"hue": 1}}, ["value", "hue"], "no such field"),
        ({"op": "update", "kind": "account", "id": "joint", "value": {"cushion": 5}}, ["value", "cushion"], "below the floor"),
        ({"op": "update", "kind": "household", "id": "h", "value": {"currency": "A"}}, ["value", "currency"], "is not a currency"),
        ({"op": "remove", "kind": "flow", "id": "mortgage"}, [], "what has happened is kept"),
    ],
)  # fmt: skip
def test_a_change_that_cannot_be_is_refused_at_its_field(
    demo: TestClient, change: Json, loc: list[str], says: str
) -> None:
    for path, body in (("/api/changes", {}), ("/api/forecast/preview", {"until": "2027-05-01"})):
        found = refusal(demo.post(path, json={**body, "changes": [change]}))
        assert found[0][0] == ["body", "changes", 0, *loc]
        assert says in found[0][1]
    assert demo.get("/api/history").json()["undo"] is None


@pytest.mark.parametrize(
    ("query", "says"),
    [
        ({"until": "2027-02-01"}, "ends today"),
        ({"until": "2227-02-01"}, "50 years"),
        ({"until": "soon"}, "YYYY-MM-DD"),
        ({"until": "2027-05-01", "accounts": "joint,zz"}, "no account “zz”"),
        ({}, "needed"),
    ],
)
def test_a_forecast_that_cannot_be(demo: TestClient, query: Json, says: str) -> None:
    assert says in refusal(demo.get("/api/forecast", params=query))[0][1]


def test_occurrences_are_listed_with_where_they_land(client: TestClient) -> None:
    body = {"rules": ["FREQ=MONTHLY;BYMONTHDAY=15,-1"], "start": "2027-01-01", "roll": "before", "country": "US",
            "except": ["2027-03-31"], "from": "2027-01-20", "to": "2027-03-31"}  # fmt: skip
    answer = client.post("/api/tools/occurrences", json=body).json()
    assert answer["occurrences"] == [
        {"nominal": "2027-01-31", "lands": "2027-01-29"}, {"nominal": "2027-02-15", "lands": "2027-02-12"},
        {"nominal": "2027-02-28", "lands": "2027-02-26"}, {"nominal": "2027-03-15", "lands": "2027-03-15"},
    ]  # fmt: skip
    assert answer["text"] == "on the 15th and last day of every month"
    assert answer["next"] == ["2027-03-15", "2027-04-15", "2027-04-30", "2027-05-14", "2027-05-28", "2027-06-15"]
    assert "never gives a date" in refusal(
        client.post("/api/tools/occurrences", json={"rules": ["FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30;SKIP=OMIT"]})
    )[0][1]  # fmt: skip
    assert refusal(client.post("/api/tools/occurrences", json={"rules": ["FREQ=DAILY"], "country": "ZZ"}))[0][0] == [
        "body",
        "country",
    ]
    once = client.post("/api/tools/occurrences", json={"dates": ["2020-01-01"]}).json()
    assert (once["next"], once["text"], once["notes"]) == ([], "on January 1, 2020", [])


def test_a_date_that_lands_in_the_month_before_is_told(client: TestClient) -> None:
    """Pay on the 1st, brought forward from a weekend or holiday: April has it twice, and May not at all."""
    body = {"rules": ["FREQ=MONTHLY;BYMONTHDAY=1"], "start": "2027-03-01", "roll": "before", "country": "US"}
    told = "of Sat May 1 comes on Fri Apr 30, in the month before; so do 2 more of these 12."
    assert client.post("/api/tools/occurrences", json=body).json()["notes"] == [f"The one {told}"]
    pay = {"id": "pay", "name": "Pay", "kind": "income", "amount": 1_000_00, "to_account": "bank",
           "start": "2027-03-01", "roll": "before", "rules": body["rules"]}  # fmt: skip
    bank = {"id": "bank", "name": "Bank", "kind": "checking", "opening": {"date": "2027-01-01", "balance": 0}}
    plan = {"format": "next-penny-plan", "version": 1, "currency": "USD", "country": "US", "accounts": [bank]}
    client.put("/api/plan", json={**plan, "flows": [pay]})
    months = client.get("/api/months?from=2027-03&count=12").json()
    assert months["notes"] == [f"“Pay” {told}"]
    (row,) = (each for each in months["rows"] if each["id"] == "pay")
    assert [cell["amount"] // 1_000_00 for cell in row["cells"]] == [1, 2, 0, 1, 2, 0, 1, 1, 1, 2, 0, 1]


def test_flows_and_accounts_sum_up_the_coming_year(demo: TestClient) -> None:
    rows = {row["flow"]["id"]: row for row in demo.get("/api/flows").json()["flows"]}
    year = demo.get("/api/forecast", params={"until": "2028-02-29"}).json()
    for id in ("electricity", "wren-pay", "water", "to-savings"):
        mine = [event for event in year["events"] if event["flow"] == id and event["account"] == "joint"]
        assert rows[id]["yearly"] == abs(sum(event["amount"] for event in mine))
        assert rows[id]["next"] == {"date": mine[0]["date"], "amount": abs(mine[0]["amount"])}
        assert sum(rows[id]["months"][1:11]) == abs(
            sum(event["amount"] for event in mine if "2027-04" <= event["date"][:7] <= "2028-01")
        )
    assert rows["flute"]["past_due"] == 1
    accounts = {row["account"]["id"]: row for row in demo.get("/api/accounts").json()["accounts"]}
    whole = demo.get("/api/forecast", params={"until": "2028-03-01"}).json()
    assert accounts["joint"]["lowest"] == whole["accounts"][0]["lowest"]


def test_ahead_is_the_forecast_with_headroom_from_a_day_on(demo: TestClient) -> None:
    plain = demo.get("/api/forecast", params={"until": "2027-04-20", "accounts": "joint"}).json()
    ahead = demo.get("/api/ahead", params={"until": "2027-04-20", "from": "2027-03-10"}).json()
    expected = [
        {**event, "headroom": event["balance"] - 250_00} for event in plain["events"] if event["date"] >= "2027-03-10"
    ]
    own = ("kind", "may_change", "may_not_come")
    assert [{name: event[name] for name in event.keys() - own} for event in ahead["events"]] == expected
    assert {event["may_change"] for event in ahead["events"] if event["kind"] in ("income", "bill")} == {True}
    bills = demo.get("/api/ahead", params={"until": "2027-04-20", "kind": "bill", "category": "power"}).json()["events"]
    assert {event["name"] for event in bills} == {"Electricity", "Water and drains"}
    # What is held back is told for each period together, to the cent.
    held = [event for event in ahead["events"] if event["kind"] == "allowance"]
    assert sum(each["amount"] for each in ahead["held"]) == -sum(event["amount"] for event in held) > 0
    assert sum(each["days"] for each in ahead["held"]) == len(held)
    # The weekly pay comes sooner, but it does not carry the household on.
    assert ahead["paydays"][0]["name"] == "Wren's pay, Harrow Kiln"


def test_the_demo_breaks_its_floor_in_one_month_whatever_day_it_starts() -> None:
    for day in (date(2027, 1, 31), date(2027, 6, 15), date(2028, 2, 29), date(2026, 11, 23)):
        store = new_store()
        fill_with_demo(store, day)
        client = TestClient(create_app(store, lambda day=day: day), base_url="http://localhost")
        until = date(day.year + 1, day.month, 28).isoformat()
        answer = client.get("/api/forecast", params={"until": until}).json()
        short = [s for account in answer["accounts"] for s in account["stretches"] if s["below"] == "floor"]
        assert short
        first, last = date.fromisoformat(short[0]["from"]), date.fromisoformat(short[-1]["to"])
        assert (first - day).days >= 20
        assert (last - first).days <= 31
        assert client.get("/api/history").json()["undo"] is None


def test_only_our_own_pages_may_ask(client: TestClient) -> None:
    assert client.get("/api/health", headers={"host": "evil.example"}).status_code == 403
    assert client.post("/api/undo", headers={"origin": "http://evil.example"}).status_code == 403
    assert client.post("/api/undo", headers={"origin": "http://127.0.0.1:8765"}).status_code == 200
    answer = client.get("/api/health")
    assert "default-src 'none'" in answer.headers["content-security-policy"]
    assert client.get("/assets/..%2f..%2f..%2fpyproject.toml").status_code == 404
    assert client.get("/api/nothing").status_code == 404


def test_several_lines_are_settled_as_one_change_or_none(demo: TestClient) -> None:
    before = demo.get("/api/plan").json()
    due = demo.get("/api/settle").json()["due"]
    assert [line["status"] for line in due[:3]] == ["past_due", "assumed", "today"]
    lines = [{"flow": line["flow"], "nominal": line["nominal"], "do": "settle"} for line in due[:3]]
    bad = {"flow": "mortgage", "nominal": "2027-03-02", "do": "settle"}
    found = refusal(demo.post("/api/settle", json={"lines": [*lines, bad]}))
    assert found == [(["body", "lines", 3, "nominal"], "“Mortgage” of March 2, 2027 is not expected.")]
    assert demo.get("/api/plan").json() == before
    twice = refusal(demo.post("/api/settle", json={"lines": [lines[0], lines[0]]}))
    assert "settled already" in twice[0][1]
    assert demo.post("/api/settle", json={"lines": lines}).json()["undo"] == "Settled “Flute lessons” and 2 more"
    after = demo.get("/api/settle").json()
    assert [line["nominal"] for line in after["due"]] == [line["nominal"] for line in due[3:]]
    assert {entry["name"] for entry in after["settled"]} >= {"Internet", "Flute lessons"}
    demo.post("/api/undo")
    assert demo.get("/api/plan").json() == before


def test_an_entry_moves_the_allowance_the_register_and_the_forecast(demo: TestClient) -> None:
    params = {"account": "joint", "search": "heron", "category": "outings"}
    matching = demo.get("/api/register", params=params).json()
    assert 0 < matching["count"] < demo.get("/api/register", params={"account": "joint"}).json()["count"]
    assert all(row["payee"] == "The Drowsy Heron" for row in matching["rows"])
    value = {"date": "2027-03-01", "payee": "The Drowsy Heron",
             "legs": [{"account": "joint", "amount": -2500}, {"category": "outings", "amount": 2500}]}  # fmt: skip
    left = [row["now"]["left"] for row in demo.get("/api/allowances").json()["allowances"]]
    demo.post("/api/changes", json={"changes": [{"op": "add", "kind": "entry", "id": "supper", "value": value}]})
    assert [row["now"]["left"] for row in demo.get("/api/allowances").json()["allowances"]] == [left[0], left[1] - 2500]
    register = demo.get("/api/register", params={"account": "joint"}).json()
    assert (register["rows"][0]["id"], register["rows"][0]["other"]) == ("supper", "Outings and treats")
    today = demo.get("/api/forecast", params={"until": "2027-03-02"}).json()["accounts"][0]["today_balance"]
    assert register["rows"][0]["balance"] == today
    assert demo.get("/api/entries/choices").json()["payees"][0] == {
        "payee": "The Drowsy Heron", "account": "joint", "category": "outings",
    }  # fmt: skip
    assert demo.get("/api/entries/supper").json()["legs"] == value["legs"]
    assert "no such entry" in refusal(demo.get("/api/entries/nothing"))[0][1]


def test_categories_can_be_started_from_and_merged(demo: TestClient, client: TestClient) -> None:
    assert client.post("/api/categories/starter").json()["undo"] == "Added the common categories"
    assert 10 <= len(client.get("/api/plan").json()["categories"]) <= 20
    before = plan_alone(demo.get("/api/plan").json())
    for body, field, says in (
        ({"from": "boat", "into": "boat"}, "into", "into itself"),
        ({"from": "boat", "into": "wages"}, "into", "Money in and money out"),
        ({"from": "zz", "into": "boat"}, "from", "no category"),
    ):
        found = refusal(demo.post("/api/categories/merge", json=body))
        assert (found[0][0][-1], says in found[0][1]) == (field, True)
    february = {"from": "2027-02-01", "to": "2027-02-28"}
    reviewed = demo.get("/api/review", params=february).json()
    demo.post("/api/categories/merge", json={"from": "outings", "into": "reading"})
    merged = plan_alone(demo.get("/api/plan").json())
    assert '"outings"' not in json.dumps([entry["legs"] for entry in merged["entries"]])
    # What was expected names it still, and is shown under what it became.
    (outings,) = [each for each in merged["categories"] if each["id"] == "outings"]
    assert (outings["retired"], outings["merged_into"]) == (True, "reading")
    after = demo.get("/api/review", params=february).json()
    rows = {row["category"]: row for row in after["rows"]}
    assert "outings" not in rows
    assert (after["spending"], rows["reading"]["of_allowance"]) == (reviewed["spending"], "pleasure")
    found = refusal(
        demo.post("/api/changes", json={"changes": [{"op": "remove", "kind": "category", "id": "outings"}]})
    )
    assert "What was expected names this category" in found[0][1]
    assert merged["allowances"][1]["categories"] == ["reading"]
    demo.post("/api/undo")
    assert plan_alone(demo.get("/api/plan").json()) == before


def test_a_subscription_says_what_it_cost_and_that_it_rose(demo: TestClient) -> None:
    answer = demo.get("/api/subscriptions").json()
    films = next(row for row in answer["subscriptions"] if row["flow"] == "films")
    entries = [entry for entry in demo.get("/api/plan").json()["entries"] if entry["flow"] == "films"]
    assert (films["payments"], films["paid_so_far"]) == (len(entries), -sum(e["legs"][0]["amount"] for e in entries))
    assert (films["yearly"], films["monthly"], films["days_until"]) == (12 * 12_99, 12_99, 6)
    assert [(rise["before"], rise["after"]) for rise in films["rises"]] == [(10_49, 12_99)]
    amounts = [(entry["date"], -entry["legs"][0]["amount"]) for entry in sorted(entries, key=lambda each: each["date"])]
    assert films["changes"] == [
        {"date": day, "before": before, "after": after}
        for (_, before), (day, after) in pairwise(amounts) if before != after
    ]  # fmt: skip
    assert films["lately"] == sum(amount for day, amount in amounts if "2026-03-01" < day <= "2027-03-01")
    assert (films["first_paid"], films["last_paid"]) == (amounts[0][0], amounts[-1][0])
    assert answer["yearly"] == sum(row["yearly"] for row in answer["subscriptions"])
