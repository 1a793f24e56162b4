"""Answers are compressed on their way over a network; on this machine that takes longer than it saves."""

from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp, Receive, Scope, Send

_HERE = ("127.0.0.1", "::1", "testclient")


class Squeezed:
    """GZip for those who ask from elsewhere."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app
        self._squeezing = GZipMiddleware(app, minimum_size=1500, compresslevel=3)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        is_here = scope["type"] != "http" or (scope.get("client") or ("",))[0] in _HERE
        await (self._app if is_here else self._squeezing)(scope, receive, send)
