"""A write-ahead log beside a file that it does not belong to: left behind by a kill, with a backup put in its place.

SQLite would take the log's pages into the file whatever is in it. A log belongs to a file if the first change in it
follows what the file says, or the file has some of the log already (revision numbers count every change), and if both
together are whole. One that does not is put aside, not thrown away.
"""

import contextlib
import os
import shutil
import sqlite3
import struct
import tempfile
from datetime import datetime
from pathlib import Path

try:
    import fcntl
except ImportError:  # pragma: no cover - systems without it open files as they are
    fcntl = None  # type: ignore[assignment]

_HEADER, _FRAME_HEADER = 32, 24
# The bytes on which SQLite's connections hold their shared locks (os_unix.c: SHARED_FIRST, SHARED_SIZE).
_SHARED_FIRST, _SHARED_SIZE = 0x40000002, 510


def put_aside_stale_log(path: Path) -> Path | None:
    """Rename a log that is not the file's own, if nobody has the file open. Returns its new name."""
    log = path.with_name(f"{path.name}-wal")
    try:
        if not log.stat().st_size > _HEADER or not path.stat().st_size or _is_open_elsewhere(path):
            return None
    except OSError:
        return None
    with tempfile.TemporaryDirectory(prefix="next-penny-log-") as folder:
        if _belongs(path, log, Path(folder)):
            return None
    aside = log.with_name(f"{log.name}-aside-{datetime.now():%Y%m%d-%H%M%S}")  # noqa: DTZ005 - a name for a person
    os.replace(log, aside)
    with contextlib.suppress(OSError):
        path.with_name(f"{path.name}-shm").unlink()
    return aside


def _is_open_elsewhere(path: Path) -> bool:
    """Whether another process has the file open: SQLite's connections then hold a shared lock on it."""
    if fcntl is None:
        return True
    with path.open("rb+") as file:
        try:
            fcntl.lockf(file, fcntl.LOCK_EX | fcntl.LOCK_NB, _SHARED_SIZE, _SHARED_FIRST)
        except OSError:
            return True
    return False


def _belongs(path: Path, log: Path, folder: Path) -> bool:
    content = log.read_bytes()
    first = _first_change(content)
    if first is None:
        return True  # nothing in it is whole: SQLite passes over it
    own = _revision(path, b"", folder / "own")
    begins, ends = (_revision(path, part, folder / name) for part, name in ((content[:first], "begun"),
                                                                           (content, "ended")))  # fmt: skip
    if own is None:
        return True  # without its log it is nothing
    return begins is not None and ends is not None and begins - 1 <= own <= ends


def _first_change(content: bytes) -> int | None:
    """Where the first commit in a log ends (SQLite's file format, section 4.1); None where there is none."""
    (page,) = struct.unpack(">I", content[8:12])
    frame = _FRAME_HEADER + (page or 65536)
    for end in range(_HEADER + frame, len(content) + 1, frame):
        (pages_after,) = struct.unpack(">I", content[end - frame + 4 : end - frame + 8])
        if pages_after:
            return end
    return None


def _revision(path: Path, log: bytes, copy: Path) -> int | None:
    """The revision that a copy of the file has with a log; None where both together are not whole."""
    shutil.copyfile(path, copy)
    copy.with_name(f"{copy.name}-wal").write_bytes(log)
    try:
        with contextlib.closing(sqlite3.connect(copy)) as connection:
            if connection.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
                return None
            return int(connection.execute("SELECT number FROM revision").fetchone()[0])
    except (sqlite3.Error, TypeError):
        return None
