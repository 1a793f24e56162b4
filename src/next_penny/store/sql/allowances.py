"""Allowances in SQL: one row each; their categories and revised limits in tables of their own."""

import sqlite3
from collections import defaultdict
from datetime import date

from next_penny.core.plan.allowances import Allowance, LimitRevision

_COLUMNS = (
    "name",
    "limit_amount",
    "account",
    "period",
    "week_starts",
    "timing",
    "carry",
    "start",
    "until",
    "known_since",
)
_UPSERT = (
    f"INSERT INTO allowance (id, {', '.join(_COLUMNS)}) VALUES (:id, {', '.join(f':{name}' for name in _COLUMNS)}) "
    f"ON CONFLICT (id) DO UPDATE SET {', '.join(f'{name} = :{name}' for name in _COLUMNS)}"
)


def read_allowances(connection: sqlite3.Connection) -> tuple[Allowance, ...]:
    categories: defaultdict[str, list[str]] = defaultdict(list)
    for row in connection.execute("SELECT allowance, category FROM allowance_category ORDER BY seq"):
        categories[row["allowance"]].append(row["category"])
    revisions: defaultdict[str, list[LimitRevision]] = defaultdict(list)
    for row in connection.execute("SELECT allowance, start, limit_amount FROM allowance_revision ORDER BY seq"):
        revision = LimitRevision(date.fromisoformat(row["start"]), row["limit_amount"])
        revisions[row["allowance"]].append(revision)
    return tuple(
        Allowance(
            id=row["id"],
            name=row["name"],
            limit=row["limit_amount"],
            account=row["account"],
            period=row["period"],
            week_starts=row["week_starts"],
            categories=tuple(categories[row["id"]]),
            timing=row["timing"],
            carry=row["carry"],
            start=date.fromisoformat(row["start"]) if row["start"] else None,
            until=date.fromisoformat(row["until"]) if row["until"] else None,
            revisions=tuple(revisions[row["id"]]),
            known_since=date.fromisoformat(row["known_since"]) if row["known_since"] else None,
        )
        for row in connection.execute("SELECT * FROM allowance ORDER BY seq")
    )


def write_allowance(connection: sqlite3.Connection, allowance: Allowance) -> None:
    values = {name: getattr(allowance, name) for name in _COLUMNS if name != "limit_amount"}
    values |= {
        "id": allowance.id,
        "limit_amount": allowance.limit,
        "start": allowance.start.isoformat() if allowance.start else None,
        "until": allowance.until.isoformat() if allowance.until else None,
        "known_since": allowance.known_since.isoformat() if allowance.known_since else None,
    }
    connection.execute(_UPSERT, values)
    _delete_parts(connection, allowance.id)
    connection.executemany(
        "INSERT INTO allowance_category (allowance, category) VALUES (?, ?)",
        [(allowance.id, category) for category in allowance.categories],
    )
    connection.executemany(
        "INSERT INTO allowance_revision (allowance, start, limit_amount) VALUES (?, ?, ?)",
        [(allowance.id, revision.start.isoformat(), revision.limit) for revision in allowance.revisions],
    )


def delete_allowance(connection: sqlite3.Connection, id: str) -> None:
    _delete_parts(connection, id)
    connection.execute("DELETE FROM allowance WHERE id = ?", (id,))


def _delete_parts(connection: sqlite3.Connection, id: str) -> None:
    connection.execute("DELETE FROM allowance_category WHERE allowance = ?", (id,))
    connection.execute("DELETE FROM allowance_revision WHERE allowance = ?", (id,))
