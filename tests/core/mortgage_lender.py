"""A lender that keeps its own books, written from the rules alone, and mistakes that a household makes in its own."""

from datetime import date
from fractions import Fraction
from typing import Any

Json = dict[str, Any]

TODAY = date(2026, 12, 20)
LEVEL, ESCROW = 719_46, 210_00
LOAN: Json = {
    "principal": 120_000_00, "annual_rate": "6", "payments": 360, "disbursed": "2025-12-01",
    "first_payment": "2026-01-01", "from_account": "bank", "escrow_account": "escrow", "property": "house",
    "escrow": [{"from": "2025-12-01", "amount": ESCROW}],
}  # fmt: skip


def half_up(exact: Fraction) -> int:
    return int(exact + Fraction(1, 2))


class Lender:
    """Twelve months of a mortgage as the lender has it; `rates` by month, `extra` and `taxes` as (month, amount)."""

    def __init__(
        self, rates: dict[int, str] | None = None, extra: tuple[int, int] = (0, 0), taxes: tuple[int, ...] = (4, 10),
        escrow: dict[int, int] | None = None, by_days: bool = False,
    ) -> None:  # fmt: skip
        self.splits: list[tuple[int, int, int]] = []
        owed, rate, kept = 120_000_00, Fraction(6), ESCROW
        self.taxes, self.extra = taxes, extra
        for month in range(1, 13):
            rate = Fraction((rates or {}).get(month, str(rate)))
            kept = (escrow or {}).get(month, kept)
            begin = date(2025, 12, 1) if month == 1 else date(2026, month - 1, 1)
            days = (date(2026, month, 1) - begin).days
            interest = half_up(owed * rate / 100 * (Fraction(days, 365) if by_days else Fraction(1, 12)))
            principal = LEVEL + ESCROW - kept - interest
            owed -= principal + (extra[1] if extra[0] == month else 0)
            self.splits.append((principal, interest, kept))

    def statement(self) -> Json:
        extra = self.extra[1]
        principal, interest, escrow = self.splits[-1]
        return {
            "date": "2026-12-15",
            "principal_balance": 120_000_00 - sum(each[0] for each in self.splits) - extra,
            "escrow_balance": 900_00 + sum(each[2] for each in self.splits) - 1_200_00 * len(self.taxes),
            "interest_to_date": sum(each[1] for each in self.splits),
            "escrow_to_date": sum(each[2] for each in self.splits),
            "last_split": {"principal": principal, "interest": interest, "escrow": escrow},
        }


def payment(month: int, split: tuple[int, int, int]) -> Json:
    principal, interest, escrow = split
    legs = [{"account": "bank", "amount": -sum(split)}, {"account": "loan", "amount": principal},
            {"category": "interest", "amount": interest}, {"account": "escrow", "amount": escrow}]  # fmt: skip
    day = f"2026-{month:02}-01"
    return {"id": f"p{month}", "date": day, "payee": "Fenmoor Home Loans", "legs": legs, "flow": "mortgage",
            "nominal": day}  # fmt: skip


def whole(month: int, *, is_linked: bool) -> Json:
    legs = [{"account": "bank", "amount": -LEVEL - ESCROW}, {"category": "home", "amount": LEVEL + ESCROW}]
    return {**payment(month, (0, 0, 0)), "legs": legs, **({} if is_linked else {"flow": None, "nominal": None})}


def moved(month: int) -> Json:
    legs = [{"account": "bank", "amount": -LEVEL - ESCROW}, {"account": "loan", "amount": LEVEL + ESCROW}]
    return {**payment(month, (0, 0, 0)), "payee": "", "legs": legs, "flow": None, "nominal": None}


def tax(month: int) -> Json:
    day = f"2026-{month:02}-10"
    legs = [{"account": "escrow", "amount": -1_200_00}, {"category": "home", "amount": 1_200_00}]
    return {"id": f"t{month}", "date": day, "payee": "County", "legs": legs, "flow": "tax", "nominal": day}


def household(entries: list[Json], **loan: Any) -> Json:
    def account(id: str, kind: str, balance: int, **more: Any) -> Json:
        opening = {"date": "2025-12-01", "balance": balance}
        return {"id": id, "name": id.title(), "kind": kind, "opening": opening, **more}

    flow = {"id": "mortgage", "name": "Mortgage", "kind": "loan_payment", "amount": 0, "from_account": "bank",
            "to_account": "loan", "category": "interest", "payee": "Fenmoor Home Loans"}  # fmt: skip
    bill = {"id": "tax", "name": "Property tax", "kind": "bill", "amount": 1_200_00, "from_account": "escrow",
            "rules": ["FREQ=MONTHLY;INTERVAL=6;BYMONTHDAY=10"], "start": "2026-04-10", "category": "home",
            "property": "house", "purpose": "tax"}  # fmt: skip
    return {
        "format": "next-penny-plan", "version": 1, "currency": "USD", "entries": entries, "flows": [flow, bill],
        "categories": [{"id": id, "name": id, "kind": "expense"} for id in ("interest", "home")],
        "accounts": [account("bank", "checking", 50_000_00), account("escrow", "escrow", 900_00),
                     account("house", "asset", 200_000_00),
                     account("loan", "loan", -120_000_00, loan={**LOAN, **loan})],
    }  # fmt: skip


RIGHT = Lender()
BOOKS = [*(payment(month + 1, split) for month, split in enumerate(RIGHT.splits)), tax(4), tax(10)]


def without(*ids: str) -> list[Json]:
    return [entry for entry in BOOKS if entry["id"] not in ids]


def instead(*entries: Json) -> list[Json]:
    return [*without(*(entry["id"] for entry in entries)), *entries]


DEARER, KEPT = Lender(rates={11: "6.75"}), Lender(escrow={10: 236_00})
CENT = RIGHT.splits[11][0] + 1, RIGHT.splits[11][1] - 1, ESCROW
MISTAKES = {
    "recorded_whole": (instead(whole(6, is_linked=True)), RIGHT),
    "recorded_whole without its flow": (instead(whole(11, is_linked=False)), RIGHT),
    "recorded_whole twice": (instead(whole(3, is_linked=True), whole(4, is_linked=False)), RIGHT),
    "split_behind": (instead(payment(9, RIGHT.splits[7])), RIGHT),
    "extra_missing": (BOOKS, Lender(extra=(12, 500_00))),
    "rate_changed": ([*without("p11", "p12"), *(payment(m, RIGHT.splits[m - 1]) for m in (11, 12))], DEARER),
    "escrow_changed": (BOOKS, KEPT),
    "disbursement_missing": (without("t10"), RIGHT),
    "disbursement_missing beside another escrow part": (without("t10"), Lender(escrow={12: 236_00})),
    "other_method": (BOOKS, Lender(by_days=True)),
    "rounding": (instead(payment(12, CENT)), RIGHT),
}
