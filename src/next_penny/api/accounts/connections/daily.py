"""Asking the services that are asked by themselves: when the app is started, and as each day begins."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from threading import Event, Thread

from next_penny.api.accounts.connections.asking import Asking
from next_penny.core.problems import NextPennyError

_LOOK_AGAIN_SECONDS = 3600.0


@contextmanager
def asked_daily(asking: Asking) -> Iterator[None]:
    """Within this, services are asked once a day, in a thread of their own that keeps nobody waiting."""
    ended = Event()

    def run() -> None:
        while not ended.is_set():
            # A file that cannot be used just now is told by every answer of the app; here it is tried again later.
            with suppress(NextPennyError, sqlite3.Error, OSError):
                asking.ask_daily()
            ended.wait(_LOOK_AGAIN_SECONDS)

    Thread(target=run, name="asking services", daemon=True).start()
    try:
        yield
    finally:
        ended.set()
