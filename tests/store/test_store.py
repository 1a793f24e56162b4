"""The household's file: what goes in comes out, undo takes everything back, and what is not a household is refused."""

import sqlite3
import sys
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

sys.path.insert(0, str(Path(__file__).parent.parent / "core"))
from households import TODAY, documents, read

from next_penny.core.books.books import Books, books_from_entries
from next_penny.core.books.moment import Moment
from next_penny.core.books.recorded import daily_changes
from next_penny.core.checks.plan import check
from next_penny.core.edits.conflicts import entry_list_problems
from next_penny.core.forecast.projection import project
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError
from next_penny.demo.household import demo_plan
from next_penny.store.file.faults import StoreError
from next_penny.store.moments import Reading
from next_penny.store.store import Store
from next_penny.store.transactions import Decision
from stores import new_file, new_store

Household_ = tuple[Plan, tuple[Entry, ...]]
households = documents().map(read)


def is_possible(household: Household_) -> bool:
    plan, entries = household
    return not check(plan) and not list(entry_list_problems(plan, entries))


def test_most_random_households_are_possible() -> None:
    tried: list[bool] = []

    @given(households)
    def try_one(household: Household_) -> None:
        tried.append(is_possible(household))

    try_one()
    assert sum(tried) > len(tried) // 2


def dump(store: Store) -> list[str]:
    """The whole file as SQL, without the undo log itself, the count of changes and what was expected, which undo leaves alone."""
    left_out = ("undo_", "sqlite_", '"revision"', '"checksum"', '"expected')
    lines = (line for line in store.file._writer.iterdump() if line.startswith("INSERT"))
    return sorted(line for line in lines if not any(name in line for name in left_out))


def put(store: Store, *changes: PlanChange, label: str = "Changed") -> None:
    store.change(TODAY, lambda reading: Decision(changes, label))


def moment_in(store: Store) -> Moment:
    with store.reading(TODAY) as reading:
        return reading.moment


@given(households.filter(is_possible), households.filter(is_possible))
def test_what_goes_in_comes_out_and_undo_takes_it_back(first: Household_, second: Household_) -> None:
    store = new_store()
    states = [dump(store)]
    for plan, entries in (first, second):
        store.replace(TODAY, plan, entries, "Replaced")
        with store.reading(TODAY) as reading:
            assert (reading.moment.plan, reading.entries()) == (plan, entries)
            assert plain(reading.moment.recorded) == plain(books_from_entries(entries, TODAY))
        states.append(dump(store))
    for number in (1, 0):
        store.undo(TODAY)
        assert dump(store) == states[number]
    for number in (1, 2):
        store.redo(TODAY)
        assert dump(store) == states[number]


def plain(books: Books) -> list[object]:
    """Books to compare: what comes to nothing is left out."""
    spent = {place: sorted(legs) for place, legs in books.spent.items() if legs}
    settled = {(flow, day): amount for flow, days in books.settled.items() for day, amount in days.items()}
    postings = {account: sorted(rows, key=repr) for account, rows in books.postings.items() if rows}
    return [{id: amount for id, amount in books.before.items() if amount}, books.ahead, settled, spent, postings]


def shown(moment: Moment) -> list[object]:
    """What the interface shows: every account's coming days, and what changed on each day before."""
    until = TODAY + timedelta(days=60)
    runs = [run.levels for run in project(moment, until).runs]
    return [runs, {account.id: daily_changes(moment, account.id) for account in moment.plan.accounts}]


@given(households.filter(is_possible), st.data())
def test_what_is_remembered_of_the_file_is_what_the_file_says(household: Household_, data: st.DataObject) -> None:
    plan, entries = household
    file = new_file()
    store = Store(file)
    store.replace(TODAY, plan, (), "Moved in")
    for entry in entries:
        twin = replace(entry, id=f"{entry.id}-twin", nominal=None, flow=None)
        later = replace(twin, id=entry.id, date=entry.date + timedelta(days=1))
        for item in (entry, *data.draw(st.sampled_from([(), (later,), (None,), (None, entry), (twin,)]))):
            shown(moment_in(store))
            put(store, PlanChange("entry", item.id if item else entry.id, item))
            if data.draw(st.integers(0, 3)) == 0:
                store.undo(TODAY)
                store.redo(TODAY)
            fresh = Store(file)
            assert plain(moment_in(store).recorded) == plain(moment_in(fresh).recorded)
            assert shown(moment_in(store)) == shown(moment_in(fresh))
            fresh.close()
    store.close()


@given(st.lists(st.tuples(st.integers(0, 4), st.sampled_from(["put", "take"]), st.integers(0, 99)), max_size=12))
def test_any_run_of_changes_can_be_undone_and_redone(steps: list[tuple[int, str, int]]) -> None:
    store = new_store()
    account = Account("a", "A", "checking", "USD", Opening(TODAY, 0))
    put(store, PlanChange("account", "a", account), label="Added A")
    states = [dump(store)]
    for number, action, amount in steps:
        id = f"f{number}"
        if action == "take" and id not in moment_in(store).plan.flow_by_id:
            continue
        flow = Flow(id, "O'Brien's", "bill", amount, from_account="a", dates=(TODAY,), notes="a\nb; ''")
        put(store, PlanChange("flow", id, flow if action == "put" else None))
        states.append(dump(store))
    for state in states[-2::-1]:
        store.undo(TODAY)
        assert dump(store) == state
    for state in states[1:]:
        store.redo(TODAY)
        assert dump(store) == state
    assert store.redo(TODAY).label is None


def test_undo_survives_a_restart_and_a_new_change_ends_redo() -> None:
    file = new_file()
    store = Store(file)
    put(store, PlanChange("account", "a", Account("a", "A", "cash", "USD", Opening(TODAY, 5))), label="Added “A”")
    store.close()
    store = Store(file)
    done = store.undo(TODAY)
    assert (done.label, done.moment.plan.accounts, done.history.redo) == ("Added “A”", (), "Added “A”")
    put(store, PlanChange("account", "b", Account("b", "B", "cash", "USD", Opening(TODAY, 5))), label="Added “B”")
    with store.reading(TODAY) as reading:
        assert reading.history().redo is None
    Store(file).undo(TODAY)
    assert moment_in(store).plan.accounts == ()


def test_what_is_left_half_read_holds_no_reading_and_no_change_back() -> None:
    """As the traceback of an error leaves it: whoever comes next begins in the newest moment."""
    file = new_file()
    one, other = Store(file), Store(file)
    one.replace(TODAY, *demo_plan(TODAY), "Moved in")
    left: list[sqlite3.Cursor] = []

    def fail(reading: Reading) -> Decision:
        left.append(reading.connection.execute("SELECT id FROM entry"))
        next(left[-1])
        raise LookupError

    for number in range(3):
        with pytest.raises(LookupError), one.reading(TODAY) as reading:
            fail(reading)
        with pytest.raises(LookupError):
            one.change(TODAY, fail)
        for store, name in ((other, f"other{number}"), (one, f"one{number}")):
            put(store, PlanChange("account", name, Account(name, name, "cash", "USD", Opening(TODAY, 5))))
            assert {moment_in(each).plan.accounts[-1].id for each in (one, other)} == {name}


def test_a_refused_change_changes_nothing() -> None:
    store = new_store()
    store.replace(TODAY, *demo_plan(TODAY), "Moved in")
    before = dump(store)
    with pytest.raises(PlanError, match="This account is used by") as refusal:
        put(store, PlanChange("account", "joint", None))
    assert refusal.value.problems[0].loc == ("account", "joint")
    with pytest.raises(PlanError, match="what has happened is kept"):
        put(store, PlanChange("flow", "mortgage", None))
    unbalanced = Entry("e", TODAY, "Shop", (Leg(-5, account="joint"), Leg(4, category="groceries")))
    with pytest.raises(PlanError, match="must sum to zero"):
        put(store, PlanChange("entry", "e", unbalanced))
    assert dump(store) == before
    with store.reading(TODAY) as reading:
        assert reading.history().undo == "Moved in"


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
