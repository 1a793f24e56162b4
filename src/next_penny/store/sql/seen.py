"""What the household has looked at, in SQL: how goals stood, and what was worth a look."""

import sqlite3
from collections.abc import Iterable, Mapping
from datetime import date

from next_penny.store.sql.entries import on_day

Seen = Mapping[str, tuple[date, bool]]


def read_seen(connection: sqlite3.Connection) -> dict[str, tuple[date, bool]]:
    """By goal, the first day of its period, and whether it was met."""
    rows = connection.execute("SELECT goal, begins, is_met FROM goal_seen").fetchall()
    return {goal: (on_day(begins), bool(is_met)) for goal, begins, is_met in rows}


def write_seen(connection: sqlite3.Connection, seen: Seen) -> None:
    """Put how the goals stand in the place of how they stood, within a transaction."""
    connection.execute("DELETE FROM goal_seen")
    connection.executemany(
        "INSERT INTO goal_seen (goal, begins, is_met) VALUES (?, ?, ?)",
        [(goal, begins.isoformat(), is_met) for goal, (begins, is_met) in seen.items()],
    )


def read_noticed(connection: sqlite3.Connection) -> frozenset[str]:
    """The keys of what was looked at."""
    return frozenset(key for (key,) in connection.execute("SELECT key FROM noticed_seen"))


def write_noticed(connection: sqlite3.Connection, keys: Iterable[str]) -> None:
    """Remember that something was looked at, within a transaction."""
    connection.executemany("INSERT OR IGNORE INTO noticed_seen (key) VALUES (?)", [(key,) for key in keys])
