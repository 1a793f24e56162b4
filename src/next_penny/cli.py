"""The command: serve a household's file, or the demo household."""

import argparse
import signal
import socket
import sys
import tempfile
from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path

import uvicorn

from next_penny.api.app import create_app
from next_penny.core.dates.calendar import EARLIEST, LATEST
from next_penny.demo import fill_with_demo
from next_penny.store.connection import StoreError
from next_penny.store.store import Store

_DEFAULT_FILE = Path.home() / ".local" / "share" / "next-penny" / "household.sqlite3"


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command. Exit code 2 for what the person can put right, with a sentence on stderr."""
    options = _parser().parse_args(arguments)
    try:
        with tempfile.TemporaryDirectory(prefix="next-penny-demo-") as folder:
            is_demo = options.command == "demo"
            default = Path(folder) / "demo.sqlite3" if is_demo else _DEFAULT_FILE
            return _serve(options, Path(options.file) if options.file else default, is_demo)
    except (StoreError, _CannotListen) as error:
        print(f"next-penny: {error}", file=sys.stderr)
        return 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="next-penny", description="A household's money, projected day by day.")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, text in (
        ("serve", "serve a household's file (created empty when missing) and the interface"),
        ("demo", "serve the demo household, in a file of its own that is made anew at each start"),
    ):
        command = commands.add_parser(name, help=text, description=text.capitalize() + ".")
        where = "kept there between starts" if name == "demo" else f"default {_DEFAULT_FILE}"
        command.add_argument("--file", metavar="PATH", help=f"the household's file ({where})")
        command.add_argument("--port", type=_port, default=8765, help="default 8765")
        command.add_argument("--host", default="127.0.0.1", help="the address to listen on (default 127.0.0.1)")
        command.add_argument("--today", type=_day, metavar="DATE", help="pin today's date, as YYYY-MM-DD")
    return parser


def _port(text: str) -> int:
    if not text.isdigit() or not 0 <= int(text) <= 65535:
        raise argparse.ArgumentTypeError(f"“{text}” is not a port: give a number from 0 to 65535")
    return int(text)


def _day(text: str) -> date:
    try:
        day = date.fromisoformat(text)
        if not EARLIEST <= day <= LATEST:
            raise ValueError
    except ValueError:
        raise argparse.ArgumentTypeError(
            f"“{text}” is not a date from {EARLIEST} to {LATEST}: write it as YYYY-MM-DD"
        ) from None
    return day


class _CannotListen(Exception):
    """The address is taken, or is not this machine's."""


def _serve(options: argparse.Namespace, file: Path, is_demo: bool) -> int:
    pinned: date | None = options.today
    clock: Callable[[], date] = date.today if pinned is None else lambda: pinned
    is_new = not file.exists()
    listener = _listen(options.host, options.port)
    store = _open(file)
    try:
        if is_demo and is_new:
            fill_with_demo(store, clock())
        app = create_app(store, clock, options.host)
        server = _Server(uvicorn.Config(app, log_level="warning", server_header=False))
        for way_to_stop in (signal.SIGINT, signal.SIGTERM):
            # The server closes first and then passes the signal on; what follows it here is still to be done.
            signal.signal(way_to_stop, lambda *_: sys.exit(0))
        server.run(sockets=[listener])
    finally:
        store.close()
    return 0


def _open(file: Path) -> Store:
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise StoreError(f"{file.parent} cannot be made: {error.strerror}.") from error
    return Store(file)


def _listen(host: str, port: int) -> socket.socket:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # With the protocol named, asyncio turns off TCP's waiting for more to send, which costs 40 ms an answer.
    listener = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, port))
        # Listening at once, so that a second start on the same port is refused, not shared.
        listener.listen(128)
    except OSError as error:
        listener.close()
        advice = (
            "stop what uses it, or choose another with --port" if error.errno == 98 else "choose another with --host"
        )
        raise _CannotListen(f"cannot listen on {host} port {port} ({error.strerror}): {advice}.") from error
    return listener


class _Server(uvicorn.Server):
    """Says where it listens, once it does."""

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        if self.started and sockets:
            host, port = sockets[0].getsockname()[:2]
            print(f"Next Penny is open at http://{f'[{host}]' if ':' in host else host}:{port}", flush=True)


if __name__ == "__main__":
    sys.exit(main())
