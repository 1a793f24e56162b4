"""Who may ask: pages that we served ourselves, on the address that we listen on. And what those pages may load."""

import secrets
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

_LOCAL_HOSTS = {"127.0.0.1", "localhost", "[::1]", "::1"}
_CHANGING = {"POST", "PUT", "PATCH", "DELETE"}


class Guard:
    """Checks Host (against DNS rebinding) and Origin (against other sites), and sends a strict content policy.

    The policy lets styles carry the nonce that `request.state.nonce` holds, which the served page passes on.
    """

    def __init__(self, app: ASGIApp, host: str) -> None:
        self._app = app
        self._hosts = _LOCAL_HOSTS | {host}
        self._any_host = host in ("0.0.0.0", "::")  # noqa: S104 - asked for by whoever started the app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        refusal = self._refusal(scope["method"], Headers(scope=scope))
        if refusal is not None:
            await PlainTextResponse(refusal, status_code=403)(scope, receive, send)
            return
        nonce = secrets.token_urlsafe(16)
        scope.setdefault("state", {})["nonce"] = nonce

        async def send_guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers["Content-Security-Policy"] = _policy(nonce, scope["path"])
                headers["X-Content-Type-Options"] = "nosniff"
                headers["Referrer-Policy"] = "no-referrer"
                headers["Cross-Origin-Opener-Policy"] = "same-origin"
                headers["Cross-Origin-Resource-Policy"] = "same-origin"
            await send(message)

        await self._app(scope, receive, send_guarded)

    def _refusal(self, method: str, headers: Headers) -> str | None:
        if not self._is_ours(headers.get("host", "")):
            return "This address is not served here."
        origin = headers.get("origin")
        is_foreign = origin is not None and urlsplit(origin).netloc != headers.get("host")
        if method in _CHANGING and (is_foreign or headers.get("sec-fetch-site") == "cross-site"):
            return "Changes are taken only from the app's own pages."
        return None

    def _is_ours(self, host: str) -> bool:
        name = host if host.endswith("]") else host.rsplit(":", 1)[0]
        return self._any_host or name in self._hosts


def _policy(nonce: str, path: str) -> str:
    # A receipt is shown inside the page that it belongs to; nothing else may be framed.
    ancestors = "'self'" if path.startswith("/api/receipts/") else "'none'"
    return (
        f"default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; img-src 'self' data:; "
        "font-src 'self'; connect-src 'self'; manifest-src 'self'; worker-src 'self'; frame-src 'self'; "
        f"frame-ancestors {ancestors}; "
        "base-uri 'none'; form-action 'self'"
    )
