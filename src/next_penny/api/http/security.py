"""Who may ask: pages that we served ourselves, on the addresses that we listen on, by whoever is inside. And what those
pages may load."""

import secrets
from collections.abc import Iterable
from http.cookies import CookieError, SimpleCookie
from urllib.parse import urlsplit

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from next_penny.api.http.errors import Refusal, refusal_answer
from next_penny.api.http.passwords import COOKIE, Doorkeeper

_LOCAL_HOSTS = {"127.0.0.1", "localhost", "[::1]", "::1"}
_CHANGING = {"POST", "PUT", "PATCH", "DELETE"}
# What is answered to everybody: is the app there, is there a password, and trying one.
_OPEN_CALLS = {"/api/health", "/api/door", "/api/login"}
_LONGEST_PATH = 4000


class Guard:
    """Checks Host (against DNS rebinding), Origin (against other sites) and the session; sends a strict content policy.

    The policy lets styles carry the nonce that `request.state.nonce` holds, which the served page passes on.
    """

    def __init__(self, app: ASGIApp, hosts: Iterable[str], keeper: Doorkeeper) -> None:
        self._app, self._keeper = app, keeper
        self._hosts = _LOCAL_HOSTS | {host.lower() for host in hosts}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        nonce = secrets.token_urlsafe(16)
        scope.setdefault("state", {})["nonce"] = nonce

        async def send_guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers["Content-Security-Policy"] = _policy(nonce, scope["path"])
                for name, value in SAFE_HEADERS.items():
                    headers[name] = value
                if scope["path"].startswith("/api/"):
                    # What is the household's is in its file, and not in a browser's.
                    headers.setdefault("Cache-Control", "no-store")
            await send(message)

        headers = Headers(scope=scope)
        refused = self._refusal(scope["method"], scope["path"], headers) or await self._shut_out(scope["path"], headers)
        answer = self._app if refused is None else refusal_answer([refused[1]], refused[0])
        await answer(scope, receive, send_guarded)

    def _refusal(self, method: str, path: str, headers: Headers) -> tuple[int, Refusal] | None:
        """Why a request is not let through, with its status."""
        if not self._is_ours(headers.get("host", "")):
            return 403, _told("host", "This address is not served here.")
        if "\0" in path:
            return 400, _told("path", "There is no such address.")
        if len(path) > _LONGEST_PATH:
            return 404, _told("path", "There is no such address.")
        try:
            origin = headers.get("origin")
            is_foreign = origin is not None and urlsplit(origin).netloc != headers.get("host")
        except ValueError:
            return 400, _told("origin", "This is no Origin.")
        if method in _CHANGING and (is_foreign or headers.get("sec-fetch-site") == "cross-site"):
            return 403, _told("origin", "Changes are taken only from the app's own pages.")
        return None

    async def _shut_out(self, path: str, headers: Headers) -> tuple[int, Refusal] | None:
        """Whether the password is asked for first. The file may be busy: nobody else waits for the answer."""
        if not path.startswith("/api/") or path in _OPEN_CALLS:
            return None
        if await run_in_threadpool(self._keeper.lets_in, _token(headers.get("cookie", ""))):
            return None
        return 401, Refusal(loc=["cookie"], msg="A password is needed: log in first.", type="login")

    def _is_ours(self, host: str) -> bool:
        name = host if host.endswith("]") else host.rsplit(":", 1)[0]
        # A name with its last dot is the same name (RFC 1034, section 3.1).
        return name.lower().removesuffix(".") in self._hosts


def _told(where: str, message: str) -> Refusal:
    return Refusal(loc=["header" if where != "path" else "path", where], msg=message, type="not_served")


def _token(cookies: str) -> str | None:
    try:
        morsel = SimpleCookie(cookies).get(COOKIE)
    except CookieError:
        return None
    return morsel.value if morsel is not None else None


SAFE_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


def _policy(nonce: str, path: str) -> str:
    # A receipt is shown inside the page that it belongs to; nothing else may be framed.
    ancestors = "'self'" if path.startswith("/api/receipts/") else "'none'"
    return (
        f"default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; img-src 'self' data:; "
        "font-src 'self'; connect-src 'self'; manifest-src 'self'; worker-src 'self'; frame-src 'self'; "
        f"frame-ancestors {ancestors}; "
        "base-uri 'none'; form-action 'self'"
    )
