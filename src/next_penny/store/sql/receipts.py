"""Receipts in SQL: files named by the SHA-256 of their content, which entries refer to."""

import hashlib
import sqlite3
from collections.abc import Iterable
from datetime import date, timedelta

# A file that nothing refers to is kept this long: the entry that it belongs to may not be saved yet.
_KEPT_DAYS = 7


def name_of(content: bytes) -> str:
    """What names a file: the SHA-256 of its content in hexadecimal."""
    return hashlib.sha256(content).hexdigest()


def store_file(connection: sqlite3.Connection, content: bytes, media_type: str, today: date) -> str:
    """Keep a file. Returns the SHA-256 of its content in hexadecimal."""
    name = name_of(content)
    connection.execute(
        "INSERT INTO receipt_file (sha256, media_type, content, stored_on) VALUES (?, ?, ?, ?) "
        "ON CONFLICT (sha256) DO UPDATE SET stored_on = excluded.stored_on",
        (name, media_type, content, today.isoformat()),
    )
    return name


def read_file(connection: sqlite3.Connection, name: str) -> tuple[str, bytes] | None:
    """A file's media type and content; None for one that is not kept."""
    row = connection.execute("SELECT media_type, content FROM receipt_file WHERE sha256 = ?", (name,)).fetchone()
    return (row["media_type"], row["content"]) if row is not None else None


def missing(connection: sqlite3.Connection, names: Iterable[str]) -> set[str]:
    """Those of some names that no file is kept under."""
    query = "SELECT 1 FROM receipt_file WHERE sha256 = ?"
    return {name for name in names if connection.execute(query, (name,)).fetchone() is None}


def drop_unused(connection: sqlite3.Connection, today: date) -> None:
    """Let go of files that no entry refers to, nor would after undo or redo."""
    connection.execute(
        "DELETE FROM receipt_file WHERE stored_on < ? AND sha256 NOT IN (SELECT receipt FROM entry WHERE receipt IS "
        "NOT NULL) AND NOT EXISTS (SELECT 1 FROM undo_line WHERE instr(statement, sha256))",
        ((today - timedelta(days=_KEPT_DAYS)).isoformat(),),
    )
