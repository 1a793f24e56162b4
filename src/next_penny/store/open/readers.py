"""Connections that read the household's file, each lent to one request at a time."""

import sqlite3
import threading
import time
from collections.abc import Callable
from pathlib import Path

from next_penny.store.file.connection import connect_reader
from next_penny.store.file.faults import FileFault

_LAST_READER_SECONDS = 10.0


class Readers:
    """The connections to one file. Safe to use from several threads."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._lock = threading.Lock()
        self._idle: list[sqlite3.Connection] = []
        self._own: set[sqlite3.Connection] = set()
        self._lent = 0

    def __contains__(self, connection: sqlite3.Connection) -> bool:
        """Whether a connection reads the file that is open, and not one that was."""
        return connection in self._own

    def lend(self, instead: Callable[[], Path | None]) -> sqlite3.Connection:
        """A connection, which `take_back` ends; `instead` gives the file that is read where this one is lost."""
        with self._lock:
            self._lent += 1
            if instead() is None and self._idle:
                return self._idle.pop()
        try:
            other = instead()
            connection = connect_reader(self._path if other is None else other)
        except BaseException:
            self._one_less()
            raise
        if other is None:
            self._own.add(connection)
        return connection

    def take_back(self, connection: sqlite3.Connection) -> None:
        """End what `lend` began."""
        if connection in self._own:
            with self._lock:
                self._idle.append(connection)
        else:
            connection.close()
        self._one_less()

    def _one_less(self) -> None:
        with self._lock:
            self._lent -= 1

    def close(self) -> None:
        """Close those that nobody has; those that are lent are closed when they come back."""
        with self._lock:
            idle, self._idle, self._own = self._idle, [], set()
        for connection in idle:
            connection.close()

    def wait(self) -> None:
        """Wait until nobody reads: another file at the same inode shares SQLite's log with those who do.

        Raises FileFault where that takes long.
        """
        until = time.monotonic() + _LAST_READER_SECONDS
        while self._lent > 0:
            if time.monotonic() > until:
                raise FileFault("Something is still being read: try again in a moment.")
            time.sleep(0.02)
