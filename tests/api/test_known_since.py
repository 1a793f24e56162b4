"""What is expected only since the household knew of it (RULES, §14)."""

from calendar import monthrange
from datetime import date, timedelta
from functools import cache
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import done
from effort import examples
from next_penny.api.app import create_app
from next_penny.store.store import Store
from stores import new_file

TODAY = date(2027, 3, 10)
BEGIN = date(2026, 11, 1)
DAYS = st.dates(BEGIN, date(2027, 4, 30))
FLOWS = st.lists(st.tuples(st.integers(1, 31), st.one_of(st.none(), DAYS), st.booleans()), min_size=1, max_size=4)


@cache
def served() -> tuple[list[date], TestClient]:
    """One app for all households, and the day that it is asked on."""
    clock = [TODAY]
    return clock, TestClient(create_app(Store(new_file()), lambda: clock[0]), base_url="http://127.0.0.1:8765")


def dates_of(day: int, last: date) -> list[date]:
    """The day of every month since the beginning, the last one of a shorter month."""
    found, month = [], BEGIN
    while month <= last:
        found.append(month.replace(day=min(day, monthrange(month.year, month.month)[1])))
        month = (month.replace(day=28) + timedelta(days=4)).replace(day=1)
    return [each for each in found if each <= last]


def plan(**more: Any) -> dict[str, Any]:
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD",
        "accounts": [{"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2026-10-01", "balance": 0}}],
        "categories": [{"id": "c", "name": "C", "kind": "expense"}], **more,
    }  # fmt: skip


def bill(day: int, **more: Any) -> dict[str, Any]:
    return {"name": f"F{day}", "kind": "bill", "amount": 1000 + day, "from_account": "a", "category": "c",
            "rules": [f"FREQ=MONTHLY;BYMONTHDAY={day}" if day < 29 else f"FREQ=MONTHLY;BYMONTHDAY={day},-1;BYSETPOS=1"],
            "start": BEGIN.isoformat(), **more}  # fmt: skip


@settings(max_examples=examples(25), deadline=None)
@given(flows=FLOWS, first=DAYS, length=st.integers(0, 70))
def test_what_landed_before_a_flow_was_known_is_neither_due_nor_expected(flows: Any, first: date, length: int) -> None:
    _, client = served()
    last = first + timedelta(days=length)
    since = [known and known.isoformat() for _, known, _ in flows]
    listed = [bill(day, id=f"f{at}", known_since=since[at], always_happens=always)
              for at, (day, _, always) in enumerate(flows)]  # fmt: skip
    done(client.put("/api/plan", json=plan(flows=listed)))
    due, expected, gone = set(), 0, 0
    for at, (day, known, always) in enumerate(flows):
        stood = [each for each in dates_of(day, last) if known is None or each >= known]
        behind = [each for each in dates_of(day, TODAY) if each < TODAY and (known is None or each >= known)]
        due |= {(f"f{at}", each.isoformat()) for each in behind if not always}
        expected += sum(1000 + day for each in stood if each >= first)
        gone += sum(1000 + day for _ in behind if always)
    listed_due = [
        each
        for each in done(client.get("/api/settle"))["due"]
        if each["lands"] < TODAY.isoformat() and each["status"] != "assumed"
    ]
    assert {(each["flow"], each["nominal"]) for each in listed_due} == due
    review = done(client.get("/api/review", params={"from": first.isoformat(), "to": last.isoformat()}))
    assert review["spending"]["expected"] == expected
    assert done(client.get("/api/accounts"))["accounts"][0]["today_balance"] == -gone


def test_what_a_change_makes_is_known_since_its_day_in_a_what_if_since_it_was_written() -> None:
    clock, client = served()
    clock[0] = TODAY
    done(client.put("/api/plan", json=plan()))
    limit = {"name": "L", "limit": 9000, "categories": ["c"], "account": "a", "from": "2026-12-01"}
    made = [{"op": "add", "kind": "flow", "id": "new", "value": bill(5)},
            {"op": "add", "kind": "flow", "id": "old", "value": bill(6, known_since=None)},
            {"op": "add", "kind": "flow", "id": "due", "value": bill(7, known_since="2027-02-07")},
            {"op": "add", "kind": "allowance", "id": "l", "value": limit}]  # fmt: skip
    kept = done(client.post("/api/what-ifs", json={"name": "All", "changes": made}))["id"]
    done(client.post("/api/changes", json={"changes": made}))
    known = {each["id"]: each.get("known_since") for name in ("flows", "allowances")
             for each in done(client.get("/api/plan"))[name]}  # fmt: skip
    assert known == {"new": "2027-03-10", "old": None, "due": "2027-02-07", "l": "2027-03-10"}
    due = [each["flow"] for each in done(client.get("/api/settle"))["due"]]
    assert [due.count(id) for id in ("new", "old", "due")] == [0, 5, 2]
    # The running month's limit was expected when it ended; that of February was not, nor what has no category's limit.
    months = done(client.get("/api/review/months", params={"from": "2027-02", "count": 2}))["rows"]
    assert [[cell["expected"] for cell in row["cells"]] for row in months if row["kind"] == "allowance"] == [[0, 9000]]
    done(client.post("/api/undo"))
    try:
        clock[0] = TODAY + timedelta(days=30)  # it is looked at, and adopted, a month later
        done(client.post(f"/api/what-ifs/{kept}/adopt"))
        flows = {each["id"]: each for each in done(client.get("/api/plan"))["flows"]}
        assert flows["new"]["known_since"] == "2027-03-10"
        due = done(client.get("/api/settle"))["due"]
        assert [each["nominal"] for each in due if each["flow"] == "new"] == ["2027-04-05"]
    finally:
        clock[0] = TODAY


def test_what_was_due_on_a_loan_or_card_before_it_was_known_is_not_past_due() -> None:
    clock, client = served()
    clock[0] = TODAY
    terms = {"principal": 1_200_00, "annual_rate": "12", "payments": 12, "disbursed": "2026-12-01",
             "first_payment": "2027-01-01", "from_account": "a"}  # fmt: skip
    card = {"limit": 5_000_00, "closing_day": 20, "due": {"day": 5}, "from_account": "a",
            "rates": [{"from": "2027-01-01", "annual_rate": "20"}],
            "begun_with": {"closing": "2027-02-20", "balance": 300_00, "due": "2027-03-05"}}  # fmt: skip
    opening = {"date": "2026-12-01", "balance": -1_200_00}
    for since, counts in ((None, [3, 1]), ("2027-02-15", [1, 1]), ("2027-03-06", [0, 0]), ("2027-03-10", [0, 0])):
        accounts = [
            {"id": "l", "name": "L", "kind": "loan", "opening": opening, "loan": terms, "known_since": since},
            {"id": "d", "name": "D", "kind": "credit_card", "opening": {"date": "2027-02-21", "balance": -300_00},
             "card": card, "known_since": since},
        ]  # fmt: skip
        document = plan()
        done(client.put("/api/plan", json={**document, "accounts": [*document["accounts"], *accounts]}))
        due = [each["flow"] for each in done(client.get("/api/settle"))["due"] if each["lands"] < TODAY.isoformat()]
        assert [due.count("l-payment"), due.count("d-payment")] == counts, since
        # What is owed is what the books say, and is still paid off to the cent.
        page = done(client.get("/api/debts/l"))
        assert page["owed"] == 1_200_00
        assert page["rows"][-1]["balance"] == 0


@given(sums=st.lists(st.integers(1, 3_000), max_size=6))
@settings(max_examples=examples(25), deadline=None)
def test_what_was_off_one_way_three_times_in_a_row_is_proposed_and_taken_over_once(sums: list[int]) -> None:
    clock, client = served()
    clock[0] = TODAY
    days = dates_of(5, TODAY)[-6:]  # the days of this and earlier months that are over, as many as were paid
    paid = list(zip(days[len(days) - min(len(sums), len(days)) :], sums, strict=False))
    entries = [{"id": f"e{day}", "date": day.isoformat(), "payee": "P", "flow": "f", "nominal": day.isoformat(),
                "legs": [{"account": "a", "amount": -sum}, {"category": "c", "amount": sum}]} for day, sum in paid]  # fmt: skip
    done(client.put("/api/plan", json=plan(flows=[bill(5, id="f", amount=1000)], entries=entries)))
    run: list[int] = []
    for _, sum_paid in reversed(paid):
        if sum_paid == 1000 or (run and (sum_paid > 1000) != (run[0] > 1000)):
            break
        run.append(sum_paid)
    found = done(client.get("/api/review/proposals"))
    fitting = (2 * sum(run) + len(run)) // (2 * len(run)) if run else 0
    if len(run) < 3 or fitting == 1000:
        assert found == []
        return
    (only,) = found
    told = [only[name] for name in ("id", "planned", "amount", "from", "times")]
    assert told == ["f", 1000, fitting, "2027-04-05", len(run)]
    done(client.post("/api/changes", json={"changes": [only["change"]]}))
    assert done(client.get("/api/review/proposals")) == []
    events = done(client.get("/api/forecast", params={"until": "2027-05-31"}))["events"]
    assert {each["amount"] for each in events if each["date"] >= "2027-04-01"} == {-fitting}
