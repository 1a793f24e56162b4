"""Opening a household's file: is it one, is its schema current, and are its undo triggers in place."""

import sqlite3
from importlib import resources
from pathlib import Path

from next_penny.store import undo

# "NPny" in ASCII: says in the file's header that it is a household of Next Penny.
APPLICATION_ID = 0x4E506E79


class StoreError(Exception):
    """A file that cannot be used as a household's; the message is a sentence for the person who named it."""


def connect(path: Path | str) -> sqlite3.Connection:
    """Open a household's file, creating it when missing and bringing its schema up to date.

    Raises StoreError for a file that is not SQLite, not a household's, or from a newer version.
    """
    try:
        connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
    except sqlite3.Error as error:
        raise StoreError(f"{path} cannot be opened: {error}.") from error
    try:
        connection.execute("PRAGMA foreign_keys = ON")
        connection.execute("PRAGMA busy_timeout = 5000")
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
    if version == newest:
        return
    pending = "".join(script.read_text() for script in scripts if int(script.name[:4]) > version)
    connection.executescript(
        f"BEGIN IMMEDIATE; {pending} PRAGMA application_id = {APPLICATION_ID}; PRAGMA user_version = {newest}; COMMIT;"
    )
    connection.execute("BEGIN IMMEDIATE")
    undo.create_triggers(connection)
    connection.execute("COMMIT")
