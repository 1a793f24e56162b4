"""Folding SQLite's write-ahead log into the household's file soon after the last write.

A copy of the one file is then the whole household, though the app is still open.
"""

import contextlib
import sqlite3
import threading
from pathlib import Path

# After so many seconds without a write the log is folded in; a reader in the way is tried again as much later.
_QUIET_SECONDS = 2.0


class Folding:
    """The log of one file; `soon` is told of every write."""

    def __init__(self, path: Path | str) -> None:
        self._path = path
        self._lock = threading.Lock()
        self._timer: threading.Timer | None = None
        self._is_stopped = False
        self.soon()

    def soon(self) -> None:
        """Fold the log in once nothing more is written."""
        with self._lock:
            if self._timer is not None:
                self._timer.cancel()
            if not self._is_stopped:
                self._timer = threading.Timer(_QUIET_SECONDS, self._fold)
                self._timer.daemon = True
                self._timer.start()

    def stop(self) -> None:
        """Fold no more: closing the last connection does it."""
        with self._lock:
            self._is_stopped = True
            if self._timer is not None:
                self._timer.cancel()

    def _fold(self) -> None:
        is_whole = False
        with contextlib.suppress(sqlite3.Error), contextlib.closing(sqlite3.connect(self._path)) as connection:
            (is_busy, _, _) = connection.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()
            is_whole = not is_busy
        if not is_whole:
            self.soon()
