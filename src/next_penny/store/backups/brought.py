"""A household's file from elsewhere: taken only if nothing in it is other than what this app would have written.

Its schema must be exactly a household's; its triggers, which are SQL that undo runs, are made anew, and what could be
undone in it is let go of. Every row is read through the same door as a plan document.
"""

import contextlib
import re
import sqlite3
from pathlib import Path

from pydantic import ValidationError

from next_penny.core.checks.memory import memory_problems
from next_penny.core.checks.plan import check
from next_penny.core.edits.conflicts import entry_list_problems
from next_penny.core.problems import PlanError, given_up_by, go_on
from next_penny.formats.documents.entries import entry_values
from next_penny.formats.documents.memory import expected_values
from next_penny.formats.documents.plan import DocumentErrors, plan_document, read_plan_document
from next_penny.store.file.connection import check_is_household, connect, has_household
from next_penny.store.file.content import content_tables, state_of
from next_penny.store.file.copies import wrong_with
from next_penny.store.file.faults import BackupError, StoreError
from next_penny.store.file.limits import check_size, limited
from next_penny.store.file.schema import Item, bring_up_to_date, expected_items, items_of, version_of
from next_penny.store.sql import entries, memory, plans
from next_penny.store.sql.receipts import name_of


def clean(file: Path, name: str, *, is_ours: bool = False) -> None:
    """Bring a copy of a file up to date, and see that all in it can be a household's.

    `name` says in sentences which file it is. Of a backup that this app made, rows are not read, and what could be
    undone stays. Raises BackupError.
    """
    if not has_household(file):
        raise BackupError(f"{name} holds no Next Penny household.")
    try:
        with contextlib.closing(connect(file)) as connection, limited(connection, given_up_by()):
            connection.execute("PRAGMA journal_mode = DELETE")
            check_is_household(connection, Path(name))
            _check_schema(connection, name)
            if wrong_with(file):
                raise BackupError(f"{name} is damaged: its pages do not fit together.")
            _drop_triggers(connection)
            if not is_ours:
                _drop_what_undo_runs(connection)
            bring_up_to_date(connection)
            check_size(connection, content_tables(connection), name)
            if not is_ours:
                _check_rows(connection, name)
    except StoreError as error:
        raise BackupError(str(error)) from error
    except sqlite3.Error as error:
        raise BackupError(f"{name} cannot be read as a household: {error}.") from error


def _check_schema(connection: sqlite3.Connection, name: str) -> None:
    wanted = {_plain(item) for item in expected_items(version_of(connection))}
    there = {_plain(item) for item in items_of(connection) if item.kind != "trigger"}
    strange = sorted(item.name for item in there - wanted) or sorted(item.name for item in wanted - there)
    if strange:
        raise BackupError(f"{name} is not as this app writes a household: look at “{strange[0][:60]}” in it.")


def _plain(item: Item) -> Item:
    """An item whose SQL is compared without comments and spaces."""
    return Item(item.kind, item.name, "".join(re.sub(r"--[^\n]*", "", item.sql or "").split()))


def _drop_triggers(connection: sqlite3.Connection) -> None:
    for item in items_of(connection):
        if item.kind == "trigger":
            quoted = item.name.replace('"', '""')
            connection.execute(f'DROP TRIGGER "{quoted}"')


def _drop_what_undo_runs(connection: sqlite3.Connection) -> None:
    connection.execute("PRAGMA foreign_keys = OFF")
    for table in ("undo_open", "undo_line", "undo_step"):
        connection.execute(f"DELETE FROM {table}")


def _check_rows(connection: sqlite3.Connection, name: str) -> None:
    if connection.execute("PRAGMA foreign_key_check").fetchone() is not None:
        raise BackupError(f"{name} refers to something that is not in it.")
    connection.execute("DELETE FROM checksum")
    try:
        state_of(connection)
        _check_document(connection)
    except PlanError as error:
        problem = error.problems[0]
        raise BackupError(f"{name}: {'.'.join(map(str, problem.loc))}: {problem.message}") from error
    except (DocumentErrors, ValidationError) as error:
        first = (error.errors if isinstance(error, DocumentErrors) else error.errors())[0]
        where = ".".join(map(str, first["loc"]))
        raise BackupError(
            f"{name} holds what cannot be in a household, in {where or 'a row'}: {_shown(first)}."
        ) from error
    except (ArithmeticError, AttributeError, LookupError, TypeError, ValueError) as error:
        raise BackupError(f"{name} holds a row that cannot be read: {str(error)[:120]}.") from error
    _check_files(connection, name)


def _check_document(connection: sqlite3.Connection) -> None:
    (rows,) = connection.execute("SELECT count(*) FROM household").fetchone()
    if rows != 1:
        raise ValueError("there is not one household in it")
    if not memory.is_whole(connection):
        raise ValueError("what was expected is not kept as this app keeps it")
    head = plan_document(plans.read_plan(connection), ()).model_dump(mode="json", by_alias=True)
    recorded = [entry_values(entry) for entry in entries.read_entries(connection)]
    go_on()
    remembered = memory.read_memory(connection)
    expected = [expected_values(row) for row in remembered.rows]
    go_on()
    read = read_plan_document({**head, "entries": recorded, "expected": expected})
    plan = read.to_core()
    go_on()
    problems = [*check(plan), *entry_list_problems(plan, read.core_entries()), *memory_problems(plan, read.memory())]
    if problems:
        raise PlanError(problems)


def _check_files(connection: sqlite3.Connection, name: str) -> None:
    for sha256, content in connection.execute("SELECT sha256, content FROM receipt_file"):
        if not isinstance(content, bytes) or name_of(content) != sha256:
            raise BackupError(f"{name} holds a receipt that is not what it is named for.")
    doors = connection.execute("SELECT salt, hash, minutes FROM door").fetchall()
    if len(doors) > 1 or any([type(value) for value in row] != [bytes, bytes, int] for row in doors):
        connection.execute("DELETE FROM door")


def _shown(error: object) -> str:
    details = error if isinstance(error, dict) else {}
    return f"“{str(details.get('input'))[:40]}”"
