"""Answers written as their models say.

Long answers are written as text from columns, many times faster than object by object. The text has the fields of the
model and no others, each in the form that its type has in JSON: so the OpenAPI document, which is made of the same
models, says what is answered.
"""

import datetime
import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import islice
from json.encoder import encode_basestring_ascii
from types import NoneType, UnionType
from typing import Any, Literal, NamedTuple, Union, get_args, get_origin

from fastapi import Response
from pydantic import BaseModel, TypeAdapter

Levels = list[tuple[datetime.date, int]]


@dataclass(frozen=True, slots=True)
class Written:
    """JSON text in pieces, and the type of what it says. A long text is put together once, when it is sent."""

    type: Any
    pieces: Sequence[str]

    @property
    def text(self) -> str:
        return "".join(self.pieces)


@lru_cache(maxsize=65536)
def _day(number: int) -> str:
    return f'"{datetime.date.fromordinal(number).isoformat()}"'


# So many texts are put together at once: in between, other requests have their turn.
_AT_ONCE = 2_000


def _listed(type_: Any, texts: Iterable[str]) -> Written:
    rest, pieces = iter(texts), ["["]
    while piece := ",".join(islice(rest, _AT_ONCE)):
        pieces += [piece] if len(pieces) == 1 else [",", piece]
    return Written(type_, (*pieces, "]"))


def levels(days: Sequence[int], amounts: Sequence[int]) -> Written:
    """Pairs of a day (as its number) and an amount."""
    return _listed(Levels, [f"[{_day(d)},{a}]" for d, a in zip(days, amounts, strict=True)])


def days(numbers: Sequence[int]) -> Written:
    """A list of days, given as their numbers."""
    return _listed(list[datetime.date], map(_day, numbers))


def amounts(numbers: Sequence[int]) -> Written:
    """A list of whole numbers."""
    return _listed(list[int], map(str, numbers))


class Coded(NamedTuple):
    """A column of few values: each row is the place of its own in `values`."""

    values: Sequence[Any]
    codes: Sequence[int]


def rows(model: type[BaseModel], columns: Mapping[str, Sequence[Any] | Coded]) -> Written:
    """Many objects of one model from columns, one for every field; days are given as day numbers."""
    fields = model.model_fields
    if columns.keys() != fields.keys():
        raise TypeError(f"{model.__name__} has the fields {sorted(fields)}, not {sorted(columns)}")
    names = [json.dumps(field.serialization_alias or field.alias or name) for name, field in fields.items()]
    forms = ["%d" if field.annotation is int else "%s" for field in fields.values()]
    template = "{" + ",".join(f"{name}:{form}" for name, form in zip(names, forms, strict=True)) + "}"
    texts = [_texts(field.annotation, columns[name]) for name, field in fields.items()]
    return _listed(list[model], map(template.__mod__, zip(*texts, strict=True)))  # type: ignore[valid-type]


def _texts(type_: Any, column: Sequence[Any] | Coded) -> Iterable[Any]:
    """A column's values as JSON text; whole numbers as they are."""
    if type_ is int:
        return column
    write = _writer(type_)
    if isinstance(column, Coded):
        texts = [write(value) for value in column.values]
        return [texts[code] for code in column.codes]
    known = {value: write(value) for value in set(column)}
    return [known[value] for value in column]


def _writer(type_: Any) -> Callable[[Any], str]:
    kinds = list(dict.fromkeys(kind for kind in _kinds(type_) if kind is not NoneType))
    if kinds == [datetime.date]:
        return lambda value: "null" if value is None else _day(value)
    if kinds == [bool]:
        return lambda value: "true" if value else "false"
    if kinds == [str]:
        # What json.dumps does for a string, without looking each time what it is given.
        return lambda value: "null" if value is None else encode_basestring_ascii(value)
    if (kinds == [int] and len(_kinds(type_)) == 2) or kinds == [list[str]]:
        return json.dumps
    raise TypeError(f"columns of {type_} are not written yet")


def _kinds(type_: Any) -> list[Any]:
    if get_origin(type_) in (Union, UnionType):
        return [kind for part in get_args(type_) for kind in _kinds(part)]
    return [str] if get_origin(type_) is Literal else [type_]


@lru_cache(maxsize=1024)
def _adapter(model: type[BaseModel], name: str) -> TypeAdapter[Any]:
    return TypeAdapter(model.model_fields[name].annotation)  # type: ignore[arg-type]


def whole(model: type[BaseModel], fields: Mapping[str, Any]) -> Written:
    """One object of a model; each of its fields is text that is written already, or what its type takes."""
    if fields.keys() != model.model_fields.keys():
        raise TypeError(f"{model.__name__} has the fields {sorted(model.model_fields)}, not {sorted(fields)}")
    pieces, gap = ["{"], ""
    for name, field in model.model_fields.items():
        pieces.append(f"{gap}{json.dumps(field.serialization_alias or field.alias or name)}:")
        pieces += _pieces(model, name, field.annotation, fields[name])
        gap = ","
    return Written(model, (*pieces, "}"))


def _pieces(model: type[BaseModel], name: str, type_: Any, value: Any) -> Sequence[str]:
    if isinstance(value, Written):
        if value.type != type_ and value.type not in _kinds(type_):
            raise TypeError(f"{model.__name__}.{name} is of {type_}, not of {value.type}")
        return value.pieces
    adapter = _adapter(model, name)
    return [adapter.dump_json(adapter.validate_python(value, by_name=True, by_alias=True), by_alias=True).decode()]


def several(model: type[BaseModel], written: Iterable[Written]) -> Written:
    """A list of objects of a model."""
    texts = []
    for one_written in written:
        if one_written.type is not model:
            raise TypeError(f"This is a list of {model.__name__}, not of {one_written.type}")
        texts.append(one_written.text)
    return _listed(list[model], texts)  # type: ignore[valid-type]


def response(written: Written) -> Response:
    """What was written, as the answer."""
    return Response(written.text, media_type="application/json")


def workbook(content: bytes, name: str) -> Response:
    """A workbook (Office Open XML) to be kept as a file."""
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return Response(content, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
