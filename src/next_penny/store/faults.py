"""What can go wrong with a household's file while it is open, in sentences for the person at the screen."""

import sqlite3


class FileFault(Exception):
    """The file cannot be used just now, or is not the one that was opened; nothing was written.

    `is_other`: another file lies in its place, or none; what is open is still whole and can be kept.
    """

    def __init__(self, sentence: str, *, is_other: bool = False) -> None:
        super().__init__(sentence)
        self.is_other = is_other


_TOLD = {
    "SQLITE_FULL": "The disk is full: nothing was written. Make some room, then do it again.",
    "SQLITE_READONLY": "The household's file may only be read: nothing was written. Let it be written to, then do it"
    " again.",
    "SQLITE_BUSY": "Another program holds the household's file: try again in a moment.",
    "SQLITE_LOCKED": "Another program holds the household's file: try again in a moment.",
    "SQLITE_IOERR": "The household's file could not be read or written on its disk: check the disk, then try again.",
    "SQLITE_CORRUPT": "The household's file is damaged: go back to a backup, under Accounts.",
    "SQLITE_NOTADB": "The household's file is damaged: go back to a backup, under Accounts.",
    "SQLITE_CANTOPEN": "The household's file cannot be opened: is it still where it was?",
}


def told(error: sqlite3.Error) -> str:
    """An error of SQLite as a sentence that says what to do."""
    name = getattr(error, "sqlite_errorname", "") or ""
    for known, sentence in _TOLD.items():
        if name.startswith(known):
            return sentence
    return f"The household's file cannot be used just now ({error}): try again in a moment."
