"""The household's file as the rest of the app sees it: one moment for every question, one door for every change.

A reading is one read transaction: whatever is asked of it is of one moment, however many processes write meanwhile. A
change is worked out inside its write transaction, from the moment that it is written in. What was read is kept in
memory for as long as the file is at the same revision, so that previews while someone types cost no SQL.
"""

import contextlib
import sqlite3
import threading
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import date
from pathlib import Path
from typing import NamedTuple

from next_penny.core.changing import change_problems, entry_list_problems, merge_problem, receipt_problems
from next_penny.core.check import check
from next_penny.core.flows.assumed import laid_over, moment_of
from next_penny.core.moment import Memory, Moment
from next_penny.core.overlay import PlanChange, overlay
from next_penny.core.plan import Entry, Plan
from next_penny.core.problems import PlanError
from next_penny.store import accounts, entries, plans, receipts, restoring, undo
from next_penny.store.backups import Backup, BackupError, BackupKind, Backups, write_copy
from next_penny.store.connection import StoreError, connect, connect_folder, connect_reader
from next_penny.store.door import Door, read_door, write_door
from next_penny.store.faults import FileFault
from next_penny.store.folding import Folding
from next_penny.store.reading import Reading
from next_penny.store.same_file import SameFile


class Decision(NamedTuple):
    """What a change comes to, worked out from the moment in which it is written; `label` says it in words."""

    changes: Sequence[PlanChange]
    label: str
    notes: Sequence[str] = ()


class Done(NamedTuple):
    """A change that was made, what could be undone and redone after it, and the household as it then was."""

    label: str | None
    history: undo.History
    moment: Moment
    notes: Sequence[str] = ()


@dataclass(frozen=True)
class _Held:
    """What was read of the file at one revision: the plan, and moments by the day they are seen from."""

    number: int
    plan: Plan
    moments: dict[date, Moment] = field(default_factory=dict)


# As many may read at once of a file that lost its name; others are opened as they are needed.
_READERS_AT_HAND, _READER_SECONDS = 8, 2.0


class Store:
    """One household's file. Safe to use from several threads, and beside other processes."""

    def __init__(self, path: Path | str) -> None:
        self.path = Path(path).absolute()
        self.backups = Backups(self.path)
        self._writing, self._folding_now = threading.Lock(), threading.Lock()
        self._held: _Held | None = None
        self._open()

    def _open(self) -> None:
        self._connection = connect(self.path)
        # Why nothing is open, if nothing is.
        self._shut: str | None = None
        self._file = SameFile(self.path)
        # Opened while the path is surely this file: should another be put there, these go on reading what was.
        self._idle = [connect_reader(self._file) for _ in range(_READERS_AT_HAND)]
        self._readers = set(self._idle)
        self._folder = connect_folder(self._file)
        self._folding = Folding(self._fold)

    def close(self) -> None:
        """Fold the log into the file and let go of it."""
        with self._writing, self._folding_now:
            self._close()

    def _close(self) -> None:
        self._folding.stop()
        while self._idle:
            self._idle.pop().close()
        self._folder.close()
        self._connection.close()

    def _fold(self) -> bool:
        """Fold the log in, and make the day's backup if there is none. Whether nothing is left to do."""
        with self._folding_now:
            try:
                self._file.check()
                (is_busy, _, _) = self._folder.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()
                # What the file says from now on: less than that, and somebody put an older one there.
                self._file.check()
                if not is_busy and _revision(self._folder) > 1:
                    self.backups.daily(self._folder)
            except (FileFault, sqlite3.ProgrammingError, BackupError):
                return True  # it is not ours to fold, or closed; a backup that fails is tried after the next change
            except sqlite3.Error:
                return False
            return not is_busy

    @contextmanager
    def reading(self, today: date) -> Iterator[Reading]:
        """The household at one moment, seen from a day: everything that is read within is of that moment."""
        begun = self.begin_reading(today)
        try:
            yield begun
        finally:
            self.end_reading(begun)

    def begin_reading(self, today: date) -> Reading:
        """Begin a reading, which `end_reading` ends. Raises FileFault."""
        if self._shut is not None:
            raise FileFault(self._shut, is_other=True)
        connection = self._reader()
        connection.execute("BEGIN")
        return Reading(connection, _revision(connection), today, self._moment)

    def _reader(self) -> sqlite3.Connection:
        """A connection to read with: one at hand, or one more. Raises FileFault."""
        given_up = time.monotonic() + _READER_SECONDS
        while True:
            with contextlib.suppress(IndexError):
                return self._idle.pop()
            try:
                connection = connect_reader(self._file)
            except FileFault:
                # The name leads elsewhere: only those at hand read what was open, one after the other.
                if time.monotonic() > given_up:
                    raise
                time.sleep(0.05)
            else:
                self._readers.add(connection)
                return connection

    def end_reading(self, reading: Reading) -> None:
        """Let the moment go."""
        reading.connection.execute("COMMIT")
        if reading.connection in self._readers:
            self._idle.append(reading.connection)
        else:
            reading.connection.close()  # of a file that was let go of meanwhile

    def _moment(self, connection: sqlite3.Connection, number: int, today: date) -> Moment:
        """The household at a revision, from memory or from the file. A moment that others know is not waited for."""
        held = self._held
        if held is None or held.number != number:
            read = _Held(number, plans.read_plan(connection))
            if held is None or held.number < number:
                self._held = read
            before, held = held, read
        else:
            before = held
        if today not in held.moments:
            memory = next(iter(before.moments.values())).memory if before and before.moments else Memory()
            held.moments[today] = moment_of(held.plan, entries.read_books(connection, today), today, memory)
        return held.moments[today]

    def number(self) -> int:
        """How often the household has been changed: another number, another household."""
        with self.reading(date.min) as reading:
            return reading.number

    def change(self, today: date, decide: Callable[[Reading], Decision]) -> Done:
        """Make a change as one undoable step; new entries remember that they were recorded `today`.

        `decide` works it out from the household as it is at that moment. Raises PlanError, and changes nothing, if the
        household could not be so.
        """
        with self._transaction() as connection:
            before = Reading(connection, _revision(connection), today, self._moment)
            decision = decide(before)
            plan = overlay(before.moment.plan, decision.changes)
            problems = change_problems(before.moment, plan, decision.changes, before)
            if problems:
                raise PlanError(problems)
            after = laid_over(before.moment, decision.changes, before.entry)
            with _step(connection, decision.label):
                for change in decision.changes:
                    plans.write(connection, change, today)
            number, history = _advance(connection), undo.history(connection)
        self._held = _Held(number, after.plan, {today: after})
        return Done(decision.label, history, after, decision.notes)

    def replace(self, today: date, plan: Plan, recorded: Iterable[Entry], label: str) -> Done:
        """Put a whole household in the place of the one in the file, as one undoable step."""
        recorded = tuple(recorded)

        def put(reading: Reading) -> str:
            _refuse_replacement(plan, recorded, reading)
            with _step(reading.connection, label):
                plans.replace(reading.connection, plan, recorded)
            return label

        return self._done(today, put)

    def check_replacement(self, today: date, plan: Plan, recorded: Iterable[Entry]) -> None:
        """Raises PlanError where a whole household could not take the place of the one in the file."""
        with self.reading(today) as reading:
            _refuse_replacement(plan, tuple(recorded), reading)

    def merge_category(self, today: date, source: str, into: str) -> Done:
        """Put everything of one category into another, as one undoable step."""

        def merge(reading: Reading) -> str:
            held = reading.moment.plan.category_by_id
            problem = merge_problem(held, source, into)
            if problem is not None:
                raise PlanError([problem])
            label = f"Merged “{held[source].name}” into “{held[into].name}”"
            with _step(reading.connection, label):
                accounts.merge_category(reading.connection, source, into)
            problems = check(plans.read_plan(reading.connection))
            if problems:
                raise PlanError(problems)
            return label

        return self._done(today, merge)

    def decline_candidate(self, today: date, key: str, label: str) -> Done:
        """Offer something as a flow no more, as one undoable step."""

        def decline(reading: Reading) -> str:
            with _step(reading.connection, label):
                reading.connection.execute("INSERT OR IGNORE INTO declined_candidate (key) VALUES (?)", (key,))
            return label

        return self._done(today, decline)

    def undo(self, today: date) -> Done:
        """Take back the newest change; the label is what it was, or None."""
        return self._done(today, lambda reading: undo.undo(reading.connection))

    def redo(self, today: date) -> Done:
        """Bring back the change that was undone last; the label is what it was, or None."""
        return self._done(today, lambda reading: undo.redo(reading.connection))

    def store_receipt(self, content: bytes, media_type: str, today: date) -> str:
        """Keep a receipt's file, for an entry to refer to. Returns what names it."""
        with self._transaction() as connection:
            receipts.drop_unused(connection, today)
            return receipts.store_file(connection, content, media_type, today)

    def back_up(self, kind: BackupKind) -> Backup:
        """A backup beside the file, of this moment. Raises BackupError."""
        with self.reading(date.min) as reading:
            return self.backups.make(reading.connection, kind)

    def back_up_to(self, path: Path) -> None:
        """A backup as a file of one's own choosing. Raises BackupError."""
        with self.reading(date.min) as reading:
            write_copy(reading.connection, path)

    def restore(self, today: date, backup: Path, label: str) -> Done:
        """Let all be as a backup has it, as one undoable step; the password stays. Raises BackupError.

        What is replaced is kept as a backup of its own.
        """

        def put(reading: Reading) -> str:
            with _step(reading.connection, label):
                restoring.put_in_place(reading.connection)
            return label

        with restoring.current_copy(backup) as copy:
            self.back_up("before-restore")
            with self._writing:
                self._connection.execute("ATTACH ? AS other", (str(copy),))
                try:
                    return self._worked(today, put)
                finally:
                    self._connection.execute("DETACH other")

    def door(self) -> Door | None:
        """The password, as it is kept; None where there is none."""
        with self.reading(date.min) as reading:
            return read_door(reading.connection)

    def set_door(self, door: Door | None) -> None:
        """Set or remove the password. It is no matter of undo."""
        with self._transaction() as connection:
            write_door(connection, door)

    def fault(self) -> str | None:
        """Why nothing can be written now, in a sentence: the path is not the file that is open any more."""
        if self._shut is not None:
            return self._shut
        try:
            self._file.check()
        except FileFault as error:
            return str(error)
        return None

    def reopen(self) -> None:
        """Let go of what is open, and open what the path is now. Raises StoreError.

        Of another file it is looked first whether it can be opened: if not, what is open stays.
        """
        with self._writing, self._folding_now:
            if self._shut is None:
                self._file.put_log_aside()
                if not self._file.is_there:
                    connect(self.path).close()
                self._close()
            self._held = None
            try:
                self._open()
            except StoreError as error:
                self._shut = str(error)
                raise

    def put_back(self) -> None:
        """Write what is open to the path again, if nothing is there any more. Raises BackupError, StoreError."""
        if self.path.exists():
            raise BackupError(f"There is a file at {self.path}: open that, or move it away first.")
        self.back_up_to(self.path)
        self.reopen()

    def forget_history(self) -> None:
        """Let what was done so far be the beginning: nothing of it can be undone."""
        with self._transaction() as connection:
            undo.forget(connection)

    def _done(self, today: date, work: Callable[[Reading], str | None]) -> Done:
        """Do something else than lay changes over the plan, in one transaction; the household is read anew after it."""
        with self._writing:
            return self._worked(today, work)

    def _worked(self, today: date, work: Callable[[Reading], str | None]) -> Done:
        """The same for who holds the lock."""
        connection = self._connection
        with self._written():
            label = work(Reading(connection, _revision(connection), today, self._moment))
            number, history = _advance(connection), undo.history(connection)
            moment = self._moment(connection, number, today)
        return Done(label, history, moment)

    @contextmanager
    def _transaction(self) -> Iterator[sqlite3.Connection]:
        with self._writing, self._written():
            yield self._connection

    @contextmanager
    def _written(self) -> Iterator[None]:
        """A write transaction, for who holds the lock: all of it is in the file at the end, or nothing."""
        if self._shut is not None:
            raise FileFault(self._shut, is_other=True)
        self._file.check()
        connection = self._connection
        connection.execute("BEGIN IMMEDIATE")
        try:
            yield
            connection.execute("COMMIT")
        except BaseException:
            # SQLite has rolled back by itself where the disk was full.
            if connection.in_transaction:
                connection.execute("ROLLBACK")
            if self._held is not None and self._held.number > _revision(connection):
                self._held = None  # read of what is not to be
            raise
        self._folding.soon()


def _refuse_replacement(plan: Plan, recorded: Sequence[Entry], reading: Reading) -> None:
    problems = [*check(plan), *entry_list_problems(plan, recorded), *receipt_problems(recorded, reading)]
    if problems:
        raise PlanError(problems)


def _revision(connection: sqlite3.Connection) -> int:
    (number,) = connection.execute("SELECT number FROM revision").fetchone()
    return int(number)


def _advance(connection: sqlite3.Connection) -> int:
    """Count a change, within its transaction. Returns the revision that it makes."""
    connection.execute("UPDATE revision SET number = number + 1")
    return _revision(connection)


@contextmanager
def _step(connection: sqlite3.Connection, label: str) -> Iterator[None]:
    step = undo.begin_step(connection, label)
    yield
    undo.end_step(connection, step)
