"""Files that appear only once they are whole: written under another name, checked, on the disk, then renamed."""

import contextlib
import os
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from next_penny.store.file.faults import BackupError, CannotWrite


@contextmanager
def in_one_step(path: Path) -> Iterator[Path]:
    """A name to write to; at the end what is there takes the place of `path` at once, or nothing does."""
    part = path.with_name(f"{path.name}.{os.getpid()}-{threading.get_ident()}.part")
    try:
        os.close(os.open(part, os.O_CREAT | os.O_TRUNC | os.O_WRONLY, 0o600))
        yield part
        _sync(part)
        os.replace(part, path)
        sync_folder(path.parent)
    finally:
        with contextlib.suppress(OSError):
            part.unlink()


def put_bytes(path: Path, content: bytes) -> None:
    """Let a file be these bytes, in one step."""
    with in_one_step(path) as part:
        part.write_bytes(content)


def write_copy(connection: sqlite3.Connection, path: Path) -> None:
    """What a connection sees as one whole file, which appears only once it is checked. Raises BackupError."""
    try:
        with in_one_step(path) as part:
            with contextlib.closing(sqlite3.connect(part, isolation_level=None)) as copy:
                connection.backup(copy)
                copy.execute("PRAGMA journal_mode = DELETE")
            check_whole(part)
    except (OSError, sqlite3.Error) as error:
        raise cannot_write(path, error) from error


def cannot_write(path: Path, error: OSError | sqlite3.Error) -> CannotWrite:
    """Why a backup has no place, in a sentence."""
    why = error.strerror if isinstance(error, OSError) else str(error)
    return CannotWrite(f"The backup cannot be written to {path}: {why}.")


def check_whole(path: Path) -> None:
    """Raises BackupError where a file's pages do not fit together."""
    problem = wrong_with(path)
    if problem is not None:
        raise BackupError(problem)


def wrong_with(path: Path) -> str | None:
    """What is wrong with a file's pages, in a sentence; None where it is whole."""
    try:
        with contextlib.closing(sqlite3.connect(path)) as connection:
            (verdict,) = connection.execute("PRAGMA integrity_check(1)").fetchone()
    except sqlite3.Error as error:
        verdict = str(error)
    return None if verdict == "ok" else f"{path.name} is damaged: its pages do not fit together."


def sync_folder(folder: Path) -> None:
    """Let names in a folder be on the disk, where the system can say so."""
    with contextlib.suppress(OSError):
        _sync(folder)


def _sync(path: Path) -> None:
    descriptor = os.open(path, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)
