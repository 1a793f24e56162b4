"""Other currencies: typed rates, totals at the rate of the day, and what the rates alone did (RULES, §3 and §14)."""

from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import Json, done, plan_alone, refused
from effort import examples
from next_penny.api.app import create_app
from stores import new_store

TODAY = date(2027, 3, 1)
_CLIENT = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")
# How many minor units a unit has.
UNITS = {"USD": 100, "EUR": 100, "JPY": 1, "BHD": 1000}


def household(currency: str, balance: int = 0, entries: Any = (), rates: Any = ()) -> Json:
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "entries": list(entries), "rates": list(rates),
        "categories": [{"id": "c", "name": "C", "kind": "expense"}],
        "accounts": [
            {"id": "usd", "name": "Here", "kind": "checking", "opening": {"date": "2027-01-01", "balance": 0}},
            {"id": "abroad", "name": "Abroad", "kind": "checking", "currency": currency,
             "opening": {"date": "2027-01-01", "balance": balance}},
        ],
    }  # fmt: skip


def rate(op: str, id: str = "", **value: Any) -> Any:
    change = {"op": op, "kind": "rate", **({"id": id} if id else {}), **({"value": value} if op != "remove" else {})}
    return _CLIENT.post("/api/changes", json={"changes": [change]})


@settings(max_examples=examples(40), deadline=None)
@given(
    st.sampled_from(["EUR", "JPY", "BHD"]), st.integers(-99_999, 999_999),
    st.lists(st.tuples(st.integers(0, 59), st.integers(-50_000, 50_000)), max_size=12),
    st.dictionaries(st.integers(-5, 59), st.decimals("0.001", "200", places=3), min_size=1, max_size=8),
    st.integers(0, 59), st.integers(0, 40),
)  # fmt: skip
def test_what_rates_alone_did_is_what_neither_opening_nor_movements_explain(
    currency: str, balance: int, moved: list[tuple[int, int]], typed: dict[int, Decimal], first: int, days: int
) -> None:
    start = date(2027, 1, 1)
    entries = [
        {"id": f"e{at}", "date": (start + timedelta(day)).isoformat(), "payee": "P",
         "legs": [{"account": "abroad", "amount": amount}, {"category": "c", "amount": -amount}]}
        for at, (day, amount) in enumerate(moved)
    ]  # fmt: skip
    done(_CLIENT.put("/api/plan", json=household(currency, balance, entries)))
    for day, value in typed.items():
        done(rate("add", date=(start + timedelta(day)).isoformat(), **{"from": currency, "to": "USD"}, rate=str(value)))

    def worth(amount: int, day: int) -> int:
        before = [each for each in sorted(typed) if each <= day]
        in_force = typed[before[-1] if before else min(typed)]
        exact = abs(amount) * in_force * UNITS["USD"] / UNITS[currency]
        rounded = int(exact.quantize(Decimal(1), ROUND_HALF_UP))
        return rounded if amount >= 0 else -rounded

    def held(day: int) -> int:
        return balance + sum(amount for on, amount in moved if on <= day) if day >= 0 else 0

    last = min(first + days, 59)
    opening = worth(held(first - 1), first - 1) if first > 0 else worth(balance, 0)
    wanted = worth(held(last), last) - opening - sum(worth(amount, on) for on, amount in moved if first <= on <= last)
    query = f"from={start + timedelta(first)}&to={start + timedelta(last)}"
    assert done(_CLIENT.get(f"/api/review?{query}"))["revaluation"] == wanted
    told = done(_CLIENT.get(f"/api/net-worth?{query}"))
    assert told["revaluation"] == wanted
    assert told["together"][-1] == worth(held(last), last)
    spent = -sum(worth(amount, on) for on, amount in moved if first <= on <= last)
    assert done(_CLIENT.get(f"/api/review?{query}"))["spending"]["actual"] == spent


def test_a_rate_is_typed_where_it_lacks_replaced_and_taken_back() -> None:
    done(_CLIENT.put("/api/plan", json=household("EUR", 10_000)))
    before = plan_alone(done(_CLIENT.get("/api/plan")))
    assert done(_CLIENT.get("/api/rates"))["pairs"] == [{"source": "EUR", "target": "USD", "rate": None, "since": None}]
    loc, words = refused(_CLIENT.get("/api/net-worth"))
    assert loc == ["rates", "2027-01-31:EUR:USD"]
    assert words.startswith("There is no exchange rate from EUR to USD for January 31, 2027")
    pair = {"from": "EUR", "to": "USD"}
    done(rate("add", "2027-02-01:EUR:USD", rate="1.08"))
    assert done(_CLIENT.get("/api/net-worth"))["together"][-1] == 10_800
    # A second one of the day takes its place and says so, also where it is given the other way round.
    told = done(rate("add", date="2027-02-01", **pair, rate="1.10"))
    assert told["notes"] == ["It takes the place of the rate of that day, 1 EUR = 1.08 USD."]
    told = done(rate("add", date="2027-02-01", **{"from": "USD", "to": "EUR"}, rate="0.8"))
    assert told["notes"] == ["It takes the place of the rate of that day, 1 EUR = 1.10 USD."]
    assert [each["id"] for each in done(_CLIENT.get("/api/rates"))["rates"]] == ["2027-02-01:USD:EUR"]
    assert done(_CLIENT.get("/api/net-worth"))["together"][-1] == 12_500
    # One of a day to come is listed, and is not the rate that totals have today.
    done(rate("add", date="2027-06-01", **pair, rate="2"))
    assert done(_CLIENT.get("/api/rates"))["pairs"][0]["rate"] == "1 USD = 0.8 EUR"
    _CLIENT.post("/api/undo")
    # A transfer's second amount is the day's rate, and can be typed over.
    for id, arrives, wanted in (("by the rate", None, 12_500), ("as said", 12_000, 12_000)):
        value = {"date": "2027-02-20", "account": "abroad", "to_account": "usd", "amount": 10_000, "arrives": arrives}
        done(
            _CLIENT.post("/api/changes", json={"changes": [{"op": "moved", "kind": "entry", "id": id, "value": value}]})
        )
        entry = next(each for each in done(_CLIENT.get("/api/plan"))["entries"] if each["id"] == id)
        assert [leg["amount"] for leg in entry["legs"]] == [-10_000, wanted]
    done(rate("update", "2027-02-01:USD:EUR", date="2027-02-03"))
    assert [each["date"] for each in done(_CLIENT.get("/api/plan"))["rates"]] == ["2027-02-03"]
    for value, says in (
        ({"rate": "0"}, "above zero"), ({"rate": "-1"}, "above zero"), ({"rate": "1000000000"}, "decimal number"),
        ({"rate": "x"}, "decimal number"), ({"from": "AAA"}, "not a currency"), ({"to": "EUR"}, "two different"),
    ):  # fmt: skip
        assert says in refused(rate("add", **{"date": "2027-02-05", **pair, "rate": "1", **value}))[1]
    assert "deleted already" in refused(rate("remove", "2027-01-01:EUR:USD"))[1]
    assert "deleted already" in refused(rate("update", "2027-01-01:EUR:USD", rate="1"))[1]
    done(rate("remove", "2027-02-03:USD:EUR"))
    for _ in range(7):
        _CLIENT.post("/api/undo")
    assert plan_alone(done(_CLIENT.get("/api/plan"))) == before
