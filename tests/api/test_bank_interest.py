"""The bank's interest: every way of counting against a day-by-day count that imports nothing of ours (RULES, §8)."""

from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal, localcontext
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from answers import done, refused
from effort import examples
from next_penny.api.app import create_app
from stores import new_store

TODAY = date(2027, 3, 1)
_CLIENT = TestClient(create_app(new_store(), lambda: TODAY), base_url="http://127.0.0.1:8765")


def rounded(amount: Decimal) -> Decimal:
    return amount.quantize(Decimal(1), ROUND_HALF_UP)


def by_hand(asked: dict[str, Any], way: dict[str, str]) -> int:
    """One way of counting, a day at a time."""
    first, last = (date.fromisoformat(asked[name]) for name in ("from", "to"))
    with localcontext() as context:
        context.prec = 50
        balance, accrued, day = Decimal(asked["opening"]), Decimal(0), first
        while day <= last:
            moved = sum(each["amount"] for each in asked["movements"] if each["date"] == day.isoformat())
            base = max(Decimal(0), balance + moved if way["movements_earn"] == "same_day" else balance)
            year = (date(day.year, 12, 31) - date(day.year, 1, 1)).days + 1
            n = year if way["basis"] == "actual" else int(way["basis"])
            daily = (1 + Decimal(asked["apy"]) / 100) ** (Decimal(1) / n) - 1 if "apy" in asked else (
                Decimal(asked["rate"]) / 100 / n)  # fmt: skip
            interest = (base + (accrued if way["compounding"] == "daily" else 0)) * daily
            accrued += rounded(interest) if way["rounding"] == "daily" else interest
            balance += moved
            day += timedelta(days=1)
        return int(rounded(accrued))


@st.composite
def statements(draw: st.DrawFn) -> dict[str, Any]:
    first = date(draw(st.sampled_from([2023, 2024, 2027])), draw(st.integers(1, 12)), draw(st.integers(1, 28)))
    days = draw(st.integers(1, 400))
    moves = draw(st.lists(st.tuples(st.integers(0, days - 1), st.integers(-5_000_00, 9_000_00)), max_size=6))
    percent = f"{draw(st.integers(1, 2_000))}e-2"
    return {
        "from": first.isoformat(), "to": (first + timedelta(days=days - 1)).isoformat(),
        "opening": draw(st.integers(0, 90_000_00)),
        "movements": [{"date": (first + timedelta(days=at)).isoformat(), "amount": amount} for at, amount in moves],
        draw(st.sampled_from(["apy", "rate"])): str(Decimal(percent)), "credited": draw(st.integers(0, 4_000_00)),
    }  # fmt: skip


@settings(max_examples=examples(40), deadline=None)
@given(statements(), st.integers(0, 23), st.integers(-1, 1), st.data())
def test_every_way_of_counting_is_that_of_a_count_by_hand(
    asked: dict[str, Any], planted: int, off: int, data: st.DataObject
) -> None:
    ways = done(_CLIENT.post("/api/tools/interest-check", json=asked))["conventions"]
    assert (
        len({tuple(way[name] for name in ("basis", "compounding", "movements_earn", "rounding")) for way in ways}) == 24
    )
    for way in data.draw(st.permutations(ways))[:4]:
        assert way["interest"] == by_hand(asked, way)
        assert way["difference"] == asked["credited"] - way["interest"]
    # What one way gives is found; a minor unit off is told as rounding.
    told = done(_CLIENT.post("/api/tools/interest-check", json={**asked, "credited": ways[planted]["interest"] + off}))
    distances = [abs(way["difference"]) for way in told["conventions"]]
    assert distances == sorted(distances)
    assert told["matches"] == distances.count(0)
    assert distances[0] <= abs(off)
    if distances[0] == 0:
        assert "is right" in told["verdict"]
    else:
        assert "off: rounding" in told["verdict"]
        assert told["explanations"] == []


def test_a_deposit_counted_a_day_later_explains_and_what_cannot_be_counted_is_refused() -> None:
    asked = {
        "from": "2027-01-01", "to": "2027-01-31", "opening": 10_000_00, "rate": "4",
        "movements": [{"date": "2027-01-10", "amount": 20_000_00}, {"date": "2027-01-20", "amount": -1_000_00}],
    }  # fmt: skip
    later = {**asked, "movements": [{"date": "2027-01-11", "amount": 20_000_00}, asked["movements"][1]]}
    way = {"basis": "365", "compounding": "none", "movements_earn": "same_day", "rounding": "at_credit"}
    told = done(_CLIENT.post("/api/tools/interest-check", json={**asked, "credited": by_hand(later, way)}))
    assert told["matches"] == 0
    assert "The deposit of $20,000.00 on January 10, 2027, counted a day later" in told["explanations"][0]
    # A thousand days of average 100.00 that earned 10.95 grew by 4 % a year (Regulation DD).
    plain = {"from": "2024-06-01", "to": "2025-05-31", "opening": 100_00, "rate": "4", "credited": 4_00}
    assert done(_CLIENT.post("/api/tools/interest-check", json=plain))["yield_earned"] == "4.00"
    # A sum paid on next to nothing has no yield that anybody would read.
    absurd = {**plain, "to": "2024-06-01", "opening": 1, "credited": 4_000_00}
    assert done(_CLIENT.post("/api/tools/interest-check", json=absurd))["yield_earned"] is None
    for change, says in (
        ({"to": "2023-01-01"}, "ends before it begins"), ({"to": "2040-01-01"}, "at most 4,000 days"),
        ({"apy": "4"}, "one of them"), ({"currency": "AAA"}, "not a currency"), ({"rate": "400"}, "from 0 to 100 percent"), ({"rate": "-1"}, "from 0 to 100 percent"), ({"movements": [{"date": "2023-05-05", "amount": 1}]}, "not within the statement"),
    ):  # fmt: skip
        assert says in refused(_CLIENT.post("/api/tools/interest-check", json={**plain, **change}))[1]


def test_the_demos_months_are_right_but_for_one_and_one_cent(demo: TestClient) -> None:
    answer = done(demo.get("/api/accounts/rainy-day/interest?months=24"))
    off = {
        each["month"]: each["credited"] - each["own"] for each in answer["months"] if each["credited"] != each["own"]
    }
    assert off == {"2026-11": 1, "2026-10": -37}
    assert all(each["check"]["matches"] > 0 for each in answer["months"] if each["month"] not in off)
    assert (answer["credited"], answer["own"]) == (
        sum(each["credited"] for each in answer["months"]), sum(each["own"] for each in answer["months"])
    )  # fmt: skip
    assert refused(demo.get("/api/accounts/joint/interest"))[1].startswith("There is no savings account")
