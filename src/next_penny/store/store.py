"""The household's file as the rest of the app sees it: one moment for every question, one door for every change.

A reading is one read transaction: whatever is asked of it is of one moment, however many processes write meanwhile. A
change is worked out inside its write transaction, from the moment that it is written in. What was read is kept in
memory for as long as the file is at the same revision, so that previews while someone types cost no SQL.
"""

import contextlib
import sqlite3
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import date
from pathlib import Path

from next_penny.core.edits.conflicts import change_problems
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.plan.changes import apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.memory import NO_MEMORY, Memory
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError, given_up_by, never, waiting
from next_penny.store.backups import restoring
from next_penny.store.backups.kept import Backup, BackupKind, Backups
from next_penny.store.file.connection import Connection, real_path
from next_penny.store.file.copies import write_copy
from next_penny.store.file.faults import BackupError, CannotWrite, FileFault
from next_penny.store.file.limits import limited
from next_penny.store.measuring import Measuring
from next_penny.store.moments import AtRevision, Reading, Remembered
from next_penny.store.open.open_file import OpenFile
from next_penny.store.remembering import follow, mark_of, write_down
from next_penny.store.sql import plans, receipts, undo
from next_penny.store.sql.password import Door, read_door, write_door
from next_penny.store.transactions import (
    Decision,
    Done,
    advance,
    decided,
    decline,
    merge,
    refuse_replacement,
    revision_of,
    take_back,
    undoable_step,
)


class Store:
    """One household's file. Safe to use from several threads, and beside other processes."""

    def __init__(self, path: Path | str) -> None:
        # Where SQLite puts the log beside it, too: a link's own name says nothing of that.
        self.path = real_path(Path(path))
        self.file = OpenFile(self.path)
        self._remembered = Remembered()
        self.measuring = Measuring()

    @property
    def backups(self) -> Backups:
        """The backups beside the file."""
        return self.file.backups

    def close(self) -> None:
        """Fold the log into the file and let go of it."""
        if self.measuring.stop() and self.file.damage is None:
            with contextlib.suppress(FileFault, CannotWrite, sqlite3.Error), self.beside_the_plan():
                pass  # each transaction writes what was measured
        self.file.close()

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
        connection = self.file.borrow()
        try:
            connection.execute("BEGIN")
            number = revision_of(connection)
            self.file.check_read(connection)
        except BaseException:
            self.file.give_back(connection)
            raise
        return Reading(connection, number, today, self._remembered.find, self.file)

    def end_reading(self, reading: Reading) -> None:
        """Let the moment go."""
        self.file.give_back(reading.connection)

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
            before = self._within(connection, today)
            decision = decided(before, decide)
            plan = apply(before.moment.plan, decision.changes)
            problems = change_problems(before.moment, plan, decision.changes, before)
            if problems:
                raise PlanError(problems)
            after = apply_to_moment(before.moment, decision.changes, before.entry)
            with undoable_step(before, decision.label):
                for change in decision.changes:
                    plans.write(connection, change, today)
            follow(connection, before.moment, after)
            number, history, step = advance(connection), undo.history(connection), undo.newest_id(connection)
        self._remembered.newest = AtRevision(number, after.plan, {today: after})
        self.measuring.soon(step, before.moment, after)
        return Done(decision.label, history, after, number, decision.notes)

    def replace(
        self, today: date, plan: Plan, recorded: Iterable[Entry], label: str, remembered: Memory = NO_MEMORY
    ) -> Done:
        """Put a whole household, and what it remembers, in the place of the one in the file, as one undoable step."""
        recorded = tuple(recorded)

        def put(reading: Reading) -> str:
            refuse_replacement(plan, recorded, remembered, reading)
            with undoable_step(reading, label):
                plans.replace(reading.connection, plan, recorded, remembered)
            return label

        return self._done(today, put)

    def check_replacement(self, today: date, plan: Plan, recorded: Iterable[Entry], remembered: Memory) -> None:
        """Raises PlanError where a whole household could not take the place of the one in the file."""
        with self.reading(today) as reading:
            refuse_replacement(plan, tuple(recorded), remembered, reading)

    def merge_category(self, today: date, source: str, into: str) -> Done:
        """Put everything of one category into another, as one undoable step."""
        return self._done(today, lambda reading: merge(reading, source, into))

    def decline_candidate(self, today: date, key: str, label: str) -> Done:
        """Offer something as a flow no more, as one undoable step."""
        return self._done(today, lambda reading: decline(reading, key, label))

    def undo(self, today: date) -> Done:
        """Take back the newest change; the label is what it was, or None."""
        return self._done(today, lambda reading: undo.undo(reading.connection))

    def redo(self, today: date) -> Done:
        """Bring back the change that was undone last; the label is what it was, or None."""
        return self._done(today, lambda reading: undo.redo(reading.connection))

    def undo_back_to(self, today: date, step: int) -> Done:
        """Take back every change since one, and that one. Raises KeyError where it is not there, or undone already."""
        return self._done(today, lambda reading: take_back(reading, step))

    def store_receipt(self, content: bytes, media_type: str, today: date) -> str:
        """Keep a receipt's file, for an entry to refer to. Returns what names it."""
        self.file.keep_receipt(receipts.name_of(content), content)
        with self.beside_the_plan() as connection:
            receipts.drop_unused(connection, today)
            return receipts.store_file(connection, content, media_type, today)

    def back_up(self, kind: BackupKind) -> Backup:
        """A backup beside the file, of this moment. Raises BackupError."""
        lost = self.file.lost
        backup = self.backups.one(lost.kept.name) if lost is not None and kind == "kept" else None
        if backup is not None:
            return backup  # it was kept at once when the file was found to be another
        with self.reading(date.min) as reading:
            try:
                return self.backups.make(reading.connection, kind)
            except CannotWrite:
                raise
            except BackupError:
                self.file.look_for_damage()  # said on every page from now on
                raise

    def back_up_to(self, path: Path) -> None:
        """A backup as a file of one's own choosing. Raises BackupError."""
        with self.reading(date.min) as reading:
            write_copy(reading.connection, path)

    def restore(self, today: date, copy: Path, label: str) -> Done:
        """Let all be as a copy of a backup has it, as one undoable step; the password stays. Raises BackupError.

        The copy is checked and up to date. What is replaced is kept as a backup of its own.
        """

        is_stopped = given_up_by()

        def put(reading: Reading) -> str:
            with limited(reading.connection, is_stopped), undoable_step(reading, label):
                restoring.put_in_place(reading.connection)
            return label

        if self.file.damage is not None:
            return self._replaced(today, copy, label)
        self.back_up("before-restore")
        with self.file.attached(copy, "other"):
            done = self._done(today, put)
        return done

    def _replaced(self, today: date, copy: Path, label: str) -> Done:
        """A damaged file is not written to row by row: all of it is replaced, and kept aside."""
        self.file.replace_by(copy)
        self._remembered.newest = None
        self.measuring.forget()
        with self.reading(today) as reading:
            return Done(label, reading.history(), reading.moment, reading.number)

    def door(self) -> Door | None:
        """The password, as it is kept; None where there is none."""
        with self.reading(date.min) as reading:
            return read_door(reading.connection)

    def set_door(self, door: Door | None) -> None:
        """Set or remove the password. It is no matter of undo."""
        with self.beside_the_plan() as connection:
            write_door(connection, door)

    def fault(self) -> str | None:
        """What is wrong with the file, in a sentence: it is not the one that was opened any more, or is damaged."""
        with contextlib.suppress(FileFault):
            self.file.check()
        lost, unkept = self.file.lost, self.file.unkept
        return lost.sentence if lost is not None else str(unkept) if unkept is not None else self.file.damage

    def reopen(self) -> None:
        """Let go of what is open, and open what the path is now. Raises StoreError; what is open stays then."""
        self.file.reopen()
        self._remembered.newest = None
        self.measuring.forget()

    def put_back(self) -> Path | None:
        """Write what was open to the path again. Returns where what lay there was moved. Raises BackupError."""
        return self.file.put_back()

    def forget_history(self) -> None:
        """Let what was done so far be the beginning: nothing of it can be undone."""
        with self.beside_the_plan() as connection:
            undo.forget(connection)

    def _done(self, today: date, work: Callable[[Reading], str | None]) -> Done:
        """Do something else than lay changes over the plan, in one transaction; the household is read anew after it."""
        with self._transaction() as connection:
            reading = self._within(connection, today)
            before, mark, step = reading.moment, mark_of(connection), undo.newest_id(connection)
            label = work(reading)
            number, history = advance(connection), undo.history(connection)
            moment = self._remembered.find(connection, number, today)
            if mark_of(connection) == mark:  # else it brought a memory of its own, or took one back
                follow(connection, before, moment)
            made = undo.newest_id(connection)
        if made > step:  # a step of its own: undoing and redoing make none
            self.measuring.soon(made, before, moment)
        return Done(label, history, moment, number)

    def _within(self, connection: Connection, today: date) -> Reading:
        """The household within a write transaction, with what was expected until now written down."""
        reading = Reading(connection, revision_of(connection), today, self._remembered.find, self.file)
        write_down(reading)
        return reading

    @contextmanager
    def _transaction(self) -> Iterator[Connection]:
        """A write transaction: all of it is in the file at the end, or nothing."""
        before = self._remembered.newest
        try:
            # A change that was asked for is made, also when who asked does not wait for the answer.
            with waiting(never), self.file.transaction() as connection:
                measured = self.measuring.measured()
                undo.write_lowest(connection, measured)
                yield connection
            self.measuring.written(measured)
        except BaseException:
            self._remembered.newest = (
                before if self._remembered.newest is not before else self._remembered.newest
            )  # what was read of it is not to be
            raise

    @contextmanager
    def beside_the_plan(self) -> Iterator[Connection]:
        """A write transaction that leaves plan and entries as they are, and still makes a new revision."""
        with self._transaction() as connection:
            yield connection
            number = advance(connection)
        newest = self._remembered.newest  # another may write meanwhile
        if newest is not None and newest.number == number - 1:
            self._remembered.newest = replace(newest, number=number)
