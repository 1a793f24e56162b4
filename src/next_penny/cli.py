"""The command: serve a household's file or the demo household, and look after the file."""

import argparse
import asyncio
import gc
import signal
import socket
import sqlite3
import sys
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, nullcontext
from datetime import date
from ipaddress import ip_address
from pathlib import Path

import uvicorn

from next_penny.api.accounts.connections.daily import asked_daily
from next_penny.api.app import create_app
from next_penny.api.http.connections import Connection
from next_penny.core.dates.calendar import EARLIEST, LATEST
from next_penny.core.problems import NextPennyError
from next_penny.demo import fill_with_demo
from next_penny.keeping import COMMANDS, CannotBeDone, run
from next_penny.standins.running import DemoClock, StandIns
from next_penny.store.file.faults import BackupError, FileFault, StoreError, sentence_of
from next_penny.store.store import Store

_DEFAULT_FILE = Path.home() / ".local" / "share" / "next-penny" / "household.sqlite3"
# Longer than a household thinks between two steps: a connection that closes as it is used loses the request.
_IDLE_SECONDS = 90
# Whoever does not take an answer keeps the app from ending so long.
_LAST_SECONDS = 5


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command. Exit code 2 for what the person can put right, with a sentence on stderr."""
    options = _parser().parse_args(arguments)
    try:
        if options.command in COMMANDS:
            print(run(options, Path(options.file or _DEFAULT_FILE), options.today or date.today()))  # noqa: DTZ011 - the household's own day
            return 0
        with tempfile.TemporaryDirectory(prefix="next-penny-demo-") as folder:
            is_demo = options.command == "demo"
            default = Path(folder) / "demo.sqlite3" if is_demo else _DEFAULT_FILE
            return _serve(options, Path(options.file) if options.file else default, is_demo)
    except (StoreError, BackupError, FileFault, CannotBeDone, _CannotListen) as error:
        print(f"next-penny: {error}", file=sys.stderr)
    except sqlite3.Error as error:
        print(f"next-penny: {sentence_of(error)}", file=sys.stderr)
    except OSError as error:
        where = f"{str(error.filename)[:200]}: " if error.filename else ""
        print(f"next-penny: {where}{error.strerror or error}.", file=sys.stderr)
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
        command.add_argument("--allow-host", metavar="NAME", action="append", default=[],
                             help="a name by which other computers reach it (may be repeated)")  # fmt: skip
        command.add_argument("--today", type=_day, metavar="DATE", help="pin today's date, as YYYY-MM-DD")
    for name, (text, needs_file) in COMMANDS.items():
        command = commands.add_parser(name, help=text, description=text.capitalize() + ".")
        if needs_file:
            command.add_argument("other", metavar="FILE", help=needs_file)
        command.add_argument("--file", metavar="PATH", help=f"the household's file (default {_DEFAULT_FILE})")
        command.add_argument("--today", type=_day, metavar="DATE", help=argparse.SUPPRESS)
        if name == "import":
            command.add_argument("--dry-run", action="store_true", help="say what would change, and change nothing")
            command.add_argument("--account", metavar="ID", help="the account that a bank's file is of")
        if name in ("backup", "export"):
            command.add_argument("--force", action="store_true", help="replace FILE even if it is a household")
        if name == "restore":
            command.add_argument("--even-if-unreadable", action="store_true",
                                 help="put aside what is there, even if it cannot be read at all")  # fmt: skip
        if name == "password":
            command.add_argument("--remove", action="store_true", help="ask for no password any more")
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


class _CannotListen(NextPennyError):
    """The address is taken, or is not this machine's."""


def _serve(options: argparse.Namespace, file: Path, is_demo: bool) -> int:
    pinned: date | None = options.today
    clock: Callable[[], date] = date.today if pinned is None else lambda: pinned
    is_local = _is_loopback(options.host)
    # Nothing is made where nobody can be answered.
    listener = _listen(options.host, options.port) if is_local else None
    store, is_new = _open(file)
    try:
        if listener is None:
            _check_beyond(options.host, options.allow_host, store)
            listener = _listen(options.host, options.port)
        if is_demo and is_new:
            fill_with_demo(store, clock())
        hosts = [*([options.host] if is_local else []), *options.allow_host]
        with _stand_ins(store, clock, file, listener) if is_demo else nullcontext() as stand_ins:
            app = create_app(store, stand_ins.clock if stand_ins is not None else clock, hosts, stand_ins)
            config = uvicorn.Config(
                app, http=Connection, log_level="warning", server_header=False, timeout_keep_alive=_IDLE_SECONDS
            )
            server = _Server(config)
            for way_to_stop in (signal.SIGINT, signal.SIGTERM):
                # The server closes first and then passes the signal on; what follows it here is still to be done.
                signal.signal(way_to_stop, lambda *_: sys.exit(0))
            _rest_seldom()
            with asked_daily(app.state.asking):
                server.run(sockets=[listener])
    finally:
        store.close()
    return 0


@contextmanager
def _stand_ins(store: Store, clock: Callable[[], date], file: Path, listener: socket.socket) -> Iterator[StandIns]:
    """The demo's bank, mailbox and rates, which know what is recorded, and follow the plan from now on.

    A demo that is kept finds them again where they were: at the port after its own, and beside its file.
    """
    with store.reading(clock()) as reading:
        moment, recorded = reading.moment, reading.dated(EARLIEST, LATEST)
    mailbox = file.with_name(f"{file.name}-mailbox")
    stand_ins = StandIns(moment, recorded, DemoClock(clock), mailbox, listener.getsockname()[1] + 1)
    try:
        yield stand_ins
    finally:
        stand_ins.stop()


def _rest_seldom() -> None:
    """Look for garbage in all of memory seldom: with years of entries in it, that would keep every request waiting.

    What a request leaves behind is young, and is looked for as often as ever; what grew old, once it is a quarter more
    than all that stays (CPython's own rule).
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(2_000, 10, 200)


def _open(file: Path) -> tuple[Store, bool]:
    """The household's file, and whether it was just made."""
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        is_new = not file.exists()
    except (OSError, ValueError) as error:
        why = error.strerror if isinstance(error, OSError) else "there can be no such name"
        raise StoreError(f"{str(file)[:200]} cannot be opened: {why}.") from error
    return Store(file), is_new


def _check_beyond(host: str, allowed: Sequence[str], store: Store) -> None:
    """Beyond this computer, only with a password and for named hosts."""
    if store.door() is None:
        raise _CannotListen(
            f"--host {host} would let others in: set a password first, with `next-penny password --file {store.path}`."
        )
    if not allowed:
        raise _CannotListen(
            f"--host {host} needs the name under which others reach this computer: add --allow-host NAME."
        )


def _is_loopback(host: str) -> bool:
    if not host.strip():
        raise _CannotListen("--host needs an address: leave it out to listen on this computer alone.")
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"


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
    """Says where it listens, once it does, and ends also where somebody does not take an answer."""

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        if self.started and sockets:
            host, port = sockets[0].getsockname()[:2]
            print(f"Next Penny is open at http://{f'[{host}]' if ':' in host else host}:{port}", flush=True)

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        asyncio.get_running_loop().call_later(_LAST_SECONDS, self._let_go)
        await super().shutdown(sockets)

    def _let_go(self) -> None:
        """Close what is still open; what is being worked on is finished all the same."""
        for connection in list(self.server_state.connections):
            connection.transport.abort()


if __name__ == "__main__":
    sys.exit(main())
