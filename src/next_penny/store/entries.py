"""Recorded money in SQL: entries and their legs, and the sums that a forecast needs of them."""

import sqlite3
from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from datetime import date
from functools import lru_cache
from itertools import groupby
from operator import itemgetter

from next_penny.core.books import Books, Posting
from next_penny.core.plan import Account, Entry, Leg, Receipt
from next_penny.core.registers import RegisterLine
from next_penny.store.flows import stand_in

_SELECT = (
    "SELECT entry.id, entry.date, entry.payee, entry.flow, entry.nominal, entry.notes, entry.tags, entry.receipt, "
    "entry.receipt_name, leg.account, leg.category, leg.amount FROM entry LEFT JOIN leg ON leg.entry = entry.id"
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
            tags=tuple(row["tags"].split("\n")) if row["tags"] else (),
            receipt=Receipt(row["receipt"], row["receipt_name"]) if row["receipt"] else None,
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


def read_register(connection: sqlite3.Connection, account: Account) -> list[RegisterLine]:
    """An account's entries in the order in which they happened, without balances."""
    rows = connection.execute(
        "SELECT entry.seq, entry.id, entry.date, entry.payee, entry.notes, entry.tags, entry.receipt, entry.flow, "
        "leg.account, leg.category, leg.amount FROM entry JOIN leg ON leg.entry = entry.id "
        "WHERE entry.id IN (SELECT entry FROM leg WHERE account = ?) ORDER BY entry.date, entry.seq, leg.seq",
        (account.id,),
    )
    number, lines = _day_numbers(), []
    for _, legs in groupby(rows, key=itemgetter(0)):
        amount = 0
        others: dict[str, None] = {}
        for _, id, day, payee, notes, tags, receipt, flow, on, category, part in legs:  # noqa: B007 - the head is the same in all
            if on == account.id:
                amount += part
            else:
                others[on or category] = None
        tagged = tuple(tags.split("\n")) if tags else ()
        line = RegisterLine(id, number(day), payee, notes, tagged, receipt is not None, flow, amount, 0, tuple(others))
        lines.append(line)
    return lines


def read_payees(connection: sqlite3.Connection) -> list[tuple[str, str | None, str | None]]:
    """Each payee with the account and category of its newest entry without a flow, the newest payee first."""
    rows = connection.execute(
        "SELECT payee, (SELECT account FROM leg WHERE leg.entry = entry.id AND account IS NOT NULL LIMIT 1), "
        "(SELECT category FROM leg WHERE leg.entry = entry.id AND category IS NOT NULL LIMIT 1), "
        "max(date || printf('%012d', seq)) AS newest "
        "FROM entry WHERE payee <> '' AND flow IS NULL GROUP BY payee ORDER BY newest DESC LIMIT 500"
    )
    return [(payee, account, category) for payee, account, category, _ in rows]


def read_last_account(connection: sqlite3.Connection) -> str | None:
    """The account of the entry without a flow that was recorded last."""
    row = connection.execute(
        "SELECT leg.account FROM entry JOIN leg ON leg.entry = entry.id AND leg.account IS NOT NULL "
        "WHERE entry.flow IS NULL ORDER BY entry.seq DESC, leg.seq LIMIT 1"
    ).fetchone()
    return row["account"] if row is not None else None


def read_unplanned(connection: sqlite3.Connection, since: date) -> tuple[Entry, ...]:
    """The entries since a day that name no flow, oldest first."""
    query = f"{_SELECT} WHERE entry.flow IS NULL AND entry.date >= ? ORDER BY entry.date, entry.seq, leg.seq"
    return _entries(connection.execute(query, (since.isoformat(),)))


def read_concerning(
    connection: sqlite3.Connection, accounts: Sequence[str], flow: str, paid: tuple[int, int]
) -> tuple[Entry, ...]:
    """The entries on some accounts or of a flow, and those that pay a sum between two, oldest first."""
    marks = ", ".join("?" for _ in accounts)
    query = (
        f"{_SELECT} WHERE entry.flow = ? OR entry.id IN (SELECT entry FROM leg WHERE account IN ({marks})) "
        "OR entry.id IN (SELECT entry FROM leg WHERE account IS NOT NULL AND amount BETWEEN ? AND ?) "
        "ORDER BY entry.date, entry.seq, leg.seq"
    )
    return _entries(connection.execute(query, (flow, *accounts, -paid[1], -paid[0])))


def read_between(connection: sqlite3.Connection, accounts: Sequence[str], first: date, last: date) -> tuple[Entry, ...]:
    """The entries of some days that move money on some accounts, oldest first."""
    marks = ", ".join("?" for _ in accounts)
    query = (
        f"{_SELECT} WHERE entry.date BETWEEN ? AND ? "
        f"AND entry.id IN (SELECT entry FROM leg WHERE account IN ({marks})) "
        "ORDER BY entry.date, entry.seq, leg.seq"
    )
    return _entries(connection.execute(query, (first.isoformat(), last.isoformat(), *accounts)))


def read_of(connection: sqlite3.Connection, accounts: Sequence[str], flows: Sequence[str]) -> tuple[Entry, ...]:
    """The entries that move money on some accounts, name one of some flows, or are tagged, oldest first."""
    marks, named = ", ".join("?" for _ in accounts), ", ".join("?" for _ in flows)
    query = (
        f"{_SELECT} WHERE entry.tags <> '' OR entry.flow IN ({named}) "
        f"OR entry.id IN (SELECT entry FROM leg WHERE account IN ({marks})) ORDER BY entry.date, entry.seq, leg.seq"
    )
    return _entries(connection.execute(query, (*flows, *accounts)))


def read_moved_by(connection: sqlite3.Connection, account: str, flow_ids: Sequence[str]) -> int:
    """What entries of some flows changed on an account, in all."""
    marks = ", ".join("?" for _ in flow_ids)
    row = connection.execute(
        "SELECT coalesce(sum(leg.amount), 0) FROM entry JOIN leg ON leg.entry = entry.id "
        f"WHERE leg.account = ? AND entry.flow IN ({marks})",
        (account, *flow_ids),
    ).fetchone()
    return int(row[0])


def find(connection: sqlite3.Connection, text: str, amounts: Sequence[int], most: int) -> tuple[Entry, ...]:
    """The newest entries whose payee, notes or tags hold a text, or that move one of some amounts on an account."""
    marks = ", ".join("?" for _ in amounts)
    wanted = "%" + text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
    query = (
        f"{_SELECT} WHERE entry.id IN (SELECT id FROM entry WHERE payee LIKE ? ESCAPE '\\' OR notes LIKE ? ESCAPE '\\' "
        "OR tags LIKE ? ESCAPE '\\' "
        f"OR id IN (SELECT entry FROM leg WHERE account IS NOT NULL AND abs(amount) IN ({marks})) "
        "ORDER BY date DESC, seq DESC LIMIT ?) ORDER BY entry.date DESC, entry.seq DESC, leg.seq"
    )
    return _entries(connection.execute(query, (wanted, wanted, wanted, *amounts, most)))


def read_tagged(connection: sqlite3.Connection, first: date, last: date) -> tuple[Entry, ...]:
    """What was tagged in some days, oldest first."""
    query = f"{_SELECT} WHERE entry.tags <> '' AND entry.date BETWEEN ? AND ? ORDER BY entry.date, entry.seq, leg.seq"
    return _entries(connection.execute(query, (first.isoformat(), last.isoformat())))


def read_tagged_years(connection: sqlite3.Connection) -> list[int]:
    """The years in which something was tagged, newest first."""
    rows = connection.execute("SELECT DISTINCT substr(date, 1, 4) FROM entry WHERE tags <> '' ORDER BY 1 DESC")
    return [int(year) for (year,) in rows]


def read_tags(connection: sqlite3.Connection) -> list[str]:
    """Every tag in use, by name."""
    rows = connection.execute("SELECT DISTINCT tags FROM entry WHERE tags <> ''")
    return sorted({tag for (tags,) in rows for tag in tags.split("\n")})


def read_payments(connection: sqlite3.Connection, flow: str, account: str) -> list[tuple[date, int]]:
    """What was recorded for a flow on its account, as (day, amount without sign), oldest first."""
    rows = connection.execute(
        "SELECT entry.date, abs(sum(leg.amount)) FROM entry JOIN leg ON leg.entry = entry.id "
        "WHERE entry.flow = ? AND leg.account = ? GROUP BY entry.id ORDER BY entry.date, entry.seq",
        (flow, account),
    )
    return [(date.fromisoformat(day), amount) for day, amount in rows]


def read_books(connection: sqlite3.Connection, today: date) -> Books:
    """Recorded money as a forecast from `today` sees it."""
    ahead = connection.execute(f"{_SELECT} WHERE entry.date >= ? ORDER BY entry.seq, leg.seq", (today.isoformat(),))
    postings = _postings(connection)
    before = {
        account: sum(posting.amount for posting in rows if posting.day < today.toordinal())
        for account, rows in postings.items()
    }
    return Books(before, _entries(ahead), _settled(connection), _spent(connection), postings)


def _day_numbers() -> Callable[[str], int]:
    """Reads ISO 8601 days as day numbers, each once."""
    return lru_cache(maxsize=None)(lambda text: date.fromisoformat(text).toordinal())


def _postings(connection: sqlite3.Connection) -> dict[str, list[Posting]]:
    """By account, what was recorded on it, in order of day."""
    number = _day_numbers()
    postings: defaultdict[str, list[Posting]] = defaultdict(list)
    for account, day, amount, flow, nominal in connection.execute(
        "SELECT leg.account, entry.date, leg.amount, entry.flow, entry.nominal FROM leg "
        "JOIN entry ON entry.id = leg.entry WHERE leg.account IS NOT NULL ORDER BY entry.date, entry.seq, leg.seq"
    ):
        postings[account].append(Posting(number(day), amount, flow, number(nominal) if nominal else None))
    return postings


def _settled(connection: sqlite3.Connection) -> dict[str, dict[int, int]]:
    """By flow and nominal day, what was moved, as `core.books.moved` tells it."""
    number = _day_numbers()
    settled: defaultdict[str, dict[int, int]] = defaultdict(dict)
    for flow, nominal, out, total in connection.execute(
        "SELECT entry.flow, entry.nominal, -sum(min(leg.amount, 0)), sum(leg.amount) "
        "FROM entry JOIN leg ON leg.entry = entry.id AND leg.account IS NOT NULL "
        "WHERE entry.flow IS NOT NULL AND entry.nominal IS NOT NULL GROUP BY entry.id"
    ):
        settled[flow][number(nominal)] = out or total
    return settled


def _spent(connection: sqlite3.Connection) -> dict[str, dict[int, int]]:
    """What was recorded by category and day."""
    number = _day_numbers()
    spent: defaultdict[str, dict[int, int]] = defaultdict(dict)
    for category, day, amount in connection.execute(
        "SELECT leg.category, entry.date, sum(leg.amount) FROM leg JOIN entry ON entry.id = leg.entry "
        "WHERE leg.category IS NOT NULL GROUP BY leg.category, entry.date"
    ):
        spent[category][number(day)] = amount
    return spent


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
    if entry.flow is not None:
        stand_in(connection, entry.flow)
    connection.execute(
        "INSERT INTO entry (id, date, payee, flow, nominal, notes, tags, receipt, receipt_name, recorded_on) "
        "VALUES (:id, :date, :payee, :flow, :nominal, :notes, :tags, :receipt, :receipt_name, :recorded_on) "
        "ON CONFLICT (id) DO UPDATE SET date = :date, payee = :payee, flow = :flow, nominal = :nominal, "
        "notes = :notes, tags = :tags, receipt = :receipt, receipt_name = :receipt_name",
        {
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
