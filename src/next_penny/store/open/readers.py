"""Connections that read the household's file, each lent to one request at a time."""

import sqlite3
import threading
import time
from collections.abc import Callable
from pathlib import Path

from next_penny.store.file.connection import Connection, connect_reader
from next_penny.store.file.faults import FileFault

_LAST_READER_SECONDS = 10.0


class Readers:
    """The connections to one file. Safe to use from several threads."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._lock = threading.Lock()
        self._idle: list[Connection] = []
        self._own: set[Connection] = set()
        self._lent = 0

    def __contains__(self, connection: Connection) -> bool:
        """Whether a connection reads the file that is open, and not one that was."""
        return connection in self._own

    def lend(self, instead: Callable[[], Path | None]) -> Connection:
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

    def take_back(self, connection: Connection) -> None:
        """End what `lend` began, whatever was read of it: who has the connection next sees the newest moment."""
        try:
            connection.be_at_rest()
            with self._lock:
                is_own = connection in self._own
                if is_own:
                    self._idle.append(connection)
        except sqlite3.Error:
            is_own = False
        if not is_own:
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
