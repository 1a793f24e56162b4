"""Loans over HTTP: the calculators' fixed surface, the household's loans, alternatives, adoption, and files out."""

import json
from datetime import date
from typing import Any

import pytest
from fastapi.testclient import TestClient

from answers import Json, done

TODAY = date(2027, 3, 1)
LOAN: Json = {
    "principal": 200_000_00, "annual_rate": "6.5", "payments": 360, "disbursed": "2027-01-01", "first_payment": "2027-02-01",
}  # fmt: skip


def post(client: TestClient, path: str, **body: Any) -> Json:
    return done(client.post(path, json=body))


def refusal(answer: Any) -> tuple[list[Any], str]:
    assert answer.status_code == 422, answer.text
    problem = answer.json()["detail"][0]
    return problem["loc"][1:], problem["msg"]


def test_the_schedule_has_the_fixed_fields_and_its_totals_add_up(demo: TestClient) -> None:
    extra = {"amount": 200_00, "every": 1, "from": "2028-01-01", "to": None}
    escrow = [{"from": "2027-01-01", "amount": 300_00}]
    told = post(
        demo,
        "/api/tools/loan-schedule",
        **LOAN,
        extras=[extra],
        escrow=escrow,
        fees=[{"name": "Points", "amount": 1000_00}],
    )
    rows = told["rows"]
    assert list(rows[0]) == [
        "number", "due", "annual_rate", "payment", "interest", "principal", "extra", "escrow", "insurance", "balance",
    ]  # fmt: skip
    assert rows[0] == {
        "number": 1, "due": "2027-02-01", "annual_rate": "6.5", "payment": 1264_14, "interest": 1083_33,
        "principal": 180_81, "extra": 0, "escrow": 300_00, "insurance": 0, "balance": 199_819_19,
    }  # fmt: skip
    for name in ("payment", "interest", "principal", "extra", "escrow", "insurance"):
        assert told["totals"][name] == sum(row[name] for row in rows)
    assert told["totals"]["principal"] + told["totals"]["extra"] == 200_000_00
    assert told["totals"]["fees"] == 1000_00
    plain = post(demo, "/api/tools/loan-schedule", **LOAN)
    assert told["without_extras"] == {
        "interest": plain["totals"]["interest"], "paid_off": "2057-01-01", "payments": 360,
    }  # fmt: skip
    assert told["saves"]["interest"] == plain["totals"]["interest"] - told["totals"]["interest"] > 0
    assert told["saves"]["payments"] == 360 - len(rows)
    assert told["in_all"]["total"] == sum(told["in_all"]["rows"])
    assert told["paid_out"] == {"on": "2027-01-01", "fees": 1000_00, "fees_financed": 0, "owed": 200_000_00}
    years = {"years": "30", "payments": None}
    assert post(demo, "/api/tools/loan-schedule", **{**LOAN, **years})["rows"] == plain["rows"]
    assert refusal(demo.post("/api/tools/loan-schedule", json={**LOAN, "years": "30"}))[0] == ["payments"]
    assert refusal(demo.post("/api/tools/loan-schedule", json={**LOAN, **years, "years": "2.3"}))[0] == ["payments"]
    assert (told["paid_off"], plain["apr"]) == (rows[-1]["due"], "6.500")
    assert float(told["apr"]) > 6.5
    assert sum(year["interest_paid"] for year in told["by_year"]) == told["totals"]["interest"]
    half = {**LOAN, "principal": 100_000_00}
    told = post(demo, "/api/debts/alternatives", loan=LOAN, variants=[{"principal": 100_000_00}])["outcomes"][1]
    assert told["total_interest"] == post(demo, "/api/tools/loan-schedule", **half)["totals"]["interest"]
    told = post(demo, "/api/debts/alternatives", account="house", variants=[{"principal": 100_000_00}])["outcomes"][1]
    assert told["problem"] == "This loan was paid out: what was borrowed is as it was."


def test_payoff_amount_and_annual_percentage_rate(demo: TestClient) -> None:
    owed = post(demo, "/api/tools/payoff-amount", loan={**LOAN, "interest": "actual_365"}, on="2027-02-11")
    # Ten days on what the first payment left.
    assert owed["accrued_interest"] == round(owed["balance"] * 0.065 * 10 / 365)
    assert owed["total"] == owed["balance"] + owed["accrued_interest"]
    payments = [{"date": "1978-02-10", "amount": 230_00, "count": 24, "every": "1 month"}]
    told = post(demo, "/api/tools/apr", advances=[{"date": "1978-01-10", "amount": 5000_00}], payments=payments)
    assert told == {"apr": "9.686", "unit_period": "1 month", "unit_periods_a_year": "12"}
    payments[0]["every"] = "1 fortnight"
    refused = demo.post(
        "/api/tools/apr", json={"advances": [{"date": "1978-01-10", "amount": 1}], "payments": payments}
    )
    assert refusal(refused)[0] == ["payments", 0, "every"]


@pytest.mark.parametrize(
    ("change", "loc", "words"),
    [
        ({"payments": 0}, ["payments"], "at least one payment"),
        ({"annual_rate": "201"}, ["annual_rate"], "between 0 and 200"),
        ({"payment": 900_00}, ["payment"], "does not cover interest"),
        ({"payment": 1100_00}, ["payment"], "181,563.59 more than the others"),
        ({"extras": [{"amount": 5, "every": 0}]}, ["extras", 0, "every"], "1 or more"),
        ({"payments_per_year": 13}, ["payments_per_year"], "not possible here"),
    ],
)
def test_bad_terms_are_refused_at_their_field(demo: TestClient, change: Json, loc: list[Any], words: str) -> None:
    found = refusal(demo.post("/api/tools/loan-schedule", json={**LOAN, **change}))
    assert found[0] == loc
    assert words in found[1]


def test_an_extra_after_payoff_is_accepted_and_said_to_have_no_effect(demo: TestClient) -> None:
    told = post(demo, "/api/tools/loan-schedule", **LOAN, extras=[{"amount": 5, "date": "2060-01-01"}])
    assert told["notes"] == [
        "The extra of January 1, 2060 comes after the loan is paid off on January 1, 2057: it has no effect."
    ]


def test_the_forecast_pays_loans_and_settling_one_records_its_legs(demo: TestClient) -> None:
    page = demo.get("/api/debts/house").json()
    row = next(row for row in page["rows"] if row["due"] == "2027-03-01")
    events = demo.get("/api/forecast?until=2027-03-31").json()["events"]
    told = {event["account"]: event["amount"] for event in events if event["flow"] == "mortgage"}
    assert told == {"joint": -2184_55, "house": row["principal"], "escrow": row["escrow"]}
    assert sum(row[name] for name in ("interest", "principal", "escrow")) == 2184_55
    post(demo, "/api/settle", lines=[{"flow": "mortgage", "nominal": "2027-03-01", "do": "settle", "amount": 2300_00}])
    legs = demo.get("/api/plan").json()["entries"][-1]["legs"]
    # What was paid beyond the payment is principal.
    assert {leg.get("account") or leg["category"]: leg["amount"] for leg in legs} == {
        "joint": -2300_00, "house": row["principal"] + 115_45, "interest": row["interest"], "escrow": row["escrow"],
    }  # fmt: skip
    after = demo.get("/api/debts/house").json()
    assert after["settled"][-1] == "2027-03-01"
    coming = next(row for row in after["rows"] if row["due"] == "2027-04-01")
    assert coming["interest"] == round((page["owed"] - row["principal"] - 115_45) * 0.05625 / 12)
    part = {"flow": "mortgage", "nominal": "2027-04-01", "do": "settle", "amount": 5, "part": True}
    assert "settled whole" in refusal(demo.post("/api/settle", json={"lines": [part]}))[1]


def test_the_overview_is_the_sum_of_its_loans(demo: TestClient) -> None:
    told = demo.get("/api/debts").json()
    assert (
        told["owed"] == sum(loan["owed"] for loan in told["loans"]) == told["balances"][0][1] + told["this_day"]
        if "this_day" in told
        else True
    )
    accounts = {row["account"]["id"]: row["today_balance"] for row in demo.get("/api/accounts").json()["accounts"]}
    assert {loan["id"]: -loan["owed"] for loan in told["loans"]} == {
        id: accounts[id] for id in ("house", "engine", "solar")
    }
    assert told["debt_free"] == max(loan["paid_off"] for loan in told["loans"])[:7]
    assert told["balances"][-1][1] == 0
    solar = demo.get("/api/debts/solar").json()
    # The rate changes nine months ahead, from the first period that begins by then.
    changed = [row["due"] for row in solar["rows"] if row["annual_rate"] == "6.4"]
    assert changed[0] == "2028-01-05"
    assert sum(year["principal"] for year in told["years"]) == sum(loan["owed"] for loan in told["loans"])


WISHES: list[Json] = [
    {"name": "A little more", "extra": 200_00, "lump": 5000_00, "lump_on": "2027-06-14"},
    {"name": "Anew", "refinance": True, "annual_rate": "4.8", "fees": 3000_00},
    {"name": "Sooner", "payments": 180},
    {"name": "Every two weeks", "payments_per_year": 26, "accelerated": True},
]


def test_a_sum_once_is_paid_on_its_day_which_is_yet_to_come(demo: TestClient) -> None:
    lump = {"lump": 5000_00, "lump_on": "2027-06-14"}
    told = post(demo, "/api/debts/alternatives", account="house", variants=[lump, {**lump, "lump_on": "2027-02-28"}])
    base, once, late = told["outcomes"]
    # All of it is principal, with the payment that follows its day; interest is less from then on.
    at = next(place for place, due in enumerate(base["due"]) if due >= "2027-06-14")
    assert once["balance"][:at] == base["balance"][:at]
    assert 5000_00 <= base["balance"][at] - once["balance"][at] < 5020_00
    assert late["problem"] == "Choose March 1, 2027 or a later day."


def test_alternatives_stand_side_by_side_and_adopted_they_come_true(demo: TestClient) -> None:
    told = post(demo, "/api/debts/alternatives", account="house", variants=WISHES, horizon_months=60)
    base, *variants = told["outcomes"]
    page = demo.get("/api/debts/house").json()
    coming = [row for row in page["rows"] if row["due"] >= "2027-03-01"]
    assert base["due"] == [row["due"] for row in coming]
    assert base["total_interest"] == sum(row["interest"] for row in coming)
    assert base["cost"] == sum(row["interest"] for row in coming[:60])
    for wish, variant in zip(WISHES, variants, strict=True):
        assert variant["problem"] is None
        assert variant["paid_off"] <= base["paid_off"] or wish["name"] == "Anew"
        # What it saves is all that would be paid without it, less all that is paid with it, fees in cash included.
        paid = [sum(each["interest"]) + sum(each["principal"]) for each in (base, variant)]
        in_cash = wish.get("fees", 0)
        assert variant["saves_in_all"] == paid[0] - paid[1] - in_cash > 0
        assert variant["saves_interest"] == sum(base["interest"]) - sum(variant["interest"])
        preview = demo.post("/api/forecast/preview", json={"until": "2027-06-01", "changes": variant["changes"]}).json()
        assert preview["before"]["debt_free"] == base["paid_off"][:7]
        assert preview["after"]["debt_free"] == max(variant["paid_off"], "2035-09")[:7], wish
    anew = variants[1]
    assert anew["breaks_even"] > "2027-03-01"
    before = demo.get("/api/plan").json()
    post(demo, "/api/changes", changes=variants[2]["changes"])
    rows = [row for row in demo.get("/api/debts/house").json()["rows"] if row["due"] >= "2027-03-01"]
    assert [row["balance"] for row in rows] == variants[2]["balance"]
    # The past of the terms stays: what was due before is as it was.
    past = [row for row in demo.get("/api/debts/house").json()["rows"] if row["due"] < "2027-03-01"]
    assert past == [row for row in page["rows"] if row["due"] < "2027-03-01"]
    demo.post("/api/undo")
    assert demo.get("/api/plan").json() == before
    post(demo, "/api/changes", changes=anew["changes"])
    loans = {loan["name"]: loan["owed"] for loan in demo.get("/api/debts").json()["loans"]}
    assert loans["Mortgage, 4 Quay Row"] == 0
    assert loans["Mortgage, 4 Quay Row, anew"] > page["owed"]
    events = demo.get("/api/forecast?until=2027-05-01&accounts=joint").json()["events"]
    assert {event["status"] for event in events if event["flow"] == "mortgage"} == {"settled"}


def test_questions_the_other_way_round(demo: TestClient) -> None:
    ends = post(demo, "/api/debts/reverse", ask="ends_by", loan=LOAN, by="2040-01-01")
    assert ends["paid_off"] <= "2040-01-01"
    short = {"amount": ends["extra"] - 1, "every": 1, "from": None, "to": None}
    assert post(demo, "/api/tools/loan-schedule", **LOAN, extras=[short])["paid_off"] > "2040-01-01"
    most = post(demo, "/api/debts/reverse", ask="borrow", loan=LOAN, payment=1500_00)["principal"]
    assert post(demo, "/api/tools/loan-schedule", **{**LOAN, "principal": most})["payment"] == 1500_00
    assert post(demo, "/api/tools/loan-schedule", **{**LOAN, "principal": most + 2})["payment"] > 1500_00
    rate = post(demo, "/api/debts/reverse", ask="rate", loan=LOAN, payment=1500_00)["annual_rate"]
    assert post(demo, "/api/tools/loan-schedule", **{**LOAN, "annual_rate": rate})["payment"] <= 1500_00
    refused = demo.post("/api/debts/reverse", json={"ask": "ends_by", "loan": LOAN, "by": "2027-01-15"})
    assert refusal(refused)[0] == ["by"]


def test_every_figure_says_the_sum_that_made_it(demo: TestClient) -> None:
    loan = {**LOAN, "interest": "actual_actual", "extras": [{"amount": 1000_00, "date": "2027-12-20"}]}
    ask = {"loan": loan, "number": 12, "figure": "interest"}
    text = post(demo, "/api/debts/why", **ask)["text"]
    assert "19 days of 365" in text
    assert "12 days of 365" in text
    figures = ("payment", "principal", "extra", "escrow", "insurance", "balance")
    told = {figure: post(demo, "/api/debts/why", loan=LOAN, number=1, figure=figure)["text"] for figure in figures}
    assert told["payment"] == "$1,264.14 levels $200,000.00 at 6.5% over 360 payments."
    assert told["principal"] == "Payment $1,264.14 − interest $1,083.33 = $180.81."
    assert told["balance"].endswith("= $199,819.19.")
    assert refusal(demo.post("/api/debts/why", json={**ask, "number": 361}))[0] == ["number"]


def test_schedules_leave_as_files(demo: TestClient) -> None:
    sheet = demo.get("/api/debts/schedule.csv?account=house")
    assert sheet.headers["content-disposition"] == 'attachment; filename="Mortgage--4-Quay-Row.csv"'
    assert sheet.text.splitlines()[0].startswith("number,due,annual_rate")
    tried = demo.get("/api/debts/schedule.xlsx", params={"loan": json.dumps(LOAN)})
    assert tried.content.startswith(b"PK")
    assert refusal(demo.get("/api/debts/schedule.csv?loan=nonsense"))[0][0] == "loan"


def test_a_loan_joined_later_goes_on_from_its_reading(demo: TestClient) -> None:
    value = {
        "name": "Joined", "kind": "loan", "opening": {"date": "2027-03-01", "balance": -187_400_12},
        "loan": {**LOAN, "disbursed": "2020-01-15", "first_payment": "2020-03-03", "from_account": "joint"},
    }  # fmt: skip
    post(demo, "/api/changes", changes=[{"op": "add", "kind": "account", "id": "joined", "value": value}])
    page = demo.get("/api/debts/joined").json()
    assert (page["owed"], page["paid_down"], page["rows"][0]["due"]) == (187_400_12, 12_599_88, "2027-03-03")
    # 187,400.12 x 6.5 % / 12 = 1,015.0840
    assert (page["rows"][0]["number"], page["rows"][0]["interest"]) == (85, 1015_08)
    assert page["rows"][-1]["due"] == "2050-02-03"
    wrong = {
        "op": "update",
        "kind": "account",
        "id": "joined",
        "value": {"opening": {"date": "2019-01-01", "balance": -1}},
    }
    assert refusal(demo.post("/api/changes", json={"changes": [wrong]}))[0][-2:] == ["opening", "date"]
    asset = {"op": "update", "kind": "account", "id": "joint", "value": {"kind": "loan"}}
    assert refusal(demo.post("/api/changes", json={"changes": [asset]}))[1] == "Give the loan's terms."


def test_what_extras_save_is_told_from_what_is_still_to_come(demo: TestClient) -> None:
    before = demo.get("/api/debts/house").json()
    assert before["saves"] == {"interest": 0, "payments": 0}
    account = next(each for each in demo.get("/api/plan").json()["accounts"] if each["id"] == "house")
    loan = {**account["loan"], "extras": [{"amount": 200_00, "every": 1, "from": "2027-03-01"}]}
    post(demo, "/api/changes", changes=[{"op": "update", "kind": "account", "id": "house", "value": {"loan": loan}}])
    after = demo.get("/api/debts/house").json()
    assert after["without_extras"]["paid_off"] == before["paid_off"]
    assert after["saves"]["interest"] == before["totals"]["interest"] - after["totals"]["interest"] > 0
    assert after["saves"]["payments"] == len(before["rows"]) - len(after["rows"]) > 0


def test_an_extra_between_due_dates_is_settled_once(demo: TestClient) -> None:
    terms = {**LOAN, "principal": 12_000_00, "payments": 24, "interest": "actual_365", "disbursed": "2027-02-10",
             "first_payment": "2027-03-10", "extras": [{"amount": 1_000_00, "date": "2027-02-20"}], "from_account": "joint"}  # fmt: skip
    value = {"name": "Van", "kind": "loan", "opening": {"date": "2027-02-10", "balance": -12_000_00}, "loan": terms}
    value["known_since"] = None
    post(demo, "/api/changes", changes=[{"op": "add", "kind": "account", "id": "van", "value": value}])
    planned = post(demo, "/api/tools/loan-schedule", **{k: v for k, v in terms.items() if k != "from_account"})["rows"]
    assert [line["amount"] for line in demo.get("/api/settle").json()["due"] if line["flow"] == "van-payment"] == [
        1_000_00
    ]
    for nominal in ("2027-02-20", "2027-03-10"):
        post(demo, "/api/settle", lines=[{"flow": "van-payment", "nominal": nominal, "do": "settle", "date": nominal}])
        page = demo.get("/api/debts/van").json()
        assert [row["balance"] for row in page["rows"]] == [row["balance"] for row in planned]
        assert [row["interest"] for row in page["rows"]] == [row["interest"] for row in planned]
    # What is recorded for the 10th is not paid yet today.
    assert page["owed"] == 11_000_00


def test_what_is_owed_after_the_last_payment_is_due_with_interest(demo: TestClient) -> None:
    terms = {
        **LOAN,
        "principal": 1_000_00,
        "payments": 2,
        "disbursed": "2026-12-15",
        "first_payment": "2027-01-15",
        "from_account": "joint",
    }
    value = {"name": "Short", "kind": "loan", "opening": {"date": "2026-12-15", "balance": -1_000_00}, "loan": terms}
    value["known_since"] = None
    post(demo, "/api/changes", changes=[{"op": "add", "kind": "account", "id": "short", "value": value}])
    for nominal in ("2027-01-15", "2027-02-15"):
        line = {"flow": "short-payment", "nominal": nominal, "do": "settle", "amount": 400_00}
        post(demo, "/api/settle", lines=[line])
    last = demo.get("/api/debts/short").json()["rows"][-1]
    owed = demo.get("/api/debts/short").json()["owed"]
    assert (last["due"], last["principal"], last["interest"]) == ("2027-03-15", owed, round(owed * 0.065 / 12))
