"""Folding SQLite's write-ahead log into the household's file soon after the last write.

A copy of the one file is then the whole household, though the app is still open.
"""

import threading
import time
from collections.abc import Callable

# After so many seconds without a write the log is folded in; a reader in the way is tried again as much later.
_QUIET_SECONDS = 2.0
# However much is written, it does not wait longer than this.
_LONGEST_SECONDS = 20.0


class Folding:
    """When to fold: `soon` is told of every write, and `fold` says whether it could be done."""

    def __init__(self, fold: Callable[[], bool]) -> None:
        self._fold = fold
        self._lock = threading.Lock()
        self._timer: threading.Timer | None = None
        self._since: float | None = None
        self._is_stopped = False
        self.soon()

    def soon(self) -> None:
        """Fold the log in once nothing more is written."""
        with self._lock:
            if self._timer is not None:
                self._timer.cancel()
            if self._is_stopped:
                return
            now = time.monotonic()
            self._since = self._since if self._since is not None else now
            wait = min(_QUIET_SECONDS, max(0.0, self._since + _LONGEST_SECONDS - now))
            self._timer = threading.Timer(wait, self._run)
            self._timer.daemon = True
            self._timer.start()

    def stop(self) -> None:
        """Fold no more: closing the last connection does it."""
        with self._lock:
            self._is_stopped = True
            if self._timer is not None:
                self._timer.cancel()

    def _run(self) -> None:
        with self._lock:
            self._since = None
        if not self._fold():
            self.soon()
