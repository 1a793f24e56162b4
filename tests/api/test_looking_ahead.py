"""The year list, net worth, ready-made what-ifs, cells of months, dates moved from here on: against sums by hand."""

from datetime import date, timedelta
from itertools import pairwise
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from answers import Json, done, refused
from effort import examples
from next_penny.api.app import create_app
from stores import new_store

TODAY = date(2027, 3, 1)


def client_of(**plan: Any) -> TestClient:
    client = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")
    bank = {"id": "bank", "name": "Bank", "kind": "checking", "opening": {"date": "2026-01-01", "balance": 5_000_00}}
    document = {"format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": [bank], **plan}
    assert client.put("/api/plan", json=document).status_code == 200
    return client


def flow(id: str, amount: int, rule: str, start: str, **more: Any) -> Json:
    ends = {"to_account": "bank"} if more.get("kind") == "income" else {"from_account": "bank"}
    return {
        "id": id,
        "name": id.title(),
        "kind": "bill",
        "amount": amount,
        "rules": [rule],
        "start": start,
        **ends,
        **more,
    }


def test_the_year_list_says_what_is_settled_late_and_still_owed() -> None:
    loan = {"principal": 1_000_00, "annual_rate": "6", "payments": 12, "disbursed": "2026-12-20",
            "first_payment": "2027-01-20", "from_account": "bank"}  # fmt: skip
    bank = {"id": "bank", "name": "Bank", "kind": "checking", "opening": {"date": "2026-01-01", "balance": 5_000_00}}
    lent = {"id": "lent", "name": "Boat", "kind": "loan", "opening": {"date": "2026-12-20", "balance": -1_000_00}}
    paid = {"id": "e", "date": "2027-01-07", "payee": "Power", "flow": "power", "nominal": "2027-01-05",
            "legs": [{"account": "bank", "amount": -41_00}, {"category": "home", "amount": 41_00}]}  # fmt: skip
    client = client_of(
        accounts=[bank, {**lent, "loan": loan}],
        categories=[{"id": "home", "name": "Home"}],
        entries=[paid],
        flows=[
            flow("power", 40_00, "FREQ=MONTHLY;BYMONTHDAY=5", "2027-01-01"),
            flow("tax", 300_00, "FREQ=YEARLY", "2027-11-03"),
        ],
    )
    found = done(client.get("/api/year-list?year=2027"))
    rows = {row["name"]: row for row in found["rows"]}
    assert [row["due_day"] for row in found["rows"]] == [3, 5, 20]
    assert [mark["stands"] for mark in rows["Power"]["months"]] == ["settled", "past_due", *["expected"] * 10]
    assert (rows["Power"]["total"], rows["Power"]["monthly"]) == (41_00 + 11 * 40_00, 40_08)
    assert [mark["stands"] for mark in rows["Tax"]["months"]] == [*["none"] * 10, "expected", "none"]
    assert (rows["Tax"]["total"], rows["Tax"]["monthly"]) == (300_00, 300_00)
    (late,) = rows["Power"]["months"][1]["unsettled"]
    assert late == {"nominal": "2027-02-05", "lands": "2027-02-05", "amount": 40_00}
    assert rows["Power"]["months"][0]["unsettled"] == []
    (debt,) = (row for row in found["rows"] if row["owed"] is not None)
    # Twelve payments of 86.07, of which the last takes what is left: 86.03 (worked out with a plain table).
    assert (debt["owed"], debt["total"]) == (1_000_00, 11 * 86_07 + 86_03)
    assert found["total"] == sum(row["total"] for row in found["rows"]) == sum(found["months"])
    assert done(client.get("/api/year-list?year=2026"))["rows"] == []
    assert refused(client.get("/api/year-list?year=2190"))[0] == ["query", "year"]


def test_a_low_stretch_says_what_takes_it_down_and_what_is_missing_by_month() -> None:
    bank = {"id": "bank", "name": "Bank", "kind": "checking", "opening": {"date": "2026-01-01", "balance": 900_00},
            "floor": 100_00, "cushion": 300_00}  # fmt: skip
    client = client_of(
        accounts=[bank],
        flows=[
            flow("rent", 500_00, "FREQ=MONTHLY;BYMONTHDAY=10", "2027-03-01", until="2027-05-31"),
            flow("tea", 10_00, "FREQ=MONTHLY;BYMONTHDAY=9", "2027-03-01", until="2027-05-31"),
            flow("pay", 450_00, "FREQ=MONTHLY;BYMONTHDAY=20", "2027-03-01", kind="income", until="2027-04-30"),
        ],
    )
    # 890, 390, 840, 830, 330, 780, 770, 270: the cushion breaks on 10 May, and only then.
    (shallow,) = done(client.get("/api/ahead?until=2027-05-31"))["shallows"]
    assert (shallow["below"], shallow["from"], shallow["to"], shallow["short_by"]) == (
        "cushion", "2027-05-10", "2027-05-31", 30_00)  # fmt: skip
    assert shallow["causes"] == [{"name": "Rent", "amount": 500_00}, {"name": "Tea", "amount": 10_00}]
    # With 700 at first it is 190, 640, 130, 580 and 70; with 500 it is -10 in March, -70 in April, -130 in May.
    for balance, by_month in ((700_00, [("2027-05", 30_00)]), (500_00, [("2027-03", 110_00), ("2027-04", 60_00),
                                                                       ("2027-05", 60_00)])):  # fmt: skip
        change = {"op": "update", "kind": "account", "id": "bank",
                  "value": {"opening": {"date": "2026-01-01", "balance": balance}}}  # fmt: skip
        done(client.post("/api/changes", json={"changes": [change]}))
        found = done(client.get("/api/remedies?account=bank&until=2027-05-31"))
        assert [(each["month"], each["amount"]) for each in found["by_month"]] == by_month
        assert sum(each["amount"] for each in found["top_ups"]) == sum(amount for _, amount in by_month)


def test_net_worth_by_kind_adds_up_to_what_is_owned_less_what_is_owed() -> None:
    euro = {"id": "euro", "name": "Euro", "kind": "savings", "currency": "EUR",
            "opening": {"date": "2027-04-10", "balance": 100_00}}  # fmt: skip
    bank = {"id": "bank", "name": "Bank", "kind": "checking", "opening": {"date": "2026-01-01", "balance": 5_000_00}}
    client = client_of(
        accounts=[bank, euro],
        flows=[flow("rent", 500_00, "FREQ=MONTHLY;BYMONTHDAY=15", "2027-03-15")],
        rates=[{"date": "2026-01-01", "from": "EUR", "to": "USD", "rate": "1.5"}],
    )
    found = done(client.get("/api/net-worth?from=2027-02-10&to=2027-05-10"))
    assert found["days"] == ["2027-02-28", "2027-03-01", "2027-03-31", "2027-04-30", "2027-05-10"]
    by_kind = {each["kind"]: each["balances"] for each in found["kinds"]}
    assert by_kind["checking"] == [5_000_00, 5_000_00, 4_500_00, 4_000_00, 4_000_00]
    assert by_kind["savings"] == [0, 0, 0, 150_00, 150_00]
    assert found["together"] == [5_000_00, 5_000_00, 4_500_00, 4_150_00, 4_150_00]
    assert refused(client.get("/api/net-worth?from=2027-05-10&to=2027-02-10"))[0] == ["query", "to"]
    # What is expected today is named, and in no figure of today; it is gone from the month's end on.
    today = {"op": "add", "kind": "flow", "id": "fee", "value": flow("fee", 30_00, "FREQ=DAILY", "2027-03-01", count=1)}
    done(client.post("/api/changes", json={"changes": [today]}))
    found = done(client.get("/api/net-worth"))
    at = found["days"].index("2027-03-01")
    assert (found["together"][at], found["expected_today"]) == (5_000_00, -30_00)
    assert (found["days"][0], found["days"][-1]) == ("2026-01-31", "2032-03-31")
    assert found["together"][at + 1] == found["owned"][at + 1] - found["owed"][at + 1] == 4_470_00


def test_ready_made_what_ifs_stand_beside_the_plan() -> None:
    power = flow("power", 10_00, "FREQ=MONTHLY;BYMONTHDAY=20", "2027-03-01", category="light",
                 seasonal={"6": 20_00, "12": 30_00}, until="2027-12-31")  # fmt: skip
    rent = flow("rent", 500_00, "FREQ=MONTHLY;BYMONTHDAY=15", "2027-03-15", category="home",
                revisions=[{"from": "2028-01-01", "amount": 600_00}])  # fmt: skip
    pay = flow("pay", 900_00, "FREQ=MONTHLY;BYMONTHDAY=1", "2027-03-01", kind="income", roll="before")
    client = client_of(flows=[rent, pay, power], categories=[
        {"id": "home", "name": "Home", "group": "House"}, {"id": "light", "name": "Light", "group": "Power"}])  # fmt: skip
    assert done(client.get("/api/ready-made"))["groups"] == ["House", "Power"]
    # What belongs to a calendar month is dearer from its day on too: 20 in June stays, 30 in December is 33.
    dearer = done(client.post("/api/ready-made", json={
        "kind": "group_changed", "group": "Power", "percent": "10", "from": "2027-07-01"}))  # fmt: skip
    seen = done(client.post("/api/forecast/preview", json={"until": "2027-12-31", "changes": dearer["changes"]}))
    paid = [-event["amount"] for event in seen["events"] if event["flow"] == "power"]
    assert paid == [10_00, 10_00, 10_00, 20_00, *[11_00] * 5, 33_00]
    asked = [
        {"kind": "group_changed", "group": "House", "percent": "4", "from": "2027-07-01"},
        {"kind": "income_lost", "flow": "pay", "from": "2027-04-20", "months": 2},
        {"kind": "bill_early", "flow": "rent", "day": "2027-03-02"},
    ]
    ids = []
    for body in asked:
        made = done(client.post("/api/ready-made", json=body))
        ids.append(done(client.post("/api/what-ifs", json=made))["id"])
    beside = done(client.get(f"/api/side-by-side?what_ifs={','.join(ids)}&years=1"))
    # Ten rents and, as 1 January 2028 is a Saturday, eleven pays; then twelve rents and eleven pays.
    plain = [5_000_00 + 11 * 900_00 - 10 * 500_00 - 130_00, 5_000_00 - 130_00 + 22 * 900_00 - 10 * 500_00 - 12 * 600_00]
    dear = [plain[0] - 6 * 20_00, plain[1] - 6 * 20_00 - 12 * 24_00]
    # 1 May is a Saturday: its pay comes on Friday 30 April and is lost, as is that of 1 June.
    without = [each - 2 * 900_00 for each in plain]
    assert [[end["balance"] for end in way["year_ends"]] for way in beside["ways"]] == [plain, dear, without, plain]
    # Without pay, 20 June is lowest: 5,000 + 2 × 900 − 4 × 500 − 50.
    assert beside["ways"][2]["lowest"] == {"date": "2027-06-20", "balance": 4_750_00, "headroom": 4_750_00}
    # What has changed in the plan since holds in the what-ifs too, where they say nothing of it.
    change = {"op": "update", "kind": "flow", "id": "rent", "value": {"name": "Rent, garage"}}
    done(client.post("/api/changes", json={"changes": [change]}))
    done(client.post(f"/api/what-ifs/{ids[0]}/adopt"))
    kept = next(each for each in done(client.get("/api/plan"))["flows"] if each["id"] == "rent")
    assert (kept["name"], [each["amount"] for each in kept["revisions"]]) == ("Rent, garage", [520_00, 624_00])
    assert refused(client.post("/api/ready-made", json={**asked[2], "day": "2027-03-15"}))[0][-1] == "day"
    assert refused(client.post("/api/ready-made", json={**asked[1], "months": 0}))[0][-1] == "months"
    assert refused(client.post("/api/ready-made", json={**asked[0], "percent": "0"}))[0][-1] == "percent"
    assert refused(client.get("/api/side-by-side?what_ifs=a,b,c,d,e"))[0] == ["query", "what_ifs"]


def test_an_item_is_not_moved_past_its_flows_end() -> None:
    client = client_of(flows=[flow("bill", 10_00, "FREQ=MONTHLY", "2027-03-05", until="2027-06-10")])
    asked = {"op": "once", "kind": "flow", "id": "bill", "nominal": "2027-06-05", "value": {"moved_to": "2027-06-11"}}
    answer = client.post("/api/changes", json={"changes": [asked]})
    assert refused(answer) == (
        ["body", "changes", 0, "value", "moved_to"],
        "“Bill” ends on June 10, 2027: choose a day until then, or let it end later.",
    )
    asked["value"] = {"moved_to": "2027-06-10"}
    done(client.post("/api/changes", json={"changes": [asked]}))


@settings(max_examples=examples(30), deadline=None, suppress_health_check=list(HealthCheck))
@given(
    st.sampled_from(["FREQ=WEEKLY;BYDAY=FR", "FREQ=WEEKLY;INTERVAL=2", "FREQ=MONTHLY;BYMONTHDAY=15,-1", "FREQ=MONTHLY",
                     "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=31"]),
    st.integers(1_00, 500_00), st.booleans(), st.integers(3, 14), st.sampled_from(["none", "before", "nearest"]),
)  # fmt: skip
def test_an_amount_typed_into_a_month_is_what_the_month_then_has(
    rule: str, amount: int, onward: bool, month: int, roll: str
) -> None:
    client = client_of(flows=[flow("bill", 33_33, rule, "2027-03-05", roll=roll)], country="US")
    name = f"{2027 + (month - 1) // 12}-{(month - 1) % 12 + 1:02}"
    before = _cells(client)
    asked = {"cells": [{"flow": "bill", "month": name, "amount": amount, "onward": onward}]}
    changes = done(client.post("/api/months/cells", json=asked))["changes"]
    if changes:
        done(client.post("/api/changes", json={"changes": changes}))
    after = _cells(client)
    assert after[name]["expected"] == -amount
    # What had nothing in the month comes once in it.
    usual = round(amount / max(1, len(before[name]["nominals"])) + 1e-9)
    for other, cell in after.items():
        if other < name or (other > name and not onward):
            assert cell == before[other]
        elif other > name:
            assert cell["expected"] == -usual * len(cell["nominals"])


def test_nothing_is_begun_in_a_month_that_is_over_or_after_the_end() -> None:
    client = client_of(flows=[flow("bill", 33_33, "FREQ=MONTHLY;BYMONTHDAY=15", "2027-05-15", until="2027-06-30")])
    for month in ("2027-02", "2027-09"):
        asked = {"cells": [{"flow": "bill", "month": month, "amount": 5, "onward": True}]}
        assert refused(client.post("/api/months/cells", json=asked))[0] == ["body", "cells", 0, "month"]


def _cells(client: TestClient) -> dict[str, Json]:
    found = done(client.get("/api/months?from=2027-03&count=14&accounts=bank"))
    cells = next(row["cells"] for row in found["rows"] if row["id"] == "bill")
    return {month["month"]: cell for month, cell in zip(found["months"], cells, strict=True)}


@settings(max_examples=examples(40), deadline=None, suppress_health_check=list(HealthCheck))
@given(
    st.sampled_from(["FREQ=WEEKLY;BYDAY=FR", "FREQ=WEEKLY;INTERVAL=2", "FREQ=MONTHLY;BYMONTHDAY=15,-1", "FREQ=MONTHLY",
                     "FREQ=YEARLY", "FREQ=MONTHLY;INTERVAL=2;BYMONTHDAY=31", "FREQ=MONTHLY;BYDAY=2TU", "FREQ=DAILY"]),
    st.integers(0, 3), st.integers(-12, 12),
)  # fmt: skip
def test_a_date_moved_from_here_on_moves_those_after_it_and_no_other(rule: str, which: int, by: int) -> None:
    client = client_of(flows=[flow("bill", 10_00, rule, "2027-03-05")])

    def days() -> list[date]:
        found = done(client.get("/api/forecast?until=2029-03-01"))
        return [date.fromisoformat(event["date"]) for event in found["events"]]

    before = days()
    nominal = before[min(which, len(before) - 1)]
    day = nominal + timedelta(days=by)
    asked = {"op": "revise", "kind": "flow", "id": "bill", "from": nominal.isoformat(),
             "value": {"moved_to": day.isoformat()}}  # fmt: skip
    answer = client.post("/api/changes", json={"changes": [asked]})
    if answer.status_code == 422:
        assert "open it" in refused(answer)[1]
        assert days() == before
        return
    after = days()
    assert [each for each in after if each < min(nominal, day)] == [each for each in before if each < min(nominal, day)]
    assert day in after
    assert nominal not in after or day == nominal
    apart = _apart(before, rule)
    if len(apart) == 1:
        assert _apart([each for each in after if each >= min(nominal, day)], rule) in (apart, set())


def _apart(days: list[date], rule: str) -> set[int]:
    """How far apart days are: weekly ones in days, others in months."""
    if rule.startswith("FREQ=WEEKLY"):
        return {(after - before).days for before, after in pairwise(days)}
    return {(after.year - before.year) * 12 + after.month - before.month for before, after in pairwise(days)}


def test_the_calendar_has_what_happened_and_what_is_expected_and_closes_as_the_days_do() -> None:
    save = {"id": "save", "name": "Pot", "kind": "savings", "opening": {"date": "2026-01-01", "balance": 100_00}}
    card = {"id": "card", "name": "Card", "kind": "credit_card", "opening": {"date": "2026-01-01", "balance": 0}}
    bank = {"id": "bank", "name": "Bank", "kind": "checking", "opening": {"date": "2026-01-01", "balance": 50_00},
            "floor": 0}  # fmt: skip

    def entry(id: str, day: str, payee: str, **legs: int) -> Json:
        named = [{"category" if name == "food" else "account": name, "amount": amount} for name, amount in legs.items()]
        return {"id": id, "date": day, "payee": payee, "legs": named}

    client = client_of(
        accounts=[bank, save, card],
        categories=[{"id": "food", "name": "Food"}],
        entries=[
            entry("soup", "2027-02-27", "Inn", bank=-12_00, food=12_00),
            entry("moved", "2027-02-28", "", bank=-20_00, save=20_00),
            entry("bread", "2027-03-01", "Mill", card=-5_00, food=5_00),
        ],
        flows=[
            flow("rent", 40_00, "FREQ=MONTHLY;BYMONTHDAY=2", "2027-03-01"),
            flow("pay", 90_00, "FREQ=MONTHLY;BYMONTHDAY=3", "2027-03-01", kind="income"),
            flow("pot", 10_00, "FREQ=MONTHLY;BYMONTHDAY=3", "2027-03-01", kind="transfer", to_account="save"),
        ],
    )
    found = done(client.get("/api/calendar-days?from=2027-02-26&to=2027-03-04"))
    assert found["accounts"] == ["Bank", "Pot"]
    seen = [
        (day["date"][5:], day["closing"], day["depth"], [
            (each["name"], each["amount"], each["passed"], each["status"], each["entry"], each["card"])
            for each in day["items"]
        ])
        for day in found["days"]
    ]  # fmt: skip
    assert seen == [
        ("02-26", 150_00, "clear", []),
        ("02-27", 138_00, "clear", [("Inn", -12_00, 0, "settled", "soup", None)]),
        ("02-28", 138_00, "clear", [("Bank to Pot", 0, 20_00, "settled", "moved", None)]),
        ("03-01", 138_00, "clear", [("Mill", -5_00, 0, "settled", "bread", "Card")]),
        ("03-02", 98_00, "floor", [("Rent", -40_00, 0, "expected", None, None)]),
        ("03-03", 188_00, "clear", [("Pay", 90_00, 0, "expected", None, None), ("Pot", 0, 10_00, "expected", None, None)]),
        ("03-04", 188_00, "clear", []),
    ]  # fmt: skip
    moved = done(client.get("/api/register?account=save"))["rows"]
    assert [(row["payee"], row["name"]) for row in moved] == [("", "Bank to Pot")]
    assert done(client.get("/api/entries/find?text=20.00"))["entries"][0]["name"] == "Bank to Pot"
    # A bill without an amount yet has its row in Months, to be filled; a transfer between the two has none.
    gas = {"op": "add", "kind": "flow", "id": "gas", "value": flow("gas", 0, "FREQ=MONTHLY;BYMONTHDAY=9", "2027-03-01")}
    done(client.post("/api/changes", json={"changes": [gas]}))
    rows = {row["name"]: row["cells"] for row in done(client.get("/api/months?from=2027-03&count=1"))["rows"]}
    assert (rows["Gas"][0]["amount"], rows["Gas"][0]["nominals"], "Pot" in rows) == (0, ["2027-03-09"], False)
    client.post("/api/undo")
    assert [(day["short_account"], day["short_by"]) for day in found["days"][3:6]] == [
        (None, 0),
        ("Bank", 22_00),
        (None, 0),
    ]
    assert [each["may_change"] for day in found["days"] for each in day["items"]] == [False] * 3 + [True] * 3
    alone = done(client.get("/api/calendar-days?from=2027-03-01&to=2027-03-04&accounts=bank"))
    ahead = done(client.get("/api/ahead?until=2027-03-04&accounts=bank"))
    assert [day["closing"] for day in alone["days"][1:3]] == [-22_00, 58_00]
    assert [each["balance"] for each in ahead["events"]] == [-22_00, 68_00, 58_00]
    assert refused(client.get("/api/calendar-days?from=2027-03-01&to=2029-03-04"))[0] == ["query", "to"]


def test_an_edit_tells_the_stretches_it_brings_and_takes_away_as_far_as_it_reaches() -> None:
    bank = {"id": "bank", "name": "Bank", "kind": "checking", "opening": {"date": "2026-01-01", "balance": 100_00}}
    client = client_of(
        accounts=[bank],
        flows=[
            flow("rent", 90_00, "FREQ=MONTHLY;BYMONTHDAY=10", "2027-03-10"),
            flow("pay", 90_00, "FREQ=MONTHLY;BYMONTHDAY=20", "2027-03-01", kind="income"),
            flow("roof", 60_00, "FREQ=YEARLY", "2027-03-12"),
        ],
    )

    def told(*changes: Json) -> Json:
        body = {"from": "2027-02-20", "until": "2027-04-12", "changes": list(changes), "draft": True}
        answer = done(client.post("/api/tideline", json=body))
        assert answer["refused"] == []
        return answer

    def effects(answer: Json) -> list[tuple[Any, ...]]:
        names = ("what", "below", "from", "to", "deepest", "short_before", "short_after")
        return [tuple(each[name] for name in names) for each in answer["effects"]]

    # Rent leaves 10, the roof −50; pay makes 40; April's rent leaves −50 until its pay, and so on, deeper each year.
    once = {"op": "once", "kind": "flow", "id": "roof", "nominal": "2027-03-12"}
    later = told({**once, "value": {"moved_to": "2027-03-25"}})
    # The account is not short in March any more; April's stretch stays as it is, so nothing is said of it.
    assert effects(later) == [("goes", "floor", "2027-03-12", "2027-03-19", "2027-03-12", 50_00, 0)]
    less = told({"op": "update", "kind": "flow", "id": "roof", "value": {"amount": 30_00}})
    assert [each[0] for each in effects(less)] == ["eases"] * 6
    assert less["effects_in_all"] > 6
    # A bill in May is told of, though the tideline ends in April: at least its first three dates are looked at.
    bill = flow("fence", 20_00, "FREQ=MONTHLY;BYMONTHDAY=15", "2027-05-15")
    more = told({"op": "add", "kind": "flow", "id": "fence", "value": bill})
    assert more["looked_until"] == "2027-07-15"
    assert effects(more) == [
        ("deepens", "floor", "2027-05-10", "2027-05-19", "2027-05-15", 50_00, 70_00),
        ("deepens", "floor", "2027-06-10", "2027-06-19", "2027-06-15", 50_00, 90_00),
        ("deepens", "floor", "2027-07-10", "2027-07-15", "2027-07-15", 50_00, 110_00),
    ]
    enough = told({"op": "add", "kind": "flow", "id": "gift", "value": {
        **flow("gift", 100_00, "FREQ=DAILY", "2027-03-02", kind="income"), "count": 1}})  # fmt: skip
    assert {each[0] for each in effects(enough)} == {"goes"}


def test_what_is_left_of_the_month_and_until_payday_counts_what_is_put_by_and_held_back() -> None:
    bank = {"id": "bank", "name": "Bank", "kind": "checking", "opening": {"date": "2027-02-15", "balance": 500_00}}
    pot = {"id": "pot", "name": "Pot", "kind": "savings", "opening": {"date": "2027-03-02", "balance": 70_00}}
    legs = [{"account": "bank", "amount": -12_00}, {"category": "food", "amount": 12_00}]
    paid = [{"account": "bank", "amount": 800_00}, {"category": "wage", "amount": -800_00}]
    client = client_of(
        accounts=[bank, pot],
        categories=[{"id": "food", "name": "Food"}, {"id": "wage", "name": "Wage", "kind": "income"}],
        allowances=[{"id": "eat", "name": "Food", "limit": 100_00, "period": "month", "categories": ["food"],
                     "account": "bank", "timing": "at_end", "from": "2027-03-01"}],
        entries=[
            {"id": "soup", "date": "2027-03-01", "payee": "Inn", "legs": legs},
            {"id": "wages", "date": "2027-02-20", "payee": "Mill", "flow": "pay", "nominal": "2027-02-20", "legs": paid},
        ],
        flows=[
            flow("pay", 800_00, "FREQ=MONTHLY;BYMONTHDAY=20", "2027-02-20", kind="income"),
            flow("rent", 300_00, "FREQ=MONTHLY;BYMONTHDAY=25", "2027-02-25"),
            flow("tea", 5_00, "FREQ=MONTHLY;BYMONTHDAY=9", "2027-03-01"),
            flow("put-by", 50_00, "FREQ=MONTHLY;BYMONTHDAY=22", "2027-03-01", kind="transfer", to_account="pot"),
        ],
    )  # fmt: skip
    found = done(client.get("/api/ahead/left"))
    assert found["accounts"] == ["Bank", "Pot"]
    # March: pay; rent past due and this month's, tea, the allowance whole, and what is put by.
    month = 2 * 300_00 + 5_00 + 100_00 + 50_00
    assert (found["month"]["income"], found["month"]["out"], found["month"]["left"]) == (800_00, month, 800_00 - month)
    # From the last pay to the day before the next: rent past due and tea; 12.00 of the allowance is spent, it holds
    # back the rest on the last of the month.
    until = found["payday"]
    assert (until["from"], until["to"], until["until"]) == ("2027-02-20", "2027-03-19", "Pay")
    assert (until["income"], until["out"]) == (800_00, 300_00 + 5_00 + 12_00)
    assert [(each["days"], each["count"], each["amount"]) for each in found["bills"]] == [
        (14, 2, 305_00), (30, 3, 605_00), (90, 7, 5_00 * 3 + 300_00 * 4)]  # fmt: skip
    alone = done(client.get("/api/ahead/left?accounts=pot"))
    assert (alone["month"]["income"], alone["month"]["out"], alone["payday"]) == (50_00, 0, None)


def test_limits_of_many_categories_are_typed_in_one_table(demo: TestClient) -> None:
    offered = done(demo.get("/api/allowances/table"))
    plan = done(demo.get("/api/plan"))
    held = {id for each in plan["allowances"] for id in each["categories"]}
    assert offered["categories"] == [
        each["name"] for each in plan["categories"]
        if each["kind"] == "expense" and each["id"] not in held and not each.get("retired")
    ]  # fmt: skip
    known = offered["categories"][0]
    lines = [
        {"category": known.upper(), "limit": 100_00, "every": "quarter"}, {"category": "Gifts", "limit": 500_00, "every": "year"},
        {"category": "Kiosk", "limit": 12_50, "every": "two_weeks"},
    ]  # fmt: skip
    read = done(demo.post("/api/allowances/table", json={"lines": lines}))
    assert [(each["limit"], each["period"]) for each in read["lines"]] == [
        (33_33, "month"), (41_67, "month"), (12_50, "two_weeks")]  # fmt: skip
    done(demo.post("/api/changes", json={"changes": read["changes"]}))
    after = done(demo.get("/api/plan"))
    names = {each["id"]: each["name"] for each in after["categories"]}
    made = after["allowances"][len(plan["allowances"]) :]
    assert [(each["limit"], [names[id] for id in each["categories"]], each["account"]) for each in made] == [
        (33_33, [known], "joint"), (41_67, ["Gifts"], "joint"), (12_50, ["Kiosk"], "joint")]  # fmt: skip
    assert len(after["categories"]) == len(plan["categories"]) + 2
    for line, field in (
        ({"category": known, "limit": 1}, "category"), ({"category": " ", "limit": 1}, "category"),
        ({"category": "New", "limit": 0}, "limit"),
    ):  # fmt: skip
        assert refused(demo.post("/api/allowances/table", json={"lines": [line]}))[0] == ["body", "lines", 0, field]
    twice = [{"category": "New", "limit": 1}, {"category": "new", "limit": 1}]
    assert refused(demo.post("/api/allowances/table", json={"lines": twice}))[0] == ["body", "lines", 1, "category"]
    demo.post("/api/undo")
    assert done(demo.get("/api/plan")) == plan
