"""What was expected, in SQL. Undo does not touch it, but for what restoring or replacing a household brought."""

import json
import sqlite3
from collections.abc import Collection, Iterable, Sequence
from datetime import date
from typing import Any

from next_penny.core.plan.entries import Leg
from next_penny.core.plan.memory import Expected, Key, Memory
from next_penny.formats.documents.memory import leg_values
from next_penny.store.sql.bank_lines import read_bank_lines, replace_bank_lines
from next_penny.store.sql.entries import on_day

_OF_KEY = "source = ? AND nominal = ? AND is_allowance = ?"
_COLUMNS = "source, is_allowance, nominal, lands, name, kind, legs, limit_amount, categories, account"


def read_until(connection: sqlite3.Connection) -> date | None:
    """The day up to which what was expected is written down."""
    row = connection.execute("SELECT day FROM expected_until").fetchone()
    return date.fromisoformat(row[0]) if row is not None and row[0] is not None else None


def is_whole(connection: sqlite3.Connection) -> bool:
    """Whether there is one day up to which it is written down, and each row says truly what it is of."""
    query = (
        "SELECT (SELECT count(*) FROM expected_until) = 1 "
        "AND NOT EXISTS (SELECT 1 FROM expected WHERE is_allowance <> (kind = 'allowance'))"
    )
    return bool(connection.execute(query).fetchone()[0])


def write_until(connection: sqlite3.Connection, day: date | None) -> None:
    connection.execute("UPDATE expected_until SET day = ?", (day.isoformat() if day is not None else None,))


def read_memory(connection: sqlite3.Connection) -> Memory:
    """All of it, by the day on which it was expected."""
    rows = connection.execute(f"SELECT {_COLUMNS} FROM expected ORDER BY lands, seq")
    return Memory(tuple(map(_expected, rows)), read_until(connection), read_bank_lines(connection))


def read_between(
    connection: sqlite3.Connection, first: date, last: date, of: Collection[str] | None = None
) -> tuple[Expected, ...]:  # fmt: skip
    """What was expected from a day to a day; a period of an allowance counts where it has a day in common with them.

    of: the flows or allowances that are asked about; None means all.
    """
    named = json.dumps(list(of)) if of is not None else None
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM expected WHERE lands >= ? AND (lands <= ? OR (is_allowance AND nominal <= ?)) "
        "AND (? IS NULL OR source IN (SELECT value FROM json_each(?))) ORDER BY lands, seq",
        (first.isoformat(), last.isoformat(), last.isoformat(), named, named),
    )
    return tuple(map(_expected, rows))


def read_keys(connection: sqlite3.Connection, first: date, last: date) -> frozenset[Key]:
    """The keys of the occurrences that are remembered with a nominal day from a day to a day."""
    rows = connection.execute(
        "SELECT source, nominal FROM expected WHERE NOT is_allowance AND nominal BETWEEN ? AND ?",
        (first.isoformat(), last.isoformat()),
    )
    return frozenset(Key(source, on_day(nominal)) for source, nominal in rows)


def names(connection: sqlite3.Connection, kind: str, id: str) -> bool:
    """Whether what is remembered names an account or a category."""
    of_legs = "SELECT 1 FROM expected, json_each(legs) AS leg WHERE json_extract(leg.value, '$.' || ?) = ?"
    of_period = "SELECT 1 FROM expected, json_each(categories) AS named WHERE named.value = ?"
    if kind == "account":
        of_period = "SELECT 1 FROM expected WHERE account = ?"
    return bool(connection.execute(f"SELECT EXISTS ({of_legs}) OR EXISTS ({of_period})", (kind, id, id)).fetchone()[0])


def read_from(connection: sqlite3.Connection, day: date) -> tuple[Expected, ...]:
    """What is remembered of a day and later ones."""
    rows = connection.execute(f"SELECT {_COLUMNS} FROM expected WHERE lands >= ?", (day.isoformat(),))
    return tuple(map(_expected, rows))


def read_unsettled_from(connection: sqlite3.Connection, day: date) -> tuple[Expected, ...]:
    """What is remembered of occurrences of a day and later ones that no entry names."""
    named = "SELECT 1 FROM entry WHERE entry.flow = expected.source AND entry.nominal = expected.nominal"
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM expected WHERE lands >= ? AND NOT is_allowance AND NOT EXISTS ({named})",
        (day.isoformat(),),
    )
    return tuple(map(_expected, rows))


def write(connection: sqlite3.Connection, rows: Iterable[Expected]) -> None:
    """Write down what is not written down yet."""
    connection.executemany(
        f"INSERT INTO expected ({_COLUMNS}) SELECT ?, ?, ?, ?, ?, ?, ?, ?, ?, ? "
        f"WHERE NOT EXISTS (SELECT 1 FROM expected WHERE {_OF_KEY})",
        [(*_values(row), *_key_values(row.key)) for row in rows],
    )


def forget(connection: sqlite3.Connection, keys: Iterable[Key]) -> None:
    """Take away what is remembered under some keys."""
    connection.executemany(f"DELETE FROM expected WHERE {_OF_KEY}", [_key_values(key) for key in keys])


def replace(connection: sqlite3.Connection, memory: Memory) -> None:
    """Bring another memory, within a step; what was written since it ends stays where it has no row of that key."""
    since = connection.execute(
        f"SELECT {_COLUMNS} FROM expected WHERE lands > ?", (memory.until.isoformat() if memory.until else "9999",)
    ).fetchall()
    connection.execute("DELETE FROM expected")
    write(connection, memory.rows)
    write(connection, map(_expected, since))
    write_until(connection, memory.until)
    replace_bank_lines(connection, memory.bank_lines)


def take_over(connection: sqlite3.Connection) -> None:
    """The same from the attached `other`, of which `expected_until` is taken over already."""
    of_other = "SELECT 1 FROM other.expected AS it WHERE it.source = expected.source "
    of_other += "AND it.nominal = expected.nominal AND it.is_allowance = expected.is_allowance"
    connection.execute(
        f"DELETE FROM main.expected WHERE lands <= (SELECT day FROM other.expected_until) AND NOT EXISTS ({of_other})"
    )
    another = f"SELECT {_COLUMNS} FROM other.expected EXCEPT SELECT {_COLUMNS} FROM main.expected"
    connection.execute(
        f"DELETE FROM main.expected WHERE (source, nominal, is_allowance) IN "
        f"(SELECT source, nominal, is_allowance FROM ({another}))"
    )
    connection.execute(f"INSERT INTO main.expected ({_COLUMNS}) {another}")


def keep_one_of_each(connection: sqlite3.Connection) -> None:
    """Where the transaction put rows in: of two of one key the one that came last stays, as after an undo."""
    if not connection.execute("SELECT EXISTS (SELECT 1 FROM temp.changed WHERE name = 'expected')").fetchone()[0]:
        return
    connection.execute(
        "DELETE FROM expected WHERE seq IN (SELECT older.seq FROM expected AS older JOIN expected AS newer "
        "ON newer.source = older.source AND newer.nominal = older.nominal AND newer.is_allowance = older.is_allowance "
        "AND newer.seq > older.seq)"
    )


def _key_values(key: Key) -> tuple[str, str, bool]:
    return key.source, key.nominal.isoformat(), key.is_allowance


def _values(row: Expected) -> Sequence[Any]:
    return (
        row.source,
        row.is_allowance,
        row.nominal.isoformat(),
        row.lands.isoformat(),
        row.name,
        row.kind,
        json.dumps([leg_values(leg) for leg in row.legs], ensure_ascii=False),
        row.limit,
        json.dumps(row.categories),
        row.account,
    )


def _expected(row: sqlite3.Row) -> Expected:
    source, _, nominal, lands, name, kind, legs, limit, categories, account = row
    read = tuple(Leg(leg["amount"], leg.get("account"), leg.get("category")) for leg in json.loads(legs))
    return Expected(
        source, on_day(nominal), on_day(lands), name, kind, read, limit, tuple(json.loads(categories)), account
    )
