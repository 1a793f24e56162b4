"""Bringing a backup back: row by row where it differs, so that the step is small and can be undone."""

import contextlib
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import quote

from next_penny.store.backups.brought import clean
from next_penny.store.backups.latest import NAME, Latest
from next_penny.store.file.faults import BackupError
from next_penny.store.sql import memory, undo


@contextmanager
def current_copy(backup: Path) -> Iterator[Path]:
    """A copy of one of the app's own backups, checked and brought up to date. Raises BackupError."""
    with tempfile.TemporaryDirectory(prefix="next-penny-restore-") as folder:
        copy = Path(folder) / "household.sqlite3"
        # The newest whole state is brought with all that was acknowledged since, and with its receipts.
        if backup.name != NAME or Latest(backup.parent).rebuild(copy) is None:
            _copy(backup, copy)
        clean(copy, backup.name, is_ours=True)
        yield copy


@contextmanager
def copy_from_elsewhere(file: Path) -> Iterator[Path]:
    """A copy of a file from elsewhere, if nothing in it is other than this app writes. Raises BackupError."""
    with tempfile.TemporaryDirectory(prefix="next-penny-restore-") as folder:
        copy = Path(folder) / "household.sqlite3"
        _copy(file, copy)
        clean(copy, file.name)
        yield copy


def _copy(file: Path, copy: Path) -> None:
    """With what its log holds, if somebody has it open; as plain bytes where SQLite cannot read it so."""
    try:
        with (
            contextlib.closing(sqlite3.connect(f"file:{quote(str(file))}?mode=ro", uri=True)) as source,
            contextlib.closing(sqlite3.connect(copy)) as made,
        ):
            source.backup(made)
    except sqlite3.Error:
        try:
            shutil.copyfile(file, copy)
        except OSError as error:
            raise BackupError(f"{file} cannot be read: {error.strerror}.") from error


def put_in_place(connection: sqlite3.Connection) -> None:
    """Let every table be as in the attached `other`, within a step; files that entries refer to are taken along.

    What differs goes first, in all tables, and comes after: names that changed places do not meet. References are
    checked when all is in place.
    """
    tables = [table for table in undo.watched_tables(connection) if table != "expected"]
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
    memory.take_over(connection)
    connection.execute("INSERT OR IGNORE INTO main.receipt_file SELECT * FROM other.receipt_file")
