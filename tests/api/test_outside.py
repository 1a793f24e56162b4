"""Mortgages and what-ifs tried from outside: odd households, two currencies, several editors, whole random plans."""

from collections.abc import Callable
from datetime import date
from io import BytesIO
from typing import Any

from acting_households import acting_documents
from fastapi.testclient import TestClient
from households import TODAY, documents
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook

from answers import Json, done, plan_alone
from effort import examples
from next_penny.api.app import create_app
from next_penny.store.store import Store
from stores import new_store


def client_of(today: Callable[[], date] = lambda: TODAY, store: Store | None = None) -> TestClient:
    return TestClient(create_app(store or new_store(), today), base_url="http://127.0.0.1:8765")


def plan_of(*accounts: Json, **more: Any) -> Json:
    return {"format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": list(accounts), **more}


def held(id: str, kind: str, balance: int, **more: Any) -> Json:
    opening = {"date": "2026-01-01", "balance": balance}
    return {"id": id, "name": id.title(), "kind": kind, "opening": opening, **more}


def loan(principal: int, payments: int, **more: Any) -> Json:
    return {"principal": principal, "annual_rate": "6", "payments": payments, "disbursed": "2026-01-01",
            "first_payment": "2026-02-01", **more}  # fmt: skip


def test_a_loan_that_nothing_pays_by_plan_is_checked_too() -> None:
    paid = {"id": "p", "date": "2026-06-01", "payee": "Uncle", "legs": [
        {"account": "bank", "amount": -100_00}, {"account": "uncle", "amount": 90_00},
        {"category": "interest", "amount": 10_00}]}  # fmt: skip
    client = client_of()
    done(client.put("/api/plan", json=plan_of(
        held("bank", "checking", 900_00), held("uncle", "loan", -1_000_00, loan=loan(1_000_00, 24)), entries=[paid],
        categories=[{"id": "interest", "name": "Interest"}],
    )))  # fmt: skip
    statement = {"date": "2026-07-01", "principal_balance": 860_00, "interest_to_date": 10_00}
    found = done(client.post("/api/loans/uncle/statement-check", json=statement))
    assert [each["difference"] for each in found["compared"]] == [-50_00, 0]
    assert found["causes"][0]["cause"] == "extra_missing"
    done(client.post("/api/changes", json={"changes": found["causes"][0]["changes"]}))
    assert done(client.post("/api/loans/uncle/statement-check", json=statement))["agrees"]


def test_two_properties_in_two_currencies_are_told_apart_and_a_loan_that_ended_is_in_its_year() -> None:
    def paid(id: str, month: int, account: str, debt: str, parts: tuple[int, int]) -> Json:
        legs = [{"account": account, "amount": -sum(parts)}, {"account": debt, "amount": parts[0]},
                {"category": "interest", "amount": parts[1]}]  # fmt: skip
        day = f"2026-{month:02}-01"
        return {"id": id, "date": day, "payee": debt, "legs": legs, "flow": f"{debt}-payment", "nominal": day}

    whole = {"id": "w", "date": "2026-03-01", "payee": "mill",
             "legs": [{"account": "euro", "amount": -86_07}, {"category": "home", "amount": 86_07}],
             "flow": "mill-payment", "nominal": "2026-03-01"}  # fmt: skip
    rent = {"id": "r", "date": "2026-05-01", "payee": "Lodger", "tags": ["cottage"],
            "legs": [{"account": "bank", "amount": 300_00}, {"category": "rent", "amount": -300_00}]}  # fmt: skip
    roof = {"id": "f", "date": "2026-05-02", "payee": "Roofer", "tags": ["Cottage"],
            "legs": [{"account": "bank", "amount": -120_00}, {"category": "home", "amount": 120_00}]}  # fmt: skip
    food = {"id": "g", "date": "2026-05-03", "payee": "Shop",
            "legs": [{"account": "bank", "amount": -50_00}, {"category": "home", "amount": 50_00}]}  # fmt: skip
    hut = loan(100_00, 2, from_account="bank", property="cottage")
    mill = loan(1_000_00, 12, from_account="euro", property="mill-house")
    # 100.00 at 6 % in two payments of 50.38: 0.50 of the first is interest, then half a percent of 50.12.
    entries = [paid("a", 2, "bank", "hut", (49_88, 50)), paid("b", 3, "bank", "hut", (50_12, 25)),
               paid("c", 2, "euro", "mill", (81_07, 5_00)), whole, rent, roof, food]  # fmt: skip
    client = client_of()
    done(client.put("/api/plan", json=plan_of(
        held("bank", "checking", 9_000_00), held("euro", "checking", 9_000_00, currency="EUR"),
        held("cottage", "asset", 5_000_00), held("mill-house", "asset", 7_000_00, currency="EUR"),
        held("hut", "loan", -100_00, loan=hut), held("mill", "loan", -1_000_00, loan=mill, currency="EUR"),
        categories=[{"id": id, "name": id, "kind": kind}
                    for id, kind in (("interest", "expense"), ("home", "expense"), ("rent", "income"))],
        rates=[{"date": "2026-01-01", "from": "EUR", "to": "USD", "rate": "2"}], entries=entries,
    )))  # fmt: skip
    year = done(client.get("/api/review/year?year=2026"))
    ended = {each["id"]: (each["began"], each["ended"], each["parts"]["interest"]) for each in year["loans"]}
    assert ended == {"hut": ("2026-01-01", "2026-03-01", 75), "mill": ("2026-01-01", None, 5_00)}
    sums = {each["id"]: each["sums"] for each in year["properties"]}
    assert sums["cottage"] == {"rent": 300_00, "interest": 75, "tax": 0, "insurance": 0, "upkeep": 0, "other": 120_00,
                               "net": 300_00 - 75 - 120_00}  # fmt: skip
    assert (sums["mill-house"]["interest"], sums["mill-house"]["net"]) == (5_00, -5_00)
    found = done(client.get("/api/review/recorded-whole"))
    (spent,) = found["years"]
    # Interest of 0.75, two euros of interest at two dollars, 172.14 recorded whole; and roof and shop.
    assert spent["spending"]["recorded"] == 75 + 10_00 + 172_14 + 170_00
    # 918.93 are owed when the second is due: 4.59 of 86.07 is interest.
    assert spent["spending"]["right"] == 75 + 10_00 + 9_18 + 170_00
    assert found["loans"][0]["currency"] == "EUR"


def test_what_is_recorded_in_a_what_if_is_in_its_months_and_nowhere_else() -> None:
    client = client_of()
    done(client.put("/api/plan", json=plan_of(held("bank", "checking", 500_00), held("tin", "cash", 20_00),
                                           categories=[{"id": "home", "name": "Home"}])))  # fmt: skip
    made = done(client.post("/api/what-ifs", json={"name": "A dear year"}))
    spent = {"date": "2027-01-15", "account": "bank", "amount": 70_00, "payee": "Smith",
             "parts": [{"category": "home"}]}  # fmt: skip
    change = {"op": "spent", "kind": "entry", "id": "e", "value": spent}
    asked = {"changes": [change]}
    told = done(client.post(f"/api/changes?what_if={made['id']}", json=asked))
    assert told["done"] == "Changed the what-if “A dear year”"
    for query, out in (("", 0), (f"&what_if={made['id']}", 70_00)):
        (month,) = done(client.get(f"/api/months?from=2027-01&count=1{query}"))["months"]
        assert (month["out"], month["closing"]) == (out, 520_00 - out)
        figures = done(client.get(f"/api/figures?from=2027-01-01&to=2027-02-05{query}"))
        assert (figures["out"], figures["closing"]) == (out, 520_00 - out)
    assert done(client.get("/api/plan"))["entries"] == []
    # What another edit brings is refused at its own field; the tideline shows the plan and, in copper, the what-if.
    bad = client.post(f"/api/changes?what_if={made['id']}", json={"changes": [{**change, "id": "f", "value": {
        **spent, "account": "nobody"}}]})  # fmt: skip
    assert bad.json()["detail"][0]["loc"][:4] == ["body", "changes", 0, "value"]
    shown = {"accounts": ["bank"], "from": "2027-02-01", "until": "2027-04-01"}
    line = done(client.post(f"/api/tideline?what_if={made['id']}", json=shown))
    assert (line["line"]["pencil"][0][1], line["copper"]["pencil"][0][1]) == (500_00, 430_00)
    seen = done(client.post(f"/api/forecast/preview?what_if={made['id']}", json={"until": "2027-04-01", "changes": [
        {**change, "id": "g"}]}))  # fmt: skip
    assert seen["accounts"][0]["today_balance"] == 360_00


def test_two_who_edit_one_what_if_both_count_and_each_edit_is_undone_by_itself() -> None:
    store = new_store()
    one, other = client_of(store=store), client_of(store=store)
    done(one.put("/api/plan", json=plan_of(held("bank", "checking", 500_00))))
    made = done(one.post("/api/what-ifs", json={"name": "Both"}))
    for number, client in enumerate((one, other, one)):
        flow = {"name": f"F{number}", "kind": "bill", "amount": 100, "from_account": "bank", "dates": ["2027-04-01"]}
        change = {"op": "add", "kind": "flow", "id": f"f{number}", "value": flow}
        done(client.post(f"/api/changes?what_if={made['id']}", json={"changes": [change]}))
    kept = done(other.get(f"/api/what-ifs/{made['id']}"))
    assert [each["id"] for each in kept["changes"]] == ["f0", "f1", "f2"]
    done(other.post("/api/undo"))
    assert len(done(one.get(f"/api/what-ifs/{made['id']}"))["changes"]) == 2
    done(one.post(f"/api/what-ifs/{made['id']}/adopt"))
    assert [flow["id"] for flow in done(one.get("/api/plan"))["flows"]] == ["f0", "f1"]
    assert one.post(f"/api/changes?what_if={made['id']}", json={"changes": []}).status_code == 422


def test_more_paid_out_of_escrow_than_is_there_is_allowed_and_said() -> None:
    client = client_of()
    house = loan(9_000_00, 120, from_account="bank", escrow_account="escrow",
                 escrow=[{"from": "2026-01-01", "amount": 50_00}])  # fmt: skip
    done(client.put("/api/plan", json=plan_of(
        held("bank", "checking", 900_00), held("escrow", "escrow", 200_00), held("home", "loan", -9_000_00, loan=house),
        past_due="ignore", categories=[{"id": "tax", "name": "Tax"}],
    )))  # fmt: skip
    spent = {"date": "2027-02-01", "account": "escrow", "amount": 260_00, "payee": "County",
             "parts": [{"category": "tax"}]}  # fmt: skip
    told = done(client.post("/api/changes", json={"changes": [
        {"op": "spent", "kind": "entry", "id": "tax", "value": spent}]}))  # fmt: skip
    assert told["notes"] == ["“Escrow” is $60.00 short of what was paid from it: the lender advances that."]
    letter = done(client.get("/api/escrow/escrow?new_deposit=4200&shortage=100"))
    worked = letter["analysis"]
    assert letter["letter"] == [
        {"item": item, "letter": said, "worked_out": worked[item], "difference": said - worked[item]}
        for item, said in (("new_deposit", 42_00), ("shortage", 1_00))
    ]
    assert client.get("/api/escrow/escrow?cushion_months=13").json()["detail"][0]["loc"] == ["query", "cushion_months"]


def test_amounts_dates_and_weeks_are_written_as_in_the_country_unless_the_household_says_otherwise() -> None:
    client = client_of()
    seen = {}
    for country in ("US", "DE", "FR", "GB", None, "EG"):
        done(client.put("/api/plan", json=plan_of(held("bank", "checking", 1_234_56), country=country)))
        told = done(client.get("/api/household"))
        seen[country] = (told["notation"], told["date_order"], told["week_starts_on"])
    assert seen == {
        "US": ("1,234.56", "month_first", 0), "DE": ("1.234,56", "day_first", 1), "FR": ("1 234,56", "day_first", 1),
        "GB": ("1,234.56", "day_first", 1), None: ("1,234.56", "month_first", 1), "EG": ("1,234.56", "day_first", 6),
    }  # fmt: skip
    bill = {"id": "roof", "name": "Roof", "kind": "bill", "amount": 12_345_67, "from_account": "bank",
            "dates": ["2027-04-03"]}  # fmt: skip
    why = {}
    for country, more in (("US", {}), ("DE", {}), ("DE", {"notation": "1 234,56", "date_order": "month_first"})):
        document = plan_of(held("bank", "checking", 0), flows=[bill], country=country, **more)
        done(client.put("/api/plan", json=document))
        why[country, bool(more)] = done(client.get("/api/forecast?until=2027-05-01"))["events"][0]["why"]
    assert why == {
        ("US", False): "On April 3, 2027; $12,345.67.", ("DE", False): "On 3 April 2027; $12.345,67.",
        ("DE", True): "On April 3, 2027; $12\N{NARROW NO-BREAK SPACE}345,67.",
    }  # fmt: skip
    # A rate may be written with a comma.
    lent = {**held("debt", "loan", -900_00), "loan": {**loan(900_00, 12), "annual_rate": "5,85"}}
    done(client.put("/api/plan", json=plan_of(lent)))
    assert done(client.get("/api/plan"))["accounts"][0]["loan"]["annual_rate"] == "5.85"


def test_years_before_the_household_began_are_in_its_years_and_totals_are_of_all_loans() -> None:
    before = [{"year": 2026, "interest": 41_50, "property_tax": 800_00}]
    old = held("old", "loan", -900_00, loan=loan(1_000_00, 24, years_before=before))
    weekly = held("new", "loan", -520_00, currency="EUR", loan=loan(520_00, 52, payments_per_year=52))
    client = client_of()
    rates = [{"date": "2026-01-01", "from": "EUR", "to": "USD", "rate": "2"}]
    done(client.put("/api/plan", json=plan_of(old, weekly, rates=rates)))
    assert done(client.get("/api/plan"))["accounts"][0]["loan"]["years_before"] == before
    year = done(client.get("/api/review/year?year=2026"))
    assert year["years"] == [2026, 2027, 2028]
    (told,) = year["loans"]
    assert (told["parts"]["interest"], told["interest_before"], told["property_tax_before"]) == (41_50, 41_50, 800_00)
    debts = done(client.get("/api/debts"))
    one, other = debts["loans"]
    assert debts["loan_totals"] == {
        "owed": 900_00 + 2 * 520_00, "original": 1_000_00 + 2 * 520_00, "paid_down": 100_00,
        "monthly": one["payment"] + 2 * ((other["payment"] * 52 + 6) // 12),
        "interest_left": one["interest_left"] + 2 * other["interest_left"],
    }  # fmt: skip
    odd = [*before, {"year": 2026}, {"year": 2025}, {"year": 2028}, {"year": 2026, "interest": -1}]
    for at in range(1, len(odd)):
        change = {"op": "update", "kind": "account", "id": "old",
                  "value": {"loan": loan(1_000_00, 24, years_before=[before[0], odd[at]])}}  # fmt: skip
        answer = client.post("/api/changes", json={"changes": [change]})
        assert (answer.status_code, answer.json()["detail"][0]["loc"][-3:-1]) == (422, ["years_before", 1])


def test_the_tax_year_entries_found_and_the_change_number() -> None:
    def spent(id: str, day: str, account: str, amount: int, tags: list[str], **more: Any) -> Json:
        return {"id": id, "date": day, "payee": f"Payee {id}", "tags": tags, "legs": [
            {"account": account, "amount": -amount}, {"category": "care", "amount": amount}], **more}  # fmt: skip

    client = client_of()
    done(client.put("/api/plan", json=plan_of(
        held("bank", "checking", 900_00), held("euro", "cash", 900_00, currency="EUR"),
        categories=[{"id": "care", "name": "Care"}],
        rates=[{"date": "2026-01-01", "from": "EUR", "to": "USD", "rate": "2"}],
        entries=[spent("a", "2026-05-01", "bank", 12_50, ["Medical"], notes="=1+1"),
                 spent("b", "2026-12-31", "euro", 10_00, ["medical", "gift"]),
                 spent("c", "2027-01-01", "bank", 99_00, ["medical"]), spent("d", "2026-05-02", "bank", 7_00, [])],
    )))  # fmt: skip
    year = done(client.get("/api/review/tax-year?year=2026"))
    assert [(tag["tag"], tag["total"], [each["id"] for each in tag["entries"]]) for tag in year["tags"]] == [
        ("gift", 20_00, ["b"]), ("Medical", 32_50, ["a", "b"])]  # fmt: skip
    assert year["years"] == [2027, 2026]
    book = load_workbook(BytesIO(client.get("/api/review/tax-year.xlsx?year=2026").content))
    rows = [[cell.value for cell in row] for row in book["2026"].iter_rows()]
    assert (rows[2][7], rows[3][5], rows[5][7]) == ("=SUM(H2:H2)", "=1+1", "=SUM(H4:H5)")
    assert book["2026"]["F4"].data_type == "s"
    for text, ids in (("payee a", "a"), ("MEDICAL", "bac"), ("12.50", "a"), ("7", "d"), ("%", ""), ("99,00", "c")):
        found = done(client.get("/api/entries/find", params={"text": text}))["entries"]
        assert sorted(each["id"] for each in found) == sorted(ids)
    before = done(client.get("/api/change-number"))["number"]
    bill = {"name": "Old", "kind": "bill", "amount": 100, "from_account": "bank", "start": "2026-12-01",
            "rules": ["FREQ=MONTHLY"], "known_since": "2026-12-01"}  # fmt: skip
    told = done(
        client.post("/api/changes", json={"changes": [{"op": "add", "kind": "flow", "id": "o", "value": bill}]})
    )
    assert told["notes"] == ["3 dates of “Old” before today will be past due: should it begin later?"]
    assert done(client.get("/api/change-number"))["number"] > before


_CLIENT = client_of()


@settings(max_examples=examples(40), deadline=None, suppress_health_check=list(HealthCheck))
@given(documents() | acting_documents(), st.integers(0, 300_00))
def test_any_household_is_answered_and_every_remedy_holds_when_previewed(document: Json, amount: int) -> None:
    if _CLIENT.put("/api/plan", json=document).status_code != 200:
        return
    until = "2027-08-01"
    for account in document["accounts"]:
        id = account["id"]
        asked = {"account": id, "amount": amount, "on": "2027-04-10", "monthly": amount % 2 == 1, "until": until}
        assert _CLIENT.post("/api/afford", json=asked).status_code in (200, 422)
        months = done(_CLIENT.get(f"/api/months?from=2026-12&count=9&accounts={id}"))
        for at, month in enumerate(months["months"]):
            assert sum(row["cells"][at]["amount"] for row in months["rows"]) == month["net"]
        found = done(_CLIENT.get(f"/api/remedies?account={id}&until={until}"))
        for remedy in found["remedies"][:3]:
            seen = done(_CLIENT.post("/api/forecast/preview", json={"until": until, "changes": remedy["changes"]}))
            after = next(each for each in seen["accounts"] if each["id"] == id)
            stretch = found["stretch"]
            assert not [each for each in after["stretches"] if each["below"] == "floor"
                        and each["from"] <= stretch["to"] and each["to"] >= stretch["from"]]  # fmt: skip


@settings(max_examples=examples(25), deadline=None, suppress_health_check=list(HealthCheck))
@given(acting_documents(), st.integers(0, 400_00), st.sampled_from(["smallest_balance", "highest_rate"]))
def test_any_way_out_conserves_survives_the_document_and_is_dropped_without_a_trace(
    document: Json, extra: int, strategy: str
) -> None:
    for account in document["accounts"]:
        if account.get("card"):  # Dropping a way out keeps no change that changes nothing, and puts them in order.
            says = ("amount", "moved_to", "left_out", "interest")
            changes = [
                change for change in account["card"]["changes"] if any(change[key] not in (None, False) for key in says)
            ]
            account["card"]["changes"] = sorted(changes, key=lambda change: change["closing"])
    if _CLIENT.put("/api/plan", json=document).status_code != 200:
        return
    before = plan_alone(done(_CLIENT.get("/api/plan")))
    asked = {"extra_monthly": extra, "strategy": strategy, "start": "2027-04"}
    answer = _CLIENT.post("/api/payoff", json=asked)
    if answer.status_code == 422:
        return
    found = done(answer)
    for month in found["months"]:
        for debt in month["debts"].values():
            assert debt["closing"] == debt["opening"] + debt["interest"] - debt["minimum"] - debt["extra"] >= 0
    if found["never_clears"] or _CLIENT.post("/api/payoff/adopt", json=asked).status_code != 200:
        return
    adopted = done(_CLIENT.get("/api/plan"))
    assert done(_CLIENT.put("/api/plan", json=adopted)) == adopted
    done(_CLIENT.delete("/api/payoff/adopt"))
    assert plan_alone(done(_CLIENT.get("/api/plan"))) == before
