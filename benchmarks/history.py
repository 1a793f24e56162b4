"""A long history must not slow the forecast: 50,000 entries over 15 years against one year of them, in one run.

.venv/bin/python benchmarks/history.py
"""

import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from next_penny.core.books.moment import Moment
from next_penny.core.flows.makers import past_due
from next_penny.core.plan.accounts import Opening
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.demo.household import demo_plan
from next_penny.store.store import Store

TODAY = date(2027, 3, 1)
ENTRIES_A_YEAR = 3334


def household(years: int) -> tuple[Plan, list[Entry]]:
    """The demo's plan, begun some years ago, with everything settled and many purchases."""
    plan, _ = demo_plan(TODAY)
    opened = date(TODAY.year - years, TODAY.month, 1)
    # Loans have their own beginning, and stay out of this.
    kept = [account for account in plan.accounts if account.loan is None]
    accounts = tuple(replace(account, opening=Opening(opened, account.opening.balance)) for account in kept)
    paid = [flow for flow in plan.flows if flow.kind != "loan_payment"]
    flows = tuple(replace(flow, start=opened, remind_days=14) if flow.start else flow for flow in paid)
    plan = replace(plan, accounts=accounts, flows=flows, allowances=plan.allowances[:1])
    entries = [entry for flow in flows for entry in settled(plan, flow)]
    wanted = years * ENTRIES_A_YEAR - len(entries)
    days = (TODAY - opened).days
    for number in range(wanted):
        day = opened + timedelta(days=number * days // wanted)
        price = 500 + number % 9000
        legs = (Leg(-price, account="joint"), Leg(price, category="groceries"))
        entries.append(Entry(f"p{number}", day, f"Shop {number % 40}", legs))
    return plan, entries


def settled(plan: Plan, flow: Flow) -> list[Entry]:
    past = past_due(Moment(plan, TODAY), flow)
    account = flow.main_account
    return [
        Entry(
            f"{flow.id}{nominal}",
            date.fromordinal(landing),
            flow.name,
            (Leg(-amount, account=account), Leg(amount, category="sundries")),
            flow.id,
            date.fromordinal(nominal),
        )
        for nominal, landing, amount in zip(
            past.nominal.tolist(), past.landing.tolist(), past.amount.tolist(), strict=True
        )
    ]


def milliseconds(work: Callable[[], object]) -> float:
    begin = time.perf_counter()
    work()
    return (time.perf_counter() - begin) * 1000


def measured(years: int, folder: str) -> dict[str, float]:
    plan, entries = household(years)
    store = Store(Path(folder) / f"{years}.sqlite3")
    store.replace(TODAY, plan, entries, "Moved in")
    client = TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1")
    calls: dict[str, Callable[[], object]] = {
        "ahead, first": lambda: client.get("/api/ahead?until=2027-04-12").raise_for_status(),
        "forecast of a year": lambda: client.get("/api/forecast?until=2028-03-01").raise_for_status(),
        "settle": lambda: client.get("/api/settle").raise_for_status(),
        "register": lambda: client.get("/api/register?account=joint").raise_for_status(),
    }
    times = {name: milliseconds(call) for name, call in calls.items()}
    for name in ("forecast of a year", "settle"):
        times[name] = min(milliseconds(calls[name]) for _ in range(5))
    print(f"{years:2} years, {len(entries)} entries: " + ", ".join(f"{name} {ms:.0f} ms" for name, ms in times.items()))
    store.close()
    return times


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        one, fifteen = measured(1, folder), measured(15, folder)
    ratio = fifteen["forecast of a year"] / one["forecast of a year"]
    print(f"forecast with 15 years of history against one: {ratio:.2f}")


if __name__ == "__main__":
    main()
