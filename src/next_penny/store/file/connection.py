"""Connections to a household's file, and what a file must be before one is opened."""

import os
import sqlite3
import time
import weakref
from collections.abc import Iterable
from pathlib import Path
from typing import Any
from urllib.parse import quote

from next_penny.store.file.faults import StoreError
from next_penny.store.file.schema import APPLICATION_ID, newest, version_of

# What file systems allow, less what is put behind a name here.
_LONGEST_NAME = 200
_PATIENCE_SECONDS = 5


class Connection(sqlite3.Connection):
    """A connection that knows what is still read through it.

    A statement that nobody reads to its end, such as one in the traceback of an error, holds the moment that it began
    in: through COMMIT, and so that the next transaction begins in that moment too (sqlite.org/lang_transaction.html).
    """

    def __init__(self, *arguments: Any, **named: Any) -> None:
        super().__init__(*arguments, **named)
        self._cursors = weakref.WeakSet[sqlite3.Cursor]()

    def execute(self, sql: str, parameters: Any = (), /) -> sqlite3.Cursor:
        """Run a statement."""
        cursor = self.cursor()
        self._cursors.add(cursor)
        return cursor.execute(sql, parameters)

    def executemany(self, sql: str, parameters: Iterable[Any], /) -> sqlite3.Cursor:
        """Run a statement that changes rows once for each of some parameters."""
        cursor = self.cursor()
        self._cursors.add(cursor)
        return cursor.executemany(sql, parameters)

    def end_reads(self) -> None:
        """End what is still read: what begins then, begins in the newest moment."""
        for cursor in tuple(self._cursors):
            cursor.close()

    def be_at_rest(self) -> None:
        """End what is still read, and the transaction, if there is one."""
        self.end_reads()
        if self.in_transaction:
            sqlite3.Connection.execute(self, "ROLLBACK")


def connect(path: Path) -> Connection:
    """A connection that reads and writes; it waits five seconds for others."""
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False, factory=Connection)
    connection.execute(f"PRAGMA busy_timeout = {1000 * _PATIENCE_SECONDS}")
    # What the schema of a file says is not trusted with more than reading and writing rows.
    connection.execute("PRAGMA trusted_schema = OFF")
    connection.row_factory = sqlite3.Row
    return connection


def connect_writer(path: Path) -> Connection:
    """The connection that changes are written with: what is committed is on the disk, in the write-ahead log."""
    connection = connect(path)
    try:
        connection.execute("PRAGMA foreign_keys = ON")
        _log_ahead(connection)
        connection.execute("PRAGMA synchronous = FULL")
        # The log is folded in by its own connection, once nothing more is written.
        connection.execute("PRAGMA wal_autocheckpoint = 0")
    except BaseException:
        connection.close()
        raise
    return connection


def _log_ahead(connection: sqlite3.Connection) -> None:
    """Let a connection write a log ahead. SQLite waits for no other that just recovers it: it is asked again."""
    until = time.monotonic() + _PATIENCE_SECONDS
    while True:
        try:
            connection.execute("PRAGMA journal_mode = WAL")
            return
        except sqlite3.OperationalError as error:
            if error.sqlite_errorcode & 0xFF != sqlite3.SQLITE_BUSY or time.monotonic() > until:
                raise
        time.sleep(0.02)


def connect_reader(path: Path) -> Connection:
    """A connection that only reads."""
    connection = connect(path)
    connection.execute("PRAGMA query_only = ON")
    return connection


def connect_alone(path: Path) -> sqlite3.Connection:
    """A connection to what the file itself says, without its log and without locks."""
    return sqlite3.connect(f"file:{quote(str(path))}?mode=ro&immutable=1", uri=True, isolation_level=None)


def connect_folder(path: Path) -> Connection:
    """A connection that folds the log into the file; it waits for nobody."""
    connection = connect(path)
    connection.execute("PRAGMA busy_timeout = 0")
    return connection


def has_household(path: Path) -> bool:
    """Whether a file is SQLite and says in its header that it is a household's."""
    with path.open("rb") as file:
        header = file.read(72)
    return header.startswith(b"SQLite format 3\0") and header[68:72] == APPLICATION_ID.to_bytes(4, "big")


def make_private(path: Path) -> None:
    """Let the file, and with it the log beside it, be its owner's alone."""
    try:
        if path.stat().st_mode & 0o077:
            path.chmod(0o600)
    except OSError:
        return  # it is another user's: whose it is decides who reads it


def check_place(path: Path) -> None:
    """Raises StoreError where no file can be at a path, or none can be made there."""
    try:
        if "\0" in str(path) or len(os.fsencode(path.name)) > _LONGEST_NAME:
            raise ValueError
        if path.is_dir():
            raise StoreError(f"{path} is a folder: name a file in it.")
        if not path.parent.exists():
            raise StoreError(f"{path} cannot be opened: there is no folder {path.parent}.")
        if path.exists() and not os.access(path, os.W_OK):
            raise StoreError(f"{path} may only be read: let it be written to, then start again.")
        if not os.access(path.parent, os.W_OK | os.X_OK):
            raise StoreError(f"The folder of {path} may only be read: let it be written to, then start again.")
    except (OSError, ValueError) as error:
        why = error.strerror if isinstance(error, OSError) else "there can be no such name"
        raise StoreError(f"{str(path)[:200]} cannot be opened: {why}.") from error


def check_is_household(connection: sqlite3.Connection, path: Path) -> None:
    """Raises StoreError for another program's file, and for one of a version that is not known here."""
    (application,) = connection.execute("PRAGMA application_id").fetchone()
    if application != APPLICATION_ID:
        raise StoreError(f"{path} is an SQLite file of another program, not a Next Penny household.")
    version = version_of(connection)
    if version < 0:
        raise StoreError(f"{path} has a version that no Next Penny ever wrote ({version}): it is left as it is.")
    if version > newest():
        raise StoreError(f"{path} was written by a newer version of Next Penny: update the app to open it.")


def real_path(path: Path) -> Path:
    """A path without links, or as it is where it cannot be."""
    try:
        return path.resolve()
    except (OSError, ValueError, RuntimeError):  # a name that cannot be: opening it says so
        return path.absolute()
