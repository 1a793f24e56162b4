"""What the heaviest calls take with a household larger than any, and how long a health check waits beside each.

.venv/bin/python benchmarks/load.py
"""

import http.client
import json
import os
import statistics
import threading
import time
from pathlib import Path
from typing import Any

from big_household import big_plan
from serving import served

CALLS: list[tuple[str, str, str, Any, float]] = [
    ("GET /api/plan", "GET", "/api/plan", None, 2.0),
    ("export, plan document", "GET", "/api/export/next-penny.json", None, 4.0),
    ("export, entries", "GET", "/api/export/next-penny.csv", None, 4.0),
    ("remedies to a year", "GET", "/api/remedies?account=joint&from=2027-03-01&until=2028-03-01", None, 2.0),
    ("payments recorded whole", "GET", "/api/review/recorded-whole", None, 2.0),
    ("forecast of ten years", "GET", "/api/forecast?until=2037-03-01", None, 5.0),
    ("months", "GET", "/api/months?from=2026-03&count=24", None, 2.0),
    ("a backup", "POST", "/api/backups", None, 1.0),
]


class Client:
    """One connection to the server."""

    def __init__(self, port: int) -> None:
        self._connection = http.client.HTTPConnection("127.0.0.1", port, timeout=300)

    def ask(self, method: str, path: str, body: Any = None) -> tuple[float, int]:
        """How many seconds a call took, and its status."""
        begin = time.perf_counter()
        content = json.dumps(body).encode() if body is not None else None
        self._connection.request(method, path, content, {"Content-Type": "application/json"})
        answer = self._connection.getresponse()
        answer.read()
        return time.perf_counter() - begin, answer.status


def beside(port: int, work: Any) -> tuple[Any, float]:
    """What some work gives, and the 95th percentile of health checks made meanwhile, in seconds."""
    is_over, waits, client = threading.Event(), list[float](), Client(port)

    def check() -> None:
        while not is_over.is_set():
            waits.append(client.ask("GET", "/api/health")[0])
            is_over.wait(0.01)

    thread = threading.Thread(target=check)
    thread.start()
    done = work()
    is_over.set()
    thread.join()
    return done, statistics.quantiles([*waits, *waits], n=20)[18]


def given_up(server: int, port: int, path: str) -> tuple[float, float]:
    """What the server still computes once a client gave a call up: CPU seconds in the next second and the one after."""

    def used() -> float:
        times = Path(f"/proc/{server}/stat").read_text().rsplit(")", 1)[1].split()
        return (int(times[11]) + int(times[12])) / os.sysconf("SC_CLK_TCK")

    client = http.client.HTTPConnection("127.0.0.1", port)
    client.request("GET", path)
    time.sleep(0.7)
    client.close()
    marks = [used()]
    for _ in range(2):
        time.sleep(1)
        marks.append(used())
    return marks[1] - marks[0], marks[2] - marks[1]


def main() -> None:
    with served() as (process, port):
        measure(port)
        for path in ("/api/export/next-penny.xlsx", "/api/review/recorded-whole", "/api/plan"):
            first, second = given_up(process, port, path)
            print(f"{path}, given up: {first:.2f} s of CPU in the next second, {second:.2f} s after it (0)")


def measure(port: int) -> None:
    """Each call by itself, then with a health check every hundredth of a second beside it, which slows both."""
    plan = big_plan()
    report("putting it in", "PUT", "/api/plan", plan, 15.0, port, times=1)
    for name, method, path, body, wanted in CALLS:
        report(name, method, path, body, wanted, port, times=3)


def report(name: str, method: str, path: str, body: Any, wanted: float, port: int, times: int) -> None:
    alone = [Client(port).ask(method, path, body) for _ in range(times)]
    if method == "PUT":
        Client(port).ask("POST", "/api/undo")
    besides = [beside(port, lambda: Client(port).ask(method, path, body)) for _ in range(times)]
    taken, status = min(alone)
    slowed, waited = min(each[0][0] for each in besides), max(each[1] for each in besides)
    told = f"{name:28} {taken:6.2f} s (wanted {wanted:g})   {status}   with health checks {slowed:6.2f} s"
    print(f"{told}, their 95th percentile {1000 * waited:4.0f} ms (200)")


if __name__ == "__main__":
    main()
