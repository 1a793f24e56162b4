"""Own data: backups kept and brought back, files swapped under the app, a stale log, damage, a thousand kills."""

import contextlib
import os
import shutil
import signal
import sqlite3
import subprocess
import sys
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from effort import examples
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.demo import fill_with_demo
from next_penny.store.backups.kept import Backups
from next_penny.store.file.faults import StoreError
from next_penny.store.store import Store
from next_penny.store.transactions import Decision
from stores import new_file, new_store, restore

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


@settings(max_examples=examples(40), deadline=None)
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
    done = restore(store, backup)
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
    restore(store, backup_file(other))
    assert everything(store) == wanted
    store.undo(TODAY)
    assert everything(store) == before
    # A slow machine may rest meanwhile, and then makes the day's backup too.
    assert {backup.kind for backup in store.backups.all()} - {"daily"} == {"before-restore", "latest"}
    modes = {(file.is_dir(), file.stat().st_mode & 0o777) for file in store.backups.folder.iterdir()}
    assert modes <= {(False, 0o600), (True, 0o700)}


def test_of_daily_backups_seven_days_five_weeks_and_twelve_months_stay() -> None:
    store, now = new_store(), datetime(2026, 1, 1, 9)  # noqa: DTZ001 - local, as people count days
    put(store, "a")
    backups = Backups(new_file(), lambda: now)
    with store.reading(TODAY) as reading:
        for _ in range(500):
            made = backups.daily(reading.connection)
            assert made is not None
            assert backups.daily(reading.connection) is None
            now += timedelta(days=1)
    days = [backup.made.date() for backup in backups.all() if backup.kind == "daily"]
    last = date(2026, 1, 1) + timedelta(days=499)
    assert days[:7] == [last - timedelta(days=count) for count in range(7)]
    assert len({day.isocalendar()[:2] for day in days[:12]}) >= 5
    assert len({(day.year, day.month) for day in days}) == 12
    assert len(days) <= 7 + 5 + 12


HOLDER = """
import os, sys
from test_own_data import put
from next_penny.store.store import Store
store = Store(sys.argv[1])
put(store, "first")
store.file.rest()
print(store.back_up("asked").name, flush=True)
put(store, "second")
store.file.rest()
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
    # With an older backup put in the file's place, the log is another file's: it is moved to the backups.
    shutil.copy(Backups(file).folder / name, file)
    store = Store(file)
    assert held(store) == {"first"}
    assert "is not as the app left it" in store.file.notices[0]
    put(store, "fourth")
    assert len(list(store.backups.folder.glob(f"*-{file.name}-wal"))) == 1
    kept = next(store.backups.file(backup.name) for backup in store.backups.all() if backup.kind == "kept")
    assert kept is not None
    restore(store, kept)
    assert held(store) == {"first", "second", "third"}
    store.close()


def test_damage_is_said_at_the_start_with_the_newest_good_backup() -> None:
    store = new_store()
    fill_with_demo(store, TODAY)
    store.close()
    content = bytearray(store.path.read_bytes())
    content[4096 * 5 : 4096 * 8] = bytes(4096 * 3)
    store.path.write_bytes(content)
    with pytest.raises(StoreError, match=r"is damaged.*The newest good backup is .*-kept.sqlite3"):
        Store(store.path)
    assert store.path.read_bytes() == content


def test_a_full_disk_writes_nothing_and_passes() -> None:
    store = new_store()
    fill_with_demo(store, TODAY)
    before = everything(store)
    # As many pages as there are, and no more: what SQLite says of a full disk.
    (pages,) = store.file._writer.execute("PRAGMA page_count").fetchone()
    store.file._writer.execute(f"PRAGMA max_page_count = {pages}")

    def fill() -> None:
        for number in range(2000):
            put(store, f"n{number}", "Food " * 40)

    with pytest.raises(sqlite3.OperationalError, match="full"):
        fill()
    assert before != everything(store)
    number = len(held(store))
    store.file._writer.execute("PRAGMA max_page_count = 4294967294")
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


def test_entries_in_a_log_that_an_earlier_kill_left_are_offered() -> None:
    store = new_store()
    fill_with_demo(store, TODAY)
    store.close()
    file = store.path
    # What an earlier version did: the log of the last entries lay aside, and the file went on without it.
    killed = new_file()
    shutil.copy(file, killed)
    with contextlib.closing(sqlite3.connect(killed, isolation_level=None)) as connection:
        connection.execute("PRAGMA journal_mode = WAL")
        connection.execute("PRAGMA wal_autocheckpoint = 0")
        connection.execute(
            "INSERT INTO entry (id, date, payee, notes) VALUES ('lost', '2027-02-27', 'Ferry kiosk', '')"
        )
        for column, name, amount in (("account", "joint", -450), ("category", "getting-about", 450)):
            connection.execute(f"INSERT INTO leg (entry, {column}, amount) VALUES ('lost', ?, ?)", (name, amount))
        shutil.copy(f"{killed}-wal", file.with_name(f"{file.name}-wal-aside-20270228-101500"))
    store = Store(file)
    (notice,) = store.file.notices
    assert "holds one entry that the household has not" in notice
    with store.reading(TODAY) as reading:
        assert reading.entry("lost") is None
    kept = next(store.backups.file(backup.name) for backup in store.backups.all() if backup.kind == "kept")
    assert kept is not None
    restore(store, kept)
    with store.reading(TODAY) as reading:
        entry = reading.entry("lost")
        assert entry is not None
        assert entry.payee == "Ferry kiosk"
    store.close()
    assert Store(file).file.notices == []
