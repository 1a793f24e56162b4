"""Backups of a household's file, beside it: made through SQLite's own backup while the app runs, checked, and kept.

By itself one is made a day; of these the newest of 7 days, 5 weeks and 12 months are kept. What a person asked for, and
what was there before a restoring or an update, is not thrown away with them: of each kind the newest 12 stay.
"""

import contextlib
import os
import re
import sqlite3
import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from typing import Literal, get_args

BackupKind = Literal["daily", "asked", "before-restore", "before-update", "brought", "kept"]

# What was being written so long ago was given up: the app was killed.
_PART_SECONDS = 3600.0
_DAYS, _WEEKS, _MONTHS, _OTHERS = 7, 5, 12, 12
_NAME = re.compile(
    r"(?P<made>\d{8}-\d{6})(?:-\d+)?-(?P<kind>" + "|".join(get_args(BackupKind)) + r")\.sqlite3", re.ASCII
)


class BackupError(Exception):
    """A backup that cannot be made or used; the message is a sentence."""


class CannotWrite(BackupError):
    """A backup that has no place to be written to just now."""


@dataclass(frozen=True, slots=True)
class Backup:
    """One backup: its file's name and size in bytes, when it was made (local time), and why."""

    name: str
    made: datetime
    kind: BackupKind
    size: int


class Backups:
    """The backups of one file, in a folder beside it that only their owner may read."""

    def __init__(self, path: Path, clock: Callable[[], datetime] = datetime.now) -> None:
        self._path, self._clock = path, clock
        self._making = threading.Lock()

    @property
    def folder(self) -> Path:
        """Where they lie."""
        return self._path.with_name(f"{self._path.stem}-backups")

    def all(self) -> list[Backup]:
        """Every backup, the newest first."""
        found = []
        with contextlib.suppress(OSError):
            for file in os.scandir(self.folder):
                with contextlib.suppress(OSError):  # one that another process throws away meanwhile
                    backup = _backup_of(file.name, file.stat().st_size)
                    found += [backup] if backup is not None else []
        return sorted(found, key=lambda backup: (backup.made, backup.name), reverse=True)

    def file(self, name: str) -> Path | None:
        """Where a backup lies; None for a name that none has."""
        path = self.folder / name
        return path if _NAME.fullmatch(name) is not None and path.is_file() else None

    def make(self, connection: sqlite3.Connection, kind: BackupKind) -> Backup:
        """A backup of what a connection sees. Raises BackupError, and leaves nothing behind, where it is not whole."""
        with self._making:
            path = self._free_name(kind)
            write_copy(connection, path)
            made = _backup_of(path.name, path.stat().st_size)
            assert made is not None
            self._drop_old(made)
        return made

    def bring(self, content: Path) -> Backup:
        """A file from elsewhere as a backup; the caller has looked at what is in it."""
        with contextlib.closing(sqlite3.connect(content)) as connection:
            return self.make(connection, "brought")

    def is_due(self, today: date) -> bool:
        """Whether none was made by itself today."""
        return not any(backup.kind == "daily" and backup.made.date() == today for backup in self.all())

    def daily(self, connection: sqlite3.Connection) -> Backup | None:
        """Today's backup, if there is none yet."""
        return self.make(connection, "daily") if self.is_due(self._clock().date()) else None

    def newest_good(self) -> Path | None:
        """The newest backup that is whole."""
        for backup in self.all():
            path = self.folder / backup.name
            if not wrong_with(path):
                return path
        return None

    def _free_name(self, kind: BackupKind) -> Path:
        try:
            self.folder.mkdir(mode=0o700, exist_ok=True)
        except OSError as error:
            raise CannotWrite(f"The folder for backups, {self.folder}, cannot be made: {error.strerror}.") from error
        made = self._clock()
        names = (f"{made:%Y%m%d-%H%M%S}{f'-{count}' if count else ''}-{kind}.sqlite3" for count in range(1000))
        return next(self.folder / name for name in names if not (self.folder / name).exists())

    def _drop_old(self, newest: Backup) -> None:
        backups = self.all()
        kept = {newest.name} | set(_to_keep([backup for backup in backups if backup.kind == "daily"]))
        for kind in get_args(BackupKind):
            kept |= {backup.name for backup in [each for each in backups if each.kind == kind != "daily"][:_OTHERS]}
        for backup in backups:
            if backup.name not in kept:
                with contextlib.suppress(OSError):
                    (self.folder / backup.name).unlink()
        for part in self.folder.glob("*.part"):
            # Another process may be at the same.
            with contextlib.suppress(OSError):
                if time.time() - part.stat().st_mtime > _PART_SECONDS:
                    part.unlink()


def _backup_of(name: str, size: int) -> Backup | None:
    """The backup that a file's name tells of; None for another file."""
    match = _NAME.fullmatch(name)
    if match is None:
        return None
    made = datetime.strptime(match["made"], "%Y%m%d-%H%M%S")  # noqa: DTZ007 - local, as people count days
    return Backup(name, made, match["kind"], size)  # type: ignore[arg-type]


def _to_keep(newest_first: Iterable[Backup]) -> Iterable[str]:
    """The newest of each of the last days, weeks and months in which there is one."""
    for most, period in ((_DAYS, "%Y-%m-%d"), (_WEEKS, "%G-%V"), (_MONTHS, "%Y-%m")):
        seen: dict[str, str] = {}
        for backup in newest_first:
            seen.setdefault(backup.made.strftime(period), backup.name)
        yield from list(seen.values())[:most]


def write_copy(connection: sqlite3.Connection, path: Path) -> None:
    """What a connection sees as one whole file, which appears only once it is checked. Raises BackupError."""
    part = path.with_name(f"{path.name}.{os.getpid()}.part")
    try:
        os.close(os.open(part, os.O_CREAT | os.O_TRUNC | os.O_WRONLY, 0o600))
        with contextlib.closing(sqlite3.connect(part, isolation_level=None)) as copy:
            connection.backup(copy)
            copy.execute("PRAGMA journal_mode = DELETE")
        problem = wrong_with(part)
        if problem is not None:
            raise BackupError(problem)
        _sync(part)
        os.replace(part, path)
    except (OSError, sqlite3.Error) as error:
        why = error.strerror if isinstance(error, OSError) else str(error)
        raise CannotWrite(f"The backup cannot be written to {path}: {why}.") from error
    finally:
        with contextlib.suppress(OSError):
            part.unlink()


def wrong_with(path: Path) -> str | None:
    """What is wrong with a file's pages, in a sentence; None where it is whole."""
    try:
        with contextlib.closing(sqlite3.connect(path)) as connection:
            (found,) = connection.execute("PRAGMA integrity_check(1)").fetchone()
    except sqlite3.Error as error:
        found = str(error)
    return None if found == "ok" else f"{path.name} is damaged: its pages do not fit together."


def _sync(path: Path) -> None:
    """Let the file be on the disk, and not only on its way there."""
    descriptor = os.open(path, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)
