"""How long it takes to say how sure the demo is (a year, ten years), its memory, and to read a sentence.

.venv/bin/python benchmarks/chances.py
"""

import resource
import tempfile
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path

from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from next_penny.demo import fill_with_demo
from next_penny.store.store import Store

TODAY = date(2027, 3, 1)
SENTENCES = ("supper 23.40 yesterday by wharf", "move 200 to savings every payday", "what if fuel goes up 5%")


def seconds(work: Callable[[], object]) -> float:
    begin = time.perf_counter()
    work()
    return time.perf_counter() - begin


def plain_loop() -> None:
    for _ in range(20_000_000):
        pass


def main() -> None:
    print(f"a plain loop of 20 million steps: {seconds(plain_loop):.2f} s")
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder) / "household.sqlite3")
        fill_with_demo(store, TODAY)
        client = TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1")
        for until, paths in (("2027-04-12", 2000), ("2028-03-01", 2000), ("2037-03-01", 1000)):
            asked = {"until": until, "paths": paths}
            first = seconds(lambda asked=asked: client.get("/api/chance", params=asked))
            again = seconds(lambda asked=asked: client.get("/api/chance", params=asked))
            print(f"until {until}, {paths} paths: {first:.2f} s, asked again {1000 * again:.0f} ms")
        print(f"largest memory: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
        for text in SENTENCES:
            taken = min(
                seconds(lambda text=text: client.post("/api/understand", json={"text": text})) for _ in range(5)
            )
            print(f"{text}: {1000 * taken:.1f} ms")
        store.close()


if __name__ == "__main__":
    main()
