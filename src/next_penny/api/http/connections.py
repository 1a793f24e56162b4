"""Connections: so many at once, each with a time within which its request must have begun; refusals in the one form."""

import asyncio
import json
from http import HTTPStatus

import h11
from uvicorn.protocols.http.h11_impl import H11Protocol

from next_penny.api.http.errors import Refusal
from next_penny.api.http.security import SAFE_HEADERS

MOST_CONNECTIONS = 100
HEADER_SECONDS = 10.0


class Connection(H11Protocol):
    """One connection of the server."""

    _waiting: asyncio.TimerHandle | None = None
    _since = 0.0

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Take it, unless there are too many."""
        super().connection_made(transport)
        self._since = self.loop.time()
        if len(self.connections) > MOST_CONNECTIONS and not self._one_gives_way():
            self._refuse(503, "Too many are connected at once: try again in a moment.")
        else:
            self._wait_for_request()

    def _one_gives_way(self) -> bool:
        """Let the oldest connection go that has not brought a whole request; one that is being answered stays."""
        others = [other for other in self.connections if isinstance(other, Connection) and other is not self]
        unread = [other for other in others if other.conn.their_state in (h11.IDLE, h11.SEND_BODY)
                  and not other.transport.is_closing()]  # fmt: skip
        if not unread:
            return False
        oldest = min(unread, key=lambda other: other._since)
        if oldest.conn.our_state in (h11.IDLE, h11.SEND_RESPONSE):
            oldest._refuse(408, "The request took too long.")
        else:
            oldest.transport.close()
        return True

    def connection_lost(self, exc: Exception | None) -> None:
        """It ended."""
        self._stop_waiting()
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        """A piece of a request: its head must be whole within its time."""
        if self.transport.is_closing():
            return
        super().data_received(data)
        is_answered = self.cycle is None or self.cycle.response_complete
        if self.conn.their_state is h11.IDLE and is_answered:
            self._since = self.loop.time()
            self._wait_for_request()
        else:
            self._stop_waiting()

    def send_400_response(self, msg: str) -> None:
        """What is no HTTP."""
        self._refuse(400, "This is no request that can be read.")

    def _wait_for_request(self) -> None:
        if self._waiting is None:
            self._waiting = self.loop.call_later(HEADER_SECONDS, self._refuse, 408, "The request took too long.")

    def _stop_waiting(self) -> None:
        if self._waiting is not None:
            self._waiting.cancel()
            self._waiting = None

    def _refuse(self, status: int, message: str) -> None:
        """Answer without the app, and close."""
        self._stop_waiting()
        if self.transport.is_closing():
            return
        refusal = Refusal(loc=["connection"], msg=message, type="connection")
        body = json.dumps({"detail": [refusal.model_dump()]}).encode()
        headers = {
            "Content-Type": "application/json",
            "Content-Length": str(len(body)),
            "Connection": "close",
            "Content-Security-Policy": "default-src 'none'; frame-ancestors 'none'",
            **SAFE_HEADERS,
        }
        head = "".join(f"{name}: {value}\r\n" for name, value in headers.items())
        self.transport.write(f"HTTP/1.1 {status} {HTTPStatus(status).phrase}\r\n{head}\r\n".encode() + body)
        self.transport.close()
