"""Another file put into the place of the household's, while nobody has it open; what lay there is moved aside."""

import contextlib
import os
import sqlite3
from datetime import datetime
from pathlib import Path

from next_penny.store.backups.kept import Backup, Backups
from next_penny.store.file.connection import connect_reader
from next_penny.store.file.copies import write_copy
from next_penny.store.file.file_identity import companions


def kept_as_it_was(backups: Backups, connection: sqlite3.Connection) -> Backup:
    """A backup of a household whose file is not in its place any more. Raises BackupError, OSError.

    connection: sees it, also where a file that lost its name has taken the record along.
    """
    with backups.scratch() as folder:
        known = folder / "known"
        if backups.latest.rebuild(known) is not None:
            return backups.take(known, "kept")
    return backups.make(connection, "kept")


def swap_damaged(path: Path, whole: Path) -> None:
    """Write a copy of a whole household to the path of a damaged one, which is moved aside with its log."""
    aside = f"{path.name}-damaged-{datetime.now():%Y%m%d-%H%M%S}"  # noqa: DTZ005 - a name for a person
    for file in (path, *companions(path)):
        os.replace(file, path.with_name(file.name.replace(path.name, aside)))
    _write(whole, path)


def put_in_place(path: Path, existing: Path) -> Path | None:
    """Write a copy of what was kept to a path. What lies there is moved aside, byte for byte. Returns where to."""
    aside = None
    if path.exists():
        aside = path.with_name(f"{path.stem}-found-{datetime.now():%Y%m%d-%H%M%S}{path.suffix}")  # noqa: DTZ005 - a name for a person
        os.replace(path, aside)
    for file in companions(path):
        os.replace(file, path.with_name(f"{(aside or existing).name}{file.name[-4:]}"))
    _write(existing, path)
    return aside


def _write(source: Path, path: Path) -> None:
    with contextlib.closing(connect_reader(source)) as connection:
        write_copy(connection, path)
