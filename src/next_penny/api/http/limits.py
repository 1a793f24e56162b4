"""How much a request may be: JSON of 20 MB and 64 levels, arriving within its time."""

import asyncio
import re

from starlette.datastructures import Headers
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from next_penny.api.http.errors import Refusal, refusal_answer
from next_penny.core.problems import NextPennyError, waiting

LARGEST_JSON = 20 * 2**20
DEEPEST_JSON = 64
_LONGEST_SENT = 5 * LARGEST_JSON
# A body has so long in all.
_BODY_SECONDS = 30.0
# These take files, which they measure themselves.
_UPLOADS = {"/api/receipts", "/api/backups/bring"}
_BRACKETS = re.compile(rb'"(?:[^"\\]|\\.)*"?|[\[\]{}]', re.DOTALL)


class Limits:
    """Reads what a request brings before the app does, and refuses what is too much.

    Who has gone away is not computed for any longer (`core.patience`).
    """

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        timely = _timely(receive)
        try:
            if scope["path"] in _UPLOADS:
                await self._app(scope, timely, send)
                return
            body = await _whole_body(scope, timely)
            if body is not None:
                await self._answered(scope, body, receive, send)
        except _TooMuch as error:
            refusal = refusal_answer([Refusal(loc=["body"], msg=str(error), type="limit")], error.status)
            await refusal(scope, receive, send)

    async def _answered(self, scope: Scope, body: bytes, receive: Receive, send: Send) -> None:
        is_gone = asyncio.Event()
        watch = asyncio.create_task(_wait_until_gone(receive, is_gone))
        try:
            with waiting(is_gone.is_set):
                await self._app(scope, _again(body, is_gone), send)
        finally:
            watch.cancel()


async def _wait_until_gone(receive: Receive, is_gone: asyncio.Event) -> None:
    while (await receive())["type"] != "http.disconnect":
        pass
    is_gone.set()


class _TooMuch(NextPennyError):
    def __init__(self, message: str, status: int = 413) -> None:
        super().__init__(message)
        self.status = status


def _timely(receive: Receive) -> Receive:
    """What a request brings has so many seconds in all, however it comes."""
    until: float | None = None

    async def received() -> Message:
        nonlocal until
        now = asyncio.get_running_loop().time()
        until = until if until is not None else now + _BODY_SECONDS
        try:
            return await asyncio.wait_for(receive(), max(0.0, until - now))
        except TimeoutError:
            raise _TooMuch("The request took too long to arrive: send it again.", 408) from None

    return received


async def _whole_body(scope: Scope, receive: Receive) -> bytes | None:
    """All that a request brings; None where who sent it has gone before it was all."""
    length = Headers(scope=scope).get("content-length", "0")
    declared = int(length) if length.isdigit() else 0
    pieces, size, is_more = list[bytes](), 0, declared <= _LONGEST_SENT
    while is_more:
        message = await receive()
        if message["type"] != "http.request":
            return None
        size += len(message.get("body", b""))
        if size <= LARGEST_JSON:
            pieces.append(message.get("body", b""))
        # What is too large is let run out, within reason: who is still sending would not read the answer.
        is_more = message.get("more_body", False) and size <= _LONGEST_SENT
    if max(size, declared) > LARGEST_JSON:
        raise _TooMuch(f"The request is too large: at most {LARGEST_JSON // 2**20} MB.")
    body = b"".join(pieces)
    # Only what has so many brackets can be so deep; the rest need not be looked at, nor what is no JSON.
    is_form = Headers(scope=scope).get("content-type", "").startswith("multipart/")
    if (
        not is_form
        and body.count(b"[") + body.count(b"{") > DEEPEST_JSON
        and await asyncio.to_thread(depth, body) > DEEPEST_JSON
    ):
        raise _TooMuch(f"The request has more than {DEEPEST_JSON} levels, one within the other.")
    return body


def depth(body: bytes) -> int:
    """How many brackets of a JSON text stand within each other at most; it stops counting where it is too many."""
    level = deepest = 0
    for match in _BRACKETS.finditer(body):
        mark = match[0]
        if mark in (b"[", b"{"):
            level += 1
            deepest = max(deepest, level)
            if deepest > DEEPEST_JSON:
                break
        elif mark in (b"]", b"}"):
            level -= 1
    return deepest


def _again(body: bytes, is_gone: asyncio.Event) -> Receive:
    """What was read already, then that who asked has gone, once that is so."""
    is_given = False

    async def received() -> Message:
        nonlocal is_given
        if is_given:
            await is_gone.wait()
            return {"type": "http.disconnect"}
        is_given = True
        return {"type": "http.request", "body": body, "more_body": False}

    return received
