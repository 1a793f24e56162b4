"""Bringing a backup back: row by row where it differs, so that the step is small and can be undone."""

import contextlib
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import quote

from next_penny.store import undo
from next_penny.store.backups import BackupError, wrong_with
from next_penny.store.connection import StoreError, connect, has_household


@contextmanager
def current_copy(backup: Path) -> Iterator[Path]:
    """A copy of a backup, checked and brought up to date; the backup stays as it is. Raises BackupError."""
    with tempfile.TemporaryDirectory(prefix="next-penny-restore-") as folder:
        copy = Path(folder) / "household.sqlite3"
        try:
            _copy(backup, copy)
        except OSError as error:
            raise BackupError(f"{backup} cannot be read: {error.strerror}.") from error
        problem = wrong_with(copy)
        if problem is not None:
            raise BackupError(problem)
        if not has_household(copy):
            raise BackupError(f"{backup.name} holds no Next Penny household.")
        try:
            connect(copy).close()
        except StoreError as error:
            raise BackupError(str(error).replace(str(copy), backup.name)) from error
        yield copy


def _copy(backup: Path, copy: Path) -> None:
    """With what its log holds, if somebody has it open; as plain bytes where SQLite cannot read it so."""
    try:
        with (
            contextlib.closing(sqlite3.connect(f"file:{quote(str(backup))}?mode=ro", uri=True)) as source,
            contextlib.closing(sqlite3.connect(copy)) as made,
        ):
            source.backup(made)
    except sqlite3.Error:
        shutil.copyfile(backup, copy)


def put_in_place(connection: sqlite3.Connection) -> None:
    """Let every table be as in the attached `other`, within a step; files that entries refer to are taken along.

    What differs goes first, in all tables, and comes after: names that changed places do not meet. References are
    checked when all is in place.
    """
    tables = undo.watched_tables(connection)
    columns = {
        table: ", ".join(row[1] for row in connection.execute(f"PRAGMA main.table_info({table})")) for table in tables
    }
    for table in tables:
        connection.execute(
            f"DELETE FROM main.{table} WHERE rowid IN (SELECT rowid FROM (SELECT rowid, {columns[table]} FROM"
            f" main.{table} EXCEPT SELECT rowid, {columns[table]} FROM other.{table}))"
        )
    for table in tables:
        connection.execute(
            f"INSERT INTO main.{table} (rowid, {columns[table]}) SELECT rowid, {columns[table]} FROM other.{table}"
            f" EXCEPT SELECT rowid, {columns[table]} FROM main.{table}"
        )
    connection.execute("INSERT OR IGNORE INTO main.receipt_file SELECT * FROM other.receipt_file")
