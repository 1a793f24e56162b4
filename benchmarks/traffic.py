"""What the app's memory does under mixed traffic of three clients on a household larger than any.

.venv/bin/python benchmarks/traffic.py [minutes, 60]
"""

import http.client
import json
import re
import sys
import threading
import time
from collections import Counter
from pathlib import Path
from random import Random
from typing import Any

from big_household import big_plan
from serving import served

READ = [
    "/api/plan",
    "/api/ahead?until=2027-06-01",
    "/api/forecast?until=2028-03-01",
    "/api/forecast?until=2037-03-01",
    "/api/months?from=2026-03&count=24",
    "/api/months?from=2026-09&count=6",
    "/api/figures?from=2027-03-01&to=2027-08-31",
    "/api/year-list?year=2027",
    "/api/calendar-days?from=2027-03-01&to=2027-03-31",
    "/api/remedies?account=joint&from=2027-03-01&until=2027-09-01",
    "/api/net-worth",
    "/api/settle",
    "/api/flows",
    "/api/debts",
    "/api/payoff/progress",
    "/api/review/recorded-whole",
    "/api/review/year?year=2026",
    "/api/register",
    "/api/accounts",
    "/api/entries/choices",
    "/api/history",
    "/api/export/next-penny.json",
    "/api/export/next-penny.csv",
    "/api/health",
]


class Client(threading.Thread):
    """One client who asks, edits, records and undoes what itself did, until told to stop."""

    def __init__(self, port: int, seed: int, over: threading.Event) -> None:
        super().__init__(daemon=True)
        self.chance, self.over, self.told = Random(seed), over, Counter[tuple[str, int]]()
        self._connection = http.client.HTTPConnection("127.0.0.1", port, timeout=300)
        self._name, self._number = f"t{seed}", 0

    def run(self) -> None:
        while not self.over.is_set():
            if self.chance.random() < 0.6:
                self.ask("GET", self.chance.choice(READ))
            else:
                self.write()

    def ask(self, method: str, path: str, body: Any = None) -> int:
        content = json.dumps(body).encode() if body is not None else None
        self._connection.request(method, path, content, {"Content-Type": "application/json"})
        answer = self._connection.getresponse()
        answer.read()
        self.told[f"{method} {path.partition('?')[0]}", answer.status] += 1
        return answer.status

    def write(self) -> None:
        self._number += 1
        number, chance = self._number, self.chance
        day, amount = f"2027-02-{number % 28 + 1:02}", 100 + chance.randrange(90_000)
        legs = [{"account": "joint", "amount": -amount}, {"category": f"c{number % 40}", "amount": amount}]
        entry = {"date": day, "payee": f"Shop {number % 300}", "legs": legs}
        edit = {"op": "update", "kind": "flow", "id": f"f{chance.randrange(500)}", "value": {"amount": amount}}
        adds = {"op": "add", "kind": "entry", "id": f"{self._name}-{number}", "value": entry}
        changes = [adds if number % 2 else edit]
        self.ask("POST", "/api/tideline", {"changes": changes, "from": "2027-03-01", "until": "2027-06-01"})
        if self.ask("POST", "/api/changes", {"changes": changes}) == 200 and chance.random() < 0.3:
            # Another client's step may be the last one: it is a step of these minutes all the same.
            self.ask("POST", "/api/undo")


def main(minutes: int) -> None:
    with served() as (process, port):
        measure(process, port, minutes)


def measure(server: int, port: int, minutes: int) -> None:
    over = threading.Event()
    clients = [Client(port, seed, over) for seed in range(3)]
    clients[0].ask("PUT", "/api/plan", big_plan())
    # So many steps that are there to undo before anything else is: the household's own beginning stays.
    for _ in range(20):
        clients[0].write()
    for client in clients:
        client.start()
    for minute in range(1, minutes + 1):
        time.sleep(60)
        told = sum((client.told for client in clients), Counter[tuple[str, int]]())
        print(f"{minute:3} min  {resident(server):5} MB  {told.total():6} calls", flush=True)
    over.set()
    for client in clients:
        client.join(300)
    for (call, status), count in sorted(sum((client.told for client in clients), Counter[tuple[str, int]]()).items()):
        print(f"{status} {count:6} {call}")


def resident(process: int) -> int:
    """Memory of a process in MB."""
    found = re.search(r"VmRSS:\s+(\d+)", Path(f"/proc/{process}/status").read_text())
    return int(found[1]) // 1024 if found else 0


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 60)
