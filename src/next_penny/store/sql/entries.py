"""Recorded money in SQL: entries and their legs, and the sums that a forecast needs of them."""

import json
import sqlite3
from collections.abc import Collection, Iterable, Sequence
from datetime import date
from functools import lru_cache
from typing import Any

from next_penny.core.plan.entries import BankTie, Entry, Leg, Receipt
from next_penny.core.problems import while_waited_for
from next_penny.store.sql.flows import stand_in

# In between, other requests have their turn.
_AT_ONCE = 1_000


_COLUMNS = (
    "entry.id, entry.date, entry.payee, entry.flow, entry.nominal, entry.notes, entry.tags, entry.receipt, "
    "entry.receipt_name, entry.part, entry.number, entry.bank_ids"
)
# Where the columns of a leg begin in what `SELECT` gives.
_LEG = _COLUMNS.count(",") + 1
SELECT = f"SELECT {_COLUMNS}, leg.account, leg.category, leg.amount FROM entry LEFT JOIN leg ON leg.entry = entry.id"


on_day = lru_cache(maxsize=20_000)(date.fromisoformat)


def entries_of(rows: Iterable[sqlite3.Row]) -> tuple[Entry, ...]:
    """Entries from rows that hold one leg each, an entry's legs next to one another."""
    entries = list[Entry]()
    begun: sqlite3.Row | None = None
    legs = list[Leg]()
    for row in while_waited_for(rows):
        if begun is None or row[0] != begun[0]:
            if begun is not None:
                entries.append(_entry(begun, legs))
            begun, legs = row, []
        if row[_LEG + 2] is not None:
            legs.append(Leg(row[_LEG + 2], row[_LEG], row[_LEG + 1]))
    if begun is not None:
        entries.append(_entry(begun, legs))
    return tuple(entries)


def _entry(row: Iterable[Any], legs: Sequence[Leg]) -> Entry:
    id, day, payee, flow, nominal, notes, tags, receipt, receipt_name, part, number, bank_ids, *_ = row
    return Entry(
        id,
        on_day(day),
        payee,
        tuple(legs),
        flow,
        on_day(nominal) if nominal else None,
        notes,
        tuple(tags.split("\n")) if tags else (),
        Receipt(receipt, receipt_name) if receipt else None,
        bool(part),
        number,
        tuple(BankTie(*tie) for tie in json.loads(bank_ids)) if bank_ids else (),
    )


def read_entries(
    connection: sqlite3.Connection, first: date = date.min, last: date = date.max, amounts: Iterable[int] | None = None
) -> tuple[Entry, ...]:
    """All that was recorded of some days, in the order in which it was: of so many rows, two plain lists are fast.

    amounts: only what moves one of these on an account.
    """
    plain = connection.cursor()
    plain.row_factory = None
    days = (first.isoformat(), last.isoformat())
    is_all = (first, last) == (date.min, date.max)
    of_days = "" if is_all else "WHERE entry IN (SELECT id FROM entry WHERE date BETWEEN ? AND ?) "
    legs: dict[str, list[Leg]] = {}
    query = f"SELECT entry, amount, account, category FROM leg {of_days}ORDER BY seq"
    wanted = None if amounts is None else frozenset(amounts)
    moving = set[str]()
    for entry, *leg in while_waited_for(plain.execute(query, () if is_all else days)):
        if wanted is not None and leg[1] is not None and leg[0] in wanted:
            moving.add(entry)
        if entry in legs:
            legs[entry].append(Leg(*leg))
        else:
            legs[entry] = [Leg(*leg)]
    rows = plain.execute(f"SELECT {_COLUMNS} FROM entry WHERE date BETWEEN ? AND ? ORDER BY seq", days)
    return tuple(
        [_entry(row, legs.get(row[0], ())) for row in while_waited_for(rows) if wanted is None or row[0] in moving]
    )


def read_entry(connection: sqlite3.Connection, id: str) -> Entry | None:
    return next(iter(entries_of(connection.execute(f"{SELECT} WHERE entry.id = ? ORDER BY leg.seq", (id,)))), None)


def read_settled_on(connection: sqlite3.Connection, day: date) -> tuple[Entry, ...]:
    """The entries recorded on a day that name a flow, newest first."""
    query = f"{SELECT} WHERE entry.recorded_on = ? AND entry.flow IS NOT NULL ORDER BY entry.seq DESC, leg.seq"
    return entries_of(connection.execute(query, (day.isoformat(),)))


def read_unplanned(connection: sqlite3.Connection, since: date) -> tuple[Entry, ...]:
    """The entries since a day that name no flow, oldest first."""
    query = f"{SELECT} WHERE entry.flow IS NULL AND entry.date >= ? ORDER BY entry.date, entry.seq, leg.seq"
    return entries_of(connection.execute(query, (since.isoformat(),)))


def read_concerning(
    connection: sqlite3.Connection, accounts: Sequence[str], flow: str, paid: tuple[int, int] | None
) -> tuple[Entry, ...]:
    """The entries on some accounts or of a flow, and, if wanted, those that pay a sum between two, oldest first."""
    marks = ", ".join("?" for _ in accounts)
    wanted = f"SELECT entry FROM leg WHERE account IN ({marks}) UNION SELECT id FROM entry WHERE flow = ?"
    values: list[str | int] = [*accounts, flow]
    if paid is not None:
        wanted += " UNION SELECT entry FROM leg WHERE account IS NOT NULL AND amount BETWEEN ? AND ?"
        values += [-paid[1], -paid[0]]
    query = f"{SELECT} WHERE entry.id IN ({wanted}) ORDER BY entry.date, entry.seq, leg.seq"
    return entries_of(connection.execute(query, values))


def read_dated(connection: sqlite3.Connection, first: date, last: date) -> tuple[Entry, ...]:
    """Everything recorded in some days, oldest first."""
    query = f"{SELECT} WHERE entry.date BETWEEN ? AND ? ORDER BY entry.date, entry.seq, leg.seq"
    return entries_of(connection.execute(query, (first.isoformat(), last.isoformat())))


def read_paid_for(
    connection: sqlite3.Connection, first: date, last: date, of: Collection[str] | None = None
) -> tuple[Entry, ...]:  # fmt: skip
    """What was recorded for occurrences with a nominal day from a day to a day, in part too; of some flows or all."""
    named = json.dumps(list(of)) if of is not None else None
    query = (
        f"{SELECT} WHERE entry.flow IS NOT NULL AND entry.nominal BETWEEN ? AND ? "
        "AND (? IS NULL OR entry.flow IN (SELECT value FROM json_each(?))) ORDER BY entry.seq, leg.seq"
    )
    return entries_of(connection.execute(query, (first.isoformat(), last.isoformat(), named, named)))


def read_between(connection: sqlite3.Connection, accounts: Sequence[str], first: date, last: date) -> tuple[Entry, ...]:
    """The entries of some days that move money on some accounts, oldest first."""
    marks = ", ".join("?" for _ in accounts)
    query = (
        f"{SELECT} WHERE entry.date BETWEEN ? AND ? "
        f"AND EXISTS (SELECT 1 FROM leg AS own WHERE own.entry = entry.id AND own.account IN ({marks})) "
        "ORDER BY entry.date, entry.seq, leg.seq"
    )
    return entries_of(connection.execute(query, (first.isoformat(), last.isoformat(), *accounts)))


def read_of(connection: sqlite3.Connection, accounts: Sequence[str], flows: Sequence[str]) -> tuple[Entry, ...]:
    """The entries that move money on some accounts, name one of some flows, or are tagged, oldest first."""
    marks, named = ", ".join("?" for _ in accounts), ", ".join("?" for _ in flows)
    query = (
        f"{SELECT} WHERE entry.tags <> '' OR entry.flow IN ({named}) "
        f"OR entry.id IN (SELECT entry FROM leg WHERE account IN ({marks})) ORDER BY entry.date, entry.seq, leg.seq"
    )
    return entries_of(connection.execute(query, (*flows, *accounts)))


def find(connection: sqlite3.Connection, text: str, amounts: Sequence[int], most: int) -> tuple[Entry, ...]:
    """The newest entries with a text in payee, notes or tags or as their number, or that move one of some amounts."""
    marks = ", ".join("?" for _ in amounts)
    wanted = "%" + text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
    query = (
        f"{SELECT} WHERE entry.id IN (SELECT id FROM entry WHERE payee LIKE ? ESCAPE '\\' OR notes LIKE ? ESCAPE '\\' "
        "OR tags LIKE ? ESCAPE '\\' OR (number <> '' AND number = ?) "
        f"OR id IN (SELECT entry FROM leg WHERE account IS NOT NULL AND abs(amount) IN ({marks})) "
        "ORDER BY date DESC, seq DESC LIMIT ?) ORDER BY entry.date DESC, entry.seq DESC, leg.seq"
    )
    return entries_of(connection.execute(query, (wanted, wanted, wanted, text, *amounts, most)))


def read_tagged(connection: sqlite3.Connection, first: date, last: date) -> tuple[Entry, ...]:
    """What was tagged in some days, oldest first."""
    query = f"{SELECT} WHERE entry.tags <> '' AND entry.date BETWEEN ? AND ? ORDER BY entry.date, entry.seq, leg.seq"
    return entries_of(connection.execute(query, (first.isoformat(), last.isoformat())))


_INSERT = (
    "INSERT INTO entry (id, date, payee, flow, nominal, notes, tags, receipt, receipt_name, recorded_on, part, number, "
    "bank_ids) VALUES (:id, :date, :payee, :flow, :nominal, :notes, :tags, :receipt, :receipt_name, :recorded_on, "
    ":part, :number, :bank_ids)"
)


_UPDATE = (
    "ON CONFLICT (id) DO UPDATE SET date = :date, payee = :payee, flow = :flow, nominal = :nominal, "
    "notes = :notes, tags = :tags, receipt = :receipt, receipt_name = :receipt_name, part = :part, "
    "number = :number, bank_ids = :bank_ids"
)


_INSERT_LEG = "INSERT INTO leg (entry, account, category, amount) VALUES (?, ?, ?, ?)"


def write_entry(connection: sqlite3.Connection, entry: Entry, recorded_on: date | None = None) -> None:
    """Insert the entry, or correct the one with its id, which keeps the day on which it was first recorded."""
    if entry.flow is not None:
        stand_in(connection, entry.flow)
    connection.execute(f"{_INSERT} {_UPDATE}", _row(entry, recorded_on))
    connection.execute("DELETE FROM leg WHERE entry = ?", (entry.id,))
    connection.executemany(_INSERT_LEG, _leg_rows(entry))


def write_all(connection: sqlite3.Connection, recorded: Sequence[Entry]) -> None:
    """Insert many entries at once, where there are none."""
    for flow in {entry.flow: None for entry in recorded if entry.flow is not None}:
        stand_in(connection, flow)
    for first in range(0, len(recorded), _AT_ONCE):
        piece = recorded[first : first + _AT_ONCE]
        connection.executemany(_INSERT, [_row(entry, None) for entry in piece])
        connection.executemany(_INSERT_LEG, [row for entry in piece for row in _leg_rows(entry)])


def _row(entry: Entry, recorded_on: date | None) -> dict[str, str | int | None]:
    return {
        "id": entry.id,
        "date": entry.date.isoformat(),
        "payee": entry.payee,
        "flow": entry.flow,
        "nominal": entry.nominal.isoformat() if entry.nominal else None,
        "notes": entry.notes,
        "tags": "\n".join(entry.tags),
        "receipt": entry.receipt.file if entry.receipt else None,
        "receipt_name": entry.receipt.name if entry.receipt else None,
        "recorded_on": recorded_on.isoformat() if recorded_on else None,
        "part": entry.part,
        "number": entry.number,
        "bank_ids": json.dumps([[tie.account, tie.id] for tie in entry.bank_ids]) if entry.bank_ids else "",
    }


def _leg_rows(entry: Entry) -> list[tuple[str, str | None, str | None, int]]:
    return [(entry.id, leg.account, leg.category, leg.amount) for leg in entry.legs]


def delete_entry(connection: sqlite3.Connection, id: str) -> None:
    connection.execute("DELETE FROM leg WHERE entry = ?", (id,))
    connection.execute("DELETE FROM entry WHERE id = ?", (id,))
