"""How sure it is, over HTTP: the figures of the demo, and what is said of them."""

from datetime import date, timedelta
from decimal import Decimal

from fastapi.testclient import TestClient

from answers import done, refused

APRIL = {"until": "2027-04-30"}


def test_the_demos_hours_and_fuel_explain_its_narrow_month(demo: TestClient) -> None:
    found = demo.get("/api/chance", params=APRIL).json()
    assert found["accounts"] == ["joint"]
    first, second = found["causes"][:2]
    assert [first.get("flow"), second.get("flow")] == ["odell-pay", "fuel"]
    assert sum(Decimal(cause["share"]) for cause in found["causes"]) == 1
    assert "36 times" in first["based_on"]
    assert len(first["history"]) == 36
    # The month that the forecast takes below the floor is the only one that may.
    chances = {month["month"]: Decimal(month["chance"]) for month in found["months"]}
    assert chances["2027-03"] == 0
    assert Decimal("0.02") < chances["2027-04"] == Decimal(found["below_floor"])


def test_bands_hold_the_forecast_and_what_is_safe_is_safe(demo: TestClient) -> None:
    found = demo.get("/api/chance", params=APRIL).json()
    for _, low, middle, high in found["bands"]:
        assert low <= middle <= high
    assert found["bands"][0][0] == "2027-03-01"
    assert found["safe_with"] > 0
    gift = {"account": "joint", "date": "2027-03-01", "payee": "A gift", "amount": found["safe_with"],
            "parts": [{"category": "other-income"}]}  # fmt: skip
    received = {"op": "received", "kind": "entry", "id": "gift", "value": gift}
    done(demo.post("/api/changes", json={"changes": [received]}))
    safe = demo.get("/api/chance", params=APRIL).json()
    assert Decimal(safe["below_floor"]) <= Decimal("0.05")
    assert safe["safe_with"] == 0
    assert demo.get("/api/chance", params=APRIL).json() == safe


def test_what_cannot_be_said(demo: TestClient) -> None:
    _, message = refused(demo.get("/api/chance", params={"until": "2037-03-02"}))
    assert "ten years" in message
    assert refused(demo.get("/api/chance", params={**APRIL, "account": "nobody"}))[0] == ["query", "account"]
    assert demo.get("/api/chance", params={**APRIL, "paths": 10_001}).status_code == 422
    card = demo.get("/api/chance", params={**APRIL, "account": "wharf"}).json()
    assert card["below_floor"] is None
    assert card["months"] == []
    asked = {"account": "joint", "amount": 300_00, "on": "2027-03-20", "until": "2027-04-30"}
    both = demo.post("/api/afford/chance", json=asked).json()
    assert Decimal(both["without"]) < Decimal(both["with"])


def test_what_is_remembered_is_the_newest_36_times_however_far_back_they_are(demo: TestClient) -> None:
    """Of a weekly bill three of four times were skipped, of a yearly one all years are paid: 36 and 10 are found."""
    opened = {"date": "2016-01-01", "balance": 100_000_00}
    purse = {"id": "purse", "name": "Purse", "kind": "checking", "currency": "USD", "opening": opened}
    wood = {"id": "wood", "name": "Wood", "kind": "bill", "amount": 100_00, "estimate": True, "from_account": "purse",
            "rules": ["FREQ=WEEKLY;BYDAY=FR"], "start": "2017-01-06"}  # fmt: skip
    sweep = {**wood, "id": "sweep", "name": "Sweep", "rules": ["FREQ=YEARLY"], "start": "2017-03-20"}
    fridays = [date(2017, 1, 6) + timedelta(weeks=week) for week in range(530) if week % 4 == 0]
    years = [date(2017 + year, 3, 20) for year in range(10)]
    paid = [("wood", day, 100_00 + 1_00 * (place % 50)) for place, day in enumerate(fridays)]
    paid += [("sweep", day, 110_00 + 5_00 * place) for place, day in enumerate(years)]
    entries = [
        {"id": f"{flow}-{day}", "date": day.isoformat(), "payee": flow, "flow": flow, "nominal": day.isoformat(),
         "legs": [{"account": "purse", "amount": -amount}, {"category": "home", "amount": amount}]}
        for flow, day, amount in paid
    ]  # fmt: skip
    plan = {"format": "next-penny-plan", "version": 1, "name": "Ten years", "currency": "USD", "accounts": [purse],
            "categories": [{"id": "home", "name": "Home"}],
            "flows": [wood, sweep], "entries": entries}  # fmt: skip
    done(demo.put("/api/plan", json=plan))
    found = demo.get("/api/chance", params={"until": "2028-02-28", "account": "purse"}).json()
    history = {cause["flow"]: cause["history"] for cause in found["causes"]}
    assert history["wood"] == [100 + place % 50 for place in range(len(fridays))][-36:]
    assert history["sweep"] == [110 + 5 * place for place in range(10)]
