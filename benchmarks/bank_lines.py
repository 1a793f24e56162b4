"""Lines from a bank: a look at ten thousand against fifty thousand entries, taking them in, and undoing that.

.venv/bin/python benchmarks/bank_lines.py
"""

import gc
import random
import tempfile
import time
from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from next_penny.api.accounts.bank_files.answers import look_answer
from next_penny.api.accounts.bank_files.looking import Look, look_at
from next_penny.api.accounts.bank_files.models import ImportRequest
from next_penny.api.accounts.bank_files.taking import taken_in
from next_penny.formats.documents.plan import read_plan_document
from next_penny.store.moments import Reading
from next_penny.store.store import Store
from next_penny.store.transactions import Decision

FIRST, TODAY, DAYS = date(2020, 1, 1), date(2027, 3, 1), 2600
ENTRIES, LINES, BILLS = 50_000, 10_000, 60


def household(chance: random.Random) -> dict[str, Any]:
    """Seven years of one account, some of its amounts very often."""
    accounts = [{"id": "a", "name": "Everyday", "kind": "checking", "opening": {"date": str(FIRST), "balance": 0}}]
    bills = [{"id": f"b{n}", "name": f"Bill {n}", "kind": "bill", "amount": 1000 + 13 * n, "from_account": "a",
              "rules": [f"FREQ=MONTHLY;BYMONTHDAY={n % 28 + 1}"], "start": "2026-06-01"}
             for n in range(BILLS)]  # fmt: skip
    entries = []
    for number in range(ENTRIES):
        amount = chance.choice([-1250, -999, -chance.randrange(100, 20_000), chance.randrange(100, 20_000)])
        legs = [{"account": "a", "amount": amount}, {"category": "c", "amount": -amount}]
        day = FIRST + timedelta(days=number * DAYS // ENTRIES)
        entries.append({"id": f"e{number}", "date": str(day), "payee": f"Payee {chance.randrange(300)}", "legs": legs})
    return {"format": "next-penny-plan", "version": 1, "currency": "USD", "accounts": accounts, "flows": bills,
            "categories": [{"id": "c", "name": "C", "group": "", "kind": "expense"}], "entries": entries}  # fmt: skip


def bank_file(chance: random.Random, entries: list[dict[str, Any]]) -> bytes:
    """Half of its lines are entries, some days apart; the rest is new."""
    lines = []
    for number in range(LINES):
        held = chance.choice(entries)
        day, amount = date.fromisoformat(held["date"]), held["legs"][0]["amount"]
        if number % 2:
            day, amount = FIRST + timedelta(days=chance.randrange(DAYS)), -chance.randrange(100, 30_000)
        day = max(FIRST, day + timedelta(days=chance.randrange(-3, 4)))
        sum_ = f"{amount // 100}.{amount % 100:02d}" if amount >= 0 else f"-{-amount // 100}.{-amount % 100:02d}"
        lines.append(f"<STMTTRN><DTPOSTED>{day:%Y%m%d}<TRNAMT>{sum_}<FITID>{number}<NAME>{held['payee']}</STMTTRN>")
    return f"<OFX><STMTRS><CURDEF>USD<BANKTRANLIST>{''.join(lines)}</BANKTRANLIST></STMTRS></OFX>".encode()


def seconds(work: Callable[[], object]) -> float:
    begin = time.perf_counter()
    work()
    return time.perf_counter() - begin


def look(store: Store, content: bytes) -> Look:
    with store.reading(TODAY) as reading:
        found = look_at(reading, content, {}, "a", None)
        look_answer(reading, found).model_dump_json(by_alias=True)
    return found


def main() -> None:
    chance = random.Random(18)
    document = household(chance)
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder) / "household.sqlite3")
        read = read_plan_document(document)
        store.replace(TODAY, read.to_core(), read.core_entries(), "Moved in", read.memory())
        # As the app does: what is there at the start is not looked through again and again.
        gc.collect()
        gc.freeze()
        gc.set_threshold(2_000, 10, 200)
        content = bank_file(chance, document["entries"])
        found = look(store, content)

        def decide(reading: Reading) -> Decision:
            result = taken_in(reading, found, ImportRequest(look="", statements=None, payee_rules=[]))
            return Decision(result.changes, result.label)

        least = min(seconds(lambda: look(store, content)) for _ in range(3))
        print(f"a look at {LINES:,} lines against {ENTRIES:,} entries  {least:5.2f} s")
        print(f"taking them in  {seconds(lambda: store.change(TODAY, decide)):5.2f} s")
        print(f"undoing that    {seconds(lambda: store.undo(TODAY)):5.2f} s")
        store.close()


if __name__ == "__main__":
    main()
