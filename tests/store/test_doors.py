"""Two writers, a second process, many threads, a kill: what was acknowledged is there, and no moment is a mixture."""

import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from pathlib import Path
from threading import Event
from typing import Any

import pytest
from fastapi.testclient import TestClient

from next_penny.api.app import create_app
from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import BusinessCalendar
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.demo import fill_with_demo
from next_penny.store.moments import Reading
from next_penny.store.store import Store
from next_penny.store.transactions import Decision
from servers import serving
from stores import new_file

TODAY = date(2027, 3, 1)


def clients(count: int) -> list[TestClient]:
    """So many servers over one demo household's file."""
    file = new_file()
    first = Store(file)
    fill_with_demo(first, TODAY)
    stores = [first, *(Store(file) for _ in range(count - 1))]
    return [TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1:8765") for store in stores]


@pytest.mark.parametrize("servers", [1, 2])
def test_every_acknowledged_change_of_one_flow_is_kept(servers: int) -> None:
    several = clients(servers)
    dates = [f"2027-{month:02}-01" for month in range(4, 12)]
    plan = several[0].get("/api/plan").json()
    mortgage = next(flow for flow in plan["flows"] if flow["id"] == "mortgage")
    assert mortgage["changes"] == []
    fields = [("notes", "by phone"), ("remind_days", 9), ("payee", "The bank"), ("name", "Home loan")]

    def leave_out(number: int) -> int:
        client = several[number % servers]
        line = {"flow": "mortgage", "nominal": dates[number], "do": "leave_out"}
        return client.post("/api/settle", json={"lines": [line]}).status_code

    def set_field(number: int) -> int:
        name, value = fields[number]
        change = {"op": "update", "kind": "flow", "id": "mortgage", "value": {name: value}}
        return several[number % servers].post("/api/changes", json={"changes": [change]}).status_code

    with ThreadPoolExecutor(8) as pool:
        done = [*pool.map(leave_out, range(len(dates))), *pool.map(set_field, range(len(fields)))]
    assert set(done) == {200}
    for client in several:
        flow = next(flow for flow in client.get("/api/plan").json()["flows"] if flow["id"] == "mortgage")
        assert [change["nominal"] for change in flow["changes"]] == dates
        assert [flow[name] for name, _ in fields] == [value for _, value in fields]


def test_of_two_entries_with_one_id_one_is_refused() -> None:
    several = clients(2)
    value = {"date": "2027-02-01", "legs": [{"account": "joint", "amount": -5}, {"category": "groceries", "amount": 5}]}
    body = {"changes": [{"op": "add", "kind": "entry", "id": "twin", "value": value}]}
    with ThreadPoolExecutor(8) as pool:
        done = list(pool.map(lambda n: several[n % 2].post("/api/changes", json=body).status_code, range(8)))
    assert sorted(done) == [200] + [422] * 7


def test_views_answer_while_the_whole_plan_is_replaced() -> None:
    (client,) = clients(1)
    plan = client.get("/api/plan").json()
    other = {**plan, "flows": [], "entries": [], "allowances": []}
    with ThreadPoolExecutor(6) as pool:
        replacing = [pool.submit(client.put, "/api/plan", json=each) for each in (other, plan) * 4]
        views = [pool.submit(client.get, f"/api/{view}") for view in ("settle", "candidates", "accounts", "debts") * 10]
        assert {each.result().status_code for each in (*replacing, *views)} == {200}


def test_what_a_second_process_writes_never_mixes_into_a_moment() -> None:
    file = new_file()
    store, other = Store(file), Store(file)

    def add(number: int) -> None:
        change = PlanChange("category", f"c{number}", Category(f"c{number}", "Food"))
        other.change(TODAY, lambda reading: Decision([change], "Added"))

    add(0)
    with store.reading(TODAY) as reading:
        before = reading.moment.plan
        add(1)
        # Within a reading nothing has changed, whatever is read of it later.
        assert len(reading.moment.plan.categories) == len(before.categories) == 1
        assert reading.history().undo == "Added"
        assert reading.connection.execute("SELECT count(*) FROM category").fetchone()[0] == 1
    with store.reading(TODAY) as reading:
        assert len(reading.moment.plan.categories) == 2


def test_what_one_request_works_out_keeps_no_other_waiting() -> None:
    """Else who reads while another writes, and asks what the writer waits for, would wait for each other forever."""
    store = Store(new_file())
    with store.reading(TODAY) as held, ThreadPoolExecutor(2) as pool:
        is_done = Event()

        def slow(*asked: Any) -> Moment:
            assert is_done.wait(20)
            return store._remembered.find(*asked)

        waiting, free = (
            Reading(held.connection, held.number, TODAY, each, store.file) for each in (slow, store._remembered.find)
        )
        first = pool.submit(lambda: waiting.moment)
        try:
            assert pool.submit(lambda: free.moment).result(5).plan == held.moment.plan
        finally:
            is_done.set()
        assert first.result(5).plan == held.moment.plan


def test_midnight_does_not_split_an_answer() -> None:
    days = iter([date(2027, 3, 31), *[date(2027, 4, 1)] * 50])
    store = Store(new_file())
    fill_with_demo(store, TODAY)
    client = TestClient(create_app(store, lambda: next(days)), base_url="http://127.0.0.1:8765")
    told = client.get("/api/ahead?until=2027-05-01&accounts=joint").json()
    assert told["today"] == "2027-03-31"
    assert min(event["date"] for event in told["events"]) == "2027-03-31"
    assert client.get("/api/health").json()["today"] == "2027-04-01"


def test_a_calendar_read_by_many_threads_lands_where_it_lands_for_one() -> None:
    days = [date(year, 7, 4).toordinal() for year in range(1950, 2150, 5)]
    alone = [BusinessCalendar("US").roll_one(day, "before") for day in days]
    shared = BusinessCalendar("US")
    with ThreadPoolExecutor(8) as pool:
        together = [list(pool.map(lambda day: shared.roll_one(day, "before"), days)) for _ in range(3)]
    assert together == [alone] * 3


def test_a_plain_copy_of_the_open_file_is_the_household(tmp_path: Path) -> None:
    file = new_file()
    store = Store(file)
    fill_with_demo(store, TODAY)
    assert store.file._folding._timer is not None
    store.file._folding._timer.join(20)
    copy = tmp_path / "copy.sqlite3"
    shutil.copy(file, copy)
    assert sqlite3.connect(copy).execute("SELECT count(*) FROM account").fetchone()[0] > 3
    assert file.stat().st_mode & 0o077 == 0


WRITER = """
import sys
from datetime import date
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.store.store import Decision, Store
store = Store(sys.argv[1])
for number in range(100000):
    change = PlanChange("category", f"c{number}", Category(f"c{number}", "Food"))
    store.change(date(2027, 3, 1), lambda reading: Decision([change], f"Added c{number}"))
    print(number, flush=True)
"""


def test_a_kill_in_the_middle_of_writing_loses_nothing_acknowledged() -> None:
    file = new_file()
    for _ in range(3):
        with subprocess.Popen([sys.executable, "-c", WRITER, str(file)], stdout=subprocess.PIPE, text=True) as writer:
            assert writer.stdout is not None
            acknowledged = [int(next(writer.stdout)) for _ in range(20)]
            writer.send_signal(signal.SIGKILL)
            acknowledged += [int(line) for line in writer.stdout]
        store = Store(file)
        with store.reading(TODAY) as reading:
            held = {category.id for category in reading.moment.plan.categories}
            assert {f"c{number}" for number in acknowledged} <= held
            assert len(held) <= len(acknowledged) + 1
        while store.undo(TODAY).label:
            pass
        with store.reading(TODAY) as reading:
            assert reading.moment.plan.categories == ()
        store.close()


def test_whoever_takes_no_answer_keeps_the_app_from_ending_only_for_moments() -> None:
    with serving("demo") as server, socket.socket() as slow:
        # Too little room for what is asked for: the rest stays with the server as long as it is not read.
        slow.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 2048)
        slow.connect(("127.0.0.1", server.port))
        slow.sendall(f"GET /api/forecast?until=2060-01-01 HTTP/1.1\r\nHost: 127.0.0.1:{server.port}\r\n\r\n".encode())
        assert slow.recv(12) == b"HTTP/1.1 200"
        server.process.terminate()
        assert server.process.wait(timeout=60) == 0
