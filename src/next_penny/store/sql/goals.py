"""How goals stood when they were looked at last, in SQL."""

import sqlite3
from collections.abc import Mapping
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
