"""Registers and files out: the same money, however it is filtered, added up or carried away."""

import csv
import io
from collections import Counter
from datetime import date, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

ACCOUNTS = ("joint", "rainy-day", "tin", "escrow", "house", "engine")
Json = dict[str, Any]


def register(client: TestClient, account: str, **filters: str) -> Json:
    answer = client.get("/api/register", params={"account": account, **filters})
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    assert (found["count"], found["total"]) == (len(found["rows"]), sum(row["amount"] for row in found["rows"]))
    return found


@pytest.mark.parametrize("account", ACCOUNTS)
def test_a_register_runs_from_the_opening_balance_to_what_is_held_today(demo: TestClient, account: str) -> None:
    held = next(row for row in demo.get("/api/accounts").json()["accounts"] if row["account"]["id"] == account)
    rows = register(demo, account)["rows"]
    balance = held["account"]["opening"]["balance"]
    for row in reversed(rows):
        balance += row["amount"]
        assert row["balance"] == balance
    assert balance == held["today_balance"]
    assert [row["date"] for row in rows] == sorted((row["date"] for row in rows), reverse=True)
    by_entry = Counter(row["id"] for row in rows if not row["is_assumed"])
    legs: Counter[str] = Counter()
    for entry in demo.get("/api/plan").json()["entries"]:
        legs.update({entry["id"]: 1} if any(leg.get("account") == account for leg in entry["legs"]) else {})
    assert by_entry == legs


@pytest.mark.parametrize("filters", [{}, {"search": "grocer"}, {"from": "2027-01-05", "until": "2027-02-10"}])
def test_the_register_of_all_accounts_is_those_of_each(demo: TestClient, filters: Json) -> None:
    each = {row["account"]["id"]: register(demo, row["account"]["id"], **filters)
            for row in demo.get("/api/accounts").json()["accounts"]}  # fmt: skip
    together = demo.get("/api/register", params=filters).json()
    assert together["rows"] == sorted(
        (row for one in each.values() for row in one["rows"]), key=lambda row: row["date"], reverse=True
    )
    assert together["total"] == sum(one["total"] for one in each.values())
    assert (together["account"], together["opening"]) == (None, None)
    # As a table it has the same rows.
    table = csv.DictReader(io.StringIO(demo.get("/api/export/register.csv", params=filters).text, newline=""))
    assert [(row["date"], row["payee"], round(float(row["amount"]) * 100), row["other"]) for row in table] == [
        (row["date"], row["name"], row["amount"], row["other"]) for row in together["rows"]
    ]


def test_filters_take_a_register_apart_and_nothing_gets_lost(demo: TestClient) -> None:
    whole = register(demo, "joint")
    days = sorted({row["date"] for row in whole["rows"]})
    parts, first = [], days[0]
    for last in (days[len(days) // 3], days[2 * len(days) // 3], days[-1]):
        parts.append(register(demo, "joint", **{"from": first, "until": last}))
        first = (date.fromisoformat(last) + timedelta(days=1)).isoformat()
    assert [row for part in reversed(parts) for row in part["rows"]] == whole["rows"]
    assert sum(part["total"] for part in parts) == whole["total"]
    plan = demo.get("/api/plan").json()
    named = {category["id"]: category["name"] for category in plan["categories"]}
    for id, name in named.items():
        found = register(demo, "joint", category=id)["rows"]
        assert found == [row for row in whole["rows"] if name in row["other"].split(", ")]
    payees = sorted({row["payee"] for row in whole["rows"]})
    for payee in payees[::5]:
        found = register(demo, "joint", search=f" {payee.upper()} ")["rows"]
        assert [row for row in whole["rows"] if row["payee"] == payee] == [
            row for row in found if row["payee"] == payee
        ]
        assert found
    both = register(demo, "joint", search="ferries", **{"from": days[-40]})["rows"]
    assert both == [row for row in whole["rows"] if "Ferries" in row["payee"] and row["date"] >= days[-40]]
    assert register(demo, "joint", search="no such words")["rows"] == []


@pytest.mark.parametrize("query", ["account=nobody", "account=joint&from=yesterday", "account=joint&until=2027-02-30"])
def test_a_register_that_cannot_be_is_refused_at_its_field(demo: TestClient, query: str) -> None:
    answer = demo.get(f"/api/register?{query}")
    assert answer.status_code == 422
    (problem,) = answer.json()["detail"]
    field = {"account=n": "account", "from": "from", "until": "until"}
    assert problem["loc"][-1] == next(name for words, name in field.items() if words in query)
    assert problem["msg"].endswith(".")


@pytest.mark.parametrize("loan", ["house", "engine", "solar"])
def test_the_sheet_that_leaves_is_the_schedule_that_is_shown(demo: TestClient, loan: str) -> None:
    page = demo.get(f"/api/debts/{loan}").json()
    sheet = list(csv.DictReader(io.StringIO(demo.get(f"/api/debts/schedule.csv?account={loan}").text)))
    assert [(int(row["number"]), row["due"]) for row in sheet] == [(row["number"], row["due"]) for row in page["rows"]]
    for name in ("interest", "principal", "extra", "balance"):
        cents = [int(row[name].replace(".", "")) for row in sheet]
        assert cents == [row[name] for row in page["rows"]], name
    owed = [int(row["balance"].replace(".", "")) for row in sheet]
    paid = [int(row["principal"].replace(".", "")) + int(row["extra"].replace(".", "")) for row in sheet]
    assert owed[-1] == 0
    assert all(before - part == after for before, part, after in zip(owed, paid[1:], owed[1:], strict=False))


def test_what_is_moved_shows_in_both_registers_and_goes_again(demo: TestClient) -> None:
    before = {account: register(demo, account) for account in ("joint", "tin")}
    moved = {"date": "2027-02-20", "payee": "To the tin", "tags": ["fair"], "notes": "for the fair",
             "legs": [{"account": "joint", "amount": -45_00}, {"account": "tin", "amount": 45_00}]}  # fmt: skip
    change = {"op": "add", "kind": "entry", "id": "to-tin", "value": moved}
    assert demo.post("/api/changes", json={"changes": [change]}).status_code == 200
    for account, sign, other in (("joint", -1, "tin"), ("tin", 1, "joint")):
        row = next(row for row in register(demo, account)["rows"] if row["id"] == "to-tin")
        assert (row["amount"], row["tags"]) == (sign * 45_00, ["fair"])
        assert row["other"] == next(
            each["account"]["name"]
            for each in demo.get("/api/accounts").json()["accounts"]
            if each["account"]["id"] == other
        )
        later = [each for each in register(demo, account)["rows"] if each["date"] > "2027-02-20"]
        was = {each["id"]: each["balance"] for each in before[account]["rows"]}
        assert all(each["balance"] == was[each["id"]] + sign * 45_00 for each in later)
        assert [each["id"] for each in register(demo, account, search="FAIR")["rows"]] == ["to-tin"]
    demo.post("/api/undo")
    assert {account: register(demo, account) for account in ("joint", "tin")} == before
