"""The schema of a household's file: scripts in order, what a file of a version looks like, bringing one up to date."""

import contextlib
import sqlite3
from collections.abc import Iterator
from functools import cache
from importlib import resources
from importlib.resources.abc import Traversable
from pathlib import Path
from typing import NamedTuple

from next_penny.store.sql import undo

# "NPny" in ASCII: says in the file's header that it is a household of Next Penny.
APPLICATION_ID = 0x4E506E79


class Item(NamedTuple):
    """One table, index, view or trigger, and the SQL that makes it."""

    kind: str
    name: str
    sql: str


def version_of(connection: sqlite3.Connection) -> int:
    """Which scripts a file has had."""
    (version,) = connection.execute("PRAGMA user_version").fetchone()
    return int(version)


def newest() -> int:
    """The version of a file that has had all scripts."""
    return int(_scripts()[-1].name[:4])


def is_current(connection: sqlite3.Connection) -> bool:
    """Whether a file has had all scripts, and every table its undo triggers."""
    return version_of(connection) == newest() and undo.has_all_triggers(connection)


def bring_up_to_date(connection: sqlite3.Connection) -> None:
    """Run the scripts that a file has not had, in one transaction, and make its undo triggers anew."""
    # All or nothing: a file whose schema is current but whose triggers are missing could never undo again.
    connection.execute("BEGIN IMMEDIATE")
    try:
        _run_scripts(connection, version_of(connection), newest())
        undo.create_triggers(connection)
        connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
        connection.execute(f"PRAGMA user_version = {newest()}")
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


def items_of(connection: sqlite3.Connection) -> frozenset[Item]:
    """What a file is made of, SQLite's own tables and indexes apart."""
    rows = connection.execute("SELECT type, name, sql FROM sqlite_schema WHERE name NOT LIKE 'sqlite\\_%' ESCAPE '\\'")
    return frozenset(Item(*row) for row in rows)


@cache
def expected_items(version: int) -> frozenset[Item]:
    """What a household's file of a version is made of, its triggers apart."""
    connection = sqlite3.connect(":memory:", isolation_level=None)
    _run_scripts(connection, 0, version)
    return items_of(connection)


def write_new(path: Path) -> None:
    """Write the file of a new household, which has a lineage of its own."""
    path.write_bytes(_new_file())
    with contextlib.closing(sqlite3.connect(path, isolation_level=None)) as connection:
        connection.execute("UPDATE lineage SET id = lower(hex(randomblob(16)))")
        # From its first moment on: whoever reads it meanwhile would keep it from being changed to that later.
        connection.execute("PRAGMA journal_mode = WAL")


@cache
def _new_file() -> bytes:
    connection = sqlite3.connect(":memory:", isolation_level=None)
    bring_up_to_date(connection)
    return connection.serialize()


@cache
def empty_file() -> bytes:
    """A file of the newest version with nothing in its tables, and without triggers."""
    connection = sqlite3.connect(":memory:", isolation_level=None)
    _run_scripts(connection, 0, newest())
    for item in items_of(connection):
        if item.kind == "table":
            connection.execute(f"DELETE FROM {item.name}")
    connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
    connection.execute(f"PRAGMA user_version = {newest()}")
    return connection.serialize()


def _run_scripts(connection: sqlite3.Connection, after: int, until: int) -> None:
    for script in _scripts():
        if after < int(script.name[:4]) <= until:
            for statement in _statements(script.read_text()):
                connection.execute(statement)


def _scripts() -> list[Traversable]:
    files = resources.files("next_penny.store").joinpath("schema").iterdir()
    return sorted((file for file in files if file.name.endswith(".sql")), key=lambda file: file.name)


def _statements(script: str) -> Iterator[str]:
    statement = ""
    for line in script.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""
