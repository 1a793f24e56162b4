"""The built interface, which the package carries: its files, and its page for every other address."""

from html import escape
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse, Response

INTERFACE = Path(__file__).parent.parent / "interface"

_NOT_BUILT = "<!doctype html><title>Next Penny</title><p>The interface is not built yet: run <code>make setup</code>."

router = APIRouter(include_in_schema=False)


@router.get("/api/{rest:path}")
def no_such_call(rest: str) -> JSONResponse:
    """Calls that do not exist are not pages."""
    return JSONResponse({"detail": "There is no such call."}, status_code=404)


@router.get("/{path:path}")
def page(path: str, request: Request) -> Response:
    """A file of the interface, or its page, which finds its own way by the address."""
    file = (INTERFACE / path).resolve()
    if path and file.is_file() and file.is_relative_to(INTERFACE) and file.name != "index.html":
        lasting = "public, max-age=31536000, immutable" if path.startswith("assets/") else "no-cache"
        return FileResponse(file, headers={"Cache-Control": lasting})
    if path.startswith("assets/"):
        return Response(status_code=404)
    index = INTERFACE / "index.html"
    if not index.exists():
        return HTMLResponse(_NOT_BUILT, status_code=503)
    nonce = escape(request.state.nonce, quote=True)
    return HTMLResponse(index.read_text().replace("__NONCE__", nonce), headers={"Cache-Control": "no-store"})
