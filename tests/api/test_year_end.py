"""The end of a year: both ends of every account against the entries between them, goals, and the workbook."""

import io
from datetime import date
from typing import Any

from acting_households import acting_documents
from fastapi.testclient import TestClient
from households import TODAY, documents
from hypothesis import HealthCheck, given, settings
from openpyxl import load_workbook
from test_review import plain

from answers import done, refused
from effort import examples
from next_penny.api.app import create_app
from stores import new_store

_CLIENT = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")


@settings(max_examples=examples(30), deadline=None, suppress_health_check=list(HealthCheck))
@given((documents() | acting_documents()).map(plain))
def test_what_changed_between_both_ends_is_what_came_in_and_went_out(document: Any) -> None:
    if _CLIENT.put("/api/plan", json=document).status_code != 200:
        return
    for year in (TODAY.year - 1, TODAY.year):
        answer = done(_CLIENT.get(f"/api/review/year-end/{year}"))
        first, last = f"{year}-01-01", min(f"{year}-12-31", TODAY.isoformat())
        entries = [entry for entry in document.get("entries", []) if first <= entry["date"] <= last]
        spent = sum(leg["amount"] for entry in entries for leg in entry["legs"] if leg.get("account") is None)
        opened = sum(account["opening"]["balance"] for account in document["accounts"]
                     if first <= account["opening"]["date"] <= last)  # fmt: skip
        begins, ends = answer["worth"]
        assert ends - begins == opened - spent
        assert answer["income"] - answer["spending"] == answer["kept"] == -spent
        for end, worth in (("begins", begins), ("ends", ends)):
            assert sum(each[end] for each in answer["standings"]) == worth
        for kind, total in (("income", answer["income"]), ("expense", answer["spending"])):
            assert sum(group["actual"] for group in answer["groups"] if group["kind"] == kind) == total
        review = done(_CLIENT.get("/api/review", params={"from": first, "to": last}))
        assert (review["income"]["actual"], review["spending"]["actual"]) == (answer["income"], answer["spending"])


def test_the_demos_year_on_a_sheet_has_live_sums_and_proposals_that_are_taken_over(demo: TestClient) -> None:
    answer = done(demo.get("/api/review/year-end/2026"))
    content = demo.get("/api/review/year-end/2026/workbook.xlsx").content
    rows = [[cell.value for cell in row] for row in load_workbook(io.BytesIO(content)).active.iter_rows()]  # type: ignore[union-attr]
    by_name = {row[0]: row[1:] for row in rows if row[0]}
    assert by_name["Kept"][0] == "=B4-B12"
    numbers = {cell: rows[row - 1][1] for row in (3, 8, 9, 10, 11) for cell in [f"B{row}"]}
    assert rows[3][1] == "=SUM(B3:B3)"
    assert rows[11][1] == "=SUM(B8:B11)"
    assert round(100 * numbers["B3"]) == answer["income"]
    assert round(100 * sum(numbers[f"B{row}"] for row in (8, 9, 10, 11))) == answer["spending"]
    assert [round(100 * worth) for worth in by_name["Net worth"][:2]] == answer["worth"]
    # What a loan's interest was is what its own year says.
    loans = {each["id"]: each["parts"]["interest"] for each in done(demo.get("/api/review/year?year=2026"))["loans"]}
    interest = {each["id"]: each["amount"] for each in answer["interest"]}
    assert {id: -interest[id] for id in loans} == loans
    assert interest["rainy-day"] > 0 > interest["heron"]
    # A tenth of each month's income was saved in as many months as the goal says of each by itself.
    (put_by,) = [each for each in answer["goals"] if each["id"] == "put-by"]
    months = done(demo.get("/api/review/months", params={"from": "2026-01", "count": 12}))["months"]
    saved = [done(demo.get("/api/review", params={"from": f"{each['month']}-01", "to": last_day(each["month"])}))["moved"]
             for each in months]  # fmt: skip
    met = sum(10 * each["saved"] >= month["income"]["actual"] for each, month in zip(saved, months, strict=True))
    assert (put_by["met"], put_by["periods"]) == (met, 12)
    (food,) = [each for each in answer["off"] if each["id"] == "groceries"]
    done(demo.post("/api/changes", json={"changes": [food["change"]]}))
    assert "groceries" not in [each["id"] for each in done(demo.get("/api/review/year-end/2026"))["off"]]
    assert [bill["flow"] for bill in answer["unprepared"]] == ["home-insurance", "paper"]
    assert "has not begun" in refused(demo.get("/api/review/year-end/2028"))[1]


def last_day(month: str) -> str:
    year, number = int(month[:4]), int(month[5:])
    following = date(year + number // 12, number % 12 + 1, 1)
    return date.fromordinal(following.toordinal() - 1).isoformat()
