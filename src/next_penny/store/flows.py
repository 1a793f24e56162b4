"""Flows in SQL: one row each; rules, dates, seasons, revisions, changes and splits in tables of their own."""

import sqlite3
from collections import defaultdict
from datetime import date
from decimal import Decimal

from next_penny.core.plan import Change, Flow, Growth, Revision, Split

_PARTS = ("flow_rule", "flow_date", "flow_season", "flow_revision", "flow_change", "flow_split")
_COLUMNS = (
    "name", "kind", "amount", "from_account", "to_account", "category", "payee", "start", "until", "count", "roll",
    "growth_percent", "growth_from", "estimate", "subscription", "remind_days", "notes",
)  # fmt: skip
_UPSERT = (
    f"INSERT INTO flow (id, {', '.join(_COLUMNS)}) VALUES (:id, {', '.join(f':{name}' for name in _COLUMNS)}) "
    f"ON CONFLICT (id) DO UPDATE SET {', '.join(f'{name} = :{name}' for name in _COLUMNS)}"
)


def read_flows(connection: sqlite3.Connection) -> tuple[Flow, ...]:
    parts = {table: _by_flow(connection, table) for table in _PARTS}
    return tuple(_flow(row, parts) for row in connection.execute("SELECT * FROM flow ORDER BY seq"))


def _by_flow(connection: sqlite3.Connection, table: str) -> dict[str, list[sqlite3.Row]]:
    rows: defaultdict[str, list[sqlite3.Row]] = defaultdict(list)
    for row in connection.execute(f"SELECT * FROM {table} ORDER BY seq"):
        rows[row["flow"]].append(row)
    return rows


def _flow(row: sqlite3.Row, parts: dict[str, dict[str, list[sqlite3.Row]]]) -> Flow:
    rules, dates, seasons, revisions, changes, splits = (parts[table].get(row["id"], []) for table in _PARTS)
    growth = row["growth_percent"]
    return Flow(
        id=row["id"],
        name=row["name"],
        kind=row["kind"],
        amount=row["amount"],
        from_account=row["from_account"],
        to_account=row["to_account"],
        category=row["category"],
        payee=row["payee"],
        rules=tuple(rule["text"] for rule in rules),
        dates=tuple(date.fromisoformat(day["date"]) for day in dates if not day["is_exception"]),
        exceptions=tuple(date.fromisoformat(day["date"]) for day in dates if day["is_exception"]),
        start=_day(row["start"]),
        until=_day(row["until"]),
        count=row["count"],
        roll=row["roll"],
        seasonal=tuple((season["month"], season["amount"]) for season in seasons),
        growth=Growth(Decimal(growth), date.fromisoformat(row["growth_from"])) if growth is not None else None,
        revisions=tuple(_revision(revision) for revision in revisions),
        changes=tuple(_change(change) for change in changes),
        splits=tuple(Split(split["amount"], split["category"], split["account"]) for split in splits),
        estimate=bool(row["estimate"]),
        subscription=bool(row["subscription"]),
        remind_days=row["remind_days"],
        notes=row["notes"],
    )


def _day(text: str | None) -> date | None:
    return date.fromisoformat(text) if text is not None else None


def _revision(row: sqlite3.Row) -> Revision:
    rules = tuple(row["rules"].split("\n")) if row["rules"] is not None else None
    return Revision(date.fromisoformat(row["start"]), row["amount"], rules)


def _change(row: sqlite3.Row) -> Change:
    return Change(date.fromisoformat(row["nominal"]), row["amount"], _day(row["moved_to"]), bool(row["left_out"]))


def write_flow(connection: sqlite3.Connection, flow: Flow) -> None:
    """Insert the flow, or put it in the place of the one with its id."""
    values = {name: getattr(flow, name) for name in _COLUMNS if not name.startswith("growth")}
    values |= {
        "id": flow.id,
        "start": flow.start.isoformat() if flow.start else None,
        "until": flow.until.isoformat() if flow.until else None,
        "growth_percent": str(flow.growth.percent) if flow.growth else None,
        "growth_from": flow.growth.start.isoformat() if flow.growth else None,
    }
    connection.execute(_UPSERT, values)
    _delete_parts(connection, flow.id)
    for statement, rows in _part_rows(flow).items():
        connection.executemany(statement, rows)


def _part_rows(flow: Flow) -> dict[str, list[tuple[object, ...]]]:
    return {
        "INSERT INTO flow_rule (flow, text) VALUES (?, ?)": [(flow.id, text) for text in flow.rules],
        "INSERT INTO flow_date (flow, date, is_exception) VALUES (?, ?, ?)": [
            *((flow.id, day.isoformat(), False) for day in flow.dates),
            *((flow.id, day.isoformat(), True) for day in flow.exceptions),
        ],
        "INSERT INTO flow_season (flow, month, amount) VALUES (?, ?, ?)": [
            (flow.id, month, amount) for month, amount in flow.seasonal
        ],
        "INSERT INTO flow_revision (flow, start, amount, rules) VALUES (?, ?, ?, ?)": [
            (flow.id, r.start.isoformat(), r.amount, "\n".join(r.rules) if r.rules is not None else None)
            for r in flow.revisions
        ],
        "INSERT INTO flow_change (flow, nominal, amount, moved_to, left_out) VALUES (?, ?, ?, ?, ?)": [
            (flow.id, c.nominal.isoformat(), c.amount, c.moved_to.isoformat() if c.moved_to else None, c.left_out)
            for c in flow.changes
        ],
        "INSERT INTO flow_split (flow, amount, category, account) VALUES (?, ?, ?, ?)": [
            (flow.id, split.amount, split.category, split.account) for split in flow.splits
        ],
    }


def delete_flow(connection: sqlite3.Connection, id: str) -> None:
    _delete_parts(connection, id)
    connection.execute("DELETE FROM flow WHERE id = ?", (id,))


def _delete_parts(connection: sqlite3.Connection, id: str) -> None:
    for table in _PARTS:
        connection.execute(f"DELETE FROM {table} WHERE flow = ?", (id,))
