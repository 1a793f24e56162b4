"""How sure it is, over HTTP: the figures of the demo, and what is said of them."""

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
