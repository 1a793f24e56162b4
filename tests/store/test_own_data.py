"""Own data: backups kept and brought back, files swapped under the app, a stale log, damage, a thousand kills."""

import contextlib
import multiprocessing
import os
import random
import select
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Category
from next_penny.demo import fill_with_demo
from next_penny.store.backups import Backups
from next_penny.store.connection import StoreError
from next_penny.store.faults import FileFault
from next_penny.store.store import Decision, Store
from stores import new_file, new_store

TODAY = date(2027, 3, 1)


def put(store: Store, id: str, name: str = "Food") -> None:
    store.change(TODAY, lambda reading: Decision([PlanChange("category", id, Category(id, name))], f"Added {id}"))


def held(store: Store) -> set[str]:
    with store.reading(TODAY) as reading:
        return {category.id for category in reading.moment.plan.categories}


def everything(store: Store) -> object:
    with store.reading(TODAY) as reading:
        return reading.moment.plan, reading.entries()


def backup_file(store: Store) -> Path:
    file = store.backups.file(store.back_up("asked").name)
    assert file is not None
    return file


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.sampled_from("abcdef"), st.sampled_from(["x", "y", None])), max_size=14), st.data())
def test_a_backup_comes_back_whole_and_undo_takes_that_back_too(
    steps: list[tuple[str, str | None]], data: st.DataObject
) -> None:
    store = new_store()
    at = data.draw(st.integers(0, len(steps)))
    backup, then = None, None
    for number, (id, name) in enumerate([*steps, ("z", "z")]):
        if number == at:
            backup, then = backup_file(store), everything(store)
        if name is None and id not in held(store):
            continue
        item = Category(id, name) if name is not None else None
        store.change(TODAY, lambda reading, id=id, item=item: Decision([PlanChange("category", id, item)], "Changed"))  # type: ignore[misc]
    assert backup is not None
    before = everything(store)
    done = store.restore(TODAY, backup, "Restored")
    assert everything(store) == then
    assert done.history.undo == ("Restored" if then != before else done.history.undo)
    store.undo(TODAY)
    assert everything(store) == before
    store.redo(TODAY)
    assert everything(store) == then
    # And all that was done before it can still be taken back, step by step.
    while store.undo(TODAY).label:
        pass
    assert held(store) == set()
    store.close()


def test_a_backup_of_another_household_takes_its_place_and_goes_again() -> None:
    store, other = new_store(), new_store()
    fill_with_demo(other, TODAY)
    put(store, "own")
    before, wanted = everything(store), everything(other)
    store.restore(TODAY, backup_file(other), "Restored")
    assert everything(store) == wanted
    store.undo(TODAY)
    assert everything(store) == before
    assert [backup.kind for backup in store.backups.all()] == ["before-restore"]
    assert {file.stat().st_mode & 0o777 for file in store.backups.folder.iterdir()} == {0o600}


def test_of_daily_backups_seven_days_five_weeks_and_twelve_months_stay() -> None:
    store, now = new_store(), datetime(2026, 1, 1, 9)  # noqa: DTZ001 - local, as people count days
    put(store, "a")
    backups = Backups(store.path, lambda: now)
    with store.reading(TODAY) as reading:
        for _ in range(500):
            made = backups.daily(reading.connection)
            assert made is not None
            assert backups.daily(reading.connection) is None
            now += timedelta(days=1)
    days = [backup.made.date() for backup in backups.all()]
    last = date(2026, 1, 1) + timedelta(days=499)
    assert days[:7] == [last - timedelta(days=count) for count in range(7)]
    assert len({day.isocalendar()[:2] for day in days[:12]}) >= 5
    assert len({(day.year, day.month) for day in days}) == 12
    assert len(days) <= 7 + 5 + 12


def test_a_file_replaced_under_the_app_takes_nothing_with_it() -> None:
    store = new_store()
    put(store, "first")
    older = backup_file(store)
    put(store, "second")
    # Another file by the same name: as a copying program, or a file manager, puts it there.
    aside = store.path.with_name("aside")
    shutil.copy(older, aside)
    os.replace(aside, store.path)
    with pytest.raises(FileFault, match="Another file was put in the place"):
        put(store, "lost")
    assert held(store) == {"first", "second"}
    kept = store.backups.file(store.back_up("kept").name)
    assert kept is not None
    store.reopen()
    assert held(store) == {"first"}
    store.restore(TODAY, kept, "Restored")
    assert held(store) == {"first", "second"}
    # Overwritten where it lies, with its log folded in.
    _fold(store)
    subprocess.run(["cp", str(older), str(store.path)], check=True)
    with pytest.raises(FileFault, match="was overwritten"):
        put(store, "lost")
    store.reopen()
    assert held(store) == {"first"}
    put(store, "third")
    # Deleted: what is open is written back.
    store.path.unlink()
    with pytest.raises(FileFault, match="no longer at"):
        put(store, "lost")
    store.put_back()
    put(store, "fourth")
    assert held(store) == {"first", "third", "fourth"}
    store.close()


def _fold(store: Store) -> None:
    timer = store._folding._timer
    assert timer is not None
    timer.join(20)


HOLDER = """
import os, sys
from test_own_data import put
from next_penny.store.store import Store
store = Store(sys.argv[1])
put(store, "first")
store._fold()
print(store.back_up("asked").name, flush=True)
put(store, "second")
store._fold()
put(store, "third")
print("written", flush=True)
sys.stdin.read()
"""


def test_an_old_log_beside_a_restored_file_is_put_aside() -> None:
    file = new_file()
    environment = {
        **os.environ,
        "PYTHONPATH": os.pathsep.join([str(Path(__file__).parent), str(Path(__file__).parents[1])]),
    }
    command = [sys.executable, "-c", HOLDER, str(file)]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=environment) as holder:
        assert holder.stdout is not None
        name = holder.stdout.readline().strip()
        assert holder.stdout.readline().strip() == "written"
        holder.send_signal(signal.SIGKILL)
    # Killed, it left a log that belongs to it: opened as it is, everything is there.
    copy = file.with_name("copy.sqlite3")
    for ending in ("", "-wal"):
        shutil.copy(f"{file}{ending}", f"{copy}{ending}")
    store = Store(copy)
    assert held(store) == {"first", "second", "third"}
    store.close()
    # With an older backup put in the file's place, the log is another file's.
    shutil.copy(Backups(file).folder / name, file)
    store = Store(file)
    assert held(store) == {"first"}
    put(store, "fourth")
    assert len(list(file.parent.glob(f"{file.name}-wal-aside-*"))) == 1
    store.close()


def test_damage_is_said_at_the_start_with_the_newest_good_backup() -> None:
    store = new_store()
    fill_with_demo(store, TODAY)
    good = backup_file(store)
    store.close()
    content = bytearray(store.path.read_bytes())
    content[4096 * 5 : 4096 * 8] = bytes(4096 * 3)
    store.path.write_bytes(content)
    with pytest.raises(StoreError, match=f"is damaged.*The newest good backup is {good}"):
        Store(store.path)
    assert store.path.read_bytes() == content


def test_a_full_disk_writes_nothing_and_passes() -> None:
    store = new_store()
    fill_with_demo(store, TODAY)
    before = everything(store)
    # As many pages as there are, and no more: what SQLite says of a full disk.
    (pages,) = store._connection.execute("PRAGMA page_count").fetchone()
    store._connection.execute(f"PRAGMA max_page_count = {pages}")

    def fill() -> None:
        for number in range(2000):
            put(store, f"n{number}", "Food " * 40)

    with pytest.raises(sqlite3.OperationalError, match="full"):
        fill()
    assert before != everything(store)
    number = len(held(store))
    store._connection.execute("PRAGMA max_page_count = 4294967294")
    put(store, "more")
    assert len(held(store)) == number + 1
    store.close()


@pytest.mark.parametrize(
    ("pragma", "sentence"),
    [
        ("application_id = 77", "another program"),
        ("user_version = 5", "another program"),
        (f"application_id = {0x4E506E79}; PRAGMA user_version = -3", "no Next Penny ever wrote"),
        (f"application_id = {0x4E506E79}; PRAGMA user_version = 9999", "newer version"),
    ],
)
def test_what_is_not_ours_is_left_untouched(pragma: str, sentence: str) -> None:
    file = new_file()
    with contextlib.closing(sqlite3.connect(file)) as connection:
        connection.executescript(f"PRAGMA {pragma};")
    file.chmod(0o644)
    before = file.read_bytes()
    with pytest.raises(StoreError, match=sentence):
        Store(file)
    assert (file.read_bytes(), file.stat().st_mode & 0o777) == (before, 0o644)


@pytest.mark.parametrize("path", ["/", "a" * 300, "nul\0l"])
def test_what_cannot_be_a_file_is_said(path: str) -> None:
    with pytest.raises(StoreError, match=r"cannot be opened|is a folder"):
        Store(path)


def _write_until_killed(file: str, told: int) -> None:
    """Open, write, fold and back up, without end; what is acknowledged is told."""
    store = Store(file)
    for number in range(100_000):
        id = f"{os.getpid()}-{number}"
        put(store, id)
        os.write(told, f"{id}\n".encode())
        if number % 3 == 0:
            store._fold()
        if number % 5 == 0:
            store.back_up("asked")


@pytest.mark.slow
def test_a_thousand_kills_lose_nothing_acknowledged_and_leave_undo_alive() -> None:
    """Half of them fall on opening, folding or backing up, the others on writing."""
    chance, file = random.Random(14), new_file()
    fork = multiprocessing.get_context("fork")
    known: set[str] = set()
    for round in range(1000):
        reading, writing = os.pipe()
        child = fork.Process(target=_write_until_killed, args=(str(file), writing))
        child.start()
        os.close(writing)
        if round % 2:
            # On the start, while the log of the one before is looked at and folded in.
            time.sleep(chance.uniform(0, 0.15))
        else:
            # After something is written, and before the next: folding and backing up are part of that.
            select.select([reading], [], [], 10)
            time.sleep(chance.uniform(0, 0.06))
        os.kill(child.pid or 0, signal.SIGKILL)
        child.join()
        with os.fdopen(reading) as told:
            known |= {line.strip() for line in told if line.endswith("\n")}
        if round % 20 == 19:
            store = Store(file)
            assert known <= held(store)
            if known:
                label = store.undo(TODAY).label
                assert label is not None
                assert store.redo(TODAY).label == label
            assert not [each for each in store.backups.all() if _is_damaged(store, each.name)]
            store.close()
    assert len(known) > 500


def _is_damaged(store: Store, name: str) -> bool:
    with contextlib.closing(sqlite3.connect(store.backups.folder / name)) as connection:
        return connection.execute("PRAGMA integrity_check").fetchone() != ("ok",)
