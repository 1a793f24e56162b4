"""Is what lies at a path still the file that was opened, and does anybody have it open?

Device, inode, size, and the times of the last write and the last change of its inode: SQLite's log takes what is
written, so these change only when the log is folded in, which is noted, and when somebody else writes to the file.
The file itself is never opened here by other means than SQLite's while this process has it open: closing any
descriptor of it would let go of all locks that SQLite holds on it (POSIX.1, fcntl).
"""

import contextlib
import json
import os
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import NamedTuple

from next_penny.store.file.copies import put_bytes
from next_penny.store.file.faults import BUSY, FileFault

try:
    import fcntl
except ImportError:  # pragma: no cover - systems without it see no other process
    fcntl = None  # type: ignore[assignment]

# The bytes on which SQLite's connections hold their shared locks (os_unix.c: SHARED_FIRST, SHARED_SIZE).
_SHARED_FIRST, _SHARED_SIZE = 0x40000002, 510
_COMPANIONS = ("-wal", "-journal")


class Identity(NamedTuple):
    """What tells one state of a file from any other: times are nanoseconds."""

    device: int
    inode: int
    size: int
    written: int
    changed: int


def identity_of(path: Path) -> Identity | None:
    """What lies at a path now; None where nothing does."""
    try:
        status = os.stat(path)
    except OSError:
        return None
    return Identity(status.st_dev, status.st_ino, status.st_size, status.st_mtime_ns, status.st_ctime_ns)


class Noted(NamedTuple):
    """A file as it was when its log was last folded in: its identity, and the hash of each page."""

    identity: Identity
    pages: bytes


class Notes:
    """How the file was when the log was last folded in, in a small file beside the backups."""

    def __init__(self, path: Path) -> None:
        self._path = path

    def read(self) -> Noted | None:
        """What was noted last; None where nothing was, or nothing that can be read."""
        try:
            head, _, pages = self._path.read_bytes().partition(b"\n")
            return Noted(Identity(*json.loads(head)), pages)
        except (OSError, ValueError, TypeError):
            return None

    def write(self, noted: Noted) -> None:
        """Note how the file is now."""
        if self.read() != noted:
            put_bytes(self._path, json.dumps(noted.identity).encode() + b"\n" + noted.pages)


def companions(path: Path) -> list[Path]:
    """SQLite's logs and journals beside a file that hold something."""
    beside = [path.with_name(f"{path.name}{ending}") for ending in _COMPANIONS]
    return [one_path for one_path in beside if one_path.exists() and one_path.stat().st_size]


_open_here: Counter[tuple[int, int]] = Counter()
_counting = threading.Lock()


def count_open(identity: Identity, by: int) -> None:
    """Remember that this process opened a file once more, or closed it."""
    with _counting:
        _open_here[identity[:2]] += by


def is_open(path: Path) -> bool:
    """Whether this or another process has the file open: SQLite's connections then hold a shared lock on it."""
    identity = identity_of(path)
    if identity is None:
        return False
    if fcntl is None or _open_here[identity[:2]] > 0:
        return True
    with path.open("rb+") as file:
        try:
            fcntl.lockf(file, fcntl.LOCK_EX | fcntl.LOCK_NB, _SHARED_SIZE, _SHARED_FIRST)
        except OSError:
            return True
    return False


class Turn:
    """One process and thread after another, for what is done beside the file; a killed one lets go by itself.

    Who has the turn may take it again.
    """

    def __init__(self, path: Path) -> None:
        self._path = path
        self._lock = threading.RLock()
        self._depth = 0

    @contextmanager
    def taken(self, seconds: float = 10.0) -> Iterator[None]:
        """Wait for one's turn. Raises FileFault where it does not come."""
        until = time.monotonic() + seconds
        if not self._lock.acquire(timeout=seconds):
            raise FileFault(BUSY)
        try:
            with contextlib.ExitStack() as stack:
                # Without a folder for it, nothing is beside the file yet.
                if fcntl is not None and not self._depth and self._path.parent.exists():
                    _lock(stack.enter_context(open(self._path, "ab", opener=_private)).fileno(), until)
                self._depth += 1
                try:
                    yield
                finally:
                    self._depth -= 1
        finally:
            self._lock.release()


def _private(path: str, flags: int) -> int:
    return os.open(path, flags, 0o600)


def _lock(descriptor: int, until: float) -> None:
    while True:
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            if time.monotonic() > until:
                raise FileFault(BUSY) from None
            time.sleep(0.005)
        except OSError:
            return  # some network file systems know no such locks: there one server is used at a time
        else:
            return
