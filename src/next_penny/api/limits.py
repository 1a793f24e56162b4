"""How much a request may be: JSON of 20 MB and 64 levels, arriving within its time."""

import asyncio
import re

from starlette.datastructures import Headers
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from next_penny.api.errors import Refusal, refusal_answer

LARGEST_JSON = 20 * 2**20
DEEPEST_JSON = 64
_LONGEST_SENT = 5 * LARGEST_JSON
# A body that stops arriving for so long is given up.
_BODY_SECONDS = 30.0
# These take files, which they measure themselves.
_UPLOADS = {"/api/receipts", "/api/backups/bring"}
_BRACKETS = re.compile(rb'"(?:[^"\\]|\\.)*"?|[\[\]{}]', re.DOTALL)


class Limits:
    """Reads what a request brings before the app does, and refuses what is too much."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        try:
            if scope["path"] in _UPLOADS:
                await self._app(scope, _timely(receive), send)
            else:
                body = await _whole_body(scope, _timely(receive))
                await self._app(scope, _again(body, receive), send)
        except _TooMuch as error:
            await refusal_answer([Refusal(loc=["body"], msg=str(error), type="limit")], error.status)(
                scope, receive, send
            )


class _TooMuch(Exception):
    def __init__(self, message: str, status: int = 413) -> None:
        super().__init__(message)
        self.status = status


def _timely(receive: Receive) -> Receive:
    async def received() -> Message:
        try:
            return await asyncio.wait_for(receive(), _BODY_SECONDS)
        except TimeoutError:
            raise _TooMuch("The request took too long to arrive: send it again.", 408) from None

    return received


async def _whole_body(scope: Scope, receive: Receive) -> bytes:
    length = Headers(scope=scope).get("content-length", "0")
    declared = int(length) if length.isdigit() else 0
    pieces, size, is_more = list[bytes](), 0, declared <= _LONGEST_SENT
    while is_more:
        message = await receive()
        if message["type"] != "http.request":
            break
        size += len(message.get("body", b""))
        if size <= LARGEST_JSON:
            pieces.append(message.get("body", b""))
        # What is too large is let run out, within reason: who is still sending would not read the answer.
        is_more = message.get("more_body", False) and size <= _LONGEST_SENT
    if max(size, declared) > LARGEST_JSON:
        raise _TooMuch(f"The request is too large: at most {LARGEST_JSON // 2**20} MB.")
    body = b"".join(pieces)
    # Only what has so many brackets can be so deep; the rest need not be looked at.
    if body.count(b"[") + body.count(b"{") > DEEPEST_JSON and await asyncio.to_thread(depth, body) > DEEPEST_JSON:
        raise _TooMuch(f"The request has more than {DEEPEST_JSON} levels, one within the other.")
    return body


def depth(body: bytes) -> int:
    """How many brackets of a JSON text stand within each other at most; it stops counting where it is too many."""
    level = deepest = 0
    for found in _BRACKETS.finditer(body):
        mark = found[0]
        if mark in (b"[", b"{"):
            level += 1
            deepest = max(deepest, level)
            if deepest > DEEPEST_JSON:
                break
        elif mark in (b"]", b"}"):
            level -= 1
    return deepest


def _again(body: bytes, receive: Receive) -> Receive:
    """What was read already, then whatever comes after it."""
    is_given = False

    async def received() -> Message:
        nonlocal is_given
        if is_given:
            return await receive()
        is_given = True
        return {"type": "http.request", "body": body, "more_body": False}

    return received
