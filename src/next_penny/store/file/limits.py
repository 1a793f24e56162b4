"""What SQLite does with a file that somebody else made has a limit of time, and ends when nobody waits any more."""

import sqlite3
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from next_penny.store.file.faults import BackupError

_LONGEST_SECONDS, _MOST_ROWS = 120.0, 3_000_000
# So many steps of SQLite's machine, less than a millisecond, pass between two looks at the clock.
_STEPS = 20_000


@contextmanager
def limited(connection: sqlite3.Connection, is_stopped: Callable[[], bool]) -> Iterator[None]:
    """Let what a connection does within end in time, and when it is stopped. Raises BackupError where that happens."""
    until = time.monotonic() + _LONGEST_SECONDS
    connection.set_progress_handler(lambda: time.monotonic() > until or is_stopped(), _STEPS)
    try:
        yield
    except sqlite3.OperationalError as error:
        if getattr(error, "sqlite_errorname", "") != "SQLITE_INTERRUPT":
            raise
        why = "stopped" if is_stopped() else f"given up after {_LONGEST_SECONDS:.0f} seconds"
        raise BackupError(f"This was {why}: nothing was changed.") from error
    finally:
        connection.set_progress_handler(None, 0)


def check_size(connection: sqlite3.Connection, tables: list[str], name: str) -> None:
    """Raises BackupError where a file holds more rows than any household."""
    rows = 0
    for table in tables:
        (count,) = connection.execute(f"SELECT count(*) FROM main.{table}").fetchone()
        rows += count
    if rows > _MOST_ROWS:
        raise BackupError(f"{name} holds {rows:,} rows, more than any household: it is not taken.")
