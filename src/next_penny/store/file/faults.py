"""What can go wrong with a household's file, in sentences for the person at the screen."""

import errno
import sqlite3
from pathlib import Path

from next_penny.core.problems import NextPennyError


class StoreError(NextPennyError):
    """A file that cannot be used as a household's; the message is a sentence for the person who named it."""


class DamagedFile(StoreError):
    """A household's file that is not whole."""


class BackupError(NextPennyError):
    """A backup that cannot be made or used; the message is a sentence."""


class CannotWrite(BackupError):
    """A backup that has no place to be written to just now."""


class FileFault(NextPennyError):
    """The file cannot be used just now, or is not the one that was opened; nothing was written.

    `is_other`: another file lies in its place, or none; what was open is whole and can be kept.
    """

    def __init__(self, sentence: str, *, is_other: bool = False) -> None:
        super().__init__(sentence)
        self.is_other = is_other


class NotKeptYet(FileFault):
    """The file lost its name, and there is no place for a backup of what was open, which can still be read."""


DAMAGED = "The household's file is damaged: go back to a backup, under Accounts."
BUSY = "Another program holds the household's file: try again in a moment."
DISK_FULL = "The disk is full: nothing was written. Make some room, then do it again."
_SENTENCES = {
    "SQLITE_FULL": DISK_FULL,
    "SQLITE_READONLY": "The household's file may only be read: nothing was written. Let it be written to, then do it"
    " again.",
    "SQLITE_BUSY": BUSY,
    "SQLITE_LOCKED": BUSY,
    "SQLITE_IOERR": "The household's file could not be read or written on its disk: check the disk, then try again.",
    "SQLITE_CORRUPT": DAMAGED,
    "SQLITE_NOTADB": DAMAGED,
    "SQLITE_CANTOPEN": "The household's file cannot be opened: is it still where it was?",
}


def is_busy(error: sqlite3.Error) -> bool:
    """Whether somebody else holds the file for the moment, which says nothing about what is in it."""
    return (getattr(error, "sqlite_errorname", "") or "").startswith(("SQLITE_BUSY", "SQLITE_LOCKED"))


def sentence_of(error: sqlite3.Error) -> str:
    """An error of SQLite as a sentence that says what to do."""
    name = getattr(error, "sqlite_errorname", "") or ""
    for known, sentence in _SENTENCES.items():
        if name.startswith(known):
            return sentence
    return f"The household's file cannot be used just now ({error}): try again in a moment."


def cannot_record(folder: Path, error: OSError) -> FileFault:
    """Why nothing was written, where the record beside the file cannot be."""
    if error.errno == errno.ENOSPC:
        return FileFault(DISK_FULL)
    return FileFault(f"Nothing was written, since {folder} cannot be: {error.strerror}.")
