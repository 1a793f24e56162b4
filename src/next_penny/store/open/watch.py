"""Is the path still the file that is open, and did nobody write to it but SQLite, folding its log in?

docs/architecture.md, "The file", says why equal rows alone would not do.
"""

import contextlib
import os
import sqlite3
from pathlib import Path
from typing import NamedTuple

from next_penny.store.backups.kept import Backups
from next_penny.store.file.connection import connect_alone, connect_reader
from next_penny.store.file.content import digests, state_of
from next_penny.store.file.faults import FileFault, NotKeptYet
from next_penny.store.file.file_identity import Identity, Noted, count_open, identity_of
from next_penny.store.file.pages import is_explained, page_hashes
from next_penny.store.open.opening import put_aside

GONE = "The household's file is no longer at {path}: nothing is written."
_OTHER = "Another file was put in the place of {path}: nothing is written."
_KEPT = " What was open is kept as the backup {name}, and is what you see."
_OVERWRITTEN = "The household's file was overwritten at {path}: nothing is written."


class Lost(NamedTuple):
    """That the file is not the one that was opened: why, and where what was open is kept."""

    sentence: str
    kept: Path


class Watch:
    """One file that SQLite has open already. Who asks more than `is_as_known` has the turn."""

    def __init__(self, path: Path, backups: Backups, *, is_alone: bool) -> None:
        self._path, self._backups, self._notes = path, backups, backups.latest.notes
        self._log_path = path.with_name(f"{path.name}-wal")
        self._log = identity_of(self._log_path)
        # Open for as long as SQLite has it open: closing it would let go of SQLite's locks.
        self._raw = os.open(path, os.O_RDONLY)
        self._identity, self._pages = (None if is_alone else self._notes.read()) or self._noted()
        count_open(self._identity, 1)

    def close(self) -> None:
        """Watch no more: SQLite's connections are closed."""
        os.close(self._raw)
        count_open(self._identity, -1)

    def is_as_known(self) -> bool:
        """Whether nothing about the file has changed since it was looked at last; cheap."""
        return identity_of(self._path) == self._identity

    def is_still_itself(self) -> bool:
        """Whether only another process of ours folded its log in, or another program left everything as it was."""
        now = identity_of(self._path)
        if now == self._identity:
            return True
        if not self._is_same_inode(now):
            return False
        noted = self._notes.read()
        if noted is not None and now == noted.identity:  # another process of ours folded its log in
            self._identity, self._pages = noted
            return True
        if is_explained(page_hashes(self._raw), self._pages, self._log_path) or self._is_as_acknowledged():
            self._identity, self._pages = self._noted()
            return True
        return False

    def note(self) -> None:
        """Note how the file is after a fold; from here on only folding its log changes it."""
        if self._is_same_inode(identity_of(self._path)):
            self._identity, self._pages = self._noted()

    def lost(self, kept: Path) -> Lost:
        """The file is not what was open any more, which is kept as a backup."""
        return Lost(self._why_lost() + _KEPT.format(name=kept.name), kept)

    def not_kept_yet(self, why: Exception) -> FileFault:
        """The same, where it cannot be kept just now. A file that only lost its name may be read on as it was."""
        is_overwritten = self._is_same_inode(identity_of(self._path))
        sentence = f"{self._why_lost()} What was open cannot be kept as a backup until this is mended: {why}"
        return (FileFault if is_overwritten else NotKeptYet)(sentence, is_other=True)

    def _why_lost(self) -> str:
        """What became of the file, in a sentence."""
        now = identity_of(self._path)
        sentence = GONE if now is None else _OVERWRITTEN if self._is_same_inode(now) else _OTHER
        return sentence.format(path=self._path)

    def empty_log(self) -> None:
        """Of a file that was overwritten where it lies, before the last connection is closed.

        SQLite folds what is left of a log into the file then; of an empty one there is nothing. Of a file that lost its
        name it does not (sqlite3PagerClose, databaseIsUnmoved).
        """
        if self._is_same_inode(identity_of(self._path)) and self._is_our_log():
            os.truncate(self._log_path, 0)

    def move_log(self) -> None:
        """Of a file that lost its name: its log would be taken for that of what lies there now."""
        if not self._is_same_inode(identity_of(self._path)) and self._is_our_log():
            put_aside([self._log_path], self._backups)

    def _is_same_inode(self, now: Identity | None) -> bool:
        return now is not None and now[:2] == self._identity[:2]

    def _is_our_log(self) -> bool:
        identity = identity_of(self._log_path)
        return identity is not None and self._log is not None and identity[:2] == self._log[:2]

    def _noted(self) -> Noted:
        identity = identity_of(self._path)
        if identity is None:
            raise FileFault(GONE.format(path=self._path), is_other=True)
        noted = Noted(identity, page_hashes(self._raw))
        self._notes.write(noted)
        return noted

    def _is_as_acknowledged(self) -> bool:
        """Whether the file has all that is on record, row by row, also without its log."""
        try:
            with (
                contextlib.closing(connect_alone(self._path)) as alone,
                contextlib.closing(connect_reader(self._path)) as together,
            ):
                return self._is_on_record(together) and digests(alone) == digests(together)
        except (sqlite3.Error, ValueError):  # what is damaged may be no text any more
            return False

    def _is_on_record(self, connection: sqlite3.Connection) -> bool:
        with self._backups.scratch() as folder:
            known = folder / "known"
            connection.execute("BEGIN")
            state = state_of(connection)
            if self._backups.latest.rebuild(known, state.revision) != state:
                return False
            if connection.execute("PRAGMA integrity_check(1)").fetchone()[0] != "ok":
                return False
            with contextlib.closing(connect_reader(known)) as other:
                return digests(connection) == digests(other)
