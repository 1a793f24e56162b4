"""Files that are not ours: brought as backups, named to commands, damaged, or lying in the wrong place."""

import contextlib
import os
import sqlite3
import subprocess
from collections.abc import Callable, Iterator
from datetime import date
from pathlib import Path

import pytest
from test_kills import TODAY, held, put

from next_penny import cli
from next_penny.demo import fill_with_demo
from next_penny.store.backups.restoring import copy_from_elsewhere
from next_penny.store.file.faults import BackupError
from next_penny.store.file.schema import APPLICATION_ID
from next_penny.store.store import Store
from stores import new_file, new_store, restore


@pytest.fixture(scope="module")
def demo() -> Path:
    """The demo household as a backup that somebody brings."""
    store = new_store()
    fill_with_demo(store, date(2027, 3, 1))
    put(store, "undone later")
    file = new_file()
    store.back_up_to(file)
    store.close()
    return file


def doctored(demo: Path, *statements: str) -> Path:
    """A copy of it in which somebody wrote with another program."""
    file = new_file()
    file.write_bytes(demo.read_bytes())
    with contextlib.closing(sqlite3.connect(file)) as connection:
        connection.executescript("; ".join(["PRAGMA foreign_keys = OFF", *statements]))
    return file


STRANGE = {
    "a view": ["CREATE VIEW account_names AS SELECT name FROM account"],
    "a table of others": ["CREATE TABLE bookmarks (url TEXT)"],
    "a column more": ["ALTER TABLE entry ADD COLUMN colour TEXT"],
    "an index more": ["CREATE INDEX entry_payee ON entry (payee)"],
    "text as an amount": ["UPDATE leg SET amount = 'a lot' WHERE seq = 5"],
    "half a cent": ["UPDATE leg SET amount = 10.5 WHERE seq = 5"],
    "a memory of nobody's": ["UPDATE expected SET legs = '[{\"amount\": 1}]' WHERE seq = 5"],
    "a memory of two sorts": ["UPDATE expected SET is_allowance = 1 WHERE seq = 5"],
    "a memory twice": [
        "INSERT INTO expected (source, is_allowance, nominal, lands, name, kind, legs, categories) SELECT "
        "source, is_allowance, nominal, lands, name, kind, legs, categories FROM expected WHERE seq = 5"
    ],
    "no day of memory": ["DELETE FROM expected_until"],
    "no such day": ["UPDATE entry SET date = '2027-02-31' WHERE seq = 5"],
    "an unknown kind": ["UPDATE account SET kind = 'lottery' WHERE seq = 1"],
    "too much": ["UPDATE account SET opening_balance = 1000000000000000000 WHERE seq = 1"],
    "legs that do not sum to zero": ["UPDATE leg SET amount = amount + 1 WHERE seq = 5"],
    "a leg of no entry": ["UPDATE leg SET entry = 'nobody' WHERE seq = 5"],
    "two households": ["PRAGMA ignore_check_constraints = ON", "INSERT INTO household (id) VALUES (2)"],
    "no lineage": ["DELETE FROM lineage"],
    "a rule that is none": ["UPDATE flow_rule SET text = 'FREQ=SOMETIMES' WHERE seq = 1"],
    "terms that are none": ["UPDATE account SET loan = '{}' WHERE loan IS NOT NULL"],
    "a receipt of another name": ["INSERT INTO receipt_file VALUES ('ab', 'image/png', x'00', '2027-01-01')"],
    "a newer version": ["PRAGMA user_version = 9999"],
    "another program's": ["PRAGMA application_id = 7"],
}


@pytest.mark.parametrize("statements", STRANGE.values(), ids=STRANGE.keys())
def test_a_doctored_backup_is_refused_in_a_sentence(demo: Path, statements: list[str]) -> None:
    file = doctored(demo, *statements)
    with pytest.raises(BackupError) as refused, copy_from_elsewhere(file):
        pass
    assert str(refused.value).endswith(".")
    assert "Error" not in str(refused.value)


def test_triggers_and_undo_of_others_never_run(demo: Path) -> None:
    file = doctored(
        demo,
        "CREATE TRIGGER trap AFTER INSERT ON category BEGIN DELETE FROM entry; END",
        "DROP TRIGGER undo_insert_category",
        "CREATE TRIGGER undo_insert_category AFTER INSERT ON category BEGIN DELETE FROM leg; END",
        "UPDATE undo_line SET statement = 'DELETE FROM account'",
        "INSERT INTO undo_step (label) VALUES ('Nice')",
        "UPDATE door SET minutes = 'long'",
    )
    store = new_store()
    with copy_from_elsewhere(file) as copy:
        backup = store.backups.take(copy, "brought")
    taken = store.backups.file(backup.name)
    assert taken is not None
    restore(store, taken)
    with store.reading(TODAY) as reading:
        before = len(reading.entries())
    put(store, "more")
    with store.reading(TODAY) as reading:
        assert len(reading.entries()) == before > 100
    assert [store.undo(TODAY).label for _ in range(3)] == ["Added more", "Restored", None]
    store.close()


def run(*words: str) -> int:
    return cli.main(list(map(str, words)))


def another_programs(file: Path) -> None:
    with contextlib.closing(sqlite3.connect(file)) as connection:
        connection.executescript("CREATE TABLE bookmarks (url TEXT); INSERT INTO bookmarks VALUES ('x')")


def an_empty_one(file: Path) -> None:
    with contextlib.closing(sqlite3.connect(file)) as connection:
        connection.executescript("PRAGMA user_version = 1; VACUUM")


def a_newer_one(file: Path) -> None:
    Store(file).close()
    with contextlib.closing(sqlite3.connect(file)) as connection:
        connection.execute("PRAGMA user_version = 9999")


def a_text(file: Path) -> None:
    file.write_text("milk, bread\n" * 400)


def without_a_first_page(file: Path) -> None:
    store = Store(file)
    put(store, "first")
    store.close()
    content = file.read_bytes()
    file.write_bytes(os.urandom(4096) + content[4096:])


NOT_OURS = [another_programs, an_empty_one, a_newer_one, a_text, without_a_first_page]


@pytest.mark.parametrize("make", NOT_OURS)
def test_commands_leave_what_is_not_ours_as_it_is(
    make: Callable[[Path], None], demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "a file.sqlite3"
    make(file)
    file.chmod(0o640)
    before = file.read_bytes()
    out = str(tmp_path / "out.json")
    for words in (["restore", demo], ["import", demo], ["export", out], ["backup", out], ["password", "--remove"]):
        assert run(*words, "--file", file) == 2
        said = capsys.readouterr().err
        assert said.startswith("next-penny: ")
        assert "Traceback" not in said
    assert (file.read_bytes(), file.stat().st_mode & 0o777) == (before, 0o640)


def test_what_cannot_be_read_at_all_is_put_aside_only_when_that_is_meant(
    demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "ours.sqlite3"
    without_a_first_page(file)
    before = file.read_bytes()
    assert run("restore", demo, "--file", file) == 2
    assert "--even-if-unreadable" in capsys.readouterr().err
    assert run("restore", demo, "--file", file, "--even-if-unreadable") == 0
    (aside,) = tmp_path.glob("ours.sqlite3-damaged-*")
    assert aside.read_bytes() == before
    # A damaged one that still says whose it is needs no more words.
    content = bytearray(file.read_bytes())
    content[4096 * 8 : 4096 * 12] = bytes(4096 * 4)
    file.write_bytes(content)
    assert run("restore", demo, "--file", file) == 0
    # And an empty one is what its backups are of.
    file.write_bytes(b"")
    assert run("serve", "--file", file, "--port", "0") == 2
    assert "is damaged (it is empty)" in capsys.readouterr().err
    newest = next(path for path in sorted((tmp_path / "ours-backups").glob("*.sqlite3")))
    assert run("restore", newest, "--file", file) == 0


@pytest.fixture
def locked(tmp_path: Path) -> Iterator[Path]:
    """A household that another program writes to just now."""
    file = tmp_path / "locked.sqlite3"
    Store(file).close()
    script = "import sqlite3, sys; c = sqlite3.connect(sys.argv[1]); c.execute('BEGIN EXCLUSIVE'); print(1, flush=True); input()"
    with subprocess.Popen(
        ["python3", "-c", script, str(file)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    ) as other:
        assert other.stdout is not None
        other.stdout.readline()
        yield file
        other.kill()


def test_a_locked_household_is_said_to_be_one(locked: Path, demo: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for words in (["restore", demo], ["password", "--remove"]):
        assert run(*words, "--file", locked) == 2
        assert "Another program holds" in (said := capsys.readouterr().err) or "held by another program" in said


def test_what_is_written_replaces_ordinary_files_that_are_no_household(
    demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file, other, link = tmp_path / "ours.sqlite3", tmp_path / "other.sqlite3", tmp_path / "link.json"
    for each in (file, other):
        Store(each).close()
    kept = other.read_bytes()
    link.symlink_to(other)
    (tmp_path / "folder.json").mkdir()
    os.mkfifo(tmp_path / "pipe.json")
    for words in (["backup", other], ["backup", file], ["export", link], ["export", tmp_path / "folder.json"],
                  ["export", tmp_path / "pipe.json"]):  # fmt: skip
        assert run(*words, "--file", file) == 2, words
        assert "name another" in capsys.readouterr().err
    assert other.read_bytes() == kept
    notes = tmp_path / "notes.json"
    notes.write_text("milk")
    notes.chmod(0o644)
    assert run("export", notes, "--file", file) == 0
    assert run("backup", other, "--file", file, "--force") == 0
    assert [each.stat().st_mode & 0o777 for each in (notes, other)] == [0o600, 0o600]


def test_a_flipped_bit_within_a_page_is_said_at_the_start_until_it_is_mended() -> None:
    store = new_store()
    put(store, "Groceries and more")
    assert store.file.rest(is_last=True)
    store.close()
    content = store.path.read_bytes()
    # Where it stands as the category's name, and in nothing else.
    at = content.index(b"Groceries and moreFoodexpense")
    store.path.write_bytes(content[:at] + b"g" + content[at + 1 :])
    store = Store(store.path)
    assert "What is in the file is not what was written (category" in (store.fault() or "")
    kept = next(store.backups.file(backup.name) for backup in store.backups.all() if backup.kind == "kept")
    assert kept is not None
    put(store, "after")
    assert store.file.rest(is_last=True)
    store.close()
    store = Store(store.path)
    assert store.fault()
    restore(store, kept)
    assert held(store) == {"Groceries and more"}
    assert store.fault() is None
    store.close()
    assert Store(store.path).fault() is None


def test_two_starts_make_one_household_and_odd_names_are_passed_over() -> None:
    file = new_file()
    assert APPLICATION_ID.to_bytes(4, "big") == b"NPny"
    first, second = Store(file), Store(file)
    put(first, "a")
    assert held(second) == {"a"}
    for name in ("99999999-999999-daily.sqlite3", "holiday.sqlite3", "x.sqlite3-wal"):
        (first.backups.folder / name).write_bytes(b"")
    assert first.backups.passed_over() == ["99999999-999999-daily.sqlite3", "holiday.sqlite3"]
    assert all(backup.size for backup in first.backups.all())
    first.close()
    second.close()
