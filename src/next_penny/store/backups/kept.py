"""Backups of a household's file, beside it: made through SQLite's own backup while the app runs, checked, and kept.

By itself one is made a day; of these the newest of 7 days, 5 weeks and 12 months are kept. What a person asked for, and
what was there before a restoring or an update, is not thrown away with them: of each kind the newest 12 stay.
"""

import contextlib
import os
import re
import sqlite3
import tempfile
import threading
import time
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from typing import Literal, get_args

from next_penny.store.backups.latest import NAME, Latest
from next_penny.store.file.copies import write_copy, wrong_with
from next_penny.store.file.faults import CannotWrite

BackupKind = Literal["daily", "asked", "before-restore", "before-update", "brought", "kept", "latest"]

# What was being written so long ago was given up: the app was killed.
_PART_SECONDS = 3600.0
_DAYS, _WEEKS, _MONTHS, _OTHERS = 7, 5, 12, 12
_NAME = re.compile(
    r"(?P<made>\d{8}-\d{6})(?:-\d+)?-(?P<kind>" + "|".join(get_args(BackupKind)) + r")\.sqlite3", re.ASCII
)
_ENDING, _PARTS = ".sqlite3", (".part", "-wal", "-shm", "-journal")


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
        self.latest = Latest(self.folder)

    @property
    def folder(self) -> Path:
        """Where they lie."""
        return self._path.with_name(f"{self._path.stem}-backups")

    def all(self) -> list[Backup]:
        """Every backup, the newest first."""
        backups = []
        for file in self._files():
            with contextlib.suppress(OSError):  # one that another process throws away meanwhile
                backup = _backup_of(file.name, file.stat())
                backups += [backup] if backup is not None else []
        return sorted(backups, key=lambda backup: (backup.made, backup.name), reverse=True)

    def passed_over(self) -> list[str]:
        """What lies among the backups and looks like one, but has a name that none of ours has."""
        names = [file.name for file in self._files() if not file.name.endswith(_PARTS)]
        return sorted(name for name in names if _ENDING in name and _kind_and_time(name) is None and name != NAME)

    @contextlib.contextmanager
    def scratch(self) -> Iterator[Path]:
        """A folder for copies to be looked at, gone afterwards."""
        with tempfile.TemporaryDirectory(prefix="next-penny-") as folder:
            yield Path(folder)

    def _files(self) -> list[os.DirEntry[str]]:
        try:
            with os.scandir(self.folder) as entries:
                return list(entries)
        except OSError:
            return []

    def file(self, name: str) -> Path | None:
        """Where a backup lies; None for a name that none has."""
        path = self.folder / name
        return path if (name == NAME or _kind_and_time(name) is not None) and path.is_file() else None

    def one(self, name: str) -> Backup | None:
        """A backup by its name; None where there is none."""
        path = self.file(name)
        return _backup_of(name, path.stat()) if path is not None else None

    def make(self, connection: sqlite3.Connection, kind: BackupKind) -> Backup:
        """A backup of what a connection sees. Raises BackupError, and leaves nothing behind, where it is not whole."""
        with self._making:
            path = self.free_name(kind)
            write_copy(connection, path)
            made = _backup_of(path.name, path.stat())
            assert made is not None
            self._drop_old(made)
        return made

    def take(self, content: Path, kind: BackupKind) -> Backup:
        """A file that the caller has looked at as a backup. Raises BackupError."""
        with contextlib.closing(sqlite3.connect(content)) as connection:
            return self.make(connection, kind)

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

    def free_name(self, kind: BackupKind) -> Path:
        """Where the next backup of a kind goes. Raises CannotWrite."""
        try:
            self.folder.mkdir(mode=0o700, exist_ok=True)
        except OSError as error:
            raise CannotWrite(f"The folder for backups, {self.folder}, cannot be made: {error.strerror}.") from error
        made = self._clock()
        names = (f"{made:%Y%m%d-%H%M%S}{f'-{count}' if count else ''}-{kind}.sqlite3" for count in range(1000))
        return next(self.folder / name for name in names if not (self.folder / name).exists())

    def _drop_old(self, newest: Backup) -> None:
        backups = self.all()
        keeping = {newest.name} | set(_to_keep([backup for backup in backups if backup.kind == "daily"]))
        for kind in get_args(BackupKind):
            keeping |= {
                backup.name
                for backup in [one_backup for one_backup in backups if one_backup.kind == kind != "daily"][:_OTHERS]
            }
        for backup in backups:
            if backup.name not in keeping:
                with contextlib.suppress(OSError):
                    (self.folder / backup.name).unlink()
        for part in self.folder.glob("*.part"):
            # Another process may be at the same.
            with contextlib.suppress(OSError):
                if time.time() - part.stat().st_mtime > _PART_SECONDS:
                    part.unlink()


def _backup_of(name: str, status: os.stat_result) -> Backup | None:
    """The backup that a file's name tells of; None for another file."""
    if name == NAME:
        made = datetime.fromtimestamp(status.st_mtime).replace(microsecond=0)  # noqa: DTZ006 - local, as people count days
        return Backup(name, made, "latest", status.st_size)
    reason = _kind_and_time(name)
    return Backup(name, reason[1], reason[0], status.st_size) if reason is not None else None


def _kind_and_time(name: str) -> tuple[BackupKind, datetime] | None:
    match = _NAME.fullmatch(name)
    if match is None:
        return None
    try:
        made = datetime.strptime(match["made"], "%Y%m%d-%H%M%S")  # noqa: DTZ007 - local, as people count days
    except ValueError:
        return None
    return match["kind"], made  # type: ignore[return-value]


def _to_keep(newest_first: Iterable[Backup]) -> Iterable[str]:
    """The newest of each of the last days, weeks and months in which there is one."""
    for most, period in ((_DAYS, "%Y-%m-%d"), (_WEEKS, "%G-%V"), (_MONTHS, "%Y-%m")):
        seen: dict[str, str] = {}
        for backup in newest_first:
            seen.setdefault(backup.made.strftime(period), backup.name)
        yield from list(seen.values())[:most]
