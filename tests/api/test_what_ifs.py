"""What-ifs over HTTP, and figures, months, remedies and can-we-afford-it as the fixed surface has them."""

import gc
import io
from typing import Any

from fastapi.testclient import TestClient
from openpyxl import load_workbook

from answers import Json, done, refused
from next_penny.core.books.moment import Moment


def get(client: TestClient, path: str, **params: Any) -> Json:
    answer = client.get(path, params=params)
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def lowest(client: TestClient, **params: Any) -> int:
    found = get(client, "/api/forecast", until="2027-06-01", accounts="joint", **params)
    balance: int = found["accounts"][0]["lowest"]["headroom"]
    return balance


def test_a_remedy_is_tried_as_a_what_if_in_every_figure_adopted_and_undone(demo: TestClient) -> None:
    before = get(demo, "/api/plan")
    found = get(demo, "/api/remedies", account="joint", **{"from": "2027-03-01"}, until="2028-03-01")
    assert (found["stretch"]["from"], found["stretch"]["short_by"]) == ("2027-04-01", 86_35)
    assert found["top_ups"][0] == {"date": "2027-04-01", "amount": 86_35}
    assert found["remedies"][0]["title"] == "Move $86.35 from Cash tin on Thu Apr 1"
    for remedy in found["remedies"]:
        asked = {"until": "2027-04-30", "changes": remedy["changes"]}
        seen = demo.post("/api/forecast/preview", json=asked).json()
        assert not [each for account in seen["accounts"] if account["id"] == "joint"
                    for each in account["stretches"] if each["below"] == "floor"]  # fmt: skip
    kept = demo.post("/api/what-ifs", json={"id": "tin", "name": "The tin", "changes": found["remedies"][0]["changes"]})
    assert kept.json()["done"] == "Kept the what-if “The tin”"
    assert (lowest(demo), lowest(demo, what_if="tin")) == (-86_35, 0)
    months = [get(demo, "/api/months", **{"from": "2027-04"}, count=1, accounts="joint", **more)["months"][0]["short_by"]
              for more in ({}, {"what_if": "tin"})]  # fmt: skip
    assert months == [86_35, 0]
    written = get(demo, "/api/plan")
    assert "The tin" in [each["name"] for each in written["what_ifs"]]
    assert demo.put("/api/plan", json=written).json() == written
    demo.post("/api/what-ifs/tin/adopt")
    assert lowest(demo) == 0
    assert "tin" not in [each["id"] for each in get(demo, "/api/what-ifs")["what_ifs"]]
    for _ in range(3):
        demo.post("/api/undo")
    assert get(demo, "/api/plan") == before


def test_what_cannot_be_kept_is_refused_and_what_no_longer_applies_is_said(demo: TestClient) -> None:
    change = {"op": "update", "kind": "flow", "id": "gran", "value": {"amount": 100_00}}
    assert demo.post("/api/what-ifs", json={"id": "a", "name": "Less", "changes": [change]}).status_code == 200
    nameless = {"op": "update", "kind": "household", "value": {"name": "Us"}}
    assert demo.post("/api/what-ifs", json={"id": "us", "name": "Named", "changes": [nameless]}).status_code == 200
    assert [(kept["id"], kept["problem"]) for kept in get(demo, "/api/what-ifs")["what_ifs"]][-2:] == [
        ("a", None), ("us", None),
    ]  # fmt: skip
    written = get(demo, "/api/plan")
    assert demo.put("/api/plan", json=written).json() == written
    taken = demo.post("/api/what-ifs", json={"name": " less ", "changes": []})
    assert refused(taken) == (["body", "name"], "There is a what-if “ less ” already: choose another name.")
    assert refused(demo.post("/api/what-ifs", json={"name": " "}))[1] == "Give the what-if a name."
    bad = demo.post("/api/what-ifs", json={"name": "Bad", "changes": [{**change, "id": "nobody"}]})
    assert "There is no flow “nobody”" in refused(bad)[1]
    assert refused(demo.get("/api/forecast?until=2027-05-01&what_if=zz"))[0] == ["query", "what_if"]
    renamed = demo.put("/api/what-ifs/a", json={"name": "Much less", "changes": [change]})
    assert renamed.json()["name"] == "Much less"
    # The flow goes; the what-if says so, and can only be thrown away.
    for entry in get(demo, "/api/plan")["entries"]:
        if entry["flow"] == "gran":
            demo.post("/api/changes", json={"changes": [{"op": "remove", "kind": "entry", "id": entry["id"]}]})
    demo.post("/api/changes", json={"changes": [{"op": "remove", "kind": "flow", "id": "gran"}]})
    assert "it may be deleted already" in get(demo, "/api/what-ifs/a")["problem"]
    assert demo.post("/api/what-ifs/a/adopt").status_code == 422
    assert demo.delete("/api/what-ifs/a").status_code == 200
    assert demo.get("/api/what-ifs/a").status_code == 422


def test_figures_and_months_have_the_fixed_fields_and_add_up(demo: TestClient) -> None:
    figures = get(demo, "/api/figures", **{"from": "2027-02-01", "to": "2027-04-30"}, accounts="joint")
    for part in (figures, figures["before"]):
        assert part["closing"] == part["opening"] + part["in"] - part["out"] == part["opening"] + part["net"]
        assert part["lowest"]["balance"] <= part["average"] <= part["highest"]["balance"]
    assert (figures["days"], figures["before"]["closing"]) == (89, figures["opening"])
    months = get(demo, "/api/months", **{"from": "2026-11"}, count=8, accounts="joint")
    assert set(months["months"][0]) == {"month", "opening", "in", "out", "net", "closing", "lowest", "short_by"}
    gran = next(row for row in months["rows"] if row["id"] == "gran")
    assert gran["cells"][0] == {"amount": -390_00, "recorded": -390_00, "expected": 0, "nominals": []}
    assert gran["cells"][5] == {"amount": -390_00, "recorded": 0, "expected": -390_00, "nominals": ["2027-04-28"]}
    assert sum(month["net"] for month in months["months"]) == sum(row["total"] for row in months["rows"])
    wrong = demo.get("/api/figures?from=2027-03-02&to=2027-03-01")
    assert refused(wrong) == (["query", "to"], "The stretch ends before it starts: choose a later end.")
    assert refused(demo.get("/api/months?from=2027-13"))[0] == ["query", "from"]


def test_a_holiday_is_afforded_from_the_first_day_that_bears_it(demo: TestClient) -> None:
    asked = {"account": "joint", "amount": 600_00, "on": "2027-03-20", "until": "2028-03-01"}
    found = demo.post("/api/afford", json=asked).json()
    assert (found["ok"], found["fails_on"], found["works_from"]) == (False, "2027-04-01", "2027-04-02")
    then = demo.post("/api/afford", json={**asked, "on": found["works_from"]}).json()
    assert (then["ok"], then["lowest"]) == (True, found["lowest_then"])
    loc, message = refused(demo.post("/api/afford", json={**asked, "on": "2027-02-28"}))
    assert (loc, "has passed" in message) == (["body", "on"], True)


def test_each_payday_has_what_it_must_last_for(demo: TestClient) -> None:
    found = get(demo, "/api/ahead/paydays", account="joint")
    forecast = get(demo, "/api/forecast", until="2028-03-01", accounts="joint")
    events = forecast["events"]
    flows = {each["id"]: each["kind"] for each in get(demo, "/api/plan")["flows"]}
    bills = [each for each in events if each["amount"] < 0 and flows.get(each["flow"]) in ("bill", "loan_payment")]
    for span, end in zip(found["bills"], ("2027-03-14", "2027-03-30", "2027-05-29"), strict=True):
        due = [-each["amount"] for each in bills if each["date"] <= end]
        assert (span["count"], span["amount"]) == (len(due), sum(due))
    balance = dict(forecast["accounts"][0]["steps"])
    for one, following in zip(found["periods"], found["periods"][1:], strict=False):
        out = sum(-each["amount"] for each in events if each["amount"] < 0 and one["from"] <= each["date"] <= one["to"])
        assert (one["to_pay"], one["to"] < following["from"]) == (out, True)
        assert one["left"] == balance[max(day for day in balance if day <= one["to"])]
    assert demo.get("/api/ahead/paydays?account=zz").status_code == 422


# How each address that reads a what-if is asked; the OpenAPI document says which they are.
ASKED = {
    "/api/chance": {"until": "2027-09-01"},
    "/api/months": {"from": "2027-03", "count": "6"},
    "/api/months/workbook.xlsx": {"from": "2027-03", "count": "6"},
    "/api/review/workbook.xlsx": {"from": "2027-02-01", "to": "2027-04-30"},
    "/api/figures": {"from": "2027-03-01", "to": "2027-05-31"},
    "/api/review": {"from": "2027-02-01", "to": "2027-04-30"},
    "/api/review/line": {"from": "2027-02-01", "to": "2027-04-30", "kind": "expense", "categories": "groceries"},
    "/api/review/months": {"from": "2027-01", "count": "4"},
    "/api/forecast": {"until": "2027-06-30"},
    "/api/remedies": {"account": "joint", "until": "2028-03-01"},
    "/api/ahead": {"until": "2027-05-31"},
    "/api/year-list": {"year": "2027"},
    "/api/calendar-days": {"from": "2027-02-20", "to": "2027-04-20"},
    "/api/net-worth": {"from": "2027-01-01", "to": "2027-12-31"},
    "/api/bank-holidays": {"from": "2027-01-01", "to": "2027-12-31"},
    "/api/register": {"account": "joint"},
    "/api/entries/find": {"text": "Quillon"},
    "/api/entries/{id}": {},
    "/api/loans/{account}/statement-checks": {"account": "house"},
    "/api/payoff/table.{form}": {"form": "csv"},
    "/api/review/year": {"year": "2027"},
    "/api/review/year-end/{year}": {"year": "2027"},
    "/api/escrow/{id}": {"id": "escrow"},
    "/api/debts/{id}": {"id": "house"},
    "/api/accounts/{id}/interest": {"id": "rainy-day"},
    "/api/debts/{id}/payment-meant": {"id": "house", "amount": "218455", "date": "2027-03-02"},
    "/api/debts/cards/{id}": {"id": "heron"},
    "/api/debts/schedule.{form}": {"form": "csv", "account": "house"},
}


def test_whatever_reads_a_what_if_says_what_the_plan_says_once_it_is_adopted(demo: TestClient) -> None:
    lines = get(demo, "/api/register", account="joint")["rows"]
    settled = get(demo, f"/api/entries/{next(each['id'] for each in lines if each['amount'] == -390_00)}")
    legs = [{**leg, "amount": leg["amount"] * 2} for leg in settled["legs"]]
    changes = [
        {"op": "update", "kind": "flow", "id": "gran", "value": {"amount": 380_00}},
        {"op": "update", "kind": "entry", "id": settled["id"], "value": {"legs": legs}},
    ]
    kept = demo.post("/api/what-ifs", json={"id": "w", "name": "Twice", "changes": changes})
    assert kept.status_code == 200, kept.text

    plain, seen = all_answers(demo, settled["id"]), all_answers(demo, settled["id"], what_if="w")
    assert {path for path in seen if seen[path] != plain[path]} >= {
        "/api/register", "/api/accounts", "/api/ahead", "/api/months", "/api/net-worth", "/api/flows"}  # fmt: skip
    demo.post("/api/what-ifs/w/adopt")
    assert all_answers(demo, settled["id"]) == seen


def test_nothing_keeps_a_household_that_was_changed_in_memory(demo: TestClient) -> None:
    """Without looking for rings of objects, which is done seldom: it would keep everybody waiting."""
    entry = get(demo, "/api/register", account="joint")["rows"][0]["id"]
    wish = {"extra_monthly": 900_00, "from_account": "joint", "cap": "affordable"}

    def everything(amount: int) -> None:
        change = {"op": "update", "kind": "flow", "id": "gran", "value": {"amount": amount}}
        span = {"from": "2027-03-01", "until": "2027-06-01"}
        done(demo.post("/api/changes", json={"changes": [change]}))
        all_answers(demo, entry)
        all_answers(demo, entry, what_if="gran-more")
        for path, body in (
            ("tideline", {**span, "changes": [change]}), ("forecast/preview", {"until": "2027-06-01", "changes": [change]}),
            ("payoff", wish), ("payoff/picture", wish), ("payoff/extra-for", {"asked": wish, "by": "2036-12"}),
            ("afford", {"account": "joint", "amount": 600_00, "on": "2027-03-20", "until": "2028-03-01"}),
            ("debts/alternatives", {"account": "house", "variants": [{"extra": 10_00}]}),
            ("plan/check", get(demo, "/api/plan")),
        ):  # fmt: skip
            done(demo.post(f"/api/{path}", json=body))

    def households() -> int:
        return sum(isinstance(each, Moment) for each in gc.get_objects())

    everything(391_00)
    gc.collect()
    before = households()
    gc.disable()
    try:
        everything(392_00)
        assert households() <= before
    finally:
        gc.enable()


def all_answers(client: TestClient, entry: str, **more: str) -> dict[str, str]:
    """What every address that reads a what-if says."""
    found, document = {}, get(client, "/api/openapi.json")
    # No two models have one name: the document would name them by the files that they are in.
    assert [name for name in document["components"]["schemas"] if "__" in name] == []
    for path, operations in document["paths"].items():
        read = operations.get("get", {}).get("parameters", ())
        if any(each["name"] == "what_if" for each in read):
            asked = {"id": entry} | ASKED.get(path, {}) | more
            answer = client.get(path.format(**asked), params=asked)
            assert answer.status_code == 200, (path, answer.text)
            found[path] = cells_of(answer.content) if path.endswith(".xlsx") else answer.text
    return found


def cells_of(workbook: bytes) -> str:
    """What is in a workbook's cells: the file beside them has the time at which it was made."""
    return repr([[cell.value for cell in row] for sheet in load_workbook(io.BytesIO(workbook)) for row in sheet])
