"""The built interface, which the package carries: its files, and its page for every other address."""

from html import escape
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, HTMLResponse, Response
from starlette.exceptions import HTTPException

import next_penny

INTERFACE = Path(next_penny.__file__).parent / "interface"

_LONGEST_PATH = 200

# The name of a built file changes with its content. The mark's does not, and a browser asks for it at every page.
_FOR_GOOD, _FOR_A_DAY, _ASKED_AGAIN = "public, max-age=31536000, immutable", "public, max-age=86400", "no-cache"

_NOT_BUILT = "<!doctype html><title>Next Penny</title><p>The interface is not built yet: run <code>make setup</code>."

router = APIRouter(include_in_schema=False)


@router.api_route("/api/{rest:path}", methods=["GET", "POST", "PUT", "PATCH", "DELETE"])
def no_such_call(rest: str) -> None:
    """Calls that do not exist are not pages."""
    raise HTTPException(404)


@router.get("/{path:path}")
def page(path: str, request: Request) -> Response:
    """A file of the interface, or its page, which finds its own way by the address."""
    file = _file(path)
    if file is not None:
        return FileResponse(file, headers={"Cache-Control": _lasting(path)})
    if path.startswith("assets/"):
        raise HTTPException(404)
    index = INTERFACE / "index.html"
    if not index.exists():
        return HTMLResponse(_NOT_BUILT, status_code=503)
    nonce = escape(request.state.nonce, quote=True)
    return HTMLResponse(index.read_text().replace("__NONCE__", nonce), headers={"Cache-Control": "no-store"})


def _lasting(path: str) -> str:
    if path.startswith("assets/"):
        return _FOR_GOOD
    return _FOR_A_DAY if path.endswith((".svg", ".png")) else _ASKED_AGAIN


def _file(path: str) -> Path | None:
    """The file of the interface that a path names, if it names one."""
    if not path or len(path) > _LONGEST_PATH:
        return None
    file = (INTERFACE / path).resolve()
    is_ours = file.is_relative_to(INTERFACE) and file.name != "index.html"
    return file if is_ours and file.is_file() else None
