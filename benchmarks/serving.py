"""A server over an empty file of its own, for benchmarks that ask it from outside."""

import re
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


@contextmanager
def served() -> Iterator[tuple[int, int]]:
    """The server's process and port, until the block ends."""
    with tempfile.TemporaryDirectory() as folder:
        words = [sys.executable, "-m", "next_penny.cli", "serve", "--port", "0", "--today", "2027-03-01"]
        words += ["--file", str(Path(folder) / "large.sqlite3")]
        with subprocess.Popen(words, stdout=subprocess.PIPE, text=True) as server:
            try:
                assert server.stdout is not None
                found = re.search(r":(\d+)$", server.stdout.readline().strip())
                assert found
                yield server.pid, int(found[1])
            finally:
                server.terminate()
