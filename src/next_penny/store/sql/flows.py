"""Flows in SQL: one row each; rules, dates, seasons, revisions, changes and splits in tables of their own."""

import sqlite3
from collections import defaultdict
from datetime import date
from decimal import Decimal

from next_penny.core.plan.flows import Change, Flow, Growth, Hourly, Revision, SavingGoal, Split

_PARTS = ("flow_rule", "flow_date", "flow_season", "flow_revision", "flow_change", "flow_split")
# The kind of rows that only stand in for what an account makes of itself.
_MADE = "made"
# The last line's columns are of parts that a flow may lack.
_PART_COLUMNS = ("growth_", "hourly_", "goal_")
_COLUMNS = (
    "name", "kind", "amount", "from_account", "to_account", "category", "payee", "start", "until", "count", "roll",
    "estimate", "subscription", "remind_days", "notes", "follows", "always_happens", "growth_percent", "growth_from",
    "hourly_rate", "hourly_share", "hourly_hours", "goal_name", "goal_amount", "goal_by", "goal_flow",
    "property", "purpose", "late_days", "may_skip", "may_pause",
    "last_paid", "known_since", "alarm_days",
)  # fmt: skip
_UPSERT = (
    f"INSERT INTO flow (id, {', '.join(_COLUMNS)}) VALUES (:id, {', '.join(f':{name}' for name in _COLUMNS)}) "
    f"ON CONFLICT (id) DO UPDATE SET {', '.join(f'{name} = :{name}' for name in _COLUMNS)}"
)


def read_flows(connection: sqlite3.Connection) -> tuple[Flow, ...]:
    parts = {table: _by_flow(connection, table) for table in _PARTS}
    rows = connection.execute("SELECT * FROM flow WHERE kind <> ? ORDER BY seq", (_MADE,))
    return tuple(_flow(row, parts) for row in rows)


def stand_in(connection: sqlite3.Connection, id: str) -> None:
    """Let entries name a flow that is no row of its own: a card or savings account makes it of itself."""
    connection.execute(
        "INSERT INTO flow (id, name, kind, amount, payee, roll, estimate, subscription, remind_days, notes) "
        "VALUES (?, '', ?, 0, '', 'none', 0, 0, 0, '') ON CONFLICT (id) DO NOTHING",
        (id, _MADE),
    )


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
        follows=row["follows"],
        always_happens=bool(row["always_happens"]),
        hourly=_hourly(row),
        saves_for=_goal(row),
        property=row["property"],
        purpose=row["purpose"],
        late_days=row["late_days"],
        may_skip=bool(row["may_skip"]),
        may_pause=bool(row["may_pause"]),
        last_paid=_day(row["last_paid"]),
        known_since=_day(row["known_since"]),
        alarm_days=row["alarm_days"],
    )


def _hourly(row: sqlite3.Row) -> Hourly | None:
    if row["hourly_rate"] is None:
        return None
    return Hourly(row["hourly_rate"], Decimal(row["hourly_share"]), Decimal(row["hourly_hours"]))


def _goal(row: sqlite3.Row) -> SavingGoal | None:
    if row["goal_name"] is None:
        return None
    return SavingGoal(row["goal_name"], row["goal_amount"], date.fromisoformat(row["goal_by"]), row["goal_flow"])


def _day(text: str | None) -> date | None:
    return date.fromisoformat(text) if text is not None else None


def _revision(row: sqlite3.Row) -> Revision:
    rules = tuple(row["rules"].split("\n")) if row["rules"] is not None else None
    moved = (row["from_account"], row["to_account"], row["category"])
    return Revision(date.fromisoformat(row["start"]), row["amount"], rules, *moved, _hourly(row))


def _change(row: sqlite3.Row) -> Change:
    hours = Decimal(row["hours"]) if row["hours"] is not None else None
    nominal = date.fromisoformat(row["nominal"])
    return Change(nominal, row["amount"], _day(row["moved_to"]), bool(row["left_out"]), hours)


def write_flow(connection: sqlite3.Connection, flow: Flow) -> None:
    """Insert the flow, or put it in the place of the one with its id."""
    values = {name: getattr(flow, name) for name in _COLUMNS if not name.startswith(_PART_COLUMNS)}
    values |= {
        "id": flow.id,
        "start": flow.start.isoformat() if flow.start else None,
        "until": flow.until.isoformat() if flow.until else None,
        "last_paid": flow.last_paid.isoformat() if flow.last_paid else None,
        "known_since": flow.known_since.isoformat() if flow.known_since else None,
        "growth_percent": str(flow.growth.percent) if flow.growth else None,
        "growth_from": flow.growth.start.isoformat() if flow.growth else None,
        **dict(zip(("hourly_rate", "hourly_share", "hourly_hours"), _hourly_values(flow.hourly), strict=True)),
        "goal_name": flow.saves_for.name if flow.saves_for else None,
        "goal_amount": flow.saves_for.amount if flow.saves_for else None,
        "goal_by": flow.saves_for.by.isoformat() if flow.saves_for else None,
        "goal_flow": flow.saves_for.flow if flow.saves_for else None,
    }
    connection.execute(_UPSERT, values)
    _delete_parts(connection, flow.id)
    for statement, rows in _part_rows(flow).items():
        connection.executemany(statement, rows)


def _hourly_values(hourly: Hourly | None) -> tuple[int | None, str | None, str | None]:
    return (hourly.rate, str(hourly.share), str(hourly.hours)) if hourly is not None else (None, None, None)


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
        "INSERT INTO flow_revision (flow, start, amount, rules, from_account, to_account, category, hourly_rate, "
        "hourly_share, hourly_hours) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)": [
            _revision_row(flow.id, revision) for revision in flow.revisions
        ],
        "INSERT INTO flow_change (flow, nominal, amount, moved_to, left_out, hours) VALUES (?, ?, ?, ?, ?, ?)": [
            _change_row(flow.id, change) for change in flow.changes
        ],
        "INSERT INTO flow_split (flow, amount, category, account) VALUES (?, ?, ?, ?)": [
            (flow.id, split.amount, split.category, split.account) for split in flow.splits
        ],
    }


def _revision_row(flow: str, revision: Revision) -> tuple[object, ...]:
    rules = "\n".join(revision.rules) if revision.rules is not None else None
    moved = (revision.from_account, revision.to_account, revision.category)
    return (flow, revision.start.isoformat(), revision.amount, rules, *moved, *_hourly_values(revision.hourly))


def _change_row(flow: str, change: Change) -> tuple[object, ...]:
    moved = change.moved_to.isoformat() if change.moved_to else None
    hours = str(change.hours) if change.hours is not None else None
    return (flow, change.nominal.isoformat(), change.amount, moved, change.left_out, hours)


def delete_flow(connection: sqlite3.Connection, id: str) -> None:
    _delete_parts(connection, id)
    connection.execute("DELETE FROM flow WHERE id = ?", (id,))


def _delete_parts(connection: sqlite3.Connection, id: str) -> None:
    for table in _PARTS:
        connection.execute(f"DELETE FROM {table} WHERE flow = ?", (id,))
