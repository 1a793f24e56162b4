"""Killed at any moment, with readers that last: nothing acknowledged is lost, and undo goes on."""

import multiprocessing
import os
import random
import select
import signal
import sqlite3
from datetime import date
from itertools import count
from multiprocessing.context import ForkProcess
from pathlib import Path
from typing import Any

import pytest

from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.store.store import Store
from next_penny.store.transactions import Decision
from stores import new_file

TODAY = date(2027, 3, 1)
FORK = multiprocessing.get_context("fork")


def put(store: Store, id: str) -> None:
    store.change(TODAY, lambda reading: Decision([PlanChange("category", id, Category(id, "Food"))], f"Added {id}"))


def held(store: Store) -> set[str]:
    with store.reading(TODAY) as reading:
        return {category.id for category in reading.moment.plan.categories}


def write_until_killed(file: str, told: int, seed: int) -> None:
    """Open, write, rest and back up, without end, while readers last; what is acknowledged is told."""
    chance, readers, store = random.Random(seed), list[Any](), Store(file)
    os.write(told, b"open\n")
    for number in count():
        id = f"{os.getpid()}-{number}"
        put(store, id)
        os.write(told, f"{id}\n".encode())
        match chance.randrange(8):
            case 0:
                readers.append(store.begin_reading(TODAY))
            case 1 if readers:
                store.end_reading(readers.pop(0))
            case 2 | 3:
                store.file.rest()
            case 4:
                store.file.rest(is_last=True)  # as if ten seconds had passed: the newest state is kept
            case 5 if number % 3 == 0:
                store.back_up("asked")
            case 6:
                os.write(told, f"?{id}\n".encode())  # from here on it may be undone
                store.undo(TODAY)
                store.redo(TODAY)
                os.write(told, f"{id}\n".encode())


class Writer:
    """A process that writes until it is killed, and what it said it had written."""

    def __init__(self, file: Path, seed: int) -> None:
        self._reading, writing = os.pipe()
        self._process: ForkProcess = FORK.Process(target=write_until_killed, args=(str(file), writing, seed))
        self._process.start()
        os.close(writing)

    def wait(self, lines: int) -> None:
        """Wait until so many lines were told."""
        self._begin = b""
        while self._begin.count(b"\n") < lines and select.select([self._reading], [], [], 20)[0]:
            piece = os.read(self._reading, 4096)
            assert piece, "the writer ended by itself"
            self._begin += piece

    def kill(self, within: float) -> set[str]:
        """Kill it at a moment within so many seconds. Returns what was acknowledged."""
        # Nothing is ever told here: it is a clock.
        select.select([], [], [], within)
        os.kill(self._process.pid or 0, signal.SIGKILL)
        self._process.join()
        with os.fdopen(self._reading, "rb") as told:
            lines = (self._begin + told.read()).decode().split("\n")[:-1]
        known = set[str]()
        for line in lines[1:]:
            (known.discard if line.startswith("?") else known.add)(line.removeprefix("?"))
        return known


def kill_often(kills: int, seed: int) -> None:
    chance, file, known = random.Random(seed), new_file(), set[str]()
    for number in range(kills):
        other = None
        if number % 4 == 1 and file.exists():
            # Another program reads for as long as all of it lasts.
            other = sqlite3.connect(f"file:{file}?mode=ro", uri=True, isolation_level=None)
            other.execute("BEGIN")
            other.execute("SELECT count(*) FROM category").fetchone()
        writer = Writer(file, seed + number)
        writer.wait(number % 3 and chance.randrange(1, 9))
        known |= writer.kill(chance.uniform(0, 0.05 if number % 3 else 0.15))
        if other is not None:
            other.close()
        if number % 3 != 2:
            continue
        store = Store(file)
        assert known <= held(store), known - held(store)
        assert (store.file.notices, store.file.damage) == ([], None)
        if known:
            label = store.undo(TODAY).label
            assert label is not None
            assert store.redo(TODAY).label == label
        store.close()
    assert len(known) > kills


def test_a_hundred_kills_lose_nothing_acknowledged_and_leave_undo_alive() -> None:
    kill_often(100, seed=14)


@pytest.mark.slow
@pytest.mark.parametrize("seed", [21, 2100])
def test_two_thousand_kills_lose_nothing_either(seed: int) -> None:
    kill_often(1000, seed)
