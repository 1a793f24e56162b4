"""The real command started many times over: one process loads it, and forks for each time that it is to run.

Run by itself it is that process: it reads what to start from a socket, and answers with process numbers and exits.
"""

import gc
import json
import os
import re
import signal
import socket
import subprocess
import sys
from contextlib import closing
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import NamedTuple

from starlette.testclient import TestClient

TODAY = date(2027, 3, 1)
_ASKED = (
    "household", "history", "change-number", "what-ifs", "tideline", "accounts", "allowances", "flows", "settle",
    "ahead?until=2027-04-12", "ahead/left", "goals/missed", "bank-lines/waiting", "entries/choices", "debts", "readings",
    "chance?accounts=joint&until=2027-04-12", "payoff/progress", "review/stretch?per=month", "review/noticed",
    "review?from=2027-03-01&to=2027-03-31", "review/proposals", "months?from=2027-03", "no-such-thing",
)  # fmt: skip


class Starter:
    """Starts the command; what is started is stopped by `Started.stop`."""

    def __init__(self) -> None:
        ours, theirs = socket.socketpair()
        self._asked = ours
        self._answers = ours.makefile("r")
        command = [sys.executable, "-W", "ignore", __file__, str(theirs.fileno())]
        self._process = subprocess.Popen(command, pass_fds=[theirs.fileno()])
        theirs.close()

    def start(self, *words: str) -> "Started":
        """The command with some words, once it says where it listens."""
        reading, writing = os.pipe()
        socket.send_fds(self._asked, [json.dumps({"start": words}).encode() + b"\n"], [writing])
        os.close(writing)
        pid = int(self._answers.readline())
        with open(reading, closefd=True) as said:
            address = re.search(r"http://\S+", said.readline())
        assert address
        return Started(self, pid, address[0])

    def wait(self, pid: int) -> None:
        """Until a process has ended."""
        self._asked.sendall(json.dumps({"wait": pid}).encode() + b"\n")
        self._answers.readline()

    def stop(self) -> None:
        """End the process that starts them."""
        self._asked.close()
        self._answers.close()
        self._process.wait(timeout=60)


class Started(NamedTuple):
    """A running command, and where it listens."""

    starter: Starter
    pid: int
    address: str

    def stop(self) -> None:
        """Ask it to end, and wait until it has."""
        os.kill(self.pid, signal.SIGTERM)
        self.starter.wait(self.pid)


def _serve_requests(channel: socket.socket) -> None:
    from next_penny.cli import main  # noqa: PLC0415 - loaded here, in the process that forks

    _warm_up()
    gc.freeze()
    while True:
        request, files, _, _ = socket.recv_fds(channel, 65536, 1)
        if not request:
            return
        asked = json.loads(request)
        if "wait" in asked:
            os.waitpid(asked["wait"], 0)
            channel.sendall(b"0\n")
            continue
        pid = os.fork()
        if pid == 0:
            channel.close()
            os.dup2(files[0], 1)
            os.close(files[0])
            code = main(asked["start"])
            sys.stdout.flush()
            os._exit(code)
        os.close(files[0])
        channel.sendall(f"{pid}\n".encode())


def _warm_up() -> None:
    """Ask an app of the demo once for what pages ask for: what is made for the first answer is there after each fork."""
    from next_penny.api.app import create_app  # noqa: PLC0415 - loaded here, in the process that forks
    from next_penny.demo import fill_with_demo  # noqa: PLC0415
    from next_penny.store.store import Store  # noqa: PLC0415

    with TemporaryDirectory() as nowhere, closing(Store(Path(nowhere) / "household.sqlite3")) as store:
        fill_with_demo(store, TODAY)
        client = TestClient(create_app(store, lambda: TODAY), base_url="http://127.0.0.1")
        for address in _ASKED:
            client.get(f"/api/{address}")


if __name__ == "__main__":
    _serve_requests(socket.socket(fileno=int(sys.argv[1])))
