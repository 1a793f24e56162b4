"""Households' files for tests: each in a folder of its own, gone with the process."""

import atexit
import shutil
import tempfile
from itertools import count
from pathlib import Path

from next_penny.store.store import Store

_FOLDER = Path(tempfile.mkdtemp(prefix="next-penny-tests-"))
_NUMBERS = count()
atexit.register(shutil.rmtree, _FOLDER, ignore_errors=True)


def new_file() -> Path:
    """A path at which nothing is yet."""
    return _FOLDER / f"{next(_NUMBERS)}.sqlite3"


def new_store() -> Store:
    """An empty household."""
    return Store(new_file())
