"""A household's file from an earlier version is brought up to date, with nothing lost and undo in place."""

import sqlite3
from datetime import date
from importlib import resources
from pathlib import Path

from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Allowance, Category, Entry, Leg
from next_penny.store import undo
from next_penny.store.connection import APPLICATION_ID
from next_penny.store.store import Store

TODAY = date(2027, 3, 1)


def first_version(file: Path) -> None:
    """A file as the first version of the schema made it, with an account and an entry in it."""
    script = resources.files("next_penny.store").joinpath("schema", "0001_household.sql").read_text()
    connection = sqlite3.connect(file)
    connection.executescript(script)
    undo.create_triggers(connection)
    connection.executescript(
        f"""
        INSERT INTO account (id, name, kind, currency, opening_date, opening_balance, floor, cushion, spendable)
            VALUES ('a', 'Old account', 'checking', 'USD', '2026-01-01', 100, 0, 0, 1);
        INSERT INTO category (id, name, group_name, kind) VALUES ('food', 'Food', '', 'expense');
        INSERT INTO entry (id, date, payee, notes) VALUES ('e', '2027-02-01', 'Old shop', '');
        INSERT INTO leg (entry, account, amount) VALUES ('e', 'a', -30);
        INSERT INTO leg (entry, category, amount) VALUES ('e', 'food', 30);
        PRAGMA application_id = {APPLICATION_ID};
        PRAGMA user_version = 1;
        """
    )
    connection.close()


def test_an_earlier_file_is_brought_up_to_date(tmp_path: Path) -> None:
    file = tmp_path / "old.sqlite3"
    first_version(file)
    store = Store(file)
    assert store.plan().accounts[0].name == "Old account"
    assert store.entries() == (
        Entry("e", date(2027, 2, 1), "Old shop", (Leg(-30, account="a"), Leg(30, category="food"))),
    )
    assert store.books(TODAY).before == {"a": -30}
    # What came with later versions can be changed and undone as well.
    food = Allowance("food", "Food", 100, "a", categories=("food",))
    store.apply([PlanChange("allowance", "food", food)], "Added “Food”", TODAY)
    assert store.plan().allowances == (food,)
    store.undo()
    assert store.plan().allowances == ()
    store.redo()
    assert store.plan().allowances == (food,)


def test_an_up_to_date_file_is_opened_as_it_is(tmp_path: Path) -> None:
    file = tmp_path / "home.sqlite3"
    store = Store(file)
    store.apply([PlanChange("category", "food", Category("food", "Food"))], "Added “Food”")
    store.close()
    before = sqlite3.connect(file).execute("SELECT sql FROM sqlite_schema ORDER BY name").fetchall()
    again = Store(file)
    assert sqlite3.connect(file).execute("SELECT sql FROM sqlite_schema ORDER BY name").fetchall() == before
    assert again.history().undo == "Added “Food”"


def test_what_was_settled_today_is_known_apart_from_its_date(tmp_path: Path) -> None:
    file = tmp_path / "old.sqlite3"
    first_version(file)
    store = Store(file)
    late = Entry("late", date(2027, 2, 9), "Flute", (Leg(-30, account="a"), Leg(30, category="food")))
    store.apply([PlanChange("entry", "late", late)], "Added", TODAY)
    assert store.settled_on(TODAY) == ()
    assert {entry.id for entry in store.entries()} == {"e", "late"}
