"""How long a backup of 50,000 entries takes, and how much longer a change waits beside one than without.

.venv/bin/python benchmarks/backups.py
"""

import tempfile
import threading
import time
from dataclasses import replace
from datetime import date
from pathlib import Path

from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.demo import fill_with_demo
from next_penny.store.store import Store
from next_penny.store.transactions import Decision

TODAY = date(2027, 3, 1)


def years_of_entries(file: Path, count: int) -> Store:
    """The demo household with so many entries."""
    store = Store(file)
    fill_with_demo(store, TODAY)
    with store.reading(TODAY) as reading:
        plan, entries = reading.moment.plan, reading.entries()
    more = [replace(entries[0], id=f"more-{number}", flow=None, nominal=None) for number in range(count - len(entries))]
    store.replace(TODAY, plan, [*entries, *more], "Many entries")
    store.forget_history()
    return store


def slowest_change(store: Store, until: threading.Event) -> float:
    """The longest that a change took, in milliseconds, of those made one after the other until something is over."""
    taken, number = [0.0], 0
    while not until.is_set() or number == 0:
        number += 1
        change = PlanChange("category", "c", Category("c", f"Food {number}"))
        begin = time.perf_counter()
        store.change(TODAY, lambda reading, change=change: Decision([change], "Changed"))
        taken.append(1000 * (time.perf_counter() - begin))
    return max(taken)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        store = years_of_entries(Path(folder) / "household.sqlite3", 50_000)
        over = threading.Event()
        threading.Timer(1.0, over.set).start()
        alone = slowest_change(store, over)
        times = []
        beside = 0.0
        for _ in range(3):
            over = threading.Event()

            def back_up(over: threading.Event = over) -> None:
                begin = time.perf_counter()
                store.back_up("asked")
                times.append(time.perf_counter() - begin)
                over.set()

            thread = threading.Thread(target=back_up)
            thread.start()
            beside = max(beside, slowest_change(store, over))
            thread.join()
        print(f"backup of 50,000 entries: {1000 * min(times):.0f} ms (wanted under 1000)")
        print(f"slowest change: {alone:.0f} ms without, {beside:.0f} ms beside one (wanted at most 100 more)")
        store.close()


if __name__ == "__main__":
    main()
