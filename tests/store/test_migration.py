"""A household's file from any earlier version is brought up to date, with nothing lost and undo in place."""

import contextlib
import sqlite3
from datetime import date
from importlib import resources
from pathlib import Path

import pytest

from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.store.file.schema import APPLICATION_ID
from next_penny.store.sql import undo
from next_penny.store.store import Store
from next_penny.store.transactions import Decision
from stores import new_file

TODAY = date(2027, 3, 1)
SCRIPTS = sorted(resources.files("next_penny.store").joinpath("schema").iterdir(), key=lambda file: file.name)


def put(store: Store, change: PlanChange, label: str = "Added “Food”") -> None:
    store.change(TODAY, lambda reading: Decision([change], label))


def earlier_version(version: int, *, has_triggers: bool = True) -> Path:
    """A file as a version of the schema made it, with an account and an entry in it."""
    file = new_file()
    connection = sqlite3.connect(file)
    for script in SCRIPTS[:version]:
        connection.executescript(script.read_text())
    connection.executescript(
        f"""
        INSERT INTO account (id, name, kind, currency, opening_date, opening_balance, floor, cushion, spendable)
            VALUES ('a', 'Old account', 'checking', 'USD', '2026-01-01', 100, 0, 0, 1);
        INSERT INTO category (id, name, group_name, kind) VALUES ('food', 'Food', '', 'expense');
        INSERT INTO entry (id, date, payee, notes) VALUES ('e', '2027-02-01', 'Old shop', '');
        INSERT INTO leg (entry, account, amount) VALUES ('e', 'a', -30);
        INSERT INTO leg (entry, category, amount) VALUES ('e', 'food', 30);
        PRAGMA application_id = {APPLICATION_ID};
        PRAGMA user_version = {version};
        """
    )
    if has_triggers:
        undo.create_triggers(connection)
    connection.commit()
    connection.close()
    return file


@pytest.mark.parametrize("has_triggers", [True, False], ids=["whole", "stopped before its triggers were made"])
@pytest.mark.parametrize("version", range(1, len(SCRIPTS) + 1))
def test_an_earlier_file_is_brought_up_to_date(version: int, has_triggers: bool) -> None:
    store = Store(earlier_version(version, has_triggers=has_triggers))
    with store.reading(TODAY) as reading:
        assert reading.moment.plan.accounts[0].name == "Old account"
        assert reading.moment.recorded.before == {"a": -30}
        assert reading.entries() == (
            Entry("e", date(2027, 2, 1), "Old shop", (Leg(-30, account="a"), Leg(30, category="food"))),
        )
    # As the older app left it, it is kept: for that app to open again.
    kept = [backup for backup in store.backups.all() if backup.kind == "before-update"]
    assert len(kept) == (version < len(SCRIPTS))
    for backup in kept:
        with contextlib.closing(sqlite3.connect(store.backups.folder / backup.name)) as connection:
            assert connection.execute("PRAGMA user_version").fetchone() == (version,)
    # What came with later versions can be changed and undone as well.
    food = Allowance("food", "Food", 100, "a", categories=("food",))
    put(store, PlanChange("allowance", "food", food))
    assert store.undo(TODAY).moment.plan.allowances == ()
    assert store.redo(TODAY).moment.plan.allowances == (food,)


def test_an_up_to_date_file_is_opened_as_it_is() -> None:
    file = new_file()
    store = Store(file)
    put(store, PlanChange("category", "food", Category("food", "Food")))
    store.close()
    before = sqlite3.connect(file).execute("SELECT sql FROM sqlite_schema ORDER BY name").fetchall()
    again = Store(file)
    assert sqlite3.connect(file).execute("SELECT sql FROM sqlite_schema ORDER BY name").fetchall() == before
    with again.reading(TODAY) as reading:
        assert reading.history().undo == "Added “Food”"


def test_what_was_settled_today_is_known_apart_from_its_date() -> None:
    store = Store(earlier_version(1))
    late = Entry("late", date(2027, 2, 9), "Flute", (Leg(-30, account="a"), Leg(30, category="food")))
    put(store, PlanChange("entry", "late", late))
    with store.reading(TODAY) as reading:
        assert reading.settled_on(TODAY) == ()
        assert {entry.id for entry in reading.entries()} == {"e", "late"}
