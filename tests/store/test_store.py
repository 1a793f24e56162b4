"""The household's file: what goes in comes out, undo takes everything back, and what is not a household is refused."""

import sqlite3
import sys
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

import pytest
from hypothesis import given
from hypothesis import strategies as st

sys.path.insert(0, str(Path(__file__).parent.parent / "core"))
from households import TODAY, households

from next_penny.core.books import books_from_entries
from next_penny.core.check import PlanError, check, check_entry
from next_penny.core.forecast.projection import project
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Account, Entry, Flow, Leg, Opening, Plan
from next_penny.demo.household import demo_plan
from next_penny.store.connection import StoreError
from next_penny.store.store import Store

Household_ = tuple[Plan, tuple[Entry, ...]]


def is_possible(household: Household_) -> bool:
    plan, entries = household
    settled = [(entry.flow, entry.nominal) for entry in entries if entry.flow]
    if len(settled) > len(set(settled)):
        return False
    return not check(plan) and not any(check_entry(plan, entry) for entry in entries)


def dump(store: Store) -> list[str]:
    """The whole file as SQL, without the undo log itself."""
    lines = list(store._connection.iterdump())
    return sorted(line for line in lines if line.startswith("INSERT") and "undo_" not in line and "sqlite_" not in line)


@given(households().filter(is_possible), households().filter(is_possible))
def test_what_goes_in_comes_out_and_undo_takes_it_back(first: Household_, second: Household_) -> None:
    store = Store(":memory:")
    states = [dump(store)]
    for plan, entries in (first, second):
        store.replace(plan, entries, "Replaced")
        assert (store.plan(), store.entries()) == (plan, entries)
        expected, read = books_from_entries(entries, TODAY), store.books(TODAY)
        assert {k: v for k, v in read.before.items() if v} == {k: v for k, v in expected.before.items() if v}
        assert (read.ahead, dict(read.settled)) == (expected.ahead, dict(expected.settled))
        states.append(dump(store))
    for place in (1, 0):
        store.undo()
        assert dump(store) == states[place]
    for place in (1, 2):
        store.redo()
        assert dump(store) == states[place]


def seen(store: Store) -> tuple[list[list[tuple[int, int]]], dict[str, list[tuple[int, int]]]]:
    """What the interface shows of a file: every account's coming days, and what changed on each day before."""
    forecast = project(store.plan(), store.books(TODAY), TODAY, TODAY + timedelta(days=60))
    return [run.levels for run in forecast.runs], {
        account: list(days) for account, days in store.daily_changes(TODAY).items() if days
    }


@given(households().filter(is_possible), st.data())
def test_what_is_remembered_of_the_file_is_what_the_file_says(household: Household_, data: st.DataObject) -> None:
    plan, entries = household
    with TemporaryDirectory() as folder:
        file = Path(folder) / "home.sqlite3"
        store = Store(file)
        store.replace(plan, (), "Moved in")
        for entry in entries:
            twin = replace(entry, id=f"{entry.id}-twin", nominal=None, flow=None)
            later = replace(twin, id=entry.id, date=entry.date + timedelta(days=1))
            for item in (entry, *data.draw(st.sampled_from([(), (later,), (None,), (None, entry), (twin,)]))):
                seen(store)
                store.apply([PlanChange("entry", item.id if item else entry.id, item)], "Recorded")
                fresh = Store(file)
                assert seen(store) == seen(fresh)
                fresh.close()
        assert seen(store)[0] == [run.levels for run in project(
            plan, books_from_entries(store.entries(), TODAY), TODAY, TODAY + timedelta(days=60)).runs]  # fmt: skip
        store.close()


@given(st.lists(st.tuples(st.integers(0, 4), st.sampled_from(["put", "take"]), st.integers(0, 99)), max_size=12))
def test_any_run_of_changes_can_be_undone_and_redone(steps: list[tuple[int, str, int]]) -> None:
    store = Store(":memory:")
    account = Account("a", "A", "checking", "USD", Opening(TODAY, 0))
    store.apply([PlanChange("account", "a", account)], "Added A")
    states = [dump(store)]
    for place, action, amount in steps:
        id = f"f{place}"
        if action == "take" and id not in store.plan().flow_by_id:
            continue
        flow = Flow(id, "O'Brien's", "bill", amount, from_account="a", dates=(TODAY,), notes="a\nb; ''")
        store.apply([PlanChange("flow", id, flow if action == "put" else None)], "Changed")
        states.append(dump(store))
    for state in states[-2::-1]:
        store.undo()
        assert dump(store) == state
    for state in states[1:]:
        store.redo()
        assert dump(store) == state
    assert store.redo() is None


def test_undo_survives_a_restart_and_a_new_change_ends_redo(tmp_path: Path) -> None:
    file = tmp_path / "home.sqlite3"
    store = Store(file)
    store.apply([PlanChange("account", "a", Account("a", "A", "cash", "USD", Opening(TODAY, 5)))], "Added “A”")
    store.close()
    store = Store(file)
    assert store.history().undo == "Added “A”"
    assert store.undo() == "Added “A”"
    assert (store.plan().accounts, store.history().redo) == ((), "Added “A”")
    store.apply([PlanChange("account", "b", Account("b", "B", "cash", "USD", Opening(TODAY, 5)))], "Added “B”")
    assert store.history().redo is None
    other = Store(file)
    other.undo()
    assert store.plan().accounts == ()


def test_a_refused_change_changes_nothing() -> None:
    store = Store(":memory:")
    store.replace(*demo_plan(TODAY), "Moved in")
    before = dump(store)
    with pytest.raises(PlanError, match="This account is used by") as refusal:
        store.apply([PlanChange("account", "joint", None)], "Deleted")
    assert refusal.value.problems[0].loc == ("account", "joint")
    flow = store.plan().flow_by_id["mortgage"]
    with pytest.raises(PlanError, match="what has happened is kept"):
        store.apply([PlanChange("flow", flow.id, None)], "Deleted")
    unbalanced = Entry("e", TODAY, "Shop", (Leg(-5, account="joint"), Leg(4, category="groceries")))
    with pytest.raises(PlanError, match="must sum to zero"):
        store.apply([PlanChange("entry", "e", unbalanced)], "Added")
    assert dump(store) == before
    assert store.history().undo == "Moved in"


def test_what_is_not_a_household_is_refused(tmp_path: Path) -> None:
    text = tmp_path / "notes.txt"
    text.write_text("milk, bread, " * 100)
    with pytest.raises(StoreError, match="not an SQLite file"):
        Store(text)
    other = tmp_path / "other.sqlite3"
    connection = sqlite3.connect(other)
    connection.execute("CREATE TABLE bookmarks (url TEXT)")
    connection.commit()
    connection.close()
    with pytest.raises(StoreError, match="another program"):
        Store(other)
    newer = tmp_path / "newer.sqlite3"
    Store(newer).close()
    connection = sqlite3.connect(newer)
    connection.execute("PRAGMA user_version = 9999")
    connection.close()
    with pytest.raises(StoreError, match="newer version"):
        Store(newer)
    assert text.read_text().startswith("milk")
    with pytest.raises(StoreError, match="cannot be opened"):
        Store(tmp_path / "no" / "such" / "folder.sqlite3")
