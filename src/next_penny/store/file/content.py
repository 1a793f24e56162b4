"""What is in a household's file, row by row: which rows a transaction changed, and what all of a table comes to.

Content is every row of every table but receipts' files (named by what is in them), checksums (which follow from the
rest) and the mark of an open undo step (never there between transactions). Two files with the same rows, both whole,
are the same household, undo and password included.
"""

import hashlib
import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple

Value = int | float | str | bytes | None
# A row by its rowid: its values in the order of the table's columns; None where it is no more.
Row = tuple[int, Sequence[Value] | None]
Rows = dict[str, list[Row]]
Digests = dict[str, str]

_NOT_CONTENT = frozenset({"receipt_file", "undo_open", "checksum"})
# So many rows are put together in one piece.
_PIECE = 5_000


class State(NamedTuple):
    """Which household a file is of, and how often that was changed."""

    lineage: str
    revision: int


def state_of(connection: sqlite3.Connection) -> State:
    """Whose file it is, and of which revision. Raises sqlite3.Error where it cannot say."""
    row = connection.execute("SELECT (SELECT id FROM lineage), (SELECT number FROM revision)").fetchone()
    if row is None or not isinstance(row[0], str) or not isinstance(row[1], int):
        raise sqlite3.DatabaseError("the file does not say whose household it is")
    return State(row[0], row[1])


def content_tables(connection: sqlite3.Connection) -> list[str]:
    """The tables whose rows are content, by name."""
    names = [name for (name,) in connection.execute("SELECT name FROM main.sqlite_schema WHERE type = 'table'")]
    return sorted(name for name in names if name not in _NOT_CONTENT and not name.startswith("sqlite_"))


def columns_of(connection: sqlite3.Connection, table: str) -> list[str]:
    """A table's columns, in order."""
    return [row[1] for row in connection.execute(f"PRAGMA main.table_info({table})")]


def digests(connection: sqlite3.Connection) -> Digests:
    """What each table comes to: SHA-256 over its rows in order of rowid. The caller holds a transaction."""
    return {table: _digest(connection, table) for table in content_tables(connection)}


def _digest(connection: sqlite3.Connection, table: str) -> str:
    values = " || ',' || ".join(f"quote({column})" for column in columns_of(connection, table))
    query = (
        f"SELECT CAST(group_concat(line, char(10)) AS BLOB), max(row) FROM (SELECT rowid AS row, "
        f"rowid || ':' || {values} AS line FROM main.{table} WHERE rowid > ? ORDER BY rowid LIMIT {_PIECE})"
    )
    digest, last = hashlib.sha256(), -(2**63)
    while True:
        piece, last = connection.execute(query, (last,)).fetchone()
        if piece is None:
            return digest.hexdigest()
        digest.update(piece)


def note_changed_rows(connection: sqlite3.Connection) -> None:
    """Let a connection that writes remember which rows it changes, for `changed_rows`; others see nothing of it."""
    connection.execute("PRAGMA temp_store = MEMORY")
    connection.execute("CREATE TEMP TABLE IF NOT EXISTS changed (name TEXT NOT NULL, row INTEGER NOT NULL)")
    connection.execute("BEGIN")
    for table in content_tables(connection):
        for action, rows in (("INSERT", ("new",)), ("UPDATE", ("old", "new")), ("DELETE", ("old",))):
            lines = " ".join(f"INSERT INTO changed VALUES ('{table}', {row}.rowid);" for row in rows)
            connection.execute(
                f"CREATE TEMP TRIGGER IF NOT EXISTS changed_{action}_{table} AFTER {action} ON main.{table} "
                f"BEGIN {lines} END"
            )
    connection.execute("COMMIT")


def changed_rows(connection: sqlite3.Connection) -> Rows:
    """The rows that the transaction has changed so far, as they are now; asking again begins anew."""
    rows: Rows = {}
    for (table,) in connection.execute("SELECT DISTINCT name FROM temp.changed").fetchall():
        query = (
            "SELECT wanted.row, it.rowid, it.* FROM (SELECT DISTINCT row FROM temp.changed WHERE name = ?) AS wanted "
            f"LEFT JOIN main.{table} AS it ON it.rowid = wanted.row"
        )
        cursor = connection.cursor()
        cursor.row_factory = None
        rows[table] = [
            (row, tuple(values) if present is not None else None)
            for row, present, *values in cursor.execute(query, (table,))
        ]
    connection.execute("DELETE FROM temp.changed")
    return rows


def put_rows(connection: sqlite3.Connection, rows: Mapping[str, Sequence[Row]]) -> None:
    """Let rows be as they were noted; doing it twice is doing it once. The caller holds a transaction."""
    for table, changed in rows.items():
        names = columns_of(connection, table)
        # What goes first leaves no name in the way of what comes.
        connection.executemany(f"DELETE FROM main.{table} WHERE rowid = ?", [(row,) for row, _ in changed])
        connection.executemany(
            f"INSERT INTO main.{table} (rowid, {', '.join(names)}) VALUES (?{', ?' * len(names)})",
            [(row, *values) for row, values in changed if values is not None],
        )


def tables_that_differ(these: Digests, those: Digests) -> Iterator[str]:
    """The tables of which two files have not the same rows."""
    return (table for table in sorted(these.keys() | those.keys()) if these.get(table) != those.get(table))
