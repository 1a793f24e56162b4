"""The secret in the calendar feed's address, in SQL. It is no matter of undo, and in no document."""

import sqlite3


def read_secret(connection: sqlite3.Connection) -> str | None:
    """The secret; None where there is no feed."""
    row = connection.execute("SELECT secret FROM calendar_feed").fetchone()
    return str(row[0]) if row is not None else None


def write_secret(connection: sqlite3.Connection, secret: str | None) -> None:
    """Let the feed have another address, or none."""
    connection.execute("DELETE FROM calendar_feed")
    if secret is not None:
        connection.execute("INSERT INTO calendar_feed (secret) VALUES (?)", (secret,))
