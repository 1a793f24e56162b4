"""The plan in SQL: reading it whole, putting another in its place, and writing one change."""

import json
import sqlite3
from collections.abc import Callable, Iterable, Sequence
from datetime import date
from decimal import Decimal
from typing import Any

from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.account_statements import AccountStatement
from next_penny.core.plan.kept.bank_lines import BankAccount, BankLine, PayeeRule, TableShape
from next_penny.core.plan.kept.connections import NoticePattern, NoticeTaken
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.kept.readings import BalanceReading
from next_penny.core.plan.kept.statements import StatementCheck
from next_penny.core.plan.kept.way_out import WayOut
from next_penny.core.plan.kept.what_ifs import SavedWhatIf
from next_penny.core.plan.memory import Memory
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.formats.documents.kept.bank_lines import PayeeRuleDocument
from next_penny.formats.documents.kept.goals import Goal as GoalDocument
from next_penny.formats.documents.kept.readings import BalanceReadingDocument
from next_penny.formats.documents.kept.statements import StatementCheckDocument
from next_penny.formats.documents.kept.way_out import WayOutDocument
from next_penny.formats.documents.kept.what_ifs import WhatIfDocument, written
from next_penny.store.sql import accounts, allowances, bank_lines, entries, flows, memory, services, statements

_HOUSEHOLD = ("name", "currency", "country", "past_due", "notation", "week_starts", "date_order")


def read_plan(connection: sqlite3.Connection) -> Plan:
    row = connection.execute(
        "SELECT name, currency, country, past_due, notation, week_starts, date_order, way_out, statement_checks,"
        " what_ifs, goals, readings, payee_rules FROM household"
    ).fetchone()
    rates = tuple(
        Rate(date.fromisoformat(rate["date"]), rate["source"], rate["target"], Decimal(rate["rate"]))
        for rate in connection.execute("SELECT * FROM rate ORDER BY seq")
    )
    return Plan(
        Household(**{name: row[name] for name in _HOUSEHOLD}),
        accounts.read_accounts(connection),
        accounts.read_categories(connection),
        flows.read_flows(connection),
        allowances.read_allowances(connection),
        rates,
        WayOutDocument.model_validate_json(row["way_out"]).to_core() if row["way_out"] else None,
        tuple(StatementCheckDocument.model_validate(load).to_core() for load in json.loads(row["statement_checks"])),
        tuple(WhatIfDocument.model_validate(load).to_core() for load in json.loads(row["what_ifs"])),
        tuple(GoalDocument.model_validate(load).to_core() for load in json.loads(row["goals"])),
        tuple(BalanceReadingDocument.model_validate(load).to_core() for load in json.loads(row["readings"])),
        statements.read_statements(connection),
        tuple(PayeeRuleDocument.model_validate(load).to_core() for load in json.loads(row["payee_rules"])),
    )


def write(connection: sqlite3.Connection, change: PlanChange, today: date | None) -> None:
    """Write one change; a new entry remembers that it was recorded `today`."""
    item = change.item
    match item:
        case Household():
            _write_household(connection, item)
        case WayOut():
            _write_way_out(connection, item)
        case Entry():
            entries.write_entry(connection, item, today)
        case Rate():
            _delete_rate(connection, item.id)
            _write_rates(connection, [item])
        case BankLine() | BankAccount() | TableShape():
            bank_lines.write(connection, change)
        case NoticePattern() | NoticeTaken():
            services.write(connection, change)
        case None if change.kind in _DELETES:
            _DELETES[change.kind](connection, change.id)
        case StatementCheck() | SavedWhatIf() | Goal() | BalanceReading() | PayeeRule() | None:
            _write_kept(connection, change)
        case _:
            _WRITERS[type(item)](connection, item)


_WRITERS: dict[type, Callable[[sqlite3.Connection, Any], None]] = {
    Account: accounts.write_account,
    Category: accounts.write_category,
    Flow: flows.write_flow,
    Allowance: allowances.write_allowance,
    AccountStatement: statements.write_statement,
}
_DELETES: dict[str, Callable[[sqlite3.Connection, str], None]] = {
    "account": accounts.delete_account,
    "category": accounts.delete_category,
    "flow": flows.delete_flow,
    "allowance": allowances.delete_allowance,
    "entry": entries.delete_entry,
    "statement": statements.delete_statement,
    "bank_line": bank_lines.delete_bank_line,
    "notice_pattern": services.delete_pattern,
    "rate": lambda connection, id: _delete_rate(connection, id),  # noqa: PLW0108 - it is below
    "way_out": lambda connection, id: _write_way_out(connection, None),
}
# Children first, so that no row is left without what it refers to.
_TABLES = (
    *(
        "bank_line",
        "bank_account",
        "notice_pattern",
        "statement",
        "leg",
        "entry",
        "allowance_category",
        "allowance_revision",
        "allowance",
    ),
    *("flow_rule", "flow_date", "flow_season", "flow_revision", "flow_change", "flow_split", "flow"),
    *("category", "account", "rate"),
)


def replace(connection: sqlite3.Connection, plan: Plan, recorded: Sequence[Entry], remembered: Memory) -> None:
    """Put a whole household in the place of the one in the file."""
    for table in _TABLES:
        connection.execute(f"DELETE FROM {table}")
    _write_household(connection, plan.household)
    for account in plan.accounts:
        accounts.write_account(connection, account)
    for category in plan.categories:
        accounts.write_category(connection, category)
    for flow in plan.flows:
        flows.write_flow(connection, flow)
    for allowance in plan.allowances:
        allowances.write_allowance(connection, allowance)
    entries.write_all(connection, recorded)
    _write_rates(connection, plan.rates)
    _write_way_out(connection, plan.way_out)
    _write_checks(connection, plan.statement_checks)
    _write_what_ifs(connection, plan.what_ifs)
    write_goals(connection, plan.goals)
    _write_readings(connection, plan.readings)
    _write_payee_rules(connection, plan.payee_rules)
    for statement in plan.statements:
        statements.write_statement(connection, statement)
    memory.replace(connection, remembered)


def _write_household(connection: sqlite3.Connection, household: Household) -> None:
    settings = ", ".join(f"{name} = :{name}" for name in _HOUSEHOLD)
    connection.execute(f"UPDATE household SET {settings}", {name: getattr(household, name) for name in _HOUSEHOLD})


def _write_way_out(connection: sqlite3.Connection, adopted: WayOut | None) -> None:
    text = WayOutDocument.of(adopted).model_dump_json(by_alias=True) if adopted is not None else None
    connection.execute("UPDATE household SET way_out = ?", (text,))


def _write_kept(connection: sqlite3.Connection, change: PlanChange) -> None:
    """Write what is kept as one list: it is put in, or taken out, as it is in a plan."""
    plan = apply(read_plan(connection), [change])
    _write_checks(connection, plan.statement_checks)
    _write_what_ifs(connection, plan.what_ifs)
    write_goals(connection, plan.goals)
    _write_readings(connection, plan.readings)
    _write_payee_rules(connection, plan.payee_rules)


def _write_payee_rules(connection: sqlite3.Connection, rules: Iterable[PayeeRule]) -> None:
    documents = [PayeeRuleDocument.of(rule).model_dump(mode="json") for rule in rules]
    connection.execute("UPDATE household SET payee_rules = ?", (json.dumps(documents),))


def _write_readings(connection: sqlite3.Connection, readings: Iterable[BalanceReading]) -> None:
    documents = [BalanceReadingDocument.of(reading).model_dump(mode="json") for reading in readings]
    connection.execute("UPDATE household SET readings = ?", (json.dumps(documents),))


def _write_checks(connection: sqlite3.Connection, checks: Iterable[StatementCheck]) -> None:
    documents = [StatementCheckDocument.of(check).model_dump(mode="json") for check in checks]
    connection.execute("UPDATE household SET statement_checks = ?", (json.dumps(documents),))


def _write_what_ifs(connection: sqlite3.Connection, what_ifs: Iterable[SavedWhatIf]) -> None:
    connection.execute("UPDATE household SET what_ifs = ?", (json.dumps([written(what_if) for what_if in what_ifs]),))


def write_goals(connection: sqlite3.Connection, goals: Iterable[Goal]) -> None:
    """Put a list of goals in the place of those in the file."""
    documents = [GoalDocument.of(goal).model_dump(mode="json", by_alias=True) for goal in goals]
    connection.execute("UPDATE household SET goals = ?", (json.dumps(documents),))


def _delete_rate(connection: sqlite3.Connection, id: str) -> None:
    connection.execute("DELETE FROM rate WHERE date || ':' || source || ':' || target = ?", (id,))


def _write_rates(connection: sqlite3.Connection, rates: Iterable[Rate]) -> None:
    connection.executemany(
        "INSERT INTO rate (date, source, target, rate) VALUES (?, ?, ?, ?)",
        [(rate.date.isoformat(), rate.source, rate.target, str(rate.rate)) for rate in rates],
    )
