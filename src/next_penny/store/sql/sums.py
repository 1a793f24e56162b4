"""What is asked of all recorded money in SQL: registers, payees, tags, and the sums that a forecast needs."""

import sqlite3
from collections import defaultdict
from collections.abc import Callable, Sequence
from datetime import date
from functools import lru_cache
from itertools import groupby
from operator import itemgetter

from next_penny.core.books.books import Books, Posting, Receipt, receipts_of
from next_penny.core.books.registers import RegisterLine
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import repayment_id
from next_penny.core.plan.starter import LENT_INTEREST
from next_penny.store.sql.entries import SELECT, entries_of


def read_register(connection: sqlite3.Connection, account: Account) -> list[RegisterLine]:
    """An account's entries in the order in which they happened, without balances."""
    rows = connection.execute(
        "SELECT entry.seq, entry.id, entry.date, entry.payee, entry.notes, entry.tags, entry.receipt, entry.flow, "
        "entry.number, leg.account, leg.category, leg.amount FROM entry JOIN leg ON leg.entry = entry.id "
        "WHERE entry.id IN (SELECT entry FROM leg WHERE account = ?) ORDER BY entry.date, entry.seq, leg.seq",
        (account.id,),
    )
    number, lines = day_numbers(), []
    for _, legs in groupby(rows, key=itemgetter(0)):
        amount = 0
        others: dict[str, None] = {}
        for _, id, day, payee, notes, tags, receipt, flow, check, on, category, part in legs:  # noqa: B007 - the head is the same in all
            if on == account.id:
                amount += part
            else:
                others[on or category] = None
        tagged = tuple(tags.split("\n")) if tags else ()
        line = RegisterLine(id, number(day), payee, notes, tagged, receipt is not None, flow, amount, 0, tuple(others),
                            check)  # fmt: skip
        lines.append(line)
    return lines


def read_last_numbers(connection: sqlite3.Connection) -> dict[str, str]:
    """By account whose entries have numbers, the number of the one that was recorded last."""
    rows = connection.execute(
        "SELECT leg.account, entry.number, max(entry.seq) FROM entry JOIN leg ON leg.entry = entry.id "
        "WHERE entry.number <> '' AND leg.account IS NOT NULL AND leg.amount < 0 GROUP BY leg.account"
    )
    return {account: number for account, number, _ in rows}


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


def read_moved_by(connection: sqlite3.Connection, account: str, flow_ids: Sequence[str]) -> int:
    """What entries of some flows changed on an account, in all."""
    marks = ", ".join("?" for _ in flow_ids)
    row = connection.execute(
        "SELECT coalesce(sum(leg.amount), 0) FROM entry JOIN leg ON leg.entry = entry.id "
        f"WHERE leg.account = ? AND entry.flow IN ({marks})",
        (account, *flow_ids),
    ).fetchone()
    return int(row[0])


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
    ahead = connection.execute(f"{SELECT} WHERE entry.date >= ? ORDER BY entry.seq, leg.seq", (today.isoformat(),))
    postings = _postings(connection)
    before = {
        account: sum(posting.amount for posting in rows if posting.day < today.toordinal())
        for account, rows in postings.items()
    }
    return Books(before, entries_of(ahead), _settled(connection), _spent(connection), postings, _receipts(connection))


def day_numbers() -> Callable[[str], int]:
    """Reads ISO 8601 days as day numbers, each once."""
    return lru_cache(maxsize=None)(lambda text: date.fromisoformat(text).toordinal())


def _postings(connection: sqlite3.Connection) -> dict[str, list[Posting]]:
    """By account, what was recorded on it, in order of day."""
    number = day_numbers()
    postings: defaultdict[str, list[Posting]] = defaultdict(list)
    for account, day, amount, flow, nominal in connection.execute(
        "SELECT leg.account, entry.date, leg.amount, entry.flow, CASE WHEN entry.part THEN NULL ELSE entry.nominal END "
        "FROM leg JOIN entry ON entry.id = leg.entry WHERE leg.account IS NOT NULL "
        "ORDER BY entry.date, entry.seq, leg.seq"
    ):
        postings[account].append(Posting(number(day), amount, flow, number(nominal) if nominal else None))
    return postings


def _receipts(connection: sqlite3.Connection) -> dict[str, list[Receipt]]:
    """By account of money lent, what was received that no leg on it tells."""
    received: defaultdict[str, list[Receipt]] = defaultdict(list)
    rows = connection.execute(
        f"{SELECT} WHERE entry.id IN (SELECT entry FROM leg WHERE category = ? "
        "UNION SELECT id FROM entry WHERE flow IN (SELECT id || ? FROM account)) ORDER BY entry.seq, leg.seq",
        (LENT_INTEREST.id, repayment_id("")),
    )
    for entry in entries_of(rows):
        for account, receipt in receipts_of(entry):
            received[account].append(receipt)
    return received


def _settled(connection: sqlite3.Connection) -> dict[str, dict[int, int]]:
    """By flow and nominal day, what was moved, as `core.books.moved` tells it."""
    number = day_numbers()
    settled: defaultdict[str, dict[int, int]] = defaultdict(dict)
    for flow, nominal, out, total in connection.execute(
        "SELECT entry.flow, entry.nominal, -sum(min(leg.amount, 0)), sum(leg.amount) "
        "FROM entry JOIN leg ON leg.entry = entry.id AND leg.account IS NOT NULL "
        "WHERE entry.flow IS NOT NULL AND entry.nominal IS NOT NULL AND NOT entry.part GROUP BY entry.id"
    ):
        settled[flow][number(nominal)] = out or total
    return settled


def _spent(connection: sqlite3.Connection) -> dict[tuple[str, str], list[tuple[int, int]]]:
    """What was recorded by category and first account of the entry, as `core.books.spent_by` tells it."""
    number = day_numbers()
    spent: defaultdict[tuple[str, str], list[tuple[int, int]]] = defaultdict(list)
    for category, account, day, amount in connection.execute(
        "SELECT leg.category, (SELECT first.account FROM leg AS first WHERE first.entry = entry.id "
        "AND first.account IS NOT NULL ORDER BY first.seq LIMIT 1), entry.date, leg.amount "
        "FROM leg JOIN entry ON entry.id = leg.entry WHERE leg.category IS NOT NULL"
    ):
        spent[category, account or ""].append((number(day), amount))
    return spent


def count_on(connection: sqlite3.Connection, *, account: str = "", category: str = "", flow: str = "") -> int:
    """How many entries name an account, a category or a flow."""
    row = connection.execute(
        "SELECT (SELECT count(DISTINCT entry) FROM leg WHERE account = ? OR category = ?) "
        "+ (SELECT count(*) FROM entry WHERE flow = ?)",
        (account, category, flow),
    ).fetchone()
    return int(row[0])


def read_first_seen(connection: sqlite3.Connection) -> dict[str, date]:
    """By payee, the day of its first entry; under an empty name, of those that have none."""
    rows = connection.execute("SELECT payee, min(date) FROM entry GROUP BY payee").fetchall()
    return {payee: date.fromisoformat(day) for payee, day in rows}
