"""Opening a household's file: is it one, is its schema current, and are its undo triggers in place."""

import os
import sqlite3
from collections.abc import Iterator
from importlib import resources
from pathlib import Path

from next_penny.store import undo

# "NPny" in ASCII: says in the file's header that it is a household of Next Penny.
APPLICATION_ID = 0x4E506E79


class StoreError(Exception):
    """A file that cannot be used as a household's; the message is a sentence for the person who named it."""


def connect(path: Path | str) -> sqlite3.Connection:
    """Open a household's file, creating it when missing and bringing its schema up to date.

    Only its owner may read it. Raises StoreError for a file that is not SQLite, not a household's, or from a newer
    version.
    """
    _make_private(Path(path))
    try:
        connection = _open(path)
    except sqlite3.Error as error:
        raise StoreError(f"{path} cannot be opened: {error}.") from error
    try:
        connection.execute("PRAGMA foreign_keys = ON")
        _check_is_household(connection, path)
        connection.execute("PRAGMA journal_mode = WAL")
        connection.execute("PRAGMA synchronous = FULL")
        _migrate(connection, path)
    except sqlite3.DatabaseError as error:
        connection.close()
        if "not a database" in str(error):
            raise StoreError(f"{path} is not a Next Penny household: it is not an SQLite file.") from error
        raise StoreError(f"{path} cannot be read as a household: {error}.") from error
    except StoreError:
        connection.close()
        raise
    connection.row_factory = sqlite3.Row
    return connection


def connect_reader(path: Path | str) -> sqlite3.Connection:
    """A connection that only reads a household's file, which `connect` has opened before."""
    connection = _open(path)
    connection.execute("PRAGMA query_only = ON")
    connection.row_factory = sqlite3.Row
    return connection


def _open(path: Path | str) -> sqlite3.Connection:
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
    connection.execute("PRAGMA busy_timeout = 5000")
    return connection


def _make_private(path: Path) -> None:
    """Let the file, and with it the log beside it, be its owner's alone."""
    try:
        os.close(os.open(path, os.O_CREAT | os.O_RDWR, 0o600))
        if path.stat().st_mode & 0o077:
            path.chmod(0o600)
    except OSError:
        return  # what is wrong with the path is said where it is opened


def _check_is_household(connection: sqlite3.Connection, path: Path | str) -> None:
    (application,) = connection.execute("PRAGMA application_id").fetchone()
    (tables,) = connection.execute("SELECT count(*) FROM sqlite_schema").fetchone()
    if tables and application != APPLICATION_ID:
        raise StoreError(f"{path} is an SQLite file of another program, not a Next Penny household.")


def _migrate(connection: sqlite3.Connection, path: Path | str) -> None:
    scripts = sorted(
        (file for file in resources.files(__package__).joinpath("schema").iterdir() if file.name.endswith(".sql")),
        key=lambda file: file.name,
    )
    (version,) = connection.execute("PRAGMA user_version").fetchone()
    newest = int(scripts[-1].name[:4])
    if version > newest:
        raise StoreError(f"{path} was written by a newer version of Next Penny: update the app to open it.")
    if version == newest and undo.has_all_triggers(connection):
        return
    # All or nothing: a file whose schema is current but whose triggers are missing could never undo again.
    connection.execute("BEGIN IMMEDIATE")
    try:
        (version,) = connection.execute("PRAGMA user_version").fetchone()
        for script in scripts:
            if int(script.name[:4]) > version:
                for statement in _statements(script.read_text()):
                    connection.execute(statement)
        undo.create_triggers(connection)
        connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
        connection.execute(f"PRAGMA user_version = {newest}")
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


def _statements(script: str) -> Iterator[str]:
    """The statements of a script, one by one."""
    statement = ""
    for line in script.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""
