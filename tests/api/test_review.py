"""Every sum of a review against the legs of the plan document, and parts of a stretch against the whole (RULES, §14)."""

import io
import re
from collections import Counter
from datetime import date, timedelta
from typing import Any

from acting_households import acting_documents
from fastapi.testclient import TestClient
from households import TODAY, documents
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook

from answers import Json, done, refused
from effort import examples
from next_penny.api.app import create_app
from stores import new_store

_CLIENT = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")
DEBTS = ("loan", "credit_card", "credit_line")


def plain(document: Json) -> Json:
    """The same with one currency and nothing assumed, so that sums are of what is written alone."""
    accounts = [{**account, "currency": "USD"} for account in document["accounts"]]
    flows = [{**flow, "always_happens": False} for flow in document.get("flows", [])]
    return {**document, "currency": "USD", "accounts": accounts, "flows": flows}


def review(first: date, last: date, **more: str) -> Json:
    return done(_CLIENT.get("/api/review", params={"from": first.isoformat(), "to": last.isoformat(), **more}))


@settings(max_examples=examples(40), deadline=None, suppress_health_check=list(HealthCheck))
@given((documents() | acting_documents()).map(plain), st.integers(-100, 20), st.integers(0, 90), st.booleans())
def test_every_sum_of_a_review_is_that_of_the_legs(document: Json, begin: int, days: int, is_of_some: bool) -> None:
    if _CLIENT.put("/api/plan", json=document).status_code != 200:
        return
    first = TODAY + timedelta(days=begin)
    last = first + timedelta(days=days)
    kinds = {account["id"]: account["kind"] for account in document["accounts"]}
    some = document["accounts"][0]["id"]
    found = review(first, last, **({"accounts": some} if is_of_some else {}))
    income = {category["id"] for category in document.get("categories", []) if category.get("kind") == "income"}
    actual, count, payees, moved, accounts = (Counter[str]() for _ in range(5))
    spent = Counter[tuple[str, str]]()
    for entry in document.get("entries", []):
        legs = entry["legs"]
        if not first <= date.fromisoformat(entry["date"]) <= min(last, TODAY):
            continue
        if is_of_some and all(leg.get("account") != some for leg in legs):
            continue
        for leg in legs:
            if leg.get("category"):
                sign = -1 if leg["category"] in income else 1
                actual[leg["category"]] += sign * leg["amount"]
                payees[entry.get("payee", "")] += leg["amount"] if sign > 0 else 0
                first_account = next((leg["account"] for leg in legs if leg.get("account")), "")
                accounts[first_account] += leg["amount"] if sign > 0 else 0
                spent[entry["date"], entry["id"]] += leg["amount"] if sign > 0 else 0
        count.update({leg["category"] for leg in legs if leg.get("category")})
        moved.update(moved_by([(kinds[leg["account"]], leg["amount"]) for leg in legs if leg.get("account")]))
    rows = {row["category"]: row for row in found["rows"] if row["kind"] != "allowance"}
    told = {id: row["actual"] for id, row in rows.items() if row["actual"]}
    assert told == {id: amount for id, amount in actual.items() if amount}
    assert {id: row["entries"] for id, row in rows.items() if row["entries"]} == dict(count)
    assert {each["payee"]: each["spent"] for each in found["payees"] if each["spent"]} == {
        payee: amount for payee, amount in payees.items() if amount
    }
    assert {each["account"]: each["spent"] for each in found["by_account"] if each["spent"]} == {
        account: amount for account, amount in accounts.items() if amount
    }
    largest = sorted((-amount, day, id) for (day, id), amount in spent.items() if amount > 0)[:10]
    assert [(-each["amount"], each["date"], each["entry"]) for each in found["largest"]] == largest
    whole = found["spending"]["actual"]
    for each in found["largest"]:
        assert each["share"] is None or abs(1000 * each["amount"] - 10 * float(each["share"]) * whole) <= whole / 2 + 1
        assert (each["share"] is None) == (whole <= 0)
    assert found["moved"] == {name: moved[name] for name in ("saved", "repaid", "borrowed")}
    check_totals(found)
    check_different(found, document)
    for line in found["lines"][:3]:
        check_behind(found, line, {"accounts": some} if is_of_some else {})


def check_different(found: Json, document: Json) -> None:
    """What was different is all that went otherwise, and all that nothing expected; the largest first."""
    otherwise = [
        (each["flow"], each["expected"], each["actual"]) for each in found["occurrences"]
        if each["status"] != "expected"
        and (each["expected"] != each["actual"] or set(each["days"]) - {each["lands"]})
    ]  # fmt: skip
    told = [(each["flow"], each["expected"], each["actual"]) for each in found["different"] if each["flow"]]
    assert sorted(told) == sorted(otherwise)
    sizes = [abs(each["actual"] - each["expected"]) for each in found["different"]]
    assert sizes == sorted(sizes, reverse=True)
    reasons = {each["reason"]: each for each in found["different"]}
    assert all((reason == "other_day") == (each["expected"] == each["actual"]) or reason == "unexpected"
               for reason, each in reasons.items())  # fmt: skip
    if not document.get("allowances"):
        planless = {each["id"] for each in document.get("entries", [])
                    if not each.get("flow") and any(leg.get("category") for leg in each["legs"])}  # fmt: skip
        unexpected = {each["entry"] for each in found["different"] if each["entry"]}
        assert unexpected <= planless
        of_payees = sum(each["entries"] for each in found["payees"])
        with_flow = sum(1 for each in document.get("entries", []) if each.get("flow"))
        assert of_payees - with_flow <= len(unexpected) <= of_payees


def check_behind(found: Json, line: Json, of: Json) -> None:
    """A line is the sum of its flows, of its payees and of its entries alike."""
    kind = "income" if line["kind"] == "income" else "expense"
    named = line["categories"] if line["kind"] == "allowance" else [line["id"]] if line["id"] else []
    if line["kind"] == "allowance" and not named:
        return
    query = {"from": found["from"], "to": found["to"], "kind": kind, "categories": ",".join(named), **of}
    behind = done(_CLIENT.get("/api/review/line", params=query))
    for part in ("categories", "flows", "payees", "entries"):
        assert sum(each["actual" if part == "flows" else "amount"] for each in behind[part]) == line["actual"]
    if line["kind"] != "allowance":
        assert sum(each["expected"] for each in behind["flows"]) == line["expected"]
    assert sum(each["entries"] for each in behind["payees"]) == len({each["id"] for each in behind["entries"]})


def moved_by(legs: list[tuple[str, int]]) -> Counter[str]:
    """What one entry saved, repaid and borrowed, by the rules' words."""
    found = Counter[str]()
    for at, (kind, amount) in enumerate(legs):
        others = [other for place, (other, sum) in enumerate(legs) if place != at and sum * amount < 0]
        if kind in DEBTS and amount > 0 and any(other not in DEBTS for other in others):
            found["repaid"] += amount
        if kind in ("loan", "credit_line") and amount < 0 and any(other not in DEBTS for other in others):
            found["borrowed"] -= amount
        if kind == "savings" and any(other not in DEBTS and other != "savings" for other in others):
            found["saved"] += amount
    return found


def check_totals(found: Json) -> None:
    """Rows sum to the totals; what was kept, and its share, follow from these."""
    for of in ("expected", "actual"):
        sums = {
            kind: sum(row[of] for row in found["rows"] if row["kind"] in kind)
            for kind in (("income",), ("expense", "allowance"))
        }
        assert list(sums.values()) == [found["income"][of], found["spending"][of]]
        assert found["kept"][of] == found["income"][of] - found["spending"][of]
    for kinds, of in ((("income",), "income"), (("expense", "allowance"), "spending")):
        for shown in (found["lines"], found["groups"]):
            for what in ("expected", "actual"):
                assert sum(each[what] for each in shown if each["kind"] in kinds) == found[of][what]
    kept, income, share = found["kept"]["actual"], found["income"]["actual"], found["kept"]["share"]
    assert (share is None) == (income <= 0)
    if share is not None:
        # Half a tenth of a percent at most is rounded away.
        assert abs(round(float(share) * 10) * income - 1000 * kept) * 2 <= income


@settings(max_examples=examples(25), deadline=None, suppress_health_check=list(HealthCheck))
@given((documents() | acting_documents()).map(plain), st.integers(-4, 1))
def test_a_stretch_is_the_sum_of_its_parts_and_stays_once_it_is_written_down(document: Json, months: int) -> None:
    if _CLIENT.put("/api/plan", json=document).status_code != 200:
        return
    month = 2027 * 12 + 2 + months
    firsts = [date((month + at) // 12, (month + at) % 12 + 1, 1) for at in range(4)]
    parts = [review(firsts[at], firsts[at + 1] - timedelta(days=1)) for at in range(3)]
    whole = review(firsts[0], firsts[3] - timedelta(days=1))
    for of in ("income", "spending", "kept"):
        for what in ("expected", "actual"):
            assert whole[of][what] == sum(part[of][what] for part in parts)
    beside = done(_CLIENT.get("/api/review/months", params={"from": firsts[0].isoformat()[:7], "count": "3"}))
    for at, part in enumerate(parts):
        assert {name: beside["months"][at][name] for name in ("income", "spending", "kept")} == {
            name: part[name] for name in ("income", "spending", "kept")
        }
        rows = {(row["kind"], row["category"] or row["allowance"]): row["cells"][at] for row in beside["rows"]}
        for row in part["rows"]:
            assert rows.pop((row["kind"], row["category"] or row["allowance"])) == {
                "expected": row["expected"], "actual": row["actual"],
            }  # fmt: skip
        assert all(cell == {"expected": 0, "actual": 0} for cell in rows.values())
    # Beside them the year so far, and the same days a year earlier, row by row.
    until = min(firsts[3] - timedelta(days=1), TODAY)
    for of, year in (("so_far", until.year), ("year_ago", until.year - 1)):
        days = review(date(year, 1, 1), until.replace(year=year))
        assert all(beside[of][name] == days[name] for name in ("from", "to", "income", "spending", "kept"))
        rows = {(row["kind"], row["category"] or row["allowance"]): row[of] for row in beside["rows"]}
        for row in days["rows"]:
            both = {"expected": row["expected"], "actual": row["actual"]}
            assert rows.pop((row["kind"], row["category"] or row["allowance"])) == both
        assert all(both == {"expected": 0, "actual": 0} for both in rows.values())
        for kinds, name in ((("income",), "income"), (("expense", "allowance"), "spending")):
            assert sum(line[of]["actual"] for line in beside["lines"] if line["kind"] in kinds) == days[name]["actual"]
    for each in (whole, *parts):
        check_totals(each)
    # The first change writes down what the plan told; a category more changes nothing of it.
    added = {"op": "add", "kind": "category", "id": "one more", "value": {"name": "One more"}}
    done(_CLIENT.post("/api/changes", json={"changes": [added]}))
    assert review(firsts[0], firsts[3] - timedelta(days=1)) == whole


def test_the_months_workbook_has_live_sums_of_what_the_table_has(demo: TestClient) -> None:
    asked = {"from": "2026-04", "count": "12"}
    table = done(demo.get("/api/review/months", params=asked))
    book = load_workbook(io.BytesIO(demo.get("/api/review/months/workbook.xlsx", params=asked).content))
    for sheet, of in zip(book.worksheets, ("actual", "expected"), strict=True):
        rows = {row[0].value: row[0].row for row in sheet.iter_rows() if row[0].value}

        def value(name: str, column: int, sheet: Any = sheet, rows: Json = rows) -> int:
            return evaluated(sheet, sheet.cell(rows[name], column).coordinate)

        for name, part in (("Spending together", "spending"), ("Income together", "income"), ("Kept", "kept")):
            assert [value(name, 3 + at) for at in range(12)] == [month[part][of] for month in table["months"]]
            assert [value(name, 16), value(name, 17)] == [table[days][part][of] for days in ("so_far", "year_ago")]
        for line in table["lines"]:
            assert value(line["name"], 15) == line["total"][of]


def test_the_workbooks_of_a_month_and_of_months_ahead_are_live(demo: TestClient) -> None:
    days = {"from": "2027-02-01", "to": "2027-02-28"}
    told = done(demo.get("/api/review", params=days))
    sheet = load_workbook(io.BytesIO(demo.get("/api/review/workbook.xlsx", params=days).content)).active
    rows = {row[0].value: row[0].row for row in sheet.iter_rows() if row[0].value}
    for name, part in (("Spending together", "spending"), ("Income together", "income"), ("Kept", "kept")):
        found = [evaluated(sheet, f"{column}{rows[name]}") for column in "CDE"]
        both = told[part]
        assert found == [both["expected"], both["actual"], both["actual"] - both["expected"]]
    assert {line["name"] for line in told["lines"]} <= rows.keys()
    asked = {"from": "2027-01", "count": "5"}
    grid = done(demo.get("/api/months", params=asked))
    sheet = load_workbook(io.BytesIO(demo.get("/api/months/workbook.xlsx", params=asked).content)).active
    rows = {row[0].value: row[0].row for row in sheet.iter_rows() if row[0].value}
    for at, month in enumerate(grid["months"]):
        for name, key in (("Opening", "opening"), ("In and out together", "net"), ("Closing", "closing")):
            assert evaluated(sheet, f"{'CDEFG'[at]}{rows[name]}") == month[key]
    assert evaluated(sheet, f"H{rows['In and out together']}") == grid["net"]["total"]


def evaluated(sheet: Any, cell: str) -> int:
    """A cell in minor units: a number, a sum of a range, another cell, or two of them."""
    found = sheet[cell].value
    if not isinstance(found, str):
        return round(100 * (found or 0))
    if span := re.fullmatch(r"=SUM\((.*)\)", found):
        return sum(evaluated(sheet, each.coordinate) for row in sheet[span[1]] for each in row)
    first, sign, second = re.split("([-+])", found.removeprefix("=") + ("" if re.search("[-+]", found) else "+A1"))
    other = evaluated(sheet, second) if second != "A1" else 0
    return evaluated(sheet, first) + (other if sign == "+" else -other)


def test_what_cannot_be_reviewed_is_refused_in_a_sentence(demo: TestClient) -> None:
    def ask(**query: Any) -> Any:
        return demo.get("/api/review", params=query)

    assert refused(ask(**{"from": "2027-03-02", "to": "2027-03-01"}))[1].startswith("The stretch ends before")
    assert "30 years" in refused(ask(**{"from": "1990-01-01", "to": "2027-03-01"}))[1]
    assert "no account" in refused(ask(**{"from": "2027-02-01", "to": "2027-03-01"}, accounts="nobody"))[1]
    assert refused(ask(**{"from": "2027-02-30", "to": "2027-03-01"}))[1].endswith("day of the calendar.")
    before = done(ask(**{"from": "2027-01-01", "to": "2027-02-28"}))
    assert (before["before"]["from"], before["before"]["to"]) == ("2026-11-01", "2026-12-31")
    assert (before["year_ago"]["from"], before["year_ago"]["to"]) == ("2026-01-01", "2026-02-28")
