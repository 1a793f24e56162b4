"""Another file put into or in the place of the household's while the app runs: nothing of either is lost, nothing mixes."""

import os
import shutil
import sqlite3
import subprocess
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest
from test_kills import TODAY, held, put

from next_penny.store.backups.preview import look
from next_penny.store.backups.restoring import current_copy
from next_penny.store.file.faults import FileFault
from next_penny.store.store import Store
from stores import new_file, new_store, restore

OURS = {"first", "second", "third"}


def copied(store: Store) -> Path:
    """A copy made by another program: in this one it would let go of SQLite's locks."""
    copy = new_file()
    subprocess.run(["cp", str(store.path), str(copy)], check=True)
    return copy


def in_another_place(store: Store, *more: str) -> tuple[Path, set[str]]:
    """The household as a copy of the file, with more written into that by another app."""
    copy = copied(store)
    other = Store(copy)
    for id in more:
        put(other, id)
    ids = held(other)
    other.close()
    return copy, ids


def older(store: Store) -> tuple[Path, set[str]]:
    return in_another_place(store)


def equal(store: Store) -> tuple[Path, set[str]]:
    return in_another_place(store, "theirs", "also theirs")


def newer(store: Store) -> tuple[Path, set[str]]:
    return in_another_place(store, *(f"theirs {number}" for number in range(9)))


def of_another_household(store: Store) -> tuple[Path, set[str]]:
    other = new_store()
    put(other, "strange")
    other.close()
    return other.path, {"strange"}


def overwrite(store: Store, source: Path) -> None:
    subprocess.run(["cp", str(source), str(store.path)], check=True)


def replace(store: Store, source: Path) -> None:
    aside = store.path.with_name("aside")
    shutil.copy(source, aside)
    os.replace(aside, store.path)


@pytest.fixture(params=[older, equal, newer, of_another_household])
def theirs(request: pytest.FixtureRequest) -> Callable[[Store], tuple[Path, set[str]]]:
    return request.param  # type: ignore[no-any-return]


@pytest.fixture(params=["folded", "pending"])
def is_folded(request: pytest.FixtureRequest) -> bool:
    return bool(request.param == "folded")


@pytest.fixture(params=[overwrite, replace])
def put_there(request: pytest.FixtureRequest) -> Callable[[Store, Path], None]:
    return request.param  # type: ignore[no-any-return]


def swapped(
    theirs: Callable[[Store], tuple[Path, set[str]]], is_folded: bool, put_there: Callable[[Store, Path], None]
) -> tuple[Store, bytes, set[str]]:
    """A store with three changes, whose file became another one. Gives also what is there, and what that holds."""
    store = new_store()
    put(store, "first")
    assert store.file.rest()
    source, ids = theirs(store)
    put(store, "second")
    assert store.file.rest(is_last=True)
    put(store, "third")
    if is_folded:
        store.file.rest()
    put_there(store, source)
    return store, source.read_bytes(), ids


def kept(store: Store) -> set[str]:
    """What the newest backup of what was open holds."""
    newest = next(backup for backup in store.backups.all() if backup.kind == "kept")
    file = store.backups.file(newest.name)
    assert file is not None
    with current_copy(file) as copy:
        assert look(copy, TODAY).entries == 0
    with closing(sqlite3.connect(file)) as connection:
        return {id for (id,) in connection.execute("SELECT id FROM category")}


def test_nothing_is_written_into_what_was_put_there_and_reading_goes_on(theirs, is_folded, put_there) -> None:  # type: ignore[no-untyped-def]
    store, there, ids = swapped(theirs, is_folded, put_there)
    assert held(store) == OURS
    with pytest.raises(FileFault, match=r"overwritten|in the place of"):
        put(store, "lost")
    assert held(store) == OURS == kept(store)
    store.close()
    assert store.path.read_bytes() == there
    # Started again without a choice: what is there is opened, and what was open is among the backups.
    again = Store(store.path)
    assert held(again) == ids
    assert kept(again) == OURS
    assert again.file.notices
    put(again, "on")
    again.close()
    assert held(Store(store.path)) == ids | {"on"}


def test_what_was_open_is_put_back_and_what_was_there_stays_beside_it(theirs, is_folded, put_there) -> None:  # type: ignore[no-untyped-def]
    store, there, _ = swapped(theirs, is_folded, put_there)
    with pytest.raises(FileFault):
        put(store, "lost")
    assert store.back_up("kept").kind == "kept"
    aside = store.put_back()
    assert aside is not None
    assert aside.read_bytes() == there
    put(store, "on")
    assert held(store) == {*OURS, "on"}
    assert [store.undo(TODAY).label for _ in range(2)] == ["Added on", "Added third"]
    store.close()
    again = Store(store.path)
    assert (held(again), again.file.notices) == (OURS - {"third"}, [])


def test_what_is_there_is_opened_and_what_was_open_can_be_restored(theirs, is_folded, put_there) -> None:  # type: ignore[no-untyped-def]
    store, _, ids = swapped(theirs, is_folded, put_there)
    store.reopen()
    put(store, "on")
    assert held(store) == ids | {"on"}
    file = next(store.backups.file(backup.name) for backup in store.backups.all() if backup.kind == "kept")
    assert file is not None
    restore(store, file)
    assert held(store) == OURS
    store.close()
    assert held(Store(store.path)) == OURS


def test_what_was_begun_to_be_read_before_is_no_mixture() -> None:
    store = new_store()
    put(store, "first")
    source, _ = newer(store)
    with store.reading(TODAY) as reading:
        overwrite(store, source)
        with pytest.raises(FileFault, match="overwritten"):
            reading.entries()
    assert held(store) == {"first"}
    store.close()


def test_the_same_bytes_are_the_same_file_and_a_deleted_one_is_written_back() -> None:
    store = new_store()
    put(store, "first")
    store.file.rest()
    copy = copied(store)
    put(store, "second")
    overwrite(store, copy)  # as it lay there already; what is in the log goes with it
    put(store, "third")
    assert (held(store), store.fault()) == (OURS, None)
    store.path.unlink()
    with pytest.raises(FileFault, match="no longer at"):
        put(store, "lost")
    assert store.put_back() is None
    put(store, "fourth")
    store.close()
    assert held(Store(store.path)) == {*OURS, "fourth"}


def test_what_is_no_household_is_not_opened_and_what_was_open_stays() -> None:
    store = new_store()
    put(store, "first")
    list_of_things = new_file()
    list_of_things.write_bytes(b"milk, bread\n" * 900)
    overwrite(store, list_of_things)
    with pytest.raises(Exception, match=r"not an SQLite file|does not begin"):
        store.reopen()
    assert held(store) == {"first"}
    assert store.put_back() is not None
    assert held(store) == {"first"}
    store.close()


def test_two_servers_fold_the_same_file_and_neither_is_alarmed() -> None:
    file = new_file()
    stores = [Store(file), Store(file)]
    for number in range(40):
        put(stores[number % 2], f"c{number}")
        stores[number % 3 == 0].file.rest(is_last=number % 5 == 0)
        assert {len(held(store)) for store in stores} == {number + 1}
    assert [store.fault() for store in stores] == [None, None]
    for store in stores:
        store.close()
    assert len(held(Store(file))) == 40
