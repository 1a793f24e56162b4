"""A household larger than any: 50,000 entries, 500 flows and 30 loans, as a plan document."""

from datetime import date, timedelta
from decimal import Decimal
from typing import Any

TODAY = date(2027, 3, 1)
RHYTHMS = (
    "FREQ=MONTHLY;BYMONTHDAY={day}",
    "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR",
    "FREQ=YEARLY;BYMONTH={month};BYMONTHDAY={day}",
    "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY={day}",
)


def big_plan(entries: int = 50_000, flows: int = 500, loans: int = 30) -> dict[str, Any]:
    """The document; every amount is made by arithmetic, so that it is the same each time."""
    accounts: list[dict[str, Any]] = [
        _account("joint", "checking", 36_300_000),
        _account("reserve", "savings", 5_000_000),
        *(_loan(number) for number in range(loans)),
    ]
    categories = [
        {"id": f"c{number}", "name": f"Category {number}", "group": f"Group {number % 8}"} for number in range(40)
    ]
    return {
        "format": "next-penny-plan",
        "version": 1,
        "name": "Large",
        "currency": "USD",
        "country": "US",
        "accounts": accounts,
        "categories": [*categories, {"id": "pay", "name": "Pay", "group": "Income", "kind": "income"}],
        "flows": [_flow(number) for number in range(flows)],
        "entries": [
            *(_entry(number, entries) for number in range(entries - loans * 120)),
            *(_paid_whole(number, month) for number in range(loans) for month in range(120)),
        ],
    }


def _account(id: str, kind: str, balance: int) -> dict[str, Any]:
    opening = {"date": "2017-01-01", "balance": balance}
    return {"id": id, "name": id.capitalize(), "kind": kind, "currency": "USD", "opening": opening}


def _loan(number: int) -> dict[str, Any]:
    principal = 1_000_000 + 50_000 * number
    terms = {"principal": principal, "annual_rate": str(3 + number % 5), "payments": 240, "from_account": "joint",
             "disbursed": "2017-02-15", "first_payment": f"2017-03-{number % 28 + 1:02}"}  # fmt: skip
    account = _account(f"loan{number}", "loan", -principal)
    return {**account, "opening": {"date": "2017-02-15", "balance": -principal}, "loan": terms}


def _payment(number: int) -> int:
    rate = Decimal(3 + number % 5) / 1200
    return int((1_000_000 + 50_000 * number) * rate / (1 - (1 + rate) ** -240) + Decimal("0.5"))


def _paid_whole(number: int, month: int) -> dict[str, Any]:
    """A loan's payment of some month, recorded as one expense: as households do who have not read about principal."""
    year, rest = divmod(2 + month, 12)
    legs = [{"account": "joint", "amount": -_payment(number)}, {"category": "c3", "amount": _payment(number)}]
    day = f"{2017 + year}-{rest + 1:02}-{number % 28 + 1:02}"
    return {"id": f"w{number}-{month}", "date": day, "payee": f"Loan{number}", "legs": legs}


def _flow(number: int) -> dict[str, Any]:
    rule = RHYTHMS[number % 4].format(day=number % 28 + 1, month=number % 12 + 1)
    flow = {
        "id": f"f{number}",
        "name": f"Flow {number}",
        "rules": [rule],
        "start": "2027-03-02",
        "payee": f"Payee {number}",
    }
    if number % 20 == 0:
        return {**flow, "kind": "income", "amount": 62_000 + number, "category": "pay", "to_account": "joint"}
    return {**flow, "kind": "bill", "amount": 1_500 + number * 7, "category": f"c{number % 40}",
            "from_account": "joint", "late_days": 3 * (number % 10 == 1), "may_skip": number % 50 == 2}  # fmt: skip


def _entry(number: int, of: int) -> dict[str, Any]:
    day = date(2017, 1, 2) + timedelta(days=number * 3_700 // of)
    amount = 500 + number * 37 % 9_000
    legs = [{"account": "joint", "amount": -amount}, {"category": f"c{number % 40}", "amount": amount}]
    if number % 9 == 0:
        legs = [{"account": "joint", "amount": amount * 8}, {"category": "pay", "amount": -amount * 8}]
    return {"id": f"e{number}", "date": day.isoformat(), "payee": f"Shop {number % 300}", "legs": legs}
