"""The simulated bank and rates over HTTP on this computer alone: OFX 2.2 at /ofx, a table of rates at /rates."""

import hashlib
from collections.abc import Callable
from datetime import date, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Event, Thread
from typing import Any, Literal
from urllib.parse import parse_qs, urlsplit
from xml.etree.ElementTree import Element, ParseError
from xml.sax.saxutils import escape

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring

from next_penny.formats.bank_files.ofx_writing import account_from, ofx_document, sign_on, statements_ofx, status
from next_penny.formats.bank_files.texts import day_of
from next_penny.standins.bank import SimulatedBank, number_of
from next_penny.standins.rates import rates_table

# Who may sign on at the bank to try.
USER, PASSWORD = "thornquill", "low tide"
CONSENT_DAYS = 90
Mood = Literal["well", "down", "slow", "nonsense"]

_MOST_BYTES, _LAST_PORT = 1_000_000, 65_535
_SLOW_SECONDS = 60
# How soon it sees that it is stopped.
_LOOK_SECONDS = 0.05


class StandInServer:
    """Answers on this computer, on a port or where that is taken on a free one, until it is stopped.

    mood: how well the bank is.
    """

    def __init__(self, bank: SimulatedBank, clock: Callable[[], date], port: int = 0) -> None:
        self.bank, self.clock = bank, clock
        self.mood: Mood = "well"
        self._stopped = Event()
        self._server = _server_at(port)
        self._server.answering = self
        Thread(target=self._server.serve_forever, args=(_LOOK_SECONDS,), name="stand-ins", daemon=True).start()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self._server.server_address[1]}"

    def stop(self) -> None:
        """Answer nobody any more."""
        self._stopped.set()
        self._server.shutdown()
        self._server.server_close()

    def ofx(self, request: bytes) -> bytes | None:
        """The bank's answer to a request; None where it is none."""
        if self.mood == "slow":
            self._stopped.wait(_SLOW_SECONDS)
        if self.mood == "nonsense":
            return b"<html><body><h1>We are improving our service for you</h1></body></html>"
        try:
            asked = fromstring(request)
        except (ParseError, DefusedXmlException, ValueError):
            return None
        today = self.clock()
        key = asked.findtext(".//SONRQ/USERKEY") or ""
        given = ""
        if not key and (asked.findtext(".//USERID"), asked.findtext(".//USERPASS")) == (USER, PASSWORD):
            until = today + timedelta(days=CONSENT_DAYS)
            key = _key_until(until)
            given = f"<USERKEY>{key}</USERKEY><TSKEYEXPIRE>{until:%Y%m%d}</TSKEYEXPIRE>"
        until_then = day_of(key[:8])
        if until_then is None or key != _key_until(until_then) or until_then < today:
            why = "The consent has ended" if asked.find(".//USERKEY") is not None else "User or password are not right"
            return ofx_document(sign_on(today, status(15500, why)))
        return ofx_document(sign_on(today, key=given), self._accounts(asked), self._statements(asked, today))

    def _accounts(self, asked: Element) -> str:
        if asked.find(".//ACCTINFORQ") is None:
            return ""
        wording = ""
        for account in self.bank.accounts:
            kind = "CCACCTINFO" if account.kind == "credit_card" else "BANKACCTINFO"
            of = account_from(account.kind, number_of(account))
            info = f"<{kind}>{of}<SVCSTATUS>ACTIVE</SVCSTATUS></{kind}>"
            wording += f"<ACCTINFO><DESC>{escape(account.name)}</DESC>{info}</ACCTINFO>"
        answer = f"<ACCTINFORS><DTACCTUP>19700101</DTACCTUP>{wording}</ACCTINFORS>"
        return f"<SIGNUPMSGSRSV1><ACCTINFOTRNRS><TRNUID>1</TRNUID>{status()}{answer}</ACCTINFOTRNRS></SIGNUPMSGSRSV1>"

    def _statements(self, asked: Element, today: date) -> str:
        by_number = {number_of(account): account for account in self.bank.accounts}
        yesterday = today - timedelta(days=1)
        statements = []
        for request in (*asked.iter("STMTRQ"), *asked.iter("CCSTMTRQ")):
            account = by_number.get(request.findtext(".//ACCTID") or "")
            since = day_of(request.findtext(".//DTSTART") or "") or yesterday
            if account is not None:
                statements.append(self.bank.statement(account, min(since, yesterday), yesterday))
        return statements_ofx(statements)

    def rates(self, query: str) -> str:
        """The table of rates that a query asks for."""
        asked = {name: values[0] for name, values in parse_qs(query).items()}
        today = self.clock()
        since = day_of(asked.get("since", "")) or today
        first = max(since, today - timedelta(days=366))
        return rates_table(asked.get("from", ""), asked.get("to", ""), first, today)


def _key_until(day: date) -> str:
    """A key that is good until a day, also after this bank was started anew."""
    return f"{day:%Y%m%d}{hashlib.sha256(f'{PASSWORD} {day}'.encode()).hexdigest()[:24]}"


def _server_at(port: int) -> "_Server":
    try:
        return _Server(("127.0.0.1", port if port <= _LAST_PORT else 0), _Handler)
    except OSError:
        return _Server(("127.0.0.1", 0), _Handler)


class _Server(ThreadingHTTPServer):
    daemon_threads = True
    answering: StandInServer


class _Handler(BaseHTTPRequestHandler):
    server: _Server

    def do_POST(self) -> None:
        """OFX."""
        length = self.headers.get("Content-Length", "")
        size = int(length) if length.isascii() and length.isdecimal() else 0
        if urlsplit(self.path).path != "/ofx" or not 0 < size <= _MOST_BYTES:
            self._answer(404, b"", "text/plain")
        elif self.server.answering.mood == "down":
            self._answer(503, b"Closed for the night", "text/plain")
        else:
            answer = self.server.answering.ofx(self.rfile.read(size))
            self._answer(200 if answer is not None else 400, answer or b"", "application/x-ofx")

    def do_GET(self) -> None:
        """Rates."""
        address = urlsplit(self.path)
        if address.path != "/rates":
            self._answer(404, b"", "text/plain")
        else:
            self._answer(200, self.server.answering.rates(address.query).encode(), "text/csv; charset=utf-8")

    def _answer(self, code: int, content: bytes, kind: str) -> None:
        self.send_response(code)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(content)))
        self.end_headers()
        self.wfile.write(content)

    def log_message(self, format: str, *words: Any) -> None:
        """Nothing is written down."""
