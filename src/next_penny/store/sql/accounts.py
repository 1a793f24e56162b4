"""Accounts and categories in SQL."""

import sqlite3
from datetime import date

from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.categories import Category
from next_penny.formats.documents.accounts import PART_DOCUMENTS
from next_penny.store.sql import memory

# Each part is kept as the JSON of its document, in a column of its name.
_COLUMNS = ("name", "kind", "currency", "opening_date", "opening_balance", "floor", "cushion", "spendable", "closed",
            "known_since", *PART_DOCUMENTS)  # fmt: skip
_WRITE = (
    f"INSERT INTO account (id, {', '.join(_COLUMNS)}) VALUES (:id, {', '.join(f':{name}' for name in _COLUMNS)}) "
    f"ON CONFLICT (id) DO UPDATE SET {', '.join(f'{name} = :{name}' for name in _COLUMNS)}"
)


def read_accounts(connection: sqlite3.Connection) -> tuple[Account, ...]:
    return tuple(
        Account(
            id=row["id"],
            name=row["name"],
            kind=row["kind"],
            currency=row["currency"],
            opening=Opening(date.fromisoformat(row["opening_date"]), row["opening_balance"]),
            floor=row["floor"],
            cushion=row["cushion"],
            spendable=bool(row["spendable"]),
            closed=date.fromisoformat(row["closed"]) if row["closed"] else None,
            known_since=date.fromisoformat(row["known_since"]) if row["known_since"] else None,
            **{
                part: document.model_validate_json(row[part]).to_core() if row[part] else None
                for part, document in PART_DOCUMENTS.items()
            },
        )
        for row in connection.execute("SELECT * FROM account ORDER BY seq")
    )


def write_account(connection: sqlite3.Connection, account: Account) -> None:
    connection.execute(
        _WRITE,
        {
            "id": account.id,
            "name": account.name,
            "kind": account.kind,
            "currency": account.currency,
            "opening_date": account.opening.date.isoformat(),
            "opening_balance": account.opening.balance,
            "floor": account.floor,
            "cushion": account.cushion,
            "spendable": account.spendable,
            "closed": account.closed.isoformat() if account.closed else None,
            "known_since": account.known_since.isoformat() if account.known_since else None,
            **{
                part: document.of(terms).model_dump_json(by_alias=True) if (terms := getattr(account, part)) else None
                for part, document in PART_DOCUMENTS.items()
            },
        },
    )


def delete_account(connection: sqlite3.Connection, id: str) -> None:
    connection.execute("DELETE FROM account WHERE id = ?", (id,))


def read_categories(connection: sqlite3.Connection) -> tuple[Category, ...]:
    return tuple(
        Category(
            row["id"],
            row["name"],
            row["group_name"],
            row["kind"],
            row["icon"],
            bool(row["retired"]),
            row["merged_into"],
        )
        for row in connection.execute("SELECT * FROM category ORDER BY seq")
    )


def write_category(connection: sqlite3.Connection, category: Category) -> None:
    connection.execute(
        "INSERT INTO category (id, name, group_name, kind, icon, retired, merged_into) "
        "VALUES (:id, :name, :group_name, :kind, :icon, :retired, :merged_into) ON CONFLICT (id) DO UPDATE SET "
        "name = :name, group_name = :group_name, kind = :kind, icon = :icon, retired = :retired, "
        "merged_into = :merged_into",
        {
            "id": category.id,
            "name": category.name,
            "group_name": category.group,
            "kind": category.kind,
            "icon": category.icon,
            "retired": category.retired,
            "merged_into": category.merged_into,
        },
    )


def merge_category(connection: sqlite3.Connection, source: str, into: str) -> None:
    """Let everything that names one category name another; the first stays, retired, where a memory names it."""
    for table in ("leg", "flow", "flow_split", "flow_revision"):
        connection.execute(f"UPDATE {table} SET category = ? WHERE category = ?", (into, source))
    connection.execute(
        "DELETE FROM allowance_category WHERE category = ? "
        "AND allowance IN (SELECT allowance FROM allowance_category WHERE category = ?)",
        (source, into),
    )
    connection.execute("UPDATE allowance_category SET category = ? WHERE category = ?", (into, source))
    connection.execute("UPDATE category SET merged_into = ? WHERE merged_into = ?", (into, source))
    if memory.names(connection, "category", source):
        connection.execute("UPDATE category SET retired = 1, merged_into = ? WHERE id = ?", (into, source))
    else:
        delete_category(connection, source)


def delete_category(connection: sqlite3.Connection, id: str) -> None:
    connection.execute("DELETE FROM category WHERE id = ?", (id,))
