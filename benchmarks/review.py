"""Looking back: what a review takes, and what writing down what was expected adds to a change.

.venv/bin/python benchmarks/review.py
"""

import statistics
import tempfile
import time
from collections.abc import Callable
from contextlib import ExitStack
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

from big_household import TODAY, big_plan
from next_penny.core.plan.changes import PlanChange
from next_penny.core.review.occurrences import occurrences_over
from next_penny.core.review.review import review
from next_penny.core.review.side_by_side import category_months
from next_penny.formats.documents.plan import read_plan_document
from next_penny.store import store as kept
from next_penny.store.moments import Reading
from next_penny.store.store import Store
from next_penny.store.transactions import Decision


class Sources:
    """What a review asks, of the file."""

    def __init__(self, reading: Reading) -> None:
        self._reading = reading

    def __getattr__(self, name: str) -> Any:
        return getattr(self._reading, name)

    def paid_for(self, first: date, last: date) -> dict[Any, list[Any]]:
        return {}


def best_of(times: int, work: Callable[[], object]) -> float:
    """The median of so many runs, in milliseconds."""
    taken = []
    for _ in range(times):
        begin = time.perf_counter()
        work()
        taken.append(1000 * (time.perf_counter() - begin))
    return statistics.median(taken)


def put(folder: str, name: str, document: dict[str, Any], today: date) -> Store:
    store = Store(Path(folder) / name)
    read = read_plan_document(document)
    store.replace(today, read.to_core(), read.core_entries(), "Moved in", read.memory())
    return store


def rename(store: Store, today: date, name: str) -> None:
    """A small change: an account's other name."""

    def decide(reading: Reading) -> Decision:
        account = reading.moment.plan.accounts[0]
        return Decision([PlanChange("account", account.id, replace(account, name=name))], "Renamed")

    store.change(today, decide)


def writing_share(store: Store, today: date) -> float:
    """What writing down takes of a change, of the whole."""
    spent = 0.0

    def timed(work: Callable[..., Any]) -> Callable[..., Any]:
        def do(*given: Any) -> Any:
            nonlocal spent
            begin = time.perf_counter()
            try:
                return work(*given)
            finally:
                spent += time.perf_counter() - begin

        return do

    names = ("write_down", "mark_of", "follow")
    with ExitStack() as patches:
        for name in names:
            patches.enter_context(patch.object(kept, name, timed(getattr(kept, name))))
        begin = time.perf_counter()
        for number in range(40):
            rename(store, today, f"Ours, {number}")
        whole = time.perf_counter() - begin
    return spent / whole


def ten_years(flows: int) -> dict[str, Any]:
    """Ten years of flows, the household never written down."""
    document = big_plan(entries=0, flows=flows, loans=0)
    accounts = [{**each, "opening": {"date": "2017-01-01", "balance": 0}} for each in document["accounts"]]
    started = [{**flow, "start": "2017-01-02"} for flow in document["flows"]]
    return {**document, "accounts": accounts, "flows": started}


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        store = put(folder, "large.sqlite3", big_plan(), TODAY)
        rename(store, TODAY, "Ours")
        first, last = date(2027, 2, 1), date(2027, 2, 28)
        with store.reading(TODAY) as reading:
            moment, sources = reading.moment, Sources(reading)
            month = best_of(
                5, lambda: (review(moment, sources, first, last), occurrences_over(moment, sources, first, last))
            )
            year = best_of(3, lambda: category_months(moment, sources, 2026 * 12 + 2, 12))
        print(f"a month's review of 50,000 entries and 500 flows: {month:.0f} ms (wanted 100)")
        print(f"twelve months of categories: {year:.0f} ms (wanted 400)")
        store.close()
        store = put(folder, "old.sqlite3", ten_years(100), TODAY)
        begin = time.perf_counter()
        rename(store, TODAY, "First")
        taken = time.perf_counter() - begin
        with store.reading(TODAY) as reading:
            rows = len(reading.memory().rows)
        print(f"the first change of ten years of 100 flows ({rows:,} rows written down): {taken:.2f} s (wanted 5)")
        again = best_of(9, lambda: rename(store, TODAY, f"Ours {time.perf_counter()}"))
        print(f"a change on a day of which nothing new has passed: {again:.1f} ms")
        share = writing_share(store, TODAY)
        print(f"of it, writing down what was expected: {100 * share:.1f} % (wanted 5)")
        day = TODAY + timedelta(days=3 * 365)
        begin = time.perf_counter()
        rename(store, day, "Later")
        print(f"the first change after three years away: {time.perf_counter() - begin:.2f} s (wanted 1)")
        store.close()


if __name__ == "__main__":
    main()
