"""The commands that look after a household's file: backup, restore, export, import, password."""

import argparse
import contextlib
import getpass
import os
import sqlite3
import sys
from datetime import date, datetime
from pathlib import Path
from typing import Literal, get_args

from next_penny.api.accounts.bank_files.looking import look_at
from next_penny.api.accounts.bank_files.models import ImportRequest
from next_penny.api.accounts.bank_files.taking import Result, taken_in
from next_penny.api.http.errors import Refused, from_validation
from next_penny.api.http.passwords import lock, problem_of
from next_penny.core.problems import NextPennyError, PlanError
from next_penny.core.review.differences import Difference, differences
from next_penny.formats.bank_files.texts import BankFileError
from next_penny.formats.documents.plan import DocumentErrors, PlanDocument, read_plan_document
from next_penny.formats.json_pieces import loads
from next_penny.store.backups.kept import Backups
from next_penny.store.backups.preview import Held, look
from next_penny.store.backups.restoring import copy_from_elsewhere, current_copy
from next_penny.store.exporting import exported
from next_penny.store.file.connection import connect_alone, has_household
from next_penny.store.file.content import state_of
from next_penny.store.file.copies import put_bytes, write_copy
from next_penny.store.file.faults import DamagedFile
from next_penny.store.moments import Reading
from next_penny.store.store import Store
from next_penny.store.transactions import Decision

# Each command, what it does, and what the file is that it is given.
COMMANDS: dict[str, tuple[str, str | None]] = {
    "backup": ("write the whole household to a file, while the app may be running", "the file to write"),
    "restore": ("let the household be as a backup has it (undo takes it back)", "the backup"),
    "export": ("write everything to a file: .json plan document, .csv entries, .xlsx workbook, .zip receipts",
               "the file to write"),
    "import": ("take in a bank's file, or replace the household by a plan document (undo takes it back)", "the file"),
    "password": ("set, change or remove the password of the app", None),
}  # fmt: skip
_Ending = Literal["json", "csv", "xlsx", "zip"]
_STAY_MINUTES = 480


class CannotBeDone(NextPennyError):
    """What a person can put right, in a sentence."""


def run(options: argparse.Namespace, file: Path, today: date) -> str:
    """Do what a command says. Returns the sentence to print. Raises CannotBeDone, StoreError, BackupError."""
    with contextlib.suppress(OSError, ValueError, RuntimeError):
        file = file.resolve()  # where its log and its backups lie
    other = Path(options.other) if COMMANDS[options.command][1] else file
    if options.command == "restore":
        return _restore(other, file, today, is_unreadable_put_aside=options.even_if_unreadable)
    if not file.exists():
        raise CannotBeDone(f"There is no household at {file}: name another with --file.")
    if options.command in ("backup", "export"):
        _check_may_be_replaced(file, other, is_forced=options.force)
    store = Store(file)
    try:
        match options.command:
            case "backup":
                return _backup(store, other)
            case "export":
                return _export(store, other, today)
            case "import" if options.account is not None or not _is_json(other):
                return _import_lines(store, other, today, options.account, is_only_looked_at=options.dry_run)
            case "import":
                return _import(store, other, today, is_only_looked_at=options.dry_run)
            case _:
                return _password(store, is_removed=options.remove)
    finally:
        store.close()


def _backup(store: Store, other: Path) -> str:
    store.back_up_to(other.absolute())
    return f"Backed up to {other}: {other.stat().st_size:,} bytes, checked."


def _restore(other: Path, file: Path, today: date, *, is_unreadable_put_aside: bool) -> str:
    if not other.is_file():
        raise CannotBeDone(f"There is no file {other}.")
    _refuse_itself(file, other)
    is_ours = file.exists() and Backups(file).folder.resolve() == other.resolve().parent
    with current_copy(other) if is_ours else copy_from_elsewhere(other) as copy:
        holding = look(copy, today)
        try:
            store = Store(file) if file.exists() else None
        except DamagedFile as error:
            if not is_unreadable_put_aside and not _says_whose_it_is(file):
                raise CannotBeDone(
                    f"{file} cannot be read at all, so that it may be anything: it is left as it is. If it was the"
                    " household, add --even-if-unreadable: it is put aside, not thrown away."
                ) from error
            aside = _put_aside(file)
            _write_new(copy, file)
            return f"Restored {other}; what was at {file} could not be opened, and is kept as {aside.name}."
        if store is None:
            _write_new(copy, file)
            return f"Restored {other} to {file}: {_holds(holding)}."
        try:
            store.restore(today, copy, f"Restored {other.name}")
        finally:
            store.close()
    return f"Restored {other}: {_holds(holding)}; undo takes it back."


def _says_whose_it_is(file: Path) -> bool:
    """Whether a damaged file still says that it is a household, and whose; an empty one is what its backups are of."""
    if not file.stat().st_size:
        return bool(Backups(file).all())
    try:
        with contextlib.closing(connect_alone(file)) as connection:
            return has_household(file) and bool(state_of(connection))
    except sqlite3.Error:
        return False


def _holds(holding: Held) -> str:
    last = f", the last of {holding.last.date.isoformat()}" if holding.last else ""
    return f"{len(holding.accounts)} accounts, {holding.entries:,} entries{last}"


def _put_aside(file: Path) -> Path:
    """A file that cannot be opened is put aside with its log, never thrown away. Returns its new name."""
    aside = file.with_name(f"{file.name}-damaged-{datetime.now():%Y%m%d-%H%M%S}")  # noqa: DTZ005 - a name for a person
    try:
        os.replace(file, aside)
        for ending in ("-wal", "-shm", "-journal"):
            beside = file.with_name(file.name + ending)
            if beside.exists():
                os.replace(beside, aside.with_name(aside.name + ending))
    except OSError as error:
        raise CannotBeDone(f"{file} cannot be put aside: {error.strerror}.") from error
    return aside


def _write_new(copy: Path, file: Path) -> None:
    file.parent.mkdir(parents=True, exist_ok=True)
    with contextlib.closing(sqlite3.connect(copy)) as connection:
        write_copy(connection, file.absolute())


def _export(store: Store, other: Path, today: date) -> str:
    ending = other.suffix.lower().removeprefix(".")
    if ending not in get_args(_Ending):
        raise CannotBeDone(f"“{other.name}” should end in .json, .csv, .xlsx or .zip: that says what is written.")
    with store.reading(today) as reading:
        content = exported(reading, ending)  # type: ignore[arg-type]
    try:
        put_bytes(other.absolute(), content)
    except OSError as error:
        raise CannotBeDone(f"{other} cannot be written: {error.strerror}.") from error
    return f"Exported to {other}: {len(content):,} bytes."


def _import(store: Store, other: Path, today: date, *, is_only_looked_at: bool) -> str:
    document = _document(other)
    plan, recorded = document.to_core(), document.core_entries()
    with store.reading(today) as reading:
        found_differences = differences(reading.moment.plan, reading.entries(), plan, recorded)
    wording = "; ".join(_told(difference) for difference in found_differences) or "nothing"
    try:
        if is_only_looked_at:
            store.check_replacement(today, plan, recorded, document.memory())
            return f"{other} would change: {wording}; nothing was changed."
        store.back_up("before-restore")
        store.replace(today, plan, recorded, f"Imported {other.name}", document.memory())
    except PlanError as error:
        problem = error.problems[0]
        raise CannotBeDone(f"{other}: {'.'.join(map(str, problem.loc))}: {problem.message}") from error
    return f"Imported {other}: {wording}; undo takes it back."


def _is_json(other: Path) -> bool:
    """Whether a file is to be read as a plan document: one that is not there is told as such."""
    try:
        with other.open("rb") as file:
            return file.read(4096).lstrip(b"\xef\xbb\xbf \t\r\n")[:1] in (b"{", b"[", b"")
    except OSError:
        return True


def _import_lines(
    store: Store, other: Path, today: date, account: str | None, *, is_only_looked_at: bool
) -> str:  # fmt: skip
    """Take a bank's file in as it is looked at; what is only offered waits."""
    made: list[Result] = []

    def decide(reading: Reading) -> Decision:
        look = look_at(reading, other.read_bytes(), {}, account, None)
        if look.table is not None and look.table.columns is None:
            raise CannotBeDone(f"{other}: no column of days and amounts was found: take it in on the screen.")
        if not any(look.accounts):
            raise CannotBeDone(f"{other}: say which account it is of, with --account ID.")
        made.append(taken_in(reading, look, ImportRequest(look=look.id, statements=None, payee_rules=[])))
        return Decision(made[-1].changes, made[-1].label)

    try:
        if is_only_looked_at:
            with store.reading(today) as reading:
                decide(reading)
        else:
            store.change(today, decide)
    except OSError as error:
        raise CannotBeDone(f"{other} cannot be read: {error.strerror}.") from error
    except BankFileError as error:
        raise CannotBeDone(f"{other}: {error}") from error
    except (PlanError, Refused) as error:
        said = error.problems[0].message if isinstance(error, PlanError) else error.refusals[0].msg
        raise CannotBeDone(f"{other}: {said}") from error
    counts, result = made[-1].counts, made[-1]
    wording = (
        f"{counts.taken:,} lines, of which {counts.matched:,} were entries already and {counts.settled:,} settled"
        f" something; {result.known:,} known, {result.waiting:,} waiting"
    )
    if is_only_looked_at:
        return f"{other} would bring: {wording}; nothing was changed."
    return f"Took in {other}: {wording}; undo takes it back."


def _document(other: Path) -> PlanDocument:
    try:
        return read_plan_document(loads(other.read_bytes()))
    except OSError as error:
        raise CannotBeDone(f"{other} cannot be read: {error.strerror}.") from error
    except DocumentErrors as error:
        first = from_validation(error.errors)[0]
        raise CannotBeDone(f"{other}: {'.'.join(map(str, first.loc))}: {first.msg}") from error
    except (ValueError, RecursionError) as error:
        raise CannotBeDone(f"{other} is no plan document: it is not JSON.") from error


def _told(difference: Difference) -> str:
    counted = [(len(difference.added), "new"), (len(difference.changed), "changed"), (len(difference.removed), "gone")]
    return f"{difference.kind}: " + ", ".join(f"{count:,} {what}" for count, what in counted if count)


def _password(store: Store, *, is_removed: bool) -> str:
    if is_removed:
        store.set_door(None)
        return f"{store.path} asks for no password any more."
    new = _asked("New password: ")
    if sys.stdin.isatty() and _asked("The same again: ") != new:
        raise CannotBeDone("The two are not the same: nothing was changed.")
    problem = problem_of(new)
    if problem is not None:
        raise CannotBeDone(problem)
    store.set_door(lock(new, _STAY_MINUTES))
    return f"{store.path} now asks for this password; if it is forgotten, this command sets another."


def _asked(question: str) -> str:
    return getpass.getpass(question) if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")


def _refuse_itself(file: Path, other: Path) -> None:
    if file.exists() and other.exists() and file.samefile(other):
        raise CannotBeDone("This is the household's file itself: name another.")


def _check_may_be_replaced(file: Path, other: Path, *, is_forced: bool) -> None:
    """Raises CannotBeDone where a file that is to be written is something that should stay."""
    _refuse_itself(file, other)
    if other.is_symlink() or (other.exists() and not other.is_file()):
        raise CannotBeDone(f"{other} is no ordinary file: name another.")
    if other.exists() and not is_forced and has_household(other):
        raise CannotBeDone(f"{other} is a household itself: name another, or add --force to replace it.")
