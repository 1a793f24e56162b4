"""The household's file while it is open: reading, writing, rests, and what to do when it is not itself any more.

A commit is on the record, on the disk, before SQLite commits it, and both are done before anybody is told. While all is
well the file is read and written through SQLite alone. When something else lies at the path, or was written into it,
nothing is written there any more; what was open is made anew from the record, and reading goes on from that.
"""

import contextlib
import sqlite3
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from next_penny.store.backups import orphaned_wal
from next_penny.store.backups.kept import Backups
from next_penny.store.file.checkpoints import Folding
from next_penny.store.file.connection import Connection, check_place, connect_folder
from next_penny.store.file.content import changed_rows, note_changed_rows, state_of
from next_penny.store.file.faults import BackupError, CannotWrite, FileFault, NotKeptYet, cannot_record
from next_penny.store.file.file_identity import is_open
from next_penny.store.file.record import Commit
from next_penny.store.open.checksums import Checksum, damage_in, damaged_tables, new_checksums, note_checksums
from next_penny.store.open.opening import open_household
from next_penny.store.open.readers import Readers
from next_penny.store.open.swapping import kept_as_it_was, put_in_place, swap_damaged
from next_penny.store.open.watch import Lost, Watch

# The newest whole state is kept at most so often, and a day's checks are made so often.
_LATEST_SECONDS, _DAY_SECONDS = 10.0, 86_400.0


class OpenFile:
    """One household's file while it is open. Safe to use from several threads, and beside other processes."""

    def __init__(self, path: Path) -> None:
        check_place(path)
        self.path, self.backups = path, Backups(path)
        self.lost: Lost | None = None
        self.unkept: FileFault | None = None
        self._latest = self.backups.latest
        self.writing, self._resting = threading.RLock(), threading.RLock()  # in this order where both are needed
        self._is_in_transaction = False
        self._readers = Readers(path)
        self._open()

    def _open(self) -> None:
        with self._latest.turn.taken():
            is_alone = not is_open(self.path)
            self._writer, self.notices, self.damage = open_household(self.path, self.backups)
            note_changed_rows(self._writer)
            self._folder = connect_folder(self.path)
            state_of(self._folder)  # the file and its log are opened by what is read of them first
            self.notices += orphaned_wal.offer(self.path, self.backups)
            self._watch = Watch(self.path, self.backups, is_alone=is_alone)
        self._kept_latest_at, self._checked_at = -_LATEST_SECONDS, time.monotonic()
        self.lost = None
        self._folding = Folding(self.rest)

    def close(self) -> None:
        """Fold the log into the file, keep its newest state, and let go of it."""
        self._folding.stop()
        self.rest(is_last=True)
        with self.writing, self._resting:
            if self.lost is None:
                self._let_go()

    def _let_go(self) -> None:
        self._readers.close()
        for connection in (self._folder, *([] if self._is_in_transaction else [self._writer])):
            connection.close()
        self._watch.close()

    # Reading

    def borrow(self) -> Connection:
        """A connection to read with, which `give_back` ends. Raises FileFault."""
        if self.lost is None:
            with contextlib.suppress(FileFault):
                self.check()
        return self._readers.lend(lambda: self.lost.kept if self.lost is not None else None)

    def check_read(self, connection: Connection) -> None:
        """Raises FileFault where what a connection has read may be a mixture of two files."""
        if connection in self._readers:
            with contextlib.suppress(NotKeptYet):
                self.check()
        elif self.lost is None and connection is not self._writer:
            raise FileFault("The household's file was opened anew meanwhile: ask again.")

    def give_back(self, connection: Connection) -> None:
        """End what `borrow` began."""
        self._readers.take_back(connection)

    # Is it still the file?

    def check(self) -> None:
        """Raises FileFault where the path is not the file that is open, as it was left, any more."""
        if self.lost is not None:
            raise FileFault(self.lost.sentence, is_other=True)
        self.unkept = None
        if self._watch.is_as_known():
            return
        with self.writing, self._latest.turn.taken(), self._resting:
            if self.lost is None and not self._watch.is_still_itself():
                self._lose()
        if self.lost is not None:
            raise FileFault(self.lost.sentence, is_other=True)

    def _lose(self) -> None:
        """Write nothing any more, keep what was open as a backup, and read from that. Raises FileFault if it cannot."""
        try:
            backup = kept_as_it_was(self.backups, self._folder)
        except (BackupError, OSError) as error:
            # A disk that was pulled out takes the backups' folder along: the next who asks tries again.
            self.unkept = self._watch.not_kept_yet(error)
            raise self.unkept from error
        self.lost = self._watch.lost(self.backups.folder / backup.name)
        self._folding.stop()
        self._watch.empty_log()
        self._let_go()
        self._watch.move_log()

    # Writing

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        """A write transaction, for who alone writes here: at the end all of it is acknowledged, or nothing is written.

        Raises FileFault.
        """
        with self.writing, self._latest.turn.taken():
            self.check()
            connection, self._is_in_transaction = self._writer, True
            try:
                with self._committed(connection):
                    yield connection
            finally:
                self._is_in_transaction = False
                if self.lost is not None:
                    connection.close()
        self._folding.soon()

    @contextmanager
    def _committed(self, connection: Connection) -> Iterator[None]:
        connection.end_reads()
        connection.execute("BEGIN IMMEDIATE")
        begin = None
        try:
            if not self._latest.has_base(connection):
                self._keep_latest()  # somebody threw the backups away
            yield
            self.check()
            begin = self._put_on_record(connection)
            connection.execute("COMMIT")
        except BaseException:
            if begin is not None:
                self._latest.record.cut(begin)
            # SQLite has rolled back by itself where the disk was full.
            if connection.in_transaction:
                connection.execute("ROLLBACK")
            raise

    def _put_on_record(self, connection: Connection) -> int | None:
        rows = changed_rows(connection)
        if not rows:
            return None
        try:
            return self._latest.record.append(Commit(state_of(connection), rows))
        except OSError as error:
            raise cannot_record(self._latest.folder, error) from error

    def keep_receipt(self, name: str, content: bytes) -> None:
        """Keep a receipt's file beside the backups, before the household's file has it. Raises FileFault."""
        try:
            self._latest.keep_receipt(name, content)
        except OSError as error:
            raise cannot_record(self._latest.folder, error) from error

    @contextmanager
    def attached(self, file: Path, name: str) -> Iterator[None]:
        """Let a transaction see another file by a name. Raises FileFault."""
        with self.writing:
            self.check()
            self._writer.execute(f"ATTACH ? AS {name}", (str(file),))
            try:
                yield
            finally:
                if self.lost is None:
                    self._writer.execute(f"DETACH {name}")

    def mended(self) -> None:
        """What was damaged was put right, or is right as it is."""
        self.damage = None
        self._folding.soon()

    def look_for_damage(self) -> str | None:
        """What is damaged in the file, in a sentence; looked for anew."""
        if self.damage is None and self.lost is None:
            with self._resting:
                self._folder.be_at_rest()
                self.damage = damage_in(self._folder)
        return self.damage

    # Rests

    def rest(self, *, is_last: bool = False) -> bool:
        """Fold the log in, keep the newest state, and make the day's backup. Whether nothing is left to do."""
        try:
            self.check()
            with self._resting:
                if self.lost is not None:
                    return True
                self._folder.be_at_rest()
                self._look_daily()
                checksums = new_checksums(self._folder, self.damage)  # nobody who writes waits for that
            with self._latest.turn.taken(), self._resting:
                if self.lost is not None:
                    return True
                is_folded = self._fold(checksums)
            with self._resting:
                is_kept = self.damage is not None or self._keep_latest_if_due(is_last)
                if self.damage is None and state_of(self._folder).revision > 1:
                    self.backups.daily(self._folder)
            self.check()
        except (FileFault, sqlite3.ProgrammingError):
            return True
        except (CannotWrite, OSError):
            return False
        except (sqlite3.Error, ValueError, BackupError):
            return self.look_for_damage() is not None
        return is_folded and is_kept

    def _fold(self, checksums: list[Checksum]) -> bool:
        if not self._watch.is_still_itself():
            return False
        note_checksums(self._folder, checksums)
        (is_busy, _, _) = self._folder.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()
        self._watch.note()
        return not is_busy

    def _look_daily(self) -> None:
        if time.monotonic() - self._checked_at > _DAY_SECONDS:
            self._checked_at = time.monotonic()
            self.damage = self.damage or damaged_tables(self._folder)

    def _keep_latest_if_due(self, is_last: bool) -> bool:
        if self._latest.record.is_empty():
            return True
        if not is_last and time.monotonic() - self._kept_latest_at < _LATEST_SECONDS:
            return False
        self._kept_latest_at = time.monotonic()
        self._keep_latest()
        return True

    def _keep_latest(self) -> None:
        with self._resting:
            self._latest.folder.mkdir(mode=0o700, exist_ok=True)
            state = self._latest.keep(self._folder)
            with contextlib.suppress(sqlite3.OperationalError):  # somebody writes: it is let go of next time
                self._folder.execute("BEGIN IMMEDIATE")
                try:
                    self._latest.record.keep_after(state)
                finally:
                    self._folder.execute("ROLLBACK")

    # What a household chooses when the file is lost

    def reopen(self) -> None:
        """Let go of what was open, and open what the path is now. Raises StoreError, FileFault."""
        with contextlib.suppress(FileFault):
            self.check()
        with self.writing, self._latest.turn.taken(), self._resting:
            self._readers.wait()
            if self.lost is None:
                self._folding.stop()
                self._let_go()
            self._open()

    def replace_by(self, copy: Path) -> None:
        """Let a household that is whole take the place of a damaged file, which is moved aside. Raises FileFault."""
        with self.writing, self._latest.turn.taken(), self._resting:
            self.check()
            self._readers.wait()
            self._folding.stop()
            self._let_go()
            swap_damaged(self.path, copy)
            self._latest.forget()
            self._open()

    def put_back(self) -> Path | None:
        """Write what was open to its place again. What lies there is moved aside, byte for byte. Returns where to."""
        if self.lost is None:
            raise BackupError(f"{self.path} is still in its place.")
        with self.writing, self._latest.turn.taken(), self._resting:
            self._readers.wait()
            aside = put_in_place(self.path, self.lost.kept)
            self._open()
        return aside
