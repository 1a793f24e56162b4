"""Receipts, tags, what always happens, flows made from entries, and setting aside, over HTTP."""

import hashlib
from datetime import date
from typing import Any

import pytest
from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from next_penny.store.store import Store

TODAY = date(2027, 3, 1)
PDF = b"%PDF-1.4\n1 0 obj\n<<>>\nendobj\ntrailer\n<<>>\n%%EOF\n"
Json = dict[str, Any]


def change(client: TestClient, op: str, kind: str, id: str, **value: Any) -> Any:
    return client.post("/api/changes", json={"changes": [{"op": op, "kind": kind, "id": id, "value": value}]})


def refusal(answer: Any) -> tuple[str, str]:
    assert answer.status_code == 422, answer.text
    problem = answer.json()["detail"][0]
    return str(problem["loc"][-1]), problem["msg"]


def purchase(**more: Any) -> Json:
    legs = [{"account": "joint", "amount": -1999}, {"category": "child", "amount": 1999}]
    return {"date": "2027-02-27", "payee": "The Full Basket", "legs": legs, **more}


def test_a_receipt_is_kept_in_the_file_shown_as_it_is_and_undone_with_its_entry(demo: TestClient, store: Store) -> None:
    kept = demo.post("/api/receipts", content=PDF).json()
    assert kept == {"file": hashlib.sha256(PDF).hexdigest(), "media_type": "application/pdf"}
    receipt = {"file": kept["file"], "name": "school shoes.pdf"}
    assert (
        change(demo, "add", "entry", "shoes", **purchase(receipt=receipt, tags=["child care", "2027"])).status_code
        == 200
    )
    shown = demo.get(f"/api/receipts/{kept['file']}")
    assert (shown.content, shown.headers["content-type"]) == (PDF, "application/pdf")
    assert "frame-ancestors 'self'" in shown.headers["content-security-policy"]
    entry = next(entry for entry in demo.get("/api/plan").json()["entries"] if entry["id"] == "shoes")
    assert (entry["receipt"], entry["tags"]) == (receipt, ["child care", "2027"])
    row = demo.get("/api/register", params={"account": "joint", "search": "2027"}).json()["rows"][0]
    assert (row["id"], row["has_receipt"], row["tags"]) == ("shoes", True, ["child care", "2027"])
    assert demo.get("/api/entries/choices").json()["tags"] == ["2027", "child care"]
    demo.post("/api/undo")
    assert demo.get("/api/entries/shoes").status_code == 422
    demo.post("/api/redo")
    assert demo.get(f"/api/receipts/{kept['file']}").content == PDF
    # A whole household put in comes with the receipts that this file holds, and with no others.
    whole = demo.get("/api/plan").json()
    assert demo.put("/api/plan", json=whole).json() == whole
    whole["entries"][-1]["receipt"] = {"file": "0" * 64, "name": "x"}
    assert refusal(demo.put("/api/plan", json=whole))[0] == "receipt"


@pytest.mark.parametrize(
    ("content", "sentence"),
    [
        (b"MZ\x90\x00 program", "A receipt is a PDF, PNG or JPEG file"),
        (b"%PDF-1.4\ncut", "damaged or cut short"),
        (b"\x89PNG\r\n\x1a\n" + b"\0" * 40, "damaged or cut short"),
        (b"\xff\xd8\xff" + b"\0" * (10 * 1024 * 1024), "at most 10 MB"),
        (b"", "A receipt is a PDF, PNG or JPEG file"),
    ],
)
def test_what_is_no_receipt_is_refused_by_its_content(demo: TestClient, content: bytes, sentence: str) -> None:
    assert sentence in refusal(demo.post("/api/receipts", content=content))[1]


def test_a_receipt_that_is_not_there_is_refused_at_its_field(demo: TestClient) -> None:
    answer = change(demo, "add", "entry", "shoes", **purchase(receipt={"file": "a" * 64, "name": "x.pdf"}))
    assert refusal(answer) == ("receipt", "This household's file does not hold that receipt: attach it again.")


def test_unused_receipts_are_let_go_but_not_what_undo_may_need(store: Store) -> None:
    one, two = (store.store_receipt(PDF + bytes([n]), "application/pdf", date(2027, 1, 1)) for n in (1, 2))
    app = TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765")
    change(app, "add", "entry", "shoes", **purchase(receipt={"file": one, "name": "x.pdf"}))
    app.post("/api/undo")
    store.store_receipt(PDF, "application/pdf", TODAY)
    with store.reading(TODAY) as reading:
        assert reading.receipt(one) is not None
        assert reading.receipt(two) is None


def test_what_always_happens_counts_as_gone_and_is_marked_until_confirmed(demo: TestClient) -> None:
    rows = demo.get("/api/register?account=joint").json()["rows"]
    assumed = [row for row in rows if row["is_assumed"]]
    assert [(row["payee"], row["date"]) for row in assumed] == [("Gullwire", "2027-02-22")]
    balances = [row["balance"] for row in rows]
    assert all(a - row["amount"] == b for a, b, row in zip(balances, balances[1:], rows, strict=False))
    today = demo.get("/api/forecast?until=2027-03-02&accounts=joint").json()["accounts"][0]["today_balance"]
    assert balances[0] == today
    due = demo.get("/api/settle").json()["due"]
    line = next(line for line in due if line["status"] == "assumed")
    demo.post("/api/settle", json={"lines": [{"flow": line["flow"], "nominal": line["nominal"], "do": "settle"}]})
    after = demo.get("/api/register?account=joint").json()["rows"]
    assert not any(row["is_assumed"] for row in after)
    assert after[0]["balance"] == today


def test_hours_worked_settle_a_paycheck(demo: TestClient) -> None:
    line = {"flow": "odell-pay", "nominal": "2027-03-04", "do": "settle", "hours": "19.5"}
    assert demo.post("/api/settle", json={"lines": [line]}).status_code == 200
    entry = demo.get("/api/plan").json()["entries"][-1]
    # 19.5 x 21.50 x 0.799 = 334.98075
    assert (entry["legs"][0]["amount"], entry["notes"]) == (334_98, "19.5 hours")
    refused = demo.post("/api/settle", json={"lines": [{**line, "flow": "wren-pay", "nominal": "2027-03-05"}]})
    assert refusal(refused) == ("hours", "This is not paid by the hour.")


def test_a_flow_is_made_from_entries_or_left_out_for_good(demo: TestClient) -> None:
    (seen,) = demo.get("/api/candidates").json()["candidates"]
    assert (seen["payee"], seen["sentence"], seen["first"]) == (
        "Bramble & Burr, dog walks", "every 2 weeks on Wednesday", "2027-03-10",
    )  # fmt: skip
    assert demo.post("/api/candidates/proposal", json={"entries": seen["entries"]}).json() == seen
    mixed = {"entries": [seen["entries"][0], "wren-pay-2027-02-19"]}
    assert refusal(demo.post("/api/candidates/proposal", json=mixed))[1].startswith("Choose entries with a payee")
    demo.post("/api/candidates/decline", json={"key": seen["key"], "payee": seen["payee"]})
    assert demo.get("/api/candidates").json()["candidates"] == []
    assert demo.post("/api/undo").json()["done"] == "Undone: left “Bramble & Burr, dog walks” out of the plan"
    assert demo.get("/api/candidates").json()["candidates"] == [seen]


def test_money_set_aside_is_there_on_the_day_and_shows_how_far_it_has_come(demo: TestClient) -> None:
    goals = {goal["name"]: goal for goal in demo.get("/api/set-aside").json()["goals"]}
    assert (goals["Winter tyres"]["so_far"], goals["Winter tyres"]["amount"]) == (5 * 21_91, 460_00)
    assert goals["Mooring, the Periwinkle"]["so_far"] == 2 * 171_25
    wish = {"id": "w", "from_account": "joint", "to_account": "rainy-day", "flow": "water", "month_day": 5}
    proposal = demo.post("/api/set-aside/proposal", json=wish).json()
    # The next bill is on 22 March (the 20th is a Saturday): one transfer comes before it.
    assert (proposal["times"], proposal["level"], proposal["by"]) == (1, 143_20, "2027-03-22")
    assert demo.post("/api/changes", json={"changes": proposal["changes"]}).status_code == 200
    assert refusal(change(demo, "remove", "flow", "water"))[1].startswith("This flow is used by")
    moved = [
        (event["date"], event["amount"])
        for event in demo.get("/api/forecast?until=2027-04-10&accounts=rainy-day").json()["events"]
        if event["flow"] in ("w", "w-back")
    ]
    assert moved == [("2027-03-05", 143_20), ("2027-03-22", -143_20), ("2027-04-05", 47_74)]
    assert refusal(demo.post("/api/set-aside/proposal", json={**wish, "flow": "nothing"}))[0] == "flow"


def test_overspending_says_what_it_costs_at_the_lowest_point(demo: TestClient) -> None:
    before = next(
        row for row in demo.get("/api/allowances").json()["allowances"] if row["allowance"]["id"] == "groceries"
    )
    assert before["costs_lowest"] == 0
    legs = [{"account": "joint", "amount": -1000_00}, {"category": "groceries", "amount": 1000_00}]
    change(demo, "add", "entry", "feast", date="2027-03-01", payee="Feast", legs=legs)
    after = next(
        row for row in demo.get("/api/allowances").json()["allowances"] if row["allowance"]["id"] == "groceries"
    )
    assert (after["now"]["left"], after["costs_lowest"]) == (-120_00, 120_00)


def test_a_register_shows_only_the_days_that_are_asked_for(demo: TestClient) -> None:
    query = {"account": "joint", "from": "2027-02-10", "until": "2027-02-20"}
    rows = demo.get("/api/register", params=query).json()["rows"]
    assert rows
    assert {row["date"] for row in rows} <= {f"2027-02-{day}" for day in range(10, 21)}
    every = demo.get("/api/register?account=joint").json()["rows"]
    assert rows == [row for row in every if "2027-02-10" <= row["date"] <= "2027-02-20"]
