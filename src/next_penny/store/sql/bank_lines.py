"""Lines of banks that were taken in or wait, their accounts and the shapes of their tables, in SQL."""

import sqlite3
from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import date
from uuid import uuid4

from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.bank_lines import BankAccount, BankLine, TableShape
from next_penny.store.sql.entries import on_day

_COLUMNS = "account, date, amount, bank_id, text, waiting"


def read_bank_lines(connection: sqlite3.Connection) -> tuple[BankLine, ...]:
    """All of them, in the order in which they were taken in."""
    rows = connection.execute(f"SELECT {_COLUMNS} FROM bank_line ORDER BY seq")
    return tuple(map(_line, rows))


def read_known(connection: sqlite3.Connection, accounts: Sequence[str]) -> dict[str, Counter[tuple[object, ...]]]:
    """By account, how often each line was taken in or waits."""
    known: dict[str, Counter[tuple[object, ...]]] = {account: Counter() for account in accounts}
    marks = ", ".join("?" for _ in accounts)
    rows = connection.execute(f"SELECT {_COLUMNS} FROM bank_line WHERE account IN ({marks})", tuple(accounts))
    for line in map(_line, rows):
        known[line.account][line.identity] += 1
    return known


def read_newest(connection: sqlite3.Connection) -> dict[str, date]:
    """By account, the day of the newest line."""
    rows = connection.execute("SELECT account, max(date) FROM bank_line GROUP BY account")
    return {account: on_day(day) for account, day in rows}


def read_waiting(connection: sqlite3.Connection) -> dict[str, BankLine]:
    """The lines that wait for somebody to decide, by what names them, the oldest first."""
    rows = connection.execute(f"SELECT id, {_COLUMNS} FROM bank_line WHERE waiting ORDER BY date, seq")
    return {id: _line(rest) for id, *rest in rows}


def write(connection: sqlite3.Connection, change: PlanChange) -> None:
    """Write a line, an account of a bank, or the shape of a table."""
    match change.item:
        case BankLine() as line:
            write_bank_line(connection, change.id, line)
        case BankAccount() as account:
            write_bank_account(connection, account)
        case TableShape() as shape:
            write_shape(connection, shape)


def write_bank_line(connection: sqlite3.Connection, id: str, line: BankLine) -> None:
    """Insert a line, or correct the one that is named so."""
    connection.execute(
        f"INSERT INTO bank_line (id, {_COLUMNS}) VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET "
        "account = excluded.account, date = excluded.date, amount = excluded.amount, bank_id = excluded.bank_id, "
        "text = excluded.text, waiting = excluded.waiting",
        (id, line.account, line.date.isoformat(), line.amount, line.bank_id, line.text, line.waiting),
    )


def delete_bank_line(connection: sqlite3.Connection, id: str) -> None:
    connection.execute("DELETE FROM bank_line WHERE id = ?", (id,))


def replace_bank_lines(connection: sqlite3.Connection, lines: Iterable[BankLine]) -> None:
    """Put other lines in the place of all."""
    connection.execute("DELETE FROM bank_line")
    for line in lines:
        write_bank_line(connection, str(uuid4()), line)


def read_bank_accounts(connection: sqlite3.Connection) -> dict[str, BankAccount]:
    """The accounts of banks whose lines were taken in, by the hash of their numbers."""
    rows = connection.execute("SELECT hash, last_four, account FROM bank_account")
    return {hash: BankAccount(hash, last_four, account) for hash, last_four, account in rows}


def write_bank_account(connection: sqlite3.Connection, bank_account: BankAccount) -> None:
    """Remember into which account a number was taken."""
    connection.execute(
        "INSERT INTO bank_account (hash, last_four, account) VALUES (?, ?, ?) "
        "ON CONFLICT (hash) DO UPDATE SET last_four = excluded.last_four, account = excluded.account",
        (bank_account.hash, bank_account.last_four, bank_account.account),
    )


def read_shape(connection: sqlite3.Connection, shape: str) -> str | None:
    """The columns of tables of a shape, as JSON text; None where nobody named them."""
    row = connection.execute("SELECT columns FROM table_shape WHERE shape = ?", (shape,)).fetchone()
    return row[0] if row is not None else None


def write_shape(connection: sqlite3.Connection, table_shape: TableShape) -> None:
    """Remember which column is what in tables of a shape."""
    connection.execute(
        "INSERT INTO table_shape (shape, columns) VALUES (?, ?) "
        "ON CONFLICT (shape) DO UPDATE SET columns = excluded.columns",
        (table_shape.shape, table_shape.columns),
    )


def read_categories_by_payee(connection: sqlite3.Connection) -> dict[str, str]:
    """By payee, in small letters, the category that it was recorded with last, of what no flow planned."""
    rows = connection.execute(
        "SELECT payee, category FROM (SELECT entry.payee, leg.category, "
        "row_number() OVER (PARTITION BY entry.payee ORDER BY entry.date DESC, entry.seq DESC, leg.seq) AS place "
        "FROM entry JOIN leg ON leg.entry = entry.id WHERE entry.payee <> '' AND entry.flow IS NULL "
        "AND leg.category IS NOT NULL) WHERE place = 1"
    )
    return {payee.casefold(): category for payee, category in rows}


def _line(row: Sequence[object] | sqlite3.Row) -> BankLine:
    account, day, amount, bank_id, text, waiting = row
    return BankLine(account, on_day(day), amount, bank_id, text, bool(waiting))  # type: ignore[arg-type]
