"""Undo and redo kept in the file itself, as SQLite's documentation describes: triggers write the inverse SQL.

Running a step's inverse statements fires the same triggers, which write the statements that bring it back: so undo
and redo are one operation.
"""

import sqlite3
from dataclasses import dataclass

# Steps older than these are forgotten.
_KEPT_STEPS = 1000
# What undo leaves alone: its own tables, the count of changes, whose file it is, the password, checksums, and files,
# which are large and named by their content.
_OWN_TABLES = ("undo_step", "undo_line", "undo_open", "receipt_file", "revision", "lineage", "door", "checksum")


@dataclass(frozen=True, slots=True)
class History:
    """What undo would take back and what redo would bring again; None where there is nothing."""

    undo: str | None
    redo: str | None


def create_triggers(connection: sqlite3.Connection) -> None:
    """(Re)create the triggers of every table, within a transaction, after the schema changed."""
    for table in watched_tables(connection):
        columns = [row[1] for row in connection.execute(f"PRAGMA table_info({table})")]
        for action, statement in _inverse_statements(table, columns).items():
            connection.execute(f"DROP TRIGGER IF EXISTS undo_{action}_{table}")
            connection.execute(
                f"CREATE TRIGGER undo_{action}_{table} AFTER {action} ON {table} "
                "WHEN EXISTS (SELECT 1 FROM undo_open) BEGIN "
                f"INSERT INTO undo_line (step, statement) SELECT step, {statement} FROM undo_open; END"
            )


def has_all_triggers(connection: sqlite3.Connection) -> bool:
    """Whether every table that undo watches has its triggers."""
    wanted = {
        f"undo_{action}_{table}" for table in watched_tables(connection) for action in ("insert", "delete", "update")
    }
    made = {name for (name,) in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'trigger'")}
    return wanted <= made


def watched_tables(connection: sqlite3.Connection) -> list[str]:
    """The tables that undo watches: all of the household's own."""
    names = [name for (name,) in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
    return [name for name in names if name not in _OWN_TABLES and not name.startswith("sqlite_")]


def _inverse_statements(table: str, columns: list[str]) -> dict[str, str]:
    """By action, an SQL expression giving the statement that takes it back; names come from the schema alone."""
    values = " || ',' || ".join(f"quote(old.{column})" for column in columns)
    assigned = " || ',' || ".join(f"'{column}=' || quote(old.{column})" for column in columns)
    return {
        "insert": f"'DELETE FROM {table} WHERE rowid=' || new.rowid",
        "delete": f"'INSERT INTO {table} ({','.join(columns)}) VALUES (' || {values} || ')'",
        "update": f"'UPDATE {table} SET ' || {assigned} || ' WHERE rowid=' || old.rowid",
    }


def begin_step(connection: sqlite3.Connection, label: str) -> int:
    """Open a step, within a transaction, forgetting what could have been redone. Returns its id."""
    connection.execute("DELETE FROM undo_step WHERE is_undone")
    step = connection.execute("INSERT INTO undo_step (label) VALUES (?)", (label,)).lastrowid
    assert step is not None
    connection.execute("DELETE FROM undo_step WHERE id <= ?", (step - _KEPT_STEPS,))
    connection.execute("INSERT INTO undo_open (step) VALUES (?)", (step,))
    return step


def end_step(connection: sqlite3.Connection, step: int) -> None:
    """Close the step; one that changed nothing is dropped."""
    connection.execute("DELETE FROM undo_open")
    connection.execute(
        "DELETE FROM undo_step WHERE id = ? AND NOT EXISTS (SELECT 1 FROM undo_line WHERE step = ?)", (step, step)
    )


def history(connection: sqlite3.Connection) -> History:
    def label(query: str) -> str | None:
        row = connection.execute(query).fetchone()
        return str(row[0]) if row else None

    return History(
        label("SELECT label FROM undo_step WHERE NOT is_undone ORDER BY id DESC LIMIT 1"),
        label("SELECT label FROM undo_step WHERE is_undone ORDER BY id LIMIT 1"),
    )


def forget(connection: sqlite3.Connection) -> None:
    """Drop every step."""
    connection.execute("DELETE FROM undo_step")


def undo(connection: sqlite3.Connection) -> str | None:
    """Take back the newest step, within a transaction. Returns its label, or None when there is none."""
    return _turn(connection, "SELECT id, label FROM undo_step WHERE NOT is_undone ORDER BY id DESC LIMIT 1", True)


def redo(connection: sqlite3.Connection) -> str | None:
    """Bring back the step undone last, within a transaction. Returns its label, or None when there is none."""
    return _turn(connection, "SELECT id, label FROM undo_step WHERE is_undone ORDER BY id LIMIT 1", False)


def _turn(connection: sqlite3.Connection, query: str, is_undone: bool) -> str | None:
    row = connection.execute(query).fetchone()
    if row is None:
        return None
    step, label = row
    lines = connection.execute("SELECT statement FROM undo_line WHERE step = ? ORDER BY seq DESC", (step,)).fetchall()
    connection.execute("DELETE FROM undo_line WHERE step = ?", (step,))
    connection.execute("INSERT INTO undo_open (step) VALUES (?)", (step,))
    for (statement,) in lines:
        connection.execute(statement)
    connection.execute("DELETE FROM undo_open")
    connection.execute("UPDATE undo_step SET is_undone = ? WHERE id = ?", (is_undone, step))
    return str(label)
