"""Cards, lines, savings and sweeps from RULES alone: a walk over every day on top of `Ledger`'s fixed movements.

It imports nothing of the product. Slow and plain on purpose.
"""

from calendar import monthrange
from collections import defaultdict
from datetime import date, timedelta
from decimal import Decimal, localcontext
from fractions import Fraction
from typing import Any

from ledger import RULES, Document, Ledger, half_up, last_of, on

ONE = timedelta(1)


def clipped(year: int, month: int, day: int) -> date:
    year, month = year + (month - 1) // 12, (month - 1) % 12 + 1
    return date(year, month, min(day, monthrange(year, month)[1]))


class ActingLedger(Ledger):
    """One plan document with everything that depends on balances."""

    def __init__(self, document: Document, today: date, until: date) -> None:
        super().__init__(document, today)
        self.until = until
        self.fixed: dict[str, list[tuple[date, int]]] = defaultdict(list)
        self.made: list[tuple[date, str, str, int, str | None]] = []  # day, source, account, amount, nominal
        self.charges: dict[tuple[str, date], int] = defaultdict(int)
        for entry in self.entries:
            for leg in entry["legs"]:
                if "account" in leg:
                    self.fixed[leg["account"]].append((date.fromisoformat(entry["date"]), leg["amount"]))
                    if entry["flow"] == f"{leg['account']}-interest":
                        self.charges[leg["account"], date.fromisoformat(entry["date"])] += leg["amount"]
        for day, legs in self.expected():
            for leg in legs:
                if "account" in leg:
                    self.fixed[leg["account"]].append((day, leg["amount"]))
        for account, day, amount in self.held_back(until):
            self.fixed[account].append((day, -amount))
        self.settled = {(entry["flow"], entry["nominal"]): entry for entry in self.entries if entry["nominal"]}
        self.moves = {id: list(rows) for id, rows in self.fixed.items()}
        self.statements: dict[tuple[str, date], Document] = {}
        self.walk()

    def balance(self, id: str, day: date) -> int:
        return self.accounts[id]["opening"]["balance"] + sum(a for when, a in self.moves.get(id, ()) if when <= day)

    def owed(self, id: str, day: date) -> int:
        return max(0, -self.balance(id, day))

    def gains(self, id: str, after: date, upto: date) -> int:
        return sum(a for when, a in self.moves.get(id, ()) if after < when <= upto and a > 0)

    def make(self, day: date, source: str, nominal: date | None, **amounts: int) -> None:
        for id, amount in amounts.items():
            if amount:
                self.moves.setdefault(id, []).append((day, amount))
                self.made.append((day, source, id, amount, nominal and nominal.isoformat()))

    def walk(self) -> None:
        for id, account in self.accounts.items():
            if account.get("card"):
                self.newest_closed(id, account["card"])
        day = self.today
        while day <= self.until:
            for id, account in self.accounts.items():
                if account.get("card"):
                    self.pay(id, account["card"], day)
            for id, account in self.accounts.items():
                if account.get("sweep"):
                    self.sweep(id, account["sweep"], day)
            for id, account in self.accounts.items():
                if account.get("card") and account["card"]["covers"]:
                    self.lend(id, account["card"], day)
            for id, account in self.accounts.items():
                if account.get("card") and self.closes(account["card"], day) and day >= self.opened[id]:
                    self.close(id, account["card"], day)
            for id, account in self.accounts.items():
                if account.get("savings"):
                    self.credit(id, account["savings"], day)
            day += ONE

    # Cards and lines

    def closes(self, card: Document, day: date) -> bool:
        return day == clipped(day.year, day.month, card["closing_day"])

    def closing_before(self, card: Document, day: date) -> date:
        day -= ONE
        while not self.closes(card, day):
            day -= ONE
        return day

    def due(self, card: Document, closing: date) -> date:
        following = closing + ONE
        while not self.closes(card, following):
            following += ONE
        if "days_after" in card["due"]:
            return min(following, closing + timedelta(card["due"]["days_after"]))
        day = closing + ONE
        while day != clipped(day.year, day.month, card["due"]["day"]):
            day += ONE
        return min(following, day)

    def change(self, card: Document, closing: date) -> Document:
        return next((c for c in card["changes"] if c["closing"] == closing.isoformat()), {})

    def state(self, id: str, card: Document, closing: date, interest: int, begun: int | None = None) -> None:
        owed, minimum = self.owed(id, closing) if begun is None else begun, card["minimum"]
        asked = half_up(Fraction(minimum["percent"]) * owed / 100) + (interest if minimum["plus_interest"] else 0)
        least = min(owed, max(minimum["floor"], asked))
        self.statements[id, closing] = {"balance": owed, "minimum": least, "due": self.due(card, closing)}

    def newest_closed(self, id: str, card: Document) -> None:
        closing, begun = self.closing_before(card, self.today), card.get("begun_with")
        if begun and begun["closing"] >= closing.isoformat():
            closing = date.fromisoformat(begun["closing"])
            self.state(id, card, closing, 0, begun["balance"])
            self.statements[id, closing]["due"] = date.fromisoformat(begun["due"])
        elif closing >= self.opened[id]:
            self.state(id, card, closing, 0)

    def pay(self, id: str, card: Document, day: date) -> None:
        for (owner, closing), statement in list(self.statements.items()):
            due, change, payer = statement["due"], self.change(card, closing), card["from_account"]
            if owner != id or payer is None or change.get("left_out"):
                continue
            if (f"{id}-payment", due.isoformat()) in self.settled:
                continue
            lands = on(change.get("moved_to")) or due
            is_late = lands < self.today
            if day != max(lands, self.today) or (is_late and self.plan["past_due"] == "ignore"):
                continue
            if day < max(self.opened[payer], self.opened[id]):
                continue
            if change.get("amount") is not None:
                want = change["amount"]
            elif card["pays"] == "statement":
                want = statement["balance"]
            elif card["pays"] == "minimum":
                want = statement["minimum"]
            else:
                want = max(statement["minimum"], min(card["fixed_amount"], statement["balance"]))
            credits = self.gains(id, closing, day if is_late else min(due, day))
            amount = min(self.owed(id, day), max(0, want - credits))
            self.make(day, "card_payment", due, **{payer: -amount, id: amount})

    def close(self, id: str, card: Document, day: date) -> None:
        before = self.closing_before(card, day)
        statement, change = self.statements.get((id, before)), self.change(card, day)
        recorded = self.settled.get((f"{id}-interest", day.isoformat()))
        charged = 0
        if recorded:
            charged = -sum(leg["amount"] for leg in recorded["legs"] if leg.get("account") == id)
        elif change.get("interest") is not None:
            charged = change["interest"]
        elif card["is_line"] or (statement and self.gains(id, before, statement["due"]) < statement["balance"]):
            when, total = max(self.opened[id], before + ONE), Fraction(0)
            while when <= day:
                owed = max(0, -(self.balance(id, when) - (self.charges[id, when] if when == day else 0)))
                steps = [s for s in card["rates"] if s["from"] <= when.isoformat()]
                rate = max(steps, key=lambda s: s["from"])["annual_rate"] if steps else 0
                total += Fraction(owed) * Fraction(rate) / 36500
                when += ONE
            charged = half_up(total)
        if not recorded:
            self.make(day, "card_interest", day, **{id: -charged})
        self.state(id, card, day, charged)

    def lend(self, id: str, card: Document, day: date) -> None:
        covered = card["covers"]
        if day < max(self.opened[id], self.opened[covered]):
            return
        missing = self.accounts[covered]["floor"] - self.balance(covered, day)
        amount = min(max(0, missing), max(0, card["limit"] - self.owed(id, day)))
        self.make(day, "line_draw", None, **{id: -amount, covered: amount})

    # Sweeps and savings

    def sweep(self, id: str, sweep: Document, day: date) -> None:
        other, opened = sweep["with"], max(self.opened[id], self.opened[sweep["with"]])
        start = on(sweep["start"]) or opened
        if day < max(start, opened) or not any(RULES[rule](day, start) for rule in sweep["rules"]):
            return
        balance, room = self.balance(id, day), self.balance(other, day) - self.accounts[other]["floor"]
        if balance < sweep["least"]:
            amount = min(sweep["least"] - balance, max(0, room))
        else:
            amount = min(0, sweep["most"] - balance) if sweep["most"] is not None else 0
        self.make(day, "sweep", None, **{id: amount, other: -amount})

    def credit(self, id: str, savings: Document, day: date) -> None:
        month = day.replace(day=1)
        candidates = [month, *(on(f"{c['month']}-01") for c in savings["changes"])]
        for first in dict.fromkeys(candidates):
            last = first.replace(day=last_of(first))
            change = next((c for c in savings["changes"] if c["month"] == f"{first:%Y-%m}"), {})
            lands = on(change.get("moved_to")) or last
            if lands != day or change.get("left_out") or last < self.opened[id]:
                continue
            if (f"{id}-interest", last.isoformat()) in self.settled:
                continue
            amount = change.get("amount")
            if amount is None:
                amount = self.earned(id, savings, max(first, self.opened[id]), last)
            self.make(day, "savings_interest", last, **{id: amount})

    def earned(self, id: str, savings: Document, first: date, last: date) -> int:
        with localcontext() as context:
            context.prec = 80
            days = {"365": 365, "360": 360, "actual": 366 if last_of(date(first.year, 2, 1)) == 29 else 365}
            n = days[savings["basis"]]
            if savings["apy"] is not None:
                daily: Any = (1 + Decimal(savings["apy"]) / 100) ** (Decimal(1) / n) - 1
            else:
                daily = Fraction(savings["rate"]) / 100 / n
            accrued, day = type(daily)(0), first
            while day <= last:
                when = day if savings["movements_earn"] == "same_day" else day - ONE
                base = type(daily)(max(0, self.balance(id, when)))
                interest = (base + (accrued if savings["compounding"] == "daily" else 0)) * daily
                if savings["rounding"] == "daily":
                    interest = type(daily)(half_up(Fraction(interest)))
                accrued += interest
                day += ONE
            return half_up(Fraction(accrued))

    def end_of_days(self, id: str) -> dict[date, int]:
        first = max(self.today, self.opened[id])
        return {
            first + timedelta(n): self.balance(id, first + timedelta(n)) for n in range((self.until - first).days + 1)
        }
