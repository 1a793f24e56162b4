"""The way out of debt over HTTP: the household's own plan, what it bears, adopted, followed and taken away."""

import csv
import io
import sys
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import openpyxl
import pytest
from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from stores import new_store

sys.path.append(str(Path(__file__).parents[1] / "core"))
from payoff_ledger import Json, number, pay_off, text


@pytest.fixture
def later(demo: TestClient) -> Json:
    """A plan from May on: by then the demo's short month is over."""
    return {"start": "2027-05", "extra_monthly": 200_00}


def ask(demo: TestClient, **asked: Any) -> Json:
    answer = demo.post("/api/payoff", json=asked)
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_the_households_debts_are_those_of_its_accounts(demo: TestClient) -> None:
    got = ask(demo)
    held = demo.get("/api/debts").json()
    owed = {each["id"]: each["owed"] for each in (*held["loans"], *held["cards"]) if each["id"] != "wharf"}
    # Nothing has moved on the first day of the month: what was owed at its eve is what is owed today.
    assert {each["id"]: each["owed"] for each in got["debts"]} == owed
    assert got["notes"] == ["“Wharf card” is paid in full every month: it is left out."]
    assert "wharf" in [each["id"] for each in ask(demo, debts=["wharf", "heron"])["debts"]]
    # A loan with equal periods is, month by month, what its own page says.
    page = demo.get("/api/debts/house").json()
    due = {row["due"][:7]: row for row in page["rows"]}
    minimums = ask(demo, strategy="minimums")
    for month in minimums["months"][:60]:
        row, planned = due[month["month"]], month["debts"]["house"]
        assert (planned["interest"], planned["minimum"], planned["closing"]) == (
            row["interest"], row["payment"], row["balance"],
        )  # fmt: skip


def test_the_picture_is_that_of_the_months(demo: TestClient, later: Json) -> None:
    for wish in (later, {**later, "strategy": "cheapest"}, {**later, "cap": "affordable", "extra_monthly": 900_00}):
        got, picture = ask(demo, **wish, want=["cheapest"]), demo.post("/api/payoff/picture", json=wish).json()
        months, ids = got["months"], [debt["id"] for debt in picture["debts"]]
        assert picture["months"] == len(months)
        owed = [[month["debts"][id]["closing"] for id in ids] for month in months]
        planned = [month for month in picture["owed"] if month["month"] >= picture["start"]]
        assert [month["owed"] for month in planned] == owed
        assert [month["sum"] for month in planned] == got["owed"] == list(map(sum, owed))
        assert all(month["is_planned"] == (month["month"] >= "2027-03") for month in picture["owed"])
        begin = picture["owed"][-len(months) - 1]
        assert (begin["month"], begin["owed"]) == ("2027-04", [debt["owed"] for debt in picture["debts"]])
        paid = [[month["debts"][id]["minimum"] + month["debts"][id]["extra"] for id in ids] for month in months]
        assert got["paid"] == list(map(sum, paid))
        page = demo.post("/api/payoff/printed", json=wish).json()
        size = page["months_a_line"]
        assert len(page["lines"]) == -(-len(months) // size) <= 40
        for at, line in enumerate(page["lines"]):
            together = slice(at * size, (at + 1) * size)
            assert line["until"] == months[together][-1]["month"]
            assert line["paid"] == [sum(column) for column in zip(*paid[together], strict=True)]
            assert (line["owed"], line["sum"]) == (owed[together][-1], sum(owed[together][-1]))
        least = next(each for each in got["comparison"] if each["strategy"] == "minimums")
        best = min(each["total_interest"] for each in got["comparison"])
        saved = least["total_interest"] - got["total_interest"], least["months"] - len(months)
        assert (picture["least"]["saves_interest"], picture["least"]["saves_months"]) == saved
        assert got["cheapest"]["saves_more"] == best - got["cheapest"]["total_interest"]
        assert got["cheapest"]["saves_interest"] == least["total_interest"] - got["cheapest"]["total_interest"]
    least = ask(demo, **later, strategy="minimums")
    assert (picture["least"]["months"], picture["least"]["total_interest"]) == (
        len(least["months"]), least["total_interest"],
    )  # fmt: skip


def headrooms(demo: TestClient, days: list[str], until: str) -> list[int]:
    """The least headroom of the joint account from each of some days on, day by day."""
    (joint,) = demo.get(f"/api/forecast?until={until}&accounts=joint").json()["accounts"]
    steps, balance, day = dict(joint["steps"]), joint["today_balance"], date(2027, 3, 1)
    levels = {}
    while day <= date.fromisoformat(until):
        balance = steps.get(day.isoformat(), balance)
        levels[day.isoformat()] = balance - 250_00
        day += timedelta(days=1)
    return [min(room for on, room in levels.items() if on >= first) for first in days]


def test_what_can_be_spared_is_what_the_forecast_bears(demo: TestClient, later: Json) -> None:
    got = ask(demo, **later, until="2029-12-31", want=["affordable"])["affordable"]
    # The mortgage is due on the first of every month: the earliest day on which anything is due.
    days = [f"{text(month)}-01" for month in range(number("2027-05"), number("2029-12") + 1)]
    rooms = headrooms(demo, days, "2029-12-31")
    assert got["even"] == max(0, min(room // (place + 1) for place, room in enumerate(rooms)))
    taken, early = 0, []
    for room in rooms:
        early.append(max(0, room - taken))
        taken += early[-1]
    assert [each["amount"] for each in got["early"]] == early
    wish = {**later, "until": "2029-12-31", "extra_monthly": 400_00}
    strained = demo.post("/api/payoff/picture", json=wish).json()["strained"]
    too_much = [day[:7] for place, day in enumerate(days) if 400_00 * (place + 1) > rooms[place]]
    assert strained == too_much != []
    now = ask(demo, want=["affordable"])["affordable"]
    assert (now["even"], now["later"]["month"]) == (0, "2027-05")


def test_within_what_the_forecast_bears_no_floor_is_broken(demo: TestClient, later: Json) -> None:
    wished = {**later, "extra_monthly": 500_00, "cap": "affordable"}
    got = demo.post("/api/payoff/picture", json=wished).json()
    assert got["own"] != got["wished"]
    assert all(own <= wish for own, wish in zip(got["own"], got["wished"], strict=True))
    assert demo.post("/api/payoff/adopt", json=wished).status_code == 200
    (joint,) = demo.get("/api/forecast?until=2037-03-31&accounts=joint").json()["accounts"]
    short = [each for each in joint["stretches"] if each["below"] == "floor" and each["from"] >= "2027-05"]
    assert short == []


def test_the_cheapest_way_is_never_dearer_than_an_order(demo: TestClient) -> None:
    cheaper = 0
    for extra in (0, 150_00, 900_00):
        got = ask(demo, start="2027-05", extra_monthly=extra, want=["cheapest"])
        best = min(each["total_interest"] for each in got["comparison"])
        assert got["cheapest"]["total_interest"] <= best
        cheaper += got["cheapest"]["total_interest"] < best
        for month in got["cheapest"]["months"]:
            for debt in month["debts"].values():
                assert debt["closing"] == debt["opening"] + debt["interest"] - debt["minimum"] - debt["extra"] >= 0
    # A promotional rate ends within the plan.
    plan = demo.get("/api/plan").json()
    heron = next(each for each in plan["accounts"] if each["id"] == "heron")
    assert len(heron["card"]["rates"]) > 1


def test_adopting_makes_the_payments_expected_and_dropping_takes_them_back(demo: TestClient, later: Json) -> None:
    before = demo.get("/api/plan").json()
    extra = {
        "op": "extra",
        "kind": "account",
        "id": "house",
        "value": {"amount": 50_00, "every": 1, "from": "2027-04-01"},
    }
    assert demo.post("/api/changes", json={"changes": [extra]}).status_code == 200
    planned = demo.get("/api/plan").json()
    got = ask(demo, **later)
    assert demo.post("/api/payoff/adopt", json=later).json()["done"] == "Adopted a way out of debt"
    adopted = demo.get("/api/plan").json()
    assert adopted["way_out"]["on"] == "2027-03-01"
    assert demo.put("/api/plan", json=adopted).status_code == 200
    assert demo.get("/api/plan").json() == adopted
    # Loans are then paid as planned, to the minor unit, until they are cleared.
    for id in ("house", "engine", "solar"):
        due: dict[str, int] = {}
        for row in demo.get(f"/api/debts/{id}").json()["rows"]:
            due[row["due"][:7]] = row["balance"]
        for month in got["months"]:
            if month["debts"][id]["opening"]:
                assert due[month["month"]] == month["debts"][id]["closing"]
    # The card's statements are paid what its months have.
    events = demo.get("/api/forecast?until=2027-12-31&accounts=heron").json()["events"]
    paid = {each["date"][:7]: each["amount"] for each in events if each["source"] == "card_payment"}
    heron = {month["month"]: month["debts"]["heron"] for month in got["months"]}
    for month in ("2027-05", "2027-06", "2027-09"):
        assert paid[month] == heron[month]["minimum"] + heron[month]["extra"]
    assert demo.delete("/api/payoff/adopt").status_code == 200
    assert demo.get("/api/plan").json() == planned
    assert demo.delete("/api/payoff/adopt").status_code == 422
    for _ in range(4):
        demo.post("/api/undo")
    assert demo.get("/api/plan").json() == before


def test_progress_tells_what_was_paid_against_the_plan(later: Json) -> None:
    store = new_store()
    today = [date(2027, 3, 1)]
    client = TestClient(create_app(store, lambda: today[0]), base_url="http://127.0.0.1:8765")
    loan = {
        "principal": 12_000_00, "annual_rate": "6", "payments": 24, "disbursed": "2027-02-10",
        "first_payment": "2027-03-10", "from_account": "joint",
    }  # fmt: skip
    opening = {"date": "2027-02-10", "balance": 9_000_00}
    client.put("/api/plan", json={
        "format": "next-penny-plan", "version": 1, "currency": "USD",
        "accounts": [
            {"id": "joint", "name": "Joint", "kind": "checking", "opening": opening},
            {"id": "boat", "name": "Boat", "kind": "loan", "opening": {**opening, "balance": -12_000_00}, "loan": loan},
        ],
    })  # fmt: skip
    asked = {"extra_monthly": 200_00}
    months = ask(client, **asked)["months"]
    client.post("/api/payoff/adopt", json=asked)
    told = months[0]["debts"]["boat"]
    due = told["minimum"] + told["extra"]
    today[0] = date(2027, 3, 10)
    before = client.get("/api/payoff/progress").json()["progress"]
    assert (before["ahead"], before["months_later"]) == (0, 0)
    line = {"flow": "boat-payment", "nominal": "2027-03-10", "do": "settle", "amount": due - 150_00}
    assert client.post("/api/settle", json={"lines": [line]}).status_code == 200
    after = client.get("/api/payoff/progress").json()["progress"]
    assert after["ahead"] == -150_00
    (boat,) = after["debts"]
    assert boat["owed"] - boat["expected"] == 150_00
    # From April on as the wish has it, with what is now owed.
    rest = {"start": "2027-04", "debts": [{
        "id": "boat", "balance": boat["owed"], "annual_rate": "6", "minimum": {"fixed": told["minimum"]},
    }], "extra_monthly": 200_00}  # fmt: skip
    assert after["debt_free"] == pay_off(rest, "highest_rate")["months"][-1]["month"]
    (year,) = client.get("/api/payoff/progress").json()["on_record"][0]["years"]
    assert year == {"year": 2027, "paid": due - 150_00, "interest": told["interest"], "owed": boat["owed"]}
    store.close()


def test_questions_in_reverse(demo: TestClient, later: Json) -> None:
    extra = demo.post("/api/payoff/extra-for", json={"asked": later, "by": "2036-12"}).json()["extra_monthly"]
    assert ask(demo, **{**later, "extra_monthly": extra})["debt_free"] <= "2036-12"
    assert ask(demo, **{**later, "extra_monthly": extra - 1})["debt_free"] > "2036-12"
    worth = demo.post("/api/payoff/worth", json={"asked": later, "month": "2027-06", "amount": 2_000_00}).json()[
        "worth"
    ]
    # A sum at the debt that is first anyway is a one-time amount.
    once = ask(demo, **later, one_time=[{"month": "2027-06", "amount": 2_000_00}])
    saved = ask(demo, **later)["total_interest"] - once["total_interest"]
    assert saved in [each["saves_interest"] for each in worth]
    kept = demo.post("/api/payoff/savings", json={
        "asked": later, "month": "2027-06", "amount": 1_000_00, "account": "rainy-day",
    }).json()  # fmt: skip
    apy = next(each for each in demo.get("/api/plan").json()["accounts"] if each["id"] == "rainy-day")["savings"]["apy"]
    days = (date.fromisoformat(kept["until"]) - date(2027, 6, 1)).days
    assert kept["yield_lost"] == round(1_000_00 * ((1 + float(apy) / 100) ** (days / 365) - 1))
    assert kept["saves_interest"] > 0


def test_debts_replaced_by_one(demo: TestClient, later: Json) -> None:
    got = demo.post("/api/payoff/consolidation", json={
        "asked": later, "chosen": ["heron", "harbour"],
        "loan": {"annual_rate": "0", "payments": 10, "fees": 10_00, "fees_financed": True},
    }).json()  # fmt: skip
    assert got["owed"] == got["moved"] + 10_00
    assert got["payment"] == -(-got["owed"] // 10) or got["payment"] == round(got["owed"] / 10)
    assert got["saves"] == got["costs_before"] - got["costs"]
    # One debt in the place of its like changes nothing, also within what the forecast bears.
    bound = {**later, "extra_monthly": 900_00, "cap": "affordable", "debts": ["engine", "harbour"]}
    line = next(each for each in demo.get("/api/plan").json()["accounts"] if each["id"] == "harbour")["card"]
    same = demo.post("/api/payoff/consolidation", json={
        "asked": bound, "chosen": ["harbour"],
        "card": {"rates": line["rates"], "minimum": line["minimum"], "fee_percent": "0"},
    }).json()  # fmt: skip
    assert (same["saves"], same["debt_free"]) == (0, same["debt_free_before"])
    none = demo.post(
        "/api/payoff/consolidation", json={"asked": later, "chosen": [], "loan": {"annual_rate": "0", "payments": 10}}
    )
    assert none.json()["detail"][0]["loc"] == ["body", "chosen"]


def test_the_table_leaves_as_lines_and_as_live_formulas(demo: TestClient) -> None:
    asked = '{"start": "2027-05", "extra_monthly": 20000}'
    got = ask(demo, start="2027-05", extra_monthly=200_00)
    lines = list(csv.DictReader(io.StringIO(demo.get("/api/payoff/table.csv", params={"asked": asked}).text)))
    heron = [line for line in lines if line["debt"] == "Heron card"]
    planned = [month["debts"]["heron"] for month in got["months"] if month["debts"]["heron"]["opening"]]
    assert [round(float(line["closing"]) * 100) for line in heron] == [month["closing"] for month in planned]
    book = openpyxl.load_workbook(io.BytesIO(demo.get("/api/payoff/table.xlsx", params={"asked": asked}).content))
    texts = [str(cell.value) for row in book.active.iter_rows() for cell in row if cell.value is not None]
    assert sum(text.startswith("=ROUND(") for text in texts) > len(got["months"])
    assert demo.get("/api/payoff/table.csv", params={"asked": "{"}).status_code == 422


@pytest.mark.parametrize(("asked", "loc"), [
    ({"start": "2027-02"}, ["body", "start"]),
    ({"start": "2047-02"}, ["body", "start"]),
    ({"debts": ["heron", "joint"]}, ["body", "debts", 1]),
    ({"one_time": [{"month": "2027-04", "amount": 5}], "start": "2027-05"}, ["body", "one_time"]),
    ({"from_account": "heron", "want": ["affordable"]}, ["body", "from_account"]),
    ({"extra_monthly": -5}, ["body", "extra_monthly"]),
    ({"until": "2027-02-01"}, ["body", "until"]),
])  # fmt: skip
def test_a_way_out_that_cannot_be_asked(demo: TestClient, asked: Json, loc: list[Any]) -> None:
    for path in ("/api/payoff", "/api/payoff/adopt"):
        answer = demo.post(path, json=asked)
        if path.endswith("adopt") and "want" in asked:
            continue
        assert answer.status_code == 422
        assert answer.json()["detail"][0]["loc"] == loc


def test_a_household_without_debts_has_nothing_to_pay_off() -> None:
    store = new_store()
    client = TestClient(create_app(store, lambda: date(2027, 3, 15)), base_url="http://127.0.0.1:8765")
    for path in ("/api/payoff", "/api/payoff/picture"):
        got = client.post(path, json={}).json()
        assert (got["debts"], got["debt_free"], got["total_interest"], got["start"]) == ([], None, 0, "2027-04")
    assert client.get("/api/payoff/progress").json()["progress"] is None
    assert client.post("/api/payoff/adopt", json={}).json()["detail"][0]["loc"] == ["body", "debts"]
    store.close()


def test_a_question_about_a_way_out_that_cannot_be_names_its_field(demo: TestClient) -> None:
    asked = {"start": "2027-02"}
    for path, more in (("extra-for", {"by": "2030-01"}), ("worth", {"month": "2027-05", "amount": 5})):
        answer = demo.post(f"/api/payoff/{path}", json={"asked": asked, **more})
        assert [each["loc"] for each in answer.json()["detail"]] == [["body", "asked", "start"]]
    early = demo.post("/api/payoff/worth", json={"asked": {"start": "2027-05"}, "month": "2027-04", "amount": 5})
    assert early.json()["detail"][0]["loc"] == ["body", "month"]


def test_an_account_in_the_plan_stays_until_the_plan_is_dropped(demo: TestClient, later: Json) -> None:
    demo.post("/api/payoff/adopt", json=later)
    answer = demo.post("/api/changes", json={"changes": [{"op": "remove", "kind": "account", "id": "engine"}]})
    assert answer.status_code == 422


def test_a_minimum_without_a_percentage_is_fixed_and_frees_all_of_itself() -> None:
    def loan(id: str, owed: int, rate: str, payment: int) -> Json:
        terms = {"principal": owed, "annual_rate": rate, "payment": payment, "disbursed": "2027-03-01",
                 "first_payment": "2027-04-01", "from_account": "joint"}  # fmt: skip
        return {
            "id": id,
            "name": id,
            "kind": "loan",
            "opening": {"date": "2027-03-01", "balance": -owed},
            "loan": terms,
        }

    card = {"limit": 10_000_00, "closing_day": 10, "due": {"day": 1}, "pays": "minimum", "from_account": "joint",
            "rates": [{"from": "2027-01-01", "annual_rate": "22.9"}], "minimum": {"floor": 210_00}}  # fmt: skip
    accounts = [
        {"id": "joint", "name": "Joint", "kind": "checking", "opening": {"date": "2027-03-01", "balance": 50_000_00}},
        {"id": "card", "name": "Card", "kind": "credit_card", "opening": {"date": "2027-03-01", "balance": -5200_00},
         "card": card},
        loan("a", 12_000_00, "4.5", 450_00), loan("b", 9_400_00, "5.8", 180_00), loan("c", 7_600_00, "7.2", 300_00),
    ]  # fmt: skip
    home = TestClient(create_app(new_store(), lambda: date(2027, 3, 1)), base_url="http://127.0.0.1")
    plan = {"format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": accounts}
    assert home.put("/api/plan", json=plan).status_code == 200
    told = home.post("/api/payoff", json={"start": "2027-03", "extra_monthly": 350_00, "strategy": "smallest_balance",
                                          "one_time": [{"month": "2027-03", "amount": 1_000_00}]}).json()  # fmt: skip
    extra = {month["month"]: sum(each["extra"] for each in month["debts"].values()) for month in told["months"]}
    assert (extra["2027-11"], extra["2027-12"]) == (350_00 + 91_22, 350_00 + 210_00)
    assert (told["debt_free"], told["total_interest"]) == ("2029-03", 2_220_16)


def test_the_way_out_begins_with_what_is_paid_now_and_says_what_it_lowers() -> None:
    card = {"limit": 10_000_00, "closing_day": 10, "due": {"day": 5}, "rates": [{"from": "2026-01-01", "annual_rate": "19.8"}],
            "minimum": {"percent": "2", "plus_interest": True, "floor": 25_00}, "pays": "fixed", "fixed_amount": 150_00,
            "from_account": "joint"}  # fmt: skip
    terms = {"principal": 5_000_00, "annual_rate": "0", "payments": 50, "disbursed": "2027-02-01", "from_account": "joint",
             "first_payment": "2027-03-20", "extras": [{"amount": 40_00, "every": 1}, {"amount": 120_00, "yearly_in": 5},
             {"amount": 500_00, "date": "2027-04-20"}]}  # fmt: skip
    accounts = [
        {"id": "joint", "name": "Joint", "kind": "checking", "opening": {"date": "2027-02-01", "balance": 50_000_00}},
        {"id": "card", "name": "Card", "kind": "credit_card", "opening": {"date": "2027-02-01", "balance": -2_600_00},
         "card": card},
        {"id": "desk", "name": "Desk", "kind": "loan", "opening": {"date": "2027-02-01", "balance": -5_000_00},
         "loan": terms},
    ]  # fmt: skip
    home = TestClient(create_app(new_store(), lambda: date(2027, 3, 1)), base_url="http://127.0.0.1")
    assert home.put("/api/plan", json={"format": "next-penny-plan", "version": 1, "currency": "USD",
                                       "accounts": accounts}).status_code == 200  # fmt: skip
    paid_now = home.get("/api/payoff/progress").json()["paid_now"]
    # 2 % and a month's interest of 2,600.00 is 94.90; the rest of 150.00, 40.00 a month and 120.00 a year are beyond.
    assert paid_now == 150_00 - 94_90 + 40_00 + 10_00
    told = home.post("/api/payoff/adopt", json={"strategy": "minimums"}).json()["notes"]
    assert told == ["“Card” is paid $94.90 in March 2027, not $150.00 as now.",
                    "“Desk” is paid $100.00 in March 2027, not $150.00 as now."]  # fmt: skip
