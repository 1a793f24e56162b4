"""The real command, serving in a process of its own."""

import re
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from typing import NamedTuple


class Server(NamedTuple):
    """A running server: its port, and its process."""

    port: int
    process: subprocess.Popen[str]

    @property
    def address(self) -> str:
        """Where it is asked."""
        return f"http://127.0.0.1:{self.port}"


@contextmanager
def serving(*words: str) -> Iterator[Server]:
    """`next-penny` with some words, on a port of its own, until the end; then it is stopped, if it was not killed."""
    command = [sys.executable, "-m", "next_penny.cli", *words, "--port", "0", "--today", "2027-03-01"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        try:
            assert process.stdout is not None
            told = re.search(r":(\d+)$", process.stdout.readline().strip())
            assert told
            yield Server(int(told[1]), process)
        finally:
            process.terminate()
