"""Worked tables: what is reckoned, written as lines that a person can read and reckon again."""

import dataclasses
import os
from collections.abc import Iterable, Iterator, Mapping
from datetime import date
from decimal import Decimal
from enum import Enum
from fractions import Fraction
from itertools import groupby
from pathlib import Path
from typing import Any

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.plan.plan import Plan

TABLES = Path(__file__).parent / "worked_tables"
# What is told by its name: the rest of it is written elsewhere.
_NAMED = ("Account", "Flow", "Allowance", "Entry", "Category", "Goal", "LoanTerms", "CardTerms")
_LEFT_OUT = ("account_id", "is_empty")
_DEPTH = 7
# Fields whose numbers are days, or months, told as a calendar has them.
_DAYS = (
    "day",
    "lowest_day",
    "first",
    "last",
    "lands",
    "nominal",
    "begins",
    "ends",
    "due",
    "next_due",
    "next_closing",
    "since",
    "last_received",
)


def table(value: object) -> list[str]:
    """A value as lines: what has one value on the line of its name, what has many below it."""
    return [line.rstrip() for line in _lines("", value, 0)]


def _lines(name: str, value: object, depth: int) -> Iterator[str]:
    indent, text = "  " * depth, _named(name, value)
    head = f"{name}: " if name else ""
    if text is not None:
        yield f"{indent}{head}{text}"
    elif depth > _DEPTH or not (isinstance(value, Iterable) or dataclasses.is_dataclass(value)):
        return
    elif isinstance(value, Mapping):
        yield from [f"{indent}{head}"] if head else []
        for key, part in value.items():
            yield from _lines(_plain(key) or str(table(key)), part, depth + bool(head))
    elif (fields := _fields(value)) is not None:
        flat = {key: text for key, part in fields.items() if (text := _named(key, part)) is not None}
        yield f"{indent}{head}" + " | ".join(f"{key} {text}" for key, text in flat.items() if text)
        for key, part in fields.items():
            if key not in flat:
                yield from _lines(key, part, depth + 1)
    else:
        yield from [f"{indent}{head}"] if head else []
        for part in value:  # type: ignore[attr-defined]
            yield from _lines("", part, depth + bool(head))


def _fields(value: object) -> dict[str, Any] | None:
    """What a record holds and tells: its fields, then what it reckons of them."""
    kind = type(value)
    if dataclasses.is_dataclass(value):
        names = [field.name for field in dataclasses.fields(value)]
    elif hasattr(kind, "_fields"):
        names = list(kind._fields)
    else:
        return None
    told = [name for name in dir(kind) if not name.startswith("_") and _is_told(kind, name) and name not in names]
    return {
        name: part
        for name in (*names, *told)
        if not isinstance(part := getattr(value, name), Moment | Plan) and not callable(part)
    }


def _is_told(kind: type, name: str) -> bool:
    return isinstance(getattr(kind, name, None), property) and name not in _LEFT_OUT


def _named(name: str, value: object) -> str | None:
    if type(value) is int and name in _DAYS and 700_000 < value < 800_000:
        return date.fromordinal(value).isoformat()
    if type(value) is int and name == "month" and 10_000 < value < 40_000:
        return f"{value // 12}-{value % 12 + 1:02}"
    return _plain(value)


def _plain(value: object) -> str | None:
    match value:
        case np.ndarray():
            return _runs(value.tolist())
        case None | "" | ():
            return ""
        case bool():
            return "yes" if value else "no"
        case Enum():
            return str(value.value)
        case str() | int() | date() | Decimal() | Fraction():
            return str(value)
        case float() | np.floating():
            return f"{float(value):.9g}"
        case np.integer() | np.bool_():
            return str(value.item())
        case list() | tuple() if _is_row(value) or (not hasattr(value, "_fields") and all(map(_is_row, value))):
            return _runs(list(value))
        case frozenset() | set():
            return ", ".join(sorted(map(str, value)))
    return str(value.id) if type(value).__name__ in _NAMED and hasattr(value, "id") else None


def _is_row(value: object) -> bool:
    """Whether it is a row of figures without names."""
    is_bare = isinstance(value, list | tuple) and not hasattr(value, "_fields")
    return is_bare and all(isinstance(part, int | str | date | None) for part in value)


def _runs(values: list[object]) -> str:
    """A long row of figures, the same one after another written once."""
    if len(values) > 1 and all(isinstance(value, tuple) for value in values):
        return "; ".join(_runs(list(value)) for value in values)
    runs = [(value, len(list(same))) for value, same in groupby(values)]
    return ", ".join(f"{_plain(value)}" + (f" x{count}" if count > 1 else "") for value, count in runs)


def held_against(name: str, told: Iterable[tuple[str, object]]) -> None:
    """Hold what is told against the table of its name. NEXT_PENNY_WORKED=write writes the table anew, to be read."""
    lines = [line for label, value in told for line in (f"## {label}", *table(value))]
    file = TABLES / f"{name.replace('_', '-').replace(' ', '-')}.txt"
    if os.environ.get("NEXT_PENNY_WORKED") == "write":
        file.write_text("\n".join(lines) + "\n")
    assert file.read_text().splitlines() == lines
