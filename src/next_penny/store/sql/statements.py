"""A bank's statements of accounts in SQL."""

import json
import sqlite3
from datetime import date

from next_penny.core.plan.kept.account_statements import AccountStatement


def read_statements(connection: sqlite3.Connection) -> tuple[AccountStatement, ...]:
    """All statements, in the order in which they were begun."""
    rows = connection.execute(
        "SELECT id, account, first, last, opening, closing, entries, finished FROM statement ORDER BY seq"
    )
    return tuple(
        AccountStatement(
            row["id"], row["account"], date.fromisoformat(row["first"]), date.fromisoformat(row["last"]),
            row["opening"], row["closing"], tuple(json.loads(row["entries"])),
            date.fromisoformat(row["finished"]) if row["finished"] else None,
        )
        for row in rows
    )  # fmt: skip


def write_statement(connection: sqlite3.Connection, statement: AccountStatement) -> None:
    """Insert a statement, or correct the one with its id."""
    connection.execute(
        "INSERT INTO statement (id, account, first, last, opening, closing, finished, entries) "
        "VALUES (:id, :account, :first, :last, :opening, :closing, :finished, :entries) "
        "ON CONFLICT (id) DO UPDATE SET account = :account, first = :first, last = :last, opening = :opening, "
        "closing = :closing, finished = :finished, entries = :entries",
        {
            "id": statement.id,
            "account": statement.account,
            "first": statement.first.isoformat(),
            "last": statement.last.isoformat(),
            "opening": statement.opening,
            "closing": statement.closing,
            "finished": statement.finished.isoformat() if statement.finished else None,
            "entries": json.dumps(statement.entries),
        },
    )


def delete_statement(connection: sqlite3.Connection, id: str) -> None:
    connection.execute("DELETE FROM statement WHERE id = ?", (id,))
