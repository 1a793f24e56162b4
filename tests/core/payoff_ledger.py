"""Paying several debts off, month by month, written from the rules alone: it imports nothing of the product.

Debts, wishes and answers are JSON as the calculator takes and gives them.
"""

from decimal import Decimal
from fractions import Fraction
from typing import Any

Json = dict[str, Any]


def number(month: str) -> int:
    """A month or a date as a count of months."""
    return int(month[:4]) * 12 + int(month[5:7]) - 1


def text(month: int) -> str:
    return f"{month // 12:04d}-{month % 12 + 1:02d}"


def half_up(value: Fraction) -> int:
    return int(value + Fraction(1, 2))


def rate_in(debt: Json, month: int) -> Fraction:
    """Percent a year in force; a step counts from the month of its date."""
    rate = debt["annual_rate"]
    for step in sorted(debt.get("rate_changes", ()), key=lambda step: step["from"]):
        if number(step["from"]) <= month:
            rate = step["annual_rate"]
    return Fraction(Decimal(rate))


def minimum_of(debt: Json, opening: int, interest: int) -> int:
    """What a month asks for, before it is cut to what is owed."""
    minimum = debt["minimum"]
    if "fixed" in minimum:
        return minimum["fixed"]
    share = half_up(opening * Fraction(Decimal(minimum["percent"])) / 100)
    return max(share + (interest if minimum.get("plus_interest") else 0), minimum.get("floor", 0))


def own_money(wish: Json, month: int) -> int:
    amount = wish.get("extra_monthly", 0)
    for change in sorted(wish.get("extra_changes", ()), key=lambda change: change["from"]):
        if number(change["from"]) <= month:
            amount = change["amount"]
    return amount + sum(once["amount"] for once in wish.get("one_time", ()) if number(once["month"]) == month)


def in_order(debts: list[Json], owed: dict[str, int], month: int, wish: Json, strategy: str) -> list[Json]:
    if strategy == "smallest_balance":
        return sorted(debts, key=lambda debt: owed[debt["id"]])
    if strategy == "highest_rate":
        return sorted(debts, key=lambda debt: (-rate_in(debt, month), owed[debt["id"]]))
    named = [id for id in wish.get("order", ()) if id in owed]
    by_id = {debt["id"]: debt for debt in debts}
    return [by_id[id] for id in named if id in by_id] + [debt for debt in debts if debt["id"] not in named]


def in_time(pieces: list[tuple[str, int]], target: Json | None, due: dict[str, int] | None) -> tuple[int, int]:
    """What of freed amounts is paid with the target's due date of this month, and what waits for the next one."""
    if due is None or target is None:
        return sum(amount for _, amount in pieces), 0
    late = sum(amount for id, amount in pieces if due[id] > due[target["id"]])
    return sum(amount for _, amount in pieces) - late, late


def pay_off(wish: Json, strategy: str, most: int = 1200, due: dict[str, int] | None = None) -> Json:
    """The months of a plan: `months`, `cleared`, and what is still owed at the end.

    due: in a household, on which day of the month each debt is due.
    """
    debts = [debt for debt in wish["debts"] if debt["balance"] > 0]
    owed = {debt["id"]: debt["balance"] for debt in debts}
    freed, waiting, months, cleared = [], 0, [], []
    while any(owed.values()) and len(months) < most:
        month = number(wish["start"]) + len(months)
        rows, pieces = {}, list(freed)
        here = [debt for debt in debts if owed[debt["id"]]]
        order = in_order(here, dict(owed), month, wish, strategy)
        given = {}
        for debt in here:
            opening = owed[debt["id"]]
            interest = half_up(opening * rate_in(debt, month) / 1200)
            asked = minimum_of(debt, opening, interest)
            paid = min(asked, opening + interest)
            if "fixed" in debt["minimum"]:
                pieces.append((debt["id"], asked - paid))
            owed[debt["id"]] = opening + interest - paid
            given[debt["id"]] = asked if "fixed" in debt["minimum"] else paid
            rows[debt["id"]] = {"opening": opening, "interest": interest, "minimum": paid, "extra": 0}
        pool = own_money(wish, month) + waiting if strategy != "minimums" else 0
        if strategy != "minimums" and wish.get("roll_freed", True):
            target = next((debt for debt in order if owed[debt["id"]]), None)
            rolled, waiting = in_time(pieces, target, due)
            pool += rolled
        for debt in order if strategy != "minimums" else ():
            extra = min(pool, owed[debt["id"]])
            owed[debt["id"]] -= extra
            rows[debt["id"]]["extra"] = extra
            pool -= extra
        for debt in here:
            rows[debt["id"]]["closing"] = owed[debt["id"]]
            if owed[debt["id"]] == 0:
                cleared.append({"id": debt["id"], "month": text(month)})
                freed.append((debt["id"], given[debt["id"]]))
        months.append({"month": text(month), "debts": rows, "left_over": pool if strategy != "minimums" else 0})
    return {"months": months, "cleared": cleared, "owed": owed}
