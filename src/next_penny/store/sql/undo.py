"""Undo and redo kept in the file itself, as SQLite's documentation describes: triggers write the inverse SQL.

Running a step's inverse statements fires the same triggers, which write the statements that bring it back: so undo
and redo are one operation.
"""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from itertools import groupby, islice

from next_penny.core.review.history import Low, Lowest, Step

_VALUES, _ROWS_AT_ONCE = " VALUES ", 100
# Steps older than these are forgotten.
_KEPT_STEPS = 1000
# What undo leaves alone: its own tables, the count of changes, whose file it is, the password, checksums, what
# was looked at, and files, which are large and named by their content.
_OWN_TABLES = ("undo_step", "undo_line", "undo_open", "receipt_file", "revision", "lineage", "door", "checksum",
               "goal_seen", "noticed_seen", "calendar_feed", "service")  # fmt: skip


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


def begin_step(connection: sqlite3.Connection, label: str, today: date) -> int:
    """Open a step, within a transaction, forgetting what could have been redone. Returns its id."""
    connection.execute("DELETE FROM undo_step WHERE is_undone")
    # The household's day: that is the one it sees on the screen, also where it is pinned.
    made_at = datetime.combine(today, datetime.now(UTC).astimezone().time()).astimezone().isoformat(timespec="seconds")
    step = connection.execute("INSERT INTO undo_step (label, made_at) VALUES (?, ?)", (label, made_at)).lastrowid
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


def newest_id(connection: sqlite3.Connection) -> int:
    """The id of the step that was made last, undone or not; 0 where there is none. No id is used twice."""
    (step,) = connection.execute("SELECT max(id) FROM undo_step").fetchone()
    return int(step or 0)


def place(connection: sqlite3.Connection) -> tuple[int, int]:
    """Where in the history a household is: the newest step, and how many are undone."""
    undone, last = connection.execute("SELECT count(*) FILTER (WHERE is_undone), max(id) FROM undo_step").fetchone()
    return int(last or 0), int(undone)


def steps(connection: sqlite3.Connection, most: int) -> list[Step]:
    """The newest steps, the newest first."""
    rows = connection.execute(
        "SELECT id, label, made_at, is_undone, lowest_before_day, lowest_before, lowest_after_day, lowest_after"
        " FROM undo_step ORDER BY id DESC LIMIT ?", (most,)
    )  # fmt: skip
    return [Step(id, label, made_at, bool(is_undone), _read_lowest(*lowest))
            for id, label, made_at, is_undone, *lowest in rows]  # fmt: skip


def _read_lowest(before_day: str | None, before: int | None, after_day: str | None, after: int | None) -> Lowest | None:
    if before is None and after is None:
        return None
    return Lowest(_low_point(before_day, before), _low_point(after_day, after))


def _low_point(day: str | None, balance: int | None) -> Low | None:
    return Low(date.fromisoformat(day), balance) if day is not None and balance is not None else None


def write_lowest(connection: sqlite3.Connection, mapping: Mapping[int, Lowest]) -> None:
    """Keep the lowest points of some steps with these, within a transaction."""
    for step, (before, after) in mapping.items():
        values = [value for low in (before, after) for value in _columns(low)]
        connection.execute(
            "UPDATE undo_step SET lowest_before_day = ?, lowest_before = ?, lowest_after_day = ?, lowest_after = ?"
            " WHERE id = ?", (*values, step)
        )  # fmt: skip


def _columns(low: Low | None) -> tuple[str | None, int | None]:
    return (low.day.isoformat(), low.balance) if low is not None else (None, None)


def forget(connection: sqlite3.Connection) -> None:
    """Drop every step."""
    connection.execute("DELETE FROM undo_step")


def undo(connection: sqlite3.Connection) -> str | None:
    """Take back the newest step, within a transaction. Returns its label, or None when there is none."""
    return _turn(connection, "SELECT id, label FROM undo_step WHERE NOT is_undone ORDER BY id DESC LIMIT 1", True)


def redo(connection: sqlite3.Connection) -> str | None:
    """Bring back the step undone last, within a transaction. Returns its label, or None when there is none."""
    return _turn(connection, "SELECT id, label FROM undo_step WHERE is_undone ORDER BY id LIMIT 1", False)


def undo_back_to(connection: sqlite3.Connection, step: int) -> list[str]:
    """Take back every step since one, and that one, within a transaction. Returns their labels, the newest first.

    Raises KeyError where there is no such step that is not undone.
    """
    query = "SELECT EXISTS (SELECT 1 FROM undo_step WHERE id = ? AND NOT is_undone)"
    if not connection.execute(query, (step,)).fetchone()[0]:
        raise KeyError(step)
    (count,) = connection.execute("SELECT count(*) FROM undo_step WHERE id >= ? AND NOT is_undone", (step,)).fetchone()
    return [label for label in (undo(connection) for _ in range(count)) if label is not None]


def _turn(connection: sqlite3.Connection, query: str, is_undone: bool) -> str | None:
    row = connection.execute(query).fetchone()
    if row is None:
        return None
    step, label = row
    lines = connection.execute("SELECT statement FROM undo_line WHERE step = ? ORDER BY seq DESC", (step,)).fetchall()
    connection.execute("DELETE FROM undo_line WHERE step = ?", (step,))
    connection.execute("INSERT INTO undo_open (step) VALUES (?)", (step,))
    _run(connection, [statement for (statement,) in lines])
    connection.execute("DELETE FROM undo_open")
    connection.execute("UPDATE undo_step SET is_undone = ? WHERE id = ?", (is_undone, step))
    return str(label)


def _run(connection: sqlite3.Connection, statements: Sequence[str]) -> None:
    """Run inverse statements in their order, row by row as they are written.

    Compiling a statement with the triggers that it fires takes longer than running it. So a run of deletions is one
    statement with the row as its parameter, and a run of insertions into the same columns one with several rows.
    """
    for kind, run in groupby(statements, _kind):
        if kind.startswith("DELETE"):
            connection.executemany(kind, [(int(one_statement.rpartition("=")[2]),) for one_statement in run])
        elif kind.startswith("INSERT"):
            rows = (one_statement[len(kind) :] for one_statement in run)
            while some := list(islice(rows, _ROWS_AT_ONCE)):
                connection.execute(kind + ",".join(some))
        else:
            for statement in run:
                connection.execute(statement)


def _kind(statement: str) -> str:
    """What statements of one run have in common: all but the row of a deletion, or the values of an insertion."""
    if statement.startswith("DELETE"):
        return statement.rpartition("=")[0] + "=?"
    return statement[: statement.index(_VALUES) + len(_VALUES)] if statement.startswith("INSERT") else ""
