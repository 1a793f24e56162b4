"""Is the path still the file that was opened? Asked before every write, and before a connection is opened by name.

Somebody may delete the file, put another in its place, or copy an older backup over it. What is open then still works
on what was there; a write would be lost, or would mix two households.
"""

import contextlib
import os
import shutil
import sqlite3
import time
from datetime import datetime
from pathlib import Path
from typing import NamedTuple
from urllib.parse import quote

from next_penny.store.faults import FileFault

_GONE = "The household's file is no longer at {path}: nothing is written. What is open here can still be kept."
_OTHER = (
    "Another file was put in the place of {path}: nothing is written. What was open here can be kept as a backup, or"
    " the file that is there now be opened."
)
_OVERWRITTEN = (
    "The household's file was overwritten at {path}: nothing is written. Open what is there now, then go back to a"
    " backup if need be."
)


class _Content(NamedTuple):
    """Whose household a file is of, and how often it was changed."""

    lineage: str
    revision: int


class SameFile:
    """One open file. Not every change of it is looked into: only what its time of writing does not explain."""

    def __init__(self, path: Path) -> None:
        self.path = path
        held = os.stat(path)
        self._identity = (held.st_dev, held.st_ino)
        self._written = (held.st_mtime_ns, held.st_size)
        self._seen = _content(path, patiently=False)

    @property
    def is_there(self) -> bool:
        """Whether the path leads to the file itself, whatever became of what is in it."""
        try:
            held = os.stat(self.path)
        except OSError:
            return False
        return (held.st_dev, held.st_ino) == self._identity

    def put_log_aside(self) -> None:
        """Keep a log that is not folded in yet under another name: what lies at the path is not its file."""
        log = self.path.with_name(f"{self.path.name}-wal")
        if not log.exists() or not log.stat().st_size:
            return
        aside = log.with_name(f"{log.name}-aside-{datetime.now():%Y%m%d-%H%M%S}")  # noqa: DTZ005 - a name for a person
        if self.is_there:
            # Overwritten where it lies: what is open would fold its log into that when it is closed.
            shutil.copyfile(log, aside)
            os.truncate(log, 0)
        else:
            os.replace(log, aside)
            self.path.with_name(f"{self.path.name}-shm").unlink(missing_ok=True)

    def check(self) -> None:
        """Raises FileFault where the path is another file, or what is in it is another household or an older one."""
        try:
            held = os.stat(self.path)
        except OSError as error:
            raise FileFault(_GONE.format(path=self.path), is_other=True) from error
        if (held.st_dev, held.st_ino) != self._identity:
            raise FileFault(_OTHER.format(path=self.path), is_other=True)
        written = (held.st_mtime_ns, held.st_size)
        if written == self._written:
            return
        now = _content(self.path)
        if now is None and self._seen is None:
            return  # all of it is in the log still
        if now is None:
            raise FileFault(_OVERWRITTEN.format(path=self.path), is_other=True)
        if self._seen is not None and _is_other(self._seen, now):
            raise FileFault(_OVERWRITTEN.format(path=self.path), is_other=True)
        self._written, self._seen = written, now


def _is_other(before: _Content, now: _Content) -> bool:
    return now.lineage != before.lineage or now.revision < before.revision


def _content(path: Path, *, patiently: bool = True) -> _Content | None:
    """What the file itself says, without its log; None where it says nothing yet, or nothing that can be read."""
    for pause in (0.05, 0.2, 0.0) if patiently else (0.0,):
        # As if it never changed: it is read without locks, past what connections remember of it.
        address = f"file:{quote(str(path))}?mode=ro&immutable=1"
        try:
            with contextlib.closing(sqlite3.connect(address, uri=True)) as connection:
                (revision,) = connection.execute("SELECT number FROM revision").fetchone()
                (lineage,) = connection.execute("SELECT id FROM lineage").fetchone()
            return _Content(lineage, revision)
        except (sqlite3.Error, TypeError):
            # The log may be being folded into it, by another process.
            time.sleep(pause)
    return None
