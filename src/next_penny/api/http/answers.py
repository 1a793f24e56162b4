"""Answers written as their models say, long lists from columns (`columns`).

The text has the fields of the model and no others, each in the form that its type has in JSON: so the OpenAPI document,
which is made of the same models, says what is answered.
"""

import datetime
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from types import UnionType
from typing import Any, Literal, Union, get_args, get_origin

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


def kinds_of(type_: Any) -> list[Any]:
    """The types that a value of a type may have; choices of words are text."""
    if get_origin(type_) in (Union, UnionType):
        return [kind for part in get_args(type_) for kind in kinds_of(part)]
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
        if value.type != type_ and value.type not in kinds_of(type_):
            raise TypeError(f"{model.__name__}.{name} is of {type_}, not of {value.type}")
        return value.pieces
    adapter = _adapter(model, name)
    return [adapter.dump_json(adapter.validate_python(value, by_name=True, by_alias=True), by_alias=True).decode()]


def several(model: type[BaseModel], written: Iterable[Written]) -> Written:
    """A list of objects of a model."""
    pieces: list[str] = []
    for one_written in written:
        if one_written.type is not model:
            raise TypeError(f"This is a list of {model.__name__}, not of {one_written.type}")
        pieces += ["," if pieces else "", *one_written.pieces]
    return Written(list[model], ("[", *pieces, "]"))  # type: ignore[valid-type]


def response(written: Written) -> Response:
    """What was written, as the answer."""
    return Response(written.text, media_type="application/json")


def workbook(content: bytes, name: str) -> Response:
    """A workbook (Office Open XML) to be kept as a file."""
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return Response(content, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
