"""Mortgages over HTTP: statement checks, payments recorded whole, escrow, lenders and properties (docs/rules.md, Escrow)."""

from collections.abc import Iterator
from datetime import date
from fractions import Fraction

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from mortgage_lender import (
    BOOKS,
    ESCROW,
    LEVEL,
    LOAN,
    MISTAKES,
    RIGHT,
    TODAY,
    half_up,
    household,
    instead,
    moved,
    whole,
    without,
)

from answers import Json, done, plan_alone, refused
from effort import examples
from next_penny.api.app import create_app
from stores import new_store


def opened(plan: Json) -> TestClient:
    client = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")
    answer = client.put("/api/plan", json=plan)
    assert answer.status_code == 200, answer.text
    return client


def checked(client: TestClient, statement: Json) -> Json:
    answer = client.post("/api/loans/loan/statement-check", json=statement)
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


@pytest.mark.parametrize("name", ["recorded_whole twice", "escrow_changed", "disbursement_missing"])
def test_a_mistake_is_named_and_its_correction_makes_all_agree_and_can_be_undone(name: str) -> None:
    entries, lender = MISTAKES[name]
    client, statement = opened(household(entries)), lender.statement()
    before = plan_alone(client.get("/api/plan").json())
    found = checked(client, statement)
    assert not found["agrees"]
    likeliest = found["causes"][0]
    assert likeliest["cause"] == name.split(maxsplit=1)[0], found["causes"]
    differing = {each["item"] for each in found["compared"] if each["difference"]}
    assert set(likeliest["explains"]) == differing
    for cause in found["causes"]:
        saved = client.post("/api/changes", json={"changes": cause["changes"]})
        assert saved.status_code == 200, saved.text
        after = {each["item"]: each["difference"] for each in checked(client, statement)["compared"]}
        assert all(after[item] == 0 for item in cause["explains"])
        client.post("/api/undo")
        assert plan_alone(client.get("/api/plan").json()) == before


def test_right_books_agree_in_every_figure_and_a_kept_check_confirms_the_payments() -> None:
    client, statement = opened(household(BOOKS)), RIGHT.statement()
    found = checked(client, statement)
    assert (found["agrees"], found["causes"], found["notes"]) == (True, [], [])
    # The first payment: 120,000 at 6 % a year, a twelfth of it interest.
    assert RIGHT.splits[0] == (119_46, 600_00, ESCROW)
    assert [each["statement"] for each in found["compared"]] == [each["books"] for each in found["compared"]]
    assert all(each["proposed"] for each in client.get("/api/loans/loan/statement-checks").json()["payments"])
    client.post("/api/loans/loan/statement-checks", json={**statement, "date": "2026-12-15"})
    kept = client.get("/api/loans/loan/statement-checks").json()
    assert kept["checks"][0]["agrees"]
    assert not any(each["proposed"] for each in kept["payments"])
    written = client.get("/api/plan").json()
    assert written["statement_checks"] == [{**statement, "account": "loan"}]
    assert client.put("/api/plan", json=written).json() == written
    client.delete("/api/loans/loan/statement-checks/2026-12-15")
    assert client.get("/api/plan").json()["statement_checks"] == []


@pytest.mark.parametrize(
    ("day", "said"), [("2027-01-01", "dated in the future"), ("2025-11-30", "begin on December 1, 2025")]
)
def test_a_statement_of_the_future_or_of_before_the_loan_is_refused(day: str, said: str) -> None:
    client = opened(household(BOOKS))
    for path in ("statement-check", "statement-checks"):
        answer = client.post(f"/api/loans/loan/{path}", json={"date": day, "principal_balance": 1})
        assert answer.status_code == 422
        assert said in answer.json()["detail"][0]["msg"]


def test_what_was_recorded_whole_is_shown_two_ways_and_split_at_once() -> None:
    client = opened(household(instead(whole(6, is_linked=True), whole(11, is_linked=False))))
    found = client.get("/api/review/recorded-whole").json()
    (loan,) = found["loans"]
    principal = RIGHT.splits[5][0] + RIGHT.splits[10][0]
    assert [tuple(each["split"][name] for name in ("principal", "interest", "escrow")) for each in loan["found"]] == [
        RIGHT.splits[5], RIGHT.splits[10]]  # fmt: skip
    assert found["years"][0]["spending"]["recorded"] - found["years"][0]["spending"]["right"] == principal + 2 * ESCROW
    assert loan["owed"]["recorded"] - loan["owed"]["right"] == principal
    assert loan["escrow"]["right"] - loan["escrow"]["recorded"] == 2 * ESCROW
    assert found["net_worth"]["right"] - found["net_worth"]["recorded"] == principal + 2 * ESCROW
    client.post("/api/changes", json={"changes": loan["changes"]})
    assert client.get("/api/review/recorded-whole").json()["loans"] == []
    assert checked(client, RIGHT.statement())["agrees"]


def test_a_payment_moved_to_the_loan_by_hand_is_found_and_split_or_recorded_as_that_payment_at_once() -> None:
    client = opened(household(instead(moved(6))))
    (loan,) = client.get("/api/review/recorded-whole").json()["loans"]
    (found,) = loan["found"]
    assert (found["category"], found["amount"]) == ("", LEVEL + ESCROW)
    assert tuple(found["split"][name] for name in ("principal", "interest", "escrow")) == RIGHT.splits[5]
    # All of it was taken off what is owed; the interest was no spending yet.
    assert loan["owed"]["right"] - loan["owed"]["recorded"] == LEVEL + ESCROW - RIGHT.splits[5][0]
    client.post("/api/changes", json={"changes": loan["changes"]})
    assert checked(client, RIGHT.statement())["agrees"]

    client = opened(household(without("p12")))

    def meant(amount: int, day: str) -> Json | None:
        answer = client.get(f"/api/debts/loan/payment-meant?amount={amount}&date={day}")
        payment: Json | None = done(answer)["payment"]
        return payment

    due = {"nominal": "2026-12-01", "lands": "2026-12-01", "amount": LEVEL + ESCROW}
    assert meant(LEVEL + ESCROW, "2026-12-16") == meant(LEVEL + ESCROW, "2026-11-16") == due
    for amount, day in ((LEVEL + ESCROW + 1, "2026-12-01"), (LEVEL + ESCROW, "2026-11-15")):
        assert meant(amount, day) is None
    value = {
        "date": "2026-12-03",
        "account": "bank",
        "to_account": "loan",
        "amount": LEVEL + ESCROW,
        "notes": "by hand",
    }
    pay = {"op": "moved", "kind": "entry", "id": "new", "value": {**value, "pays": "2026-12-01"}}
    done(client.post("/api/changes", json={"changes": [pay]}))
    (kept,) = (each for each in client.get("/api/plan").json()["entries"] if each["id"] == "new")
    assert (kept["nominal"], kept["notes"], kept["date"]) == ("2026-12-01", "by hand", "2026-12-03")
    assert checked(client, RIGHT.statement())["agrees"]
    again = {**pay, "id": "again"}
    assert refused(client.post("/api/changes", json={"changes": [again]}))[1].endswith("is settled already.")


def test_an_escrow_account_is_made_with_the_loan_or_takes_what_was_spent_before_it() -> None:
    plan = household([])
    terms = {name: value for name, value in LOAN.items() if name != "escrow_account"}
    plan["accounts"] = [each for each in plan["accounts"] if each["id"] in ("bank", "house")]
    plan["flows"] = []
    client = opened(plan)
    value = {"name": "Cottage", "currency": "USD", "loan": terms, "known_since": None}
    made = {"op": "borrowed", "kind": "account", "id": "cottage", "value": {**value, "new_escrow": 75_00}}
    done(client.post("/api/changes", json={"changes": [made]}))
    accounts = {each["id"]: each for each in client.get("/api/plan").json()["accounts"]}
    assert accounts["cottage"]["loan"]["escrow_account"] == "cottage-escrow"
    kept = accounts["cottage-escrow"]
    assert (kept["name"], kept["kind"], kept["spendable"]) == ("Cottage: escrow", "escrow", False)
    assert kept["opening"] == {"date": "2025-12-01", "balance": 75_00}
    assert refused(client.post("/api/changes", json={"changes": [made]}))[1].startswith("This loan has an escrow")

    # Without an account each payment spends its escrow part; once one is linked, it can take that.
    client.post("/api/undo")
    alone = {"op": "borrowed", "kind": "account", "id": "cottage", "value": value}
    done(client.post("/api/changes", json={"changes": [alone]}))
    lines = [{"flow": "cottage-payment", "nominal": f"2026-{month:02}-01", "do": "settle"} for month in range(1, 13)]
    done(client.post("/api/settle", json={"lines": lines}))
    done(client.post("/api/changes", json={"changes": [made]}))
    found = done(client.get("/api/escrow/cottage-escrow"))
    assert (found["balance"], found["spent"]["amount"], found["spent"]["payments"]) == (75_00, 12 * ESCROW, 12)
    done(client.post("/api/changes", json={"changes": found["spent"]["changes"]}))
    found = done(client.get("/api/escrow/cottage-escrow"))
    assert (found["balance"], found["spent"]) == (75_00 + 12 * ESCROW, None)
    statement = {**RIGHT.statement(), "escrow_balance": 75_00 + 12 * ESCROW}
    answer = client.post("/api/loans/cottage/statement-check", json=statement)
    assert done(answer)["agrees"]


def test_a_payment_is_settled_as_the_statement_splits_it_and_principal_takes_up_the_difference() -> None:
    client = opened(household(without("p12")))
    (line,) = [each for each in client.get("/api/settle").json()["due"] if each["flow"] == "mortgage"]
    assert (line["split"]["principal"], line["split"]["interest"], line["split"]["escrow"]) == RIGHT.splits[11]
    asked = {"flow": "mortgage", "nominal": "2026-12-01", "do": "settle"}
    wrong = client.post("/api/settle", json={"lines": [{**asked, "split": {"principal": 100_00, "interest": 90_00}}]})
    assert wrong.json()["detail"][0]["loc"] == ["body", "lines", 0, "split"]
    assert "These parts come to $400.00, the payment to $929.46" in wrong.json()["detail"][0]["msg"]
    other = client.post("/api/settle", json={"lines": [{**asked, "flow": "tax", "nominal": "2026-10-10", "split": {}}]})
    assert other.status_code == 422
    client.post("/api/settle", json={"lines": [{**asked, "split": {"interest": 598_00, "escrow": 215_00}}]})
    split = client.get("/api/loans/loan/statement-checks").json()["payments"][0]
    assert (split["principal"], split["interest"], split["escrow"]) == (
        LEVEL + ESCROW - 598_00 - 215_00,
        598_00,
        215_00,
    )


def test_a_loan_moves_to_another_lender_whose_fee_and_interest_are_told_apart() -> None:
    moved = {"from": "2026-08-01", "name": "Quenby Servicing", "address": "Mill Lane 2", "fee": 4_50}
    client = opened(household(without("p12"), lenders=[moved]))
    (line,) = [each for each in client.get("/api/settle").json()["due"] if each["flow"] == "mortgage"]
    assert (line["amount"], line["split"]["fee"]) == (LEVEL + ESCROW + 4_50, 4_50)
    client.post("/api/settle", json={"lines": [{"flow": "mortgage", "nominal": "2026-12-01", "do": "settle"}]})
    written = client.get("/api/plan").json()
    entry = next(each for each in written["entries"] if each["nominal"] == "2026-12-01")
    assert entry["payee"] == "Quenby Servicing"
    assert {"category": "lender-fees", "amount": 4_50} in entry["legs"]
    assert sum(leg["amount"] for leg in entry["legs"]) == 0
    assert client.put("/api/plan", json=written).json() == written
    (loan,) = client.get("/api/review/year?year=2026").json()["loans"]
    interest = [sum(split[1] for split in part) for part in (RIGHT.splits[:7], RIGHT.splits[7:])]
    assert [(each["name"], each["parts"]["interest"]) for each in loan["lenders"]] == [
        ("Fenmoor Home Loans", interest[0]), ("Quenby Servicing", interest[1])]  # fmt: skip
    assert (loan["parts"]["interest"], loan["parts"]["fee"]) == (sum(interest), 4_50)
    # Of the running and the coming years: what is still to be paid, and what runs up by days.
    rows = client.get("/api/debts/loan").json()["rows"]
    years = client.get("/api/review/year?year=2026").json()["years"]
    told = [client.get(f"/api/review/year?year={year}").json()["loans"][0]["expected"] for year in years]
    due = [row["interest"] for row in rows if row["due"] > "2026-12-31"]
    assert (years[0], years[-1]) == (2026, int(rows[-1]["due"][:4]))
    assert [each["to_come"] for each in told] == [0] + [
        sum(row["interest"] for row in rows if row["due"].startswith(str(year))) for year in years[1:]
    ]
    # The first payment's ran up in December 2025.
    assert sum(each["run_up"] for each in told) == sum(row["interest"] for row in rows[1:])
    assert sum(each["run_up"] for each in told[1:]) < sum(due)
    (owned,) = client.get("/api/review/properties").json()["properties"]
    (year,) = owned["years"]
    assert (year["sums"]["tax"], year["sums"]["interest"]) == (2_400_00, sum(interest))
    assert (owned["worth"], owned["ahead"]["tax"]) == (200_000_00, 2_400_00)


def test_escrow_that_does_not_cover_a_payment_says_so_weeks_ahead() -> None:
    plan = household([*BOOKS])
    plan["flows"][1]["revisions"] = [{"from": "2027-04-01", "amount": 5_000_00}]
    ahead = opened(plan).get("/api/escrow/escrow").json()
    balance = RIGHT.statement()["escrow_balance"] + 4 * ESCROW
    assert ahead["uncovered"] == {
        "flow": "tax", "name": "Property tax", "day": "2027-04-10", "amount": 5_000_00, "balance": balance - 5_000_00,
        "short_by": 5_000_00 - balance}  # fmt: skip
    client = TestClient(create_app(new_store(), lambda: date(2027, 3, 1)), base_url="http://127.0.0.1:8765")
    client.put("/api/plan", json={**plan, "past_due": "carry"})
    assert "the lender advances it" in client.get("/api/settle").json()["notices"][0]["text"]


def months_from(first: int) -> Iterator[str]:
    for month in range(first, first + 12):
        yield f"{month // 12:04}-{month % 12 + 1:02}"


@settings(max_examples=examples(60), deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    out=st.lists(st.tuples(st.integers(0, 11), st.integers(0, 5_000_00)), max_size=6),
    cushion=st.sampled_from(["0", "1", "1.5", "2", "3"]),
    balance=st.integers(-2_000_00, 9_000_00),
    deposit=st.none() | st.integers(0, 900_00),
)
def test_the_analysis_is_that_of_the_rule(
    demo_once: TestClient, out: list[tuple[int, int]], cushion: str, balance: int, deposit: int | None
) -> None:
    months = list(months_from(2027 * 12 + 4))
    asked = {"first_month": months[0], "cushion_months": cushion, "balance": balance, "deposit": deposit,
             "disbursements": [{"month": months[place], "amount": amount, "name": "x"} for place, amount in out]}  # fmt: skip
    told = demo_once.post("/api/tools/escrow-analysis", json=asked).json()
    annual = sum(amount for _, amount in out)
    base = half_up(Fraction(annual, 12))
    trial, projected, levels, ahead = 0, balance, [], []
    for place in range(12):
        paid = sum(amount for month, amount in out if month == place)
        trial, projected = trial + base - paid, projected + (base if deposit is None else deposit) - paid
        levels.append(trial)
        ahead.append(projected)
    required = half_up(Fraction(cushion) * annual / 12) - min(levels)
    deficiency = max(0, -balance)
    shortage = required if deficiency else max(0, required - balance)
    assert [row["trial"] for row in told["rows"]] == levels
    assert [row["projected"] for row in told["rows"]] == ahead
    assert [row["required"] - row["trial"] for row in told["rows"]] == [required] * 12
    assert (told["required_start"], told["shortage"], told["deficiency"]) == (required, shortage, deficiency)
    assert told["surplus"] == (0 if deficiency else max(0, balance - required))
    assert told["new_deposit"] == base + half_up(Fraction(shortage + deficiency, 12))
    assert any("legal" in note for note in told["notes"]) == (cushion == "3")


@pytest.fixture(scope="module")
def demo_once() -> TestClient:
    return TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")


def test_an_analysis_of_what_cannot_be_is_refused_at_its_field(demo_once: TestClient) -> None:
    for more, loc in (
        ({"disbursements": [{"month": "2028-05", "amount": 1}]}, ["disbursements", 0, "month"]),
        ({"disbursements": [{"month": "2027-06", "amount": -1}]}, ["disbursements", 0, "amount"]),
        ({"disbursements": [], "cushion_months": "-1"}, ["cushion_months"]),
    ):
        answer = demo_once.post("/api/tools/escrow-analysis", json={"first_month": "2027-05", **more})
        assert answer.json()["detail"][0]["loc"] == ["body", *loc]
