"""What forms begin with and offer: it can be saved as it is, in any currency, and it is of a size that people have."""

from collections.abc import Iterator
from datetime import date
from typing import Any

import pytest
from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from stores import new_store


@pytest.fixture
def client() -> Iterator[TestClient]:
    store = new_store()
    yield TestClient(create_app(store, lambda: date(2027, 3, 1)), base_url="http://127.0.0.1:8765")
    store.close()


def add(client: TestClient, kind: str, id: str, value: dict[str, Any]) -> Any:
    return client.post("/api/changes", json={"changes": [{"op": "add", "kind": kind, "id": id, "value": value}]})


@pytest.mark.parametrize("currency", ["USD", "JPY", "KWD"])
def test_what_a_form_of_an_account_offers_can_be_saved_as_it_is(client: TestClient, currency: str) -> None:
    setting = {"op": "update", "kind": "household", "id": "household", "value": {"currency": currency}}
    assert client.post("/api/changes", json={"changes": [setting]}).status_code == 200
    household = client.get("/api/household").json()
    usual, offers = household["usual_terms"], {each["kind"]: each for each in household["account_offers"]}
    decimals = household["decimals"][currency]
    assert usual["card_least"] == 2500 * 10 ** max(0, decimals - 2)
    opening = {"date": household["today"], "balance": 0}
    partner = {"name": "Aside", "kind": "savings", "currency": currency, "opening": opening}
    assert add(client, "account", "aside", partner).status_code == 200
    for kind, offer in offers.items():
        value = {
            "name": kind,
            "kind": kind,
            "currency": currency,
            "opening": opening,
            "spendable": offer["may_be_spent"],
        }
        if offer["has_card"]:
            least = {"percent": usual["card_percent"], "plus_interest": True, "floor": usual["card_least"]}
            value["card"] = {"limit": 1_000, "closing_day": 12, "due": {"days_after": usual["card_days_after"]},
                             "minimum": least, "pays": offer["pays"], "from_account": "aside",
                             "is_line": kind == "credit_line",
                             "rates": [{"from": household["today"], "annual_rate": "20"}]}  # fmt: skip
        if offer["may_earn"]:
            value["savings"] = {"apy": "4"}
        if offer["may_sweep"]:
            value["sweep"] = {"with": "aside", "least": 1, "most": None, "rules": ["FREQ=DAILY"],
                              "start": household["today"]}  # fmt: skip
        if offer["is_lent"]:
            value["lent"] = {"to": "Moss"}
        answer = add(client, "account", kind, value)
        assert answer.status_code == 200, (kind, answer.text)
        row = next(one for one in client.get("/api/accounts").json()["accounts"] if one["account"]["id"] == kind)
        assert row["account"]["spendable"] == offer["may_be_spent"]
    owed = {kind for kind, offer in offers.items() if offer["is_owed"]}
    assert (owed, "loan" in offers) == ({"credit_card", "credit_line"}, False)
    # A loan to try can be worked through at once, and an extra dragged to about its payment.
    loan = {"principal": usual["loan_principal"], "annual_rate": usual["loan_rate"], "payments": usual["loan_payments"],
            "disbursed": household["today"], "first_payment": household["beginnings"]["first_payment"]}  # fmt: skip
    told = client.post("/api/debts/alternatives", json={"loan": loan, "variants": [{}]})
    assert told.status_code == 200, told.text
    hundred = 10_000 * 10 ** max(0, decimals - 2)
    payment, extra = told.json()["outcomes"][0]["payment"], told.json()["extra_most"]
    assert (extra % hundred, extra) == (0, max(5 * hundred, extra))
    assert abs(extra - payment) <= hundred // 2 or extra == 5 * hundred
    wide = {"loan": loan, "variants": [{}] * (told.json()["most_variants"] + 1)}
    assert client.post("/api/debts/alternatives", json=wide).status_code == 422
    assert client.post("/api/debts/alternatives", json={**wide, "variants": wide["variants"][1:]}).status_code == 200


def test_a_first_account_in_another_currency_says_what_totals_are_in(client: TestClient) -> None:
    today = client.get("/api/household").json()["today"]
    value = {"name": "Everyday", "kind": "checking", "currency": "JPY", "opening": {"date": today, "balance": 1}}
    account = {"op": "add", "kind": "account", "id": "a", "value": value}
    setting = {"op": "update", "kind": "household", "id": "household", "value": {"currency": "JPY"}}
    assert client.post("/api/changes", json={"changes": [account, setting]}).status_code == 200
    assert client.get("/api/history").json()["undo"] == "Added “Everyday”, totals are in JPY"
    assert client.post("/api/undo").status_code == 200
    assert client.get("/api/household").json()["household"]["currency"] == "USD"
