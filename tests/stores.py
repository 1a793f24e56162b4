"""Households' files for tests: each in a folder of its own, gone with the process."""

import atexit
import shutil
import tempfile
from datetime import date
from functools import lru_cache
from itertools import count
from pathlib import Path

from next_penny.demo import fill_with_demo
from next_penny.store.backups.restoring import current_copy
from next_penny.store.store import Store
from next_penny.store.transactions import Done

_FOLDER = Path(tempfile.mkdtemp(prefix="next-penny-tests-"))
_NUMBERS = count()
atexit.register(shutil.rmtree, _FOLDER, ignore_errors=True)


def new_file() -> Path:
    """A path at which nothing is yet."""
    return _FOLDER / f"{next(_NUMBERS)}.sqlite3"


def new_store() -> Store:
    """An empty household."""
    return Store(new_file())


@lru_cache
def demo_file(today: date = date(2027, 3, 1)) -> Path:
    """The demo household of a day in a file at rest, made once."""
    file = new_file()
    store = Store(file)
    fill_with_demo(store, today)
    store.close()
    return file


def demo_store(file: Path) -> Store:
    """The demo household, in a file of its own."""
    return Store(Path(shutil.copy(demo_file(), file)))


def restore(store: Store, backup: Path, today: date = date(2027, 3, 1)) -> Done:
    """Let a household be as one of its backups has it."""
    with current_copy(backup) as copy:
        return store.restore(today, copy, "Restored")
