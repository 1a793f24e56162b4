"""Cards, lines, savings and sweeps over HTTP: cases worked by hand, what is refused, settling, and what is told."""

from collections.abc import Iterator
from datetime import date
from typing import Any

import pytest
from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from stores import new_store

Json = dict[str, Any]
TODAY = date(2027, 3, 1)


def account(id: str, kind: str, balance: int, **more: Any) -> Json:
    return {"id": id, "name": id.title(), "kind": kind, "opening": {"date": "2027-01-01", "balance": balance}, **more}


# 18.25 % a year is 0.05 % a day. The cycle closes on the 10th and is due 20 days later.
CARD: Json = {
    "limit": 1_000_00, "closing_day": 10, "due": {"days_after": 20}, "from_account": "joint",
    "rates": [{"from": "2027-01-01", "annual_rate": "18.25"}, {"from": "2027-05-01", "annual_rate": "29.2"}],
    "minimum": {"percent": "10", "floor": 25_00},
}  # fmt: skip
BOUGHT = {
    "id": "oven", "date": "2027-02-05", "payee": "Stoves and more",
    "legs": [{"account": "card", "amount": -500_00}, {"category": "home", "amount": 500_00}],
}  # fmt: skip


def household(*accounts: Json, entries: tuple[Json, ...] = (BOUGHT,), **more: Any) -> Json:
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": list(accounts),
        "categories": [{"id": "home", "name": "Home"}], "entries": list(entries), **more,
    }  # fmt: skip


def with_card(**terms: Any) -> Json:
    return household(account("joint", "checking", 2_000_00), account("card", "credit_card", 0, card={**CARD, **terms}))


@pytest.fixture
def client() -> Iterator[TestClient]:
    store = new_store()
    yield TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765")
    store.close()


def put(client: TestClient, document: Json) -> None:
    answer = client.put("/api/plan", json=document)
    assert answer.status_code == 200, answer.text


def made(client: TestClient, until: str, account: str = "joint") -> list[Any]:
    """What rules make on an account: day, amount, source, nominal."""
    events = client.get(f"/api/forecast?until={until}").json()["events"]
    return [
        (each["date"], each["amount"], each["source"], each["nominal"]) for each in events
        if each["account"] == account and each["source"] not in ("flow", "recorded")
    ]  # fmt: skip


def test_a_statement_is_paid_in_full_and_costs_nothing(client: TestClient) -> None:
    put(client, with_card())
    assert made(client, "2027-12-31") == [("2027-03-02", -500_00, "card_payment", "2027-03-02")]
    answer = client.get("/api/forecast?until=2027-04-01").json()
    on_card = next(each for each in answer["accounts"] if each["id"] == "card")
    assert on_card["steps"] == [["2027-03-02", 0]]
    assert on_card["available"] == [["2027-03-02", 1_000_00]]
    assert on_card["stretches"] == on_card["top_ups"] == []
    why = next(each["why"] for each in answer["events"] if each["account"] == "joint")
    assert why == "Statement of Wed Feb 10 over $500.00, in full."
    card = client.get("/api/debts").json()["cards"][0]
    assert (card["owed"], card["available"], card["annual_rate"]) == (500_00, 500_00, "18.25")
    assert (card["next_closing"], card["next_due"], card["next_payment"]) == ("2027-03-10", "2027-03-02", 500_00)
    assert (card["cost_year"], card["cost_month"]) == (91_25, 7_60)


def test_paying_the_minimum_costs_interest_by_the_day(client: TestClient) -> None:
    put(client, with_card(pays="minimum"))
    # 19 days at 500 and 9 at 450, at 0.05 % a day: 6.775. Then 10 % of 456.78; 450+6.78 for 20 days, 411.10 for 11.
    assert made(client, "2027-04-10") == [
        ("2027-03-02", -50_00, "card_payment", "2027-03-02"), ("2027-03-30", -45_68, "card_payment", "2027-03-30"),
    ]  # fmt: skip
    charged = [each for each in made(client, "2027-04-10", "card") if each[2] == "card_interest"]
    assert charged == [
        ("2027-03-10", -6_78, "card_interest", "2027-03-10"), ("2027-04-10", -6_81, "card_interest", "2027-04-10"),
    ]  # fmt: skip
    page = client.get("/api/debts/cards/card").json()
    rises = page["card"]["rises"]
    assert (rises["day"], rises["before"], rises["rate"]) == ("2027-05-01", "18.25", "29.2")
    assert rises["cost_month"] == (rises["owed"] * 292 * 2 + 12_000) // 24_000
    running, last, *_ = page["statements"]
    assert (last["spent"], last["balance"], last["minimum"], last["due"]) == (500_00, 500_00, 50_00, "2027-03-02")
    assert (running["first"], running["closing"], running["spent"]) == ("2027-02-11", "2027-03-10", 0)
    assert page["year"]["interest"] == sum(month["interest"] for month in page["months"])


def test_ways_of_paying_are_held_against_one_another(client: TestClient) -> None:
    put(client, with_card(pays="minimum"))
    ways = {way["pays"]: way for way in client.get("/api/debts/cards/card").json()["ways"]}
    assert (ways["statement"]["ends"], ways["statement"]["interest"]) == ("2027-03-02", 0)
    fixed = client.post("/api/debts/cards/card/paying", json={"pays": "fixed", "fixed_amount": 100_00}).json()
    assert fixed["first_payment"] == 100_00
    assert fixed["payments"] < ways["minimum"]["payments"]
    assert fixed["saves"] == ways["minimum"]["interest"] - fixed["interest"] > 0
    nothing = client.post("/api/debts/cards/card/paying", json={"pays": "fixed"})
    assert nothing.status_code == 422
    assert nothing.json()["detail"][0]["loc"][-1] == "fixed_amount"
    # A minimum that does not cover the interest never ends.
    put(client, with_card(pays="minimum", minimum={"percent": "0", "floor": 1}))
    never = client.get("/api/debts/cards/card").json()["ways"][1]
    assert never["ends"] is None
    assert never["saves"] is None


def test_a_payment_is_settled_left_out_put_off_and_set_like_any_other(client: TestClient) -> None:
    put(client, with_card())
    due = client.get("/api/settle").json()["due"]
    assert [(each["flow"], each["amount"], each["lands"]) for each in due] == [("card-payment", 500_00, "2027-03-02")]
    line = {"flow": "card-payment", "nominal": "2027-03-02"}

    def settle(**more: Any) -> Any:
        return client.post("/api/settle", json={"lines": [{**line, **more}]})

    assert settle(do="put_off", to="2027-03-20").status_code == 200
    # Put off past its due date, it is late: the cycle costs interest.
    assert made(client, "2027-03-31")[0] == ("2027-03-20", -500_00, "card_payment", "2027-03-02")
    assert [each[2] for each in made(client, "2027-03-25", "card")] == ["card_interest", "card_payment"]
    assert client.post("/api/undo").status_code == 200
    assert settle(do="leave_out").status_code == 200
    assert made(client, "2027-03-20") == []
    assert client.post("/api/undo").status_code == 200
    once = {"op": "once", "kind": "flow", "id": "card-payment", "nominal": "2027-03-02", "value": {"amount": 120_00}}
    assert client.post("/api/changes", json={"changes": [once]}).status_code == 200
    assert made(client, "2027-03-20")[0][1] == -120_00
    assert client.post("/api/changes", json={"changes": [{**once, "value": None}]}).status_code == 200
    assert made(client, "2027-03-20")[0][1] == -500_00
    assert settle(do="settle", amount=490_00, date="2027-03-01").status_code == 200
    entry = client.get("/api/plan").json()["entries"][-1]
    assert entry["legs"] == [{"account": "joint", "amount": -490_00}, {"account": "card", "amount": 490_00}]
    assert (entry["flow"], entry["nominal"]) == ("card-payment", "2027-03-02")
    # The rest was not paid in time: it bears interest, and is in the next statement.
    assert [each[2] for each in made(client, "2027-03-31", "card")] == ["card_interest", "card_payment"]
    settled_twice = settle(do="settle")
    assert settled_twice.status_code == 422
    assert "settled already" in settled_twice.text
    stopped = client.post("/api/changes", json={
        "changes": [{"op": "update", "kind": "account", "id": "card", "value": {"card": None}}]})  # fmt: skip
    assert stopped.status_code == 422
    assert "recorded" in stopped.text
    whole = client.get("/api/plan").json()
    assert client.put("/api/plan", json=whole).json() == whole


def test_an_interest_charge_is_settled_as_an_expense_and_cannot_be_put_off(client: TestClient) -> None:
    put(client, household(account("line", "credit_line", -100_00, card={**CARD, "from_account": None}), entries=()))
    nominal = "2027-03-10"
    refused = client.post("/api/settle", json={
        "lines": [{"flow": "line-interest", "nominal": nominal, "do": "put_off", "to": "2027-03-12"}]})  # fmt: skip
    assert refused.status_code == 422
    assert refused.json()["detail"][0]["loc"][-1] == "to"
    settled = client.post("/api/settle", json={
        "lines": [{"flow": "line-interest", "nominal": nominal, "do": "settle"}]})  # fmt: skip
    assert settled.status_code == 200
    legs = client.get("/api/plan").json()["entries"][-1]["legs"]
    # 28 days at 0.05 % of 100.
    assert legs == [{"account": "line", "amount": -1_40}, {"category": "card-interest", "amount": 1_40}]


def test_a_line_lends_what_is_missing_and_is_told_not_to(client: TestClient) -> None:
    bill = {"id": "roof", "name": "Roof", "kind": "bill", "amount": 300_00, "from_account": "joint",
            "dates": ["2027-03-15"]}  # fmt: skip
    line = account("line", "credit_line", 0, card={**CARD, "limit": 150_00, "covers": "joint"})
    put(client, household(account("joint", "checking", 100_00, floor=50_00), line, entries=(), flows=[bill]))
    drawn = [each for each in made(client, "2027-03-31") if each[2] == "line_draw"]
    # 250 is missing to the floor, but the line has only 150.
    assert drawn == [("2027-03-15", 150_00, "line_draw", None)]
    covers = {"op": "update", "kind": "account", "id": "line", "value": {"card": {"covers": None}}}
    preview = client.post("/api/forecast/preview", json={"until": "2027-03-31", "changes": [covers]}).json()
    lows = {each["id"]: each["lowest"]["balance"] for each in preview["after"]["accounts"]}
    assert lows["joint"] == -200_00
    assert client.post("/api/changes", json={"changes": [covers]}).status_code == 200
    # What was not given stayed as it was.
    assert client.get("/api/plan").json()["accounts"][1]["card"]["limit"] == 150_00
    assert made(client, "2027-03-31") == []


@pytest.mark.parametrize(
    ("terms", "march"),
    [
        # 10,000.00 at 3.65 % without compounding: 1.00 a day; 360 days to a year make it more.
        ({"rate": "3.65", "compounding": "none"}, 31_00),
        ({"rate": "3.6", "compounding": "none", "basis": "360"}, 31_00),
        ({"rate": "3.65"}, 31_05),  # 10,000 x (1.0001^31 - 1) = 31.0465
        ({"apy": "3.65"}, 30_50),  # 10,000 x (1.0365^(31/365) - 1) = 30.494
        ({"rate": "3.65", "rounding": "daily"}, 31_00),
    ],
)
def test_savings_are_credited_by_the_banks_convention(client: TestClient, terms: Json, march: int) -> None:
    put(client, household(account("nest", "savings", 10_000_00, savings=terms), entries=()))
    credited = made(client, "2027-04-01", "nest")
    if "apy" in terms:
        exact = 10_000_00 * (1.0365 ** (31 / 365) - 1)
        assert abs(credited[0][1] - exact) <= 0.5
    else:
        assert credited == [("2027-03-31", march, "savings_interest", "2027-03-31")]
    line = {"flow": "nest-interest", "nominal": "2027-03-31", "do": "settle", "date": "2027-03-01", "amount": 30_00}
    assert client.post("/api/settle", json={"lines": [line]}).status_code == 200
    assert client.get("/api/plan").json()["entries"][-1]["legs"][1] == {
        "category": "savings-interest",
        "amount": -30_00,
    }


def test_a_sweep_takes_what_is_missing_within_the_others_headroom(client: TestClient) -> None:
    sweep = {"with": "nest", "least": 200_00, "most": 500_00, "rules": ["FREQ=MONTHLY;BYMONTHDAY=5"]}
    nest = account("nest", "savings", 150_00, floor=50_00)
    put(client, household(account("joint", "checking", 20_00, sweep=sweep), nest, entries=()))
    assert made(client, "2027-04-30") == [("2027-03-05", 100_00, "sweep", None)]


BAD: list[tuple[str, Json, tuple[Any, ...]]] = [
    ("card", {"closing_day": 0}, ("card", "closing_day")),
    ("card", {"closing_day": 32}, ("card", "closing_day")),
    ("card", {"due": {"days_after": 29}}, ("card", "due", "days_after")),
    ("card", {"due": {"days_after": 0}}, ("card", "due", "days_after")),
    ("card", {"due": {}}, ("card", "due")),
    ("card", {"rates": [{"from": "2027-01-01", "annual_rate": "9"}] * 2}, ("card", "rates")),
    ("card", {"from_account": "card"}, ("card", "from_account")),
    ("card", {"from_account": "line"}, ("card", "from_account")),
    ("card", {"covers": "joint"}, ("card", "covers")),
    ("card", {"pays": "fixed"}, ("card", "fixed_amount")),
    ("line", {"covers": "line"}, ("card", "covers")),
    ("line", {"is_line": False}, ("card", "is_line")),
    ("nest", {"apy": "101"}, ("savings", "apy")),
    ("nest", {"apy": "1", "rate": "1"}, ("savings", "apy")),
    ("joint", {"most": 1, "least": 2}, ("sweep", "most")),
    ("joint", {"with": "joint"}, ("sweep", "with")),
    ("joint", {"with": "other"}, ("sweep", "with")),
    ("joint", {"rules": []}, ("sweep", "rules")),
]


@pytest.mark.parametrize(("id", "terms", "field"), BAD)
def test_what_cannot_be_is_a_sentence_at_its_field(
    client: TestClient, id: str, terms: Json, field: tuple[Any, ...]
) -> None:
    sweep = {"with": "nest", "least": 0, "rules": ["FREQ=DAILY"]}
    accounts = {
        "joint": account("joint", "checking", 100_00, sweep=sweep),
        "other": account("other", "checking", 100_00, sweep={**sweep, "with": "joint"}),
        "nest": account("nest", "savings", 0, savings={"apy": "2"}),
        "card": account("card", "credit_card", 0, card=CARD),
        "line": account("line", "credit_line", 0, card=CARD),
    }
    put(client, household(*accounts.values(), entries=()))
    before = client.get("/api/plan").json()
    name = field[0]
    changed = {**accounts[id], name: {**accounts[id][name], **terms}}
    document = household(*{**accounts, id: changed}.values(), entries=())
    answer = client.put("/api/plan", json=document)
    assert answer.status_code == 422
    places = [tuple(each["loc"][1:]) for each in answer.json()["detail"]]
    assert ("accounts", list(accounts).index(id), *field) in places
    assert client.get("/api/plan").json() == before


def test_more_owed_than_the_limit_is_accepted_and_said(client: TestClient) -> None:
    put(client, with_card())
    change = {"op": "revise", "kind": "account", "id": "card", "value": {"limit": 400_00}}
    notes = client.post("/api/changes", json={"changes": [change]}).json()["notes"]
    assert notes == ["“Card” owes $100.00 more than its limit."]


def test_a_payment_recorded_as_spending_is_found_and_put_right(client: TestClient) -> None:
    slip_up = {"id": "twice", "date": "2027-02-20", "payee": "Card, paid by hand",
               "legs": [{"account": "joint", "amount": -80_00}, {"category": "home", "amount": 80_00}]}  # fmt: skip
    put(client, {**with_card(), "entries": [BOUGHT, slip_up]})
    found = client.get("/api/debts/cards/card").json()["counted_twice"]
    assert (found["entries"], found["amount"]) == (1, 80_00)
    assert client.post("/api/changes", json={"changes": found["changes"]}).status_code == 200
    page = client.get("/api/debts/cards/card").json()
    assert page["counted_twice"] is None
    assert page["card"]["owed"] == 420_00


def test_a_rate_that_rises_is_said_thirty_days_before(client: TestClient) -> None:
    soon = [{"from": "2027-01-01", "annual_rate": "0"}, {"from": "2027-03-31", "annual_rate": "19.9"}]
    put(client, with_card(rates=soon))
    assert client.get("/api/settle").json()["notices"] == [
        {"account": "card", "loan": None, "date": "2027-03-31", "text": "The rate of “Card” rises to 19.9%"}
    ]
    asked = {"accounts": [], "from": "2027-02-01", "until": "2027-06-01", "changes": []}
    assert client.post("/api/tideline", json=asked).json()["marks"] == [{"date": "2027-03-31", "text": "Card: 19.9%"}]
    put(client, with_card())
    assert client.get("/api/settle").json()["notices"] == []


def test_what_is_owned_is_valued_anew(client: TestClient) -> None:
    put(client, household(account("boat", "asset", 9_000_00), account("joint", "checking", 0), entries=()))
    value = {"entry": "seen", "amount": 8_200_00, "date": "2027-02-15"}
    change = {"op": "worth", "kind": "account", "id": "boat", "value": value}
    assert client.post("/api/changes", json={"changes": [change]}).status_code == 200
    entry = client.get("/api/plan").json()["entries"][-1]
    assert entry["legs"] == [{"account": "boat", "amount": -800_00}, {"category": "value-changed", "amount": 800_00}]
    for wrong in ({**change, "id": "joint"}, {**change, "value": {**value, "entry": "new", "date": "2027-03-02"}}):
        assert client.post("/api/changes", json={"changes": [wrong]}).status_code == 422


def test_figures_of_a_card_say_how_they_come_about(client: TestClient) -> None:
    put(client, with_card(pays="minimum"))
    page = client.get("/api/debts/cards/card").json()
    assert page["statements"][1]["why_minimum"] == "10% of $500.00, at least $25.00, and never more than is owed."
    assert page["months"][0]["whys"] == [
        "Tue Mar 2, $50.00: Statement of Wed Feb 10 over $500.00, its minimum.",
        "Wed Mar 10, $6.78: 28 days from Thu Feb 11 to Wed Mar 10: $483.93 owed on average, at 18.25% a year.",
        "Tue Mar 30, $45.68: Statement of Wed Mar 10 over $456.78, its minimum.",
    ]


def begun(client: TestClient, card: Json) -> None:
    lent = account("card", "credit_card", -400_00, card=card, opening={"date": "2027-03-01", "balance": -400_00})
    put(client, household(account("bank", "checking", 2_000_00), lent, entries=()))


def test_a_card_begun_between_a_statement_and_its_due_day_pays_that_statement(client: TestClient) -> None:
    """Closed on 15 February, begun on 1 March with 400 owed, of which 250.00 was on the statement, due on 10 March."""
    card = {"limit": 2_000_00, "closing_day": 15, "due": {"day": 10}, "from_account": "bank",
            "rates": [{"from": "2027-01-01", "annual_rate": "18.25"}],
            "begun_with": {"closing": "2027-02-15", "balance": 250_00, "due": "2027-03-10"}}  # fmt: skip
    begun(client, card)
    plan = client.get("/api/plan").json()
    assert next(each for each in plan["accounts"] if each["id"] == "card")["card"]["begun_with"] == card["begun_with"]
    events = client.get("/api/forecast?until=2027-04-15&accounts=card").json()["events"]
    assert [(each["date"], each["nominal"], each["source"], each["amount"]) for each in events] == [
        ("2027-03-10", "2027-03-10", "card_payment", 250_00),
        # Paid in full and in time: no interest in March; the statement of 15 March has the other 150.00.
        ("2027-04-10", "2027-04-10", "card_payment", 150_00),
    ]
    (page,) = client.get("/api/debts").json()["cards"]
    assert (page["next_due"], page["next_payment"]) == ("2027-03-10", 250_00)
    settle = {"lines": [{"flow": "card-payment", "nominal": "2027-03-10", "do": "put_off", "to": "2027-03-12"}]}
    assert client.post("/api/settle", json=settle).status_code == 200
    late = client.get("/api/forecast?until=2027-04-15&accounts=card").json()["events"]
    # Put off beyond its due day, the cycle's interest is charged: 400.00 for 12 days and 150.00 for 4, at 0.05 % a day.
    assert [(each["date"], each["amount"]) for each in late][:2] == [("2027-03-12", 250_00), ("2027-03-15", -2_50)]
    for wrong, field, says in (
        ({"closing": "2027-02-14"}, "closing", "closed on February 15, 2027"),
        ({"due": "2027-02-20"}, "due", "was due before the card begins"),
        ({"due": "2027-03-16"}, "due", "by the next closing on March 15, 2027"),
        ({"balance": -1}, "balance", "without a sign"),
    ):
        change = {"op": "update", "kind": "account", "id": "card",
                  "value": {"card": {**card, "begun_with": {**card["begun_with"], **wrong}}}}  # fmt: skip
        answer = client.post("/api/changes", json={"changes": [change]})
        assert answer.status_code == 422
        assert answer.json()["detail"][0]["loc"][-2:] == ["begun_with", field]
        assert says in answer.json()["detail"][0]["msg"]


def test_a_closed_account_keeps_its_past_and_is_offered_nowhere(client: TestClient) -> None:
    begun(client, {"limit": 0, "closing_day": 15, "due": {"day": 10}})
    bill = {"name": "Club", "kind": "bill", "amount": 5_00, "from_account": "bank", "subscription": True,
            "rules": ["FREQ=MONTHLY;BYMONTHDAY=20"], "start": "2027-03-20", "last_paid": "2027-02-20"}  # fmt: skip
    assert client.post("/api/changes", json={"changes": [
        {"op": "add", "kind": "flow", "id": "club", "value": bill}]}).status_code == 200  # fmt: skip
    (row,) = client.get("/api/subscriptions").json()["subscriptions"]
    assert (row["stands"], row["last_paid"], row["paid_so_far"]) == ("running", "2027-02-20", 0)
    shut = {"op": "update", "kind": "account", "id": "bank", "value": {"closed": "2027-03-01"}}
    answer = client.post("/api/changes", json={"changes": [shut]})
    assert answer.json()["notes"] == ["“Bank” is closed, and “Club” is still expected on it."]
    rows = {each["account"]["id"]: each for each in client.get("/api/accounts").json()["accounts"]}
    assert (rows["bank"]["is_closed"], rows["bank"]["is_spendable"]) == (True, False)
    # Nothing is left that money could be paid from: forms begin with no account, not with the card.
    assert client.get("/api/household").json()["beginnings"]["account"] is None
    plan = client.get("/api/plan").json()
    assert client.put("/api/plan", json=plan).json() == plan
    early = {**shut, "value": {"closed": "2020-01-01"}}
    assert client.post("/api/changes", json={"changes": [early]}).json()["detail"][0]["loc"][-1] == "closed"
