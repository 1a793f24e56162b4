"""Recorded money in SQL: entries and their legs, and the sums that a forecast needs of them."""

import sqlite3
from collections import defaultdict
from collections.abc import Iterable, Mapping
from datetime import date
from itertools import groupby
from operator import itemgetter
from typing import NamedTuple

from next_penny.core.books import Books
from next_penny.core.plan import Account, Entry, Leg

_SELECT = (
    "SELECT entry.id, entry.date, entry.payee, entry.flow, entry.nominal, entry.notes, "
    "leg.account, leg.category, leg.amount FROM entry LEFT JOIN leg ON leg.entry = entry.id"
)


def _entries(rows: Iterable[sqlite3.Row]) -> tuple[Entry, ...]:
    """Entries from rows that hold one leg each, an entry's legs next to one another."""
    heads: dict[str, sqlite3.Row] = {}
    legs: defaultdict[str, list[Leg]] = defaultdict(list)
    for row in rows:
        heads.setdefault(row["id"], row)
        if row["amount"] is not None:
            legs[row["id"]].append(Leg(row["amount"], row["account"], row["category"]))
    return tuple(
        Entry(
            id=id,
            date=date.fromisoformat(row["date"]),
            payee=row["payee"],
            legs=tuple(legs[id]),
            flow=row["flow"],
            nominal=date.fromisoformat(row["nominal"]) if row["nominal"] else None,
            notes=row["notes"],
        )
        for id, row in heads.items()
    )


def read_entries(connection: sqlite3.Connection) -> tuple[Entry, ...]:
    return _entries(connection.execute(f"{_SELECT} ORDER BY entry.seq, leg.seq"))


def read_entry(connection: sqlite3.Connection, id: str) -> Entry | None:
    return next(iter(_entries(connection.execute(f"{_SELECT} WHERE entry.id = ? ORDER BY leg.seq", (id,)))), None)


def read_settled_on(connection: sqlite3.Connection, day: date) -> tuple[Entry, ...]:
    """The entries recorded on a day that name a flow, newest first."""
    query = f"{_SELECT} WHERE entry.recorded_on = ? AND entry.flow IS NOT NULL ORDER BY entry.seq DESC, leg.seq"
    return _entries(connection.execute(query, (day.isoformat(),)))


class RegisterLine(NamedTuple):
    """One entry on one account, its date as ISO 8601 text; `others` are the ids that its other legs are on."""

    entry: str
    date: str
    payee: str
    notes: str
    flow: str | None
    amount: int
    balance: int
    others: tuple[str, ...]


def read_register(connection: sqlite3.Connection, account: Account) -> list[RegisterLine]:
    """An account's entries, newest first, each with the balance after it."""
    rows = connection.execute(
        "SELECT entry.seq, entry.id, entry.date, entry.payee, entry.notes, entry.flow, "
        "leg.account, leg.category, leg.amount FROM entry JOIN leg ON leg.entry = entry.id "
        "WHERE entry.id IN (SELECT entry FROM leg WHERE account = ?) ORDER BY entry.date, entry.seq, leg.seq",
        (account.id,),
    )
    balance = account.opening.balance
    lines = []
    for _, legs in groupby(rows, key=itemgetter(0)):
        amount = 0
        others: dict[str, None] = {}
        for _, id, day, payee, notes, flow, on, category, part in legs:  # noqa: B007 - the head is the same in all
            if on == account.id:
                amount += part
            else:
                others[on or category] = None
        balance += amount
        lines.append(RegisterLine(id, day, payee, notes, flow, amount, balance, tuple(others)))
    return lines[::-1]


def read_payees(connection: sqlite3.Connection) -> list[tuple[str, str | None, str | None]]:
    """Each payee with the account and category of its newest entry without a flow, the newest payee first."""
    rows = connection.execute(
        "SELECT payee, (SELECT account FROM leg WHERE leg.entry = entry.id AND account IS NOT NULL LIMIT 1), "
        "(SELECT category FROM leg WHERE leg.entry = entry.id AND category IS NOT NULL LIMIT 1), "
        "max(date || printf('%012d', seq)) AS newest "
        "FROM entry WHERE payee <> '' AND flow IS NULL GROUP BY payee ORDER BY newest DESC LIMIT 500"
    )
    return [(payee, account, category) for payee, account, category, _ in rows]


def read_payments(connection: sqlite3.Connection, flow: str, account: str) -> list[tuple[date, int]]:
    """What was recorded for a flow on its account, as (day, amount without sign), oldest first."""
    rows = connection.execute(
        "SELECT entry.date, abs(sum(leg.amount)) FROM entry JOIN leg ON leg.entry = entry.id "
        "WHERE entry.flow = ? AND leg.account = ? GROUP BY entry.id ORDER BY entry.date, entry.seq",
        (flow, account),
    )
    return [(date.fromisoformat(day), amount) for day, amount in rows]


def settling(connection: sqlite3.Connection, flow: str, nominal: date) -> set[str]:
    """The ids of the entries that settle an occurrence."""
    rows = connection.execute("SELECT id FROM entry WHERE flow = ? AND nominal = ?", (flow, nominal.isoformat()))
    return {row["id"] for row in rows}


def read_books(connection: sqlite3.Connection, today: date) -> Books:
    """Recorded money as a forecast from `today` sees it."""
    before = connection.execute(
        "SELECT leg.account, sum(leg.amount) FROM leg JOIN entry ON entry.id = leg.entry "
        "WHERE leg.account IS NOT NULL AND entry.date < ? GROUP BY leg.account",
        (today.isoformat(),),
    )
    ahead = connection.execute(f"{_SELECT} WHERE entry.date >= ? ORDER BY entry.seq, leg.seq", (today.isoformat(),))
    settled: defaultdict[str, set[int]] = defaultdict(set)
    for flow, nominal in connection.execute(
        "SELECT flow, nominal FROM entry WHERE flow IS NOT NULL AND nominal IS NOT NULL"
    ):
        settled[flow].add(date.fromisoformat(nominal).toordinal())
    return Books(dict(before), _entries(ahead), settled, _spent_in_allowances(connection))


def _spent_in_allowances(connection: sqlite3.Connection) -> dict[str, dict[int, int]]:
    """What was recorded by category and day, for the categories that an allowance limits."""
    rows = connection.execute(
        "SELECT leg.category, entry.date, sum(leg.amount) FROM leg JOIN entry ON entry.id = leg.entry "
        "WHERE leg.category IN (SELECT category FROM allowance_category) GROUP BY leg.category, entry.date"
    )
    spent: defaultdict[str, dict[int, int]] = defaultdict(dict)
    for category, day, amount in rows:
        spent[category][date.fromisoformat(day).toordinal()] = amount
    return spent


def read_daily_changes(connection: sqlite3.Connection, until: date) -> Mapping[str, list[tuple[int, int]]]:
    """By account, what was recorded on each day up to `until`, as (day number, change), oldest first."""
    rows = connection.execute(
        "SELECT leg.account, entry.date, sum(leg.amount) FROM leg JOIN entry ON entry.id = leg.entry "
        "WHERE leg.account IS NOT NULL AND entry.date <= ? GROUP BY leg.account, entry.date ORDER BY entry.date",
        (until.isoformat(),),
    )
    changes: defaultdict[str, list[tuple[int, int]]] = defaultdict(list)
    for account, day, change in rows:
        changes[account].append((date.fromisoformat(day).toordinal(), change))
    return changes


def count_on(connection: sqlite3.Connection, *, account: str = "", category: str = "", flow: str = "") -> int:
    """How many entries name an account, a category or a flow."""
    row = connection.execute(
        "SELECT (SELECT count(DISTINCT entry) FROM leg WHERE account = ? OR category = ?) "
        "+ (SELECT count(*) FROM entry WHERE flow = ?)",
        (account, category, flow),
    ).fetchone()
    return int(row[0])


def write_entry(connection: sqlite3.Connection, entry: Entry, recorded_on: date | None = None) -> None:
    """Insert the entry, or correct the one with its id, which keeps the day on which it was first recorded."""
    connection.execute(
        "INSERT INTO entry (id, date, payee, flow, nominal, notes, recorded_on) "
        "VALUES (:id, :date, :payee, :flow, :nominal, :notes, :recorded_on) "
        "ON CONFLICT (id) DO UPDATE SET date = :date, payee = :payee, flow = :flow, nominal = :nominal, notes = :notes",
        {
            "id": entry.id,
            "date": entry.date.isoformat(),
            "payee": entry.payee,
            "flow": entry.flow,
            "nominal": entry.nominal.isoformat() if entry.nominal else None,
            "notes": entry.notes,
            "recorded_on": recorded_on.isoformat() if recorded_on else None,
        },
    )
    connection.execute("DELETE FROM leg WHERE entry = ?", (entry.id,))
    connection.executemany(
        "INSERT INTO leg (entry, account, category, amount) VALUES (?, ?, ?, ?)",
        [(entry.id, leg.account, leg.category, leg.amount) for leg in entry.legs],
    )


def delete_entry(connection: sqlite3.Connection, id: str) -> None:
    connection.execute("DELETE FROM leg WHERE entry = ?", (id,))
    connection.execute("DELETE FROM entry WHERE id = ?", (id,))
