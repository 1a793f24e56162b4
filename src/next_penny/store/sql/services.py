"""The services that the household asks, what it taught about their messages, and the feed that it serves, in SQL.

Secrets are no matter of undo, and in no document.
"""

import sqlite3
from datetime import date

from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.connections import NoticePattern, NoticeTaken, Service

_SERVICE = "id, kind, address, key, until, daily, asked, said, problem"
_PATTERN = "sender, account, before, after, owed, decimal"


def read_services(connection: sqlite3.Connection) -> tuple[Service, ...]:
    """All services, in the order in which they were connected."""
    rows = connection.execute(f"SELECT {_SERVICE} FROM service ORDER BY seq")
    return tuple(
        Service(id, kind, address, key, _day(until), bool(daily), _day(asked), said, problem)
        for id, kind, address, key, until, daily, asked, said, problem in rows
    )


def _day(text: str | None) -> date | None:
    return date.fromisoformat(text) if text is not None else None


def write_service(connection: sqlite3.Connection, service: Service) -> None:
    """Connect a service, or correct what is kept of it."""
    columns = _SERVICE.split(", ")
    marks = ", ".join("?" for _ in columns)
    updates = ", ".join(f"{column} = excluded.{column}" for column in columns[1:])
    connection.execute(
        f"INSERT INTO service ({_SERVICE}) VALUES ({marks}) ON CONFLICT (id) DO UPDATE SET {updates}",
        (
            *(
                service.id,
                service.kind,
                service.address,
                service.key,
                service.until and service.until.isoformat(),
                service.daily,
            ),
            *(service.asked and service.asked.isoformat(), service.said, service.problem),
        ),
    )


def delete_service(connection: sqlite3.Connection, id: str) -> None:
    """Ask a service no more, and forget its secret."""
    connection.execute("DELETE FROM service WHERE id = ?", (id,))


def read_patterns(connection: sqlite3.Connection) -> dict[str, NoticePattern]:
    """By sender, where its messages tell a balance."""
    rows = connection.execute(f"SELECT {_PATTERN} FROM notice_pattern")
    return {sender: NoticePattern(sender, account, before, after, bool(owed), decimal)
            for sender, account, before, after, owed, decimal in rows}  # fmt: skip


def read_taken(connection: sqlite3.Connection) -> frozenset[str]:
    """The messages whose balance was taken."""
    return frozenset(message for (message,) in connection.execute("SELECT message FROM notice_taken"))


def write(connection: sqlite3.Connection, change: PlanChange) -> None:
    """Write what was taught about a sender, or that a message's balance was taken."""
    match change.item:
        case NoticePattern() as pattern:
            connection.execute(
                f"INSERT INTO notice_pattern ({_PATTERN}) VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (sender) DO UPDATE SET "
                "account = excluded.account, before = excluded.before, after = excluded.after, owed = excluded.owed, "
                "decimal = excluded.decimal",
                (pattern.sender, pattern.account, pattern.before, pattern.after, pattern.owed, pattern.decimal),
            )
        case NoticeTaken(message):
            connection.execute("INSERT OR IGNORE INTO notice_taken (message) VALUES (?)", (message,))


def delete_pattern(connection: sqlite3.Connection, sender: str) -> None:
    """Read a sender's messages no more."""
    connection.execute("DELETE FROM notice_pattern WHERE sender = ?", (sender,))


def read_secret(connection: sqlite3.Connection) -> str | None:
    """The secret; None where there is no feed."""
    row = connection.execute("SELECT secret FROM calendar_feed").fetchone()
    return str(row[0]) if row is not None else None


def write_secret(connection: sqlite3.Connection, secret: str | None) -> None:
    """Let the feed have another address, or none."""
    connection.execute("DELETE FROM calendar_feed")
    if secret is not None:
        connection.execute("INSERT INTO calendar_feed (secret) VALUES (?)", (secret,))
