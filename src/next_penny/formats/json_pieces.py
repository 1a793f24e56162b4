"""Reading a long JSON text an item at a time: in between, other threads have their turn.

Python's own reader holds all others up until it is through; over a document of years that is a third of a second.
"""

import json
import re
from json import JSONDecodeError
from typing import Any

_SPACE = re.compile(r"[ \t\n\r]*")
_DECODER = json.JSONDecoder()


def loads(text: str | bytes) -> Any:
    """As `json.loads`. Raises ValueError, and RecursionError for what is too deep."""
    if isinstance(text, bytes):
        text = text.decode(json.detect_encoding(text), "surrogatepass")
    at = _skip(text, 0)
    if not text.startswith("{", at):
        return json.loads(text)
    members: dict[str, Any] = {}
    at = _skip(text, at + 1)
    if text.startswith("}", at):
        return _ended(text, at + 1, members)
    while True:
        if not text.startswith('"', at):
            raise JSONDecodeError("a name was expected", text, at)
        name, at = _DECODER.raw_decode(text, at)
        at = _skip(text, _expected(text, _skip(text, at), ":"))
        members[name], at = _list(text, at + 1) if text.startswith("[", at) else _value(text, at)
        at = _skip(text, at)
        if text.startswith("}", at):
            return _ended(text, at + 1, members)
        at = _skip(text, _expected(text, at, ","))


def _list(text: str, at: int) -> tuple[list[Any], int]:
    items: list[Any] = []
    at = _skip(text, at)
    if text.startswith("]", at):
        return items, at + 1
    while True:
        item, at = _value(text, at)
        items.append(item)
        at = _skip(text, at)
        if text.startswith("]", at):
            return items, at + 1
        at = _skip(text, _expected(text, at, ","))


def _value(text: str, at: int) -> tuple[Any, int]:
    return _DECODER.raw_decode(text, at)


def _skip(text: str, at: int) -> int:
    match = _SPACE.match(text, at)
    assert match is not None
    return match.end()


def _expected(text: str, at: int, mark: str) -> int:
    if not text.startswith(mark, at):
        raise JSONDecodeError(f"{mark} was expected", text, at)
    return at + 1


def _ended(text: str, at: int, members: Any) -> Any:
    if _skip(text, at) != len(text):
        raise JSONDecodeError("something follows the end", text, at)
    return members
