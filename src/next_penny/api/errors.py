"""Every refusal as a sentence at its field: `{"detail": [{"loc", "msg", "type"}]}` with status 422."""

import sqlite3
from collections.abc import Callable, Iterable
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel

from next_penny.core.loans.walk import LoanError
from next_penny.core.plan import NoRate
from next_penny.core.problems import Loc, PlanError, Problem


class Refusal(BaseModel):
    """One thing that is wrong: where, in a sentence, and of what sort."""

    loc: list[str | int]
    msg: str
    type: str


class Refused(Exception):
    """A request that cannot be done; nothing was changed."""

    def __init__(self, refusals: Iterable[Refusal]) -> None:
        super().__init__()
        self.refusals = list(refusals)


def refused(loc: Loc, message: str, kind: str) -> Refused:
    return Refused([Refusal(loc=list(loc), msg=message, type=kind)])


def refused_loan(error: LoanError, currency: str, prefix: Loc = ("body",)) -> Refused:
    """A loan that cannot be followed, at its field."""
    return refused((*prefix, error.field), error.told(currency), error.kind)


def refusals(problems: Iterable[Problem], prefix: Loc = ("body",)) -> list[Refusal]:
    return [Refusal(loc=[*prefix, *problem.loc], msg=problem.message, type=problem.kind) for problem in problems]


_SENTENCES: dict[str, Callable[[dict[str, Any], Any], str]] = {
    "missing": lambda context, value: "This is needed.",
    "extra_forbidden": lambda context, value: "There is no such field here.",
    "string_type": lambda context, value: "Write this as text.",
    "string_too_short": lambda context, value: "This is needed.",
    "string_too_long": lambda context, value: f"This is too long: at most {context['max_length']} characters.",
    "string_pattern_mismatch": lambda context, value: f"“{value}” is not of the form that this field takes.",
    "string_unicode": lambda context, value: "The text contains a character that cannot be kept.",
    "literal_error": lambda context, value: f"“{value}” is not possible here: choose {context['expected']}.",
    "bool_parsing": lambda context, value: "This is either true or false.",
    "bool_type": lambda context, value: "This is either true or false.",
    "int_type": lambda context, value: "Write a whole number.",
    "int_parsing": lambda context, value: "Write a whole number.",
    "int_from_float": lambda context, value: "Write a whole number.",
    "greater_than_equal": lambda context, value: f"This must be {context['ge']} or more.",
    "less_than_equal": lambda context, value: f"This must be {context['le']} or less.",
    "too_short": lambda context, value: f"At least {context['min_length']} is needed.",
    "too_long": lambda context, value: f"These are too many: at most {context['max_length']}.",
    "tuple_type": lambda context, value: "This is a list.",
    "list_type": lambda context, value: "This is a list.",
    "dict_type": lambda context, value: "This is an object with fields.",
    "model_type": lambda context, value: "This is an object with fields.",
    "model_attributes_type": lambda context, value: "This is an object with fields.",
    "json_invalid": lambda context, value: "The request is not valid JSON.",
}


def from_validation(errors: Iterable[Any], prefix: Loc = ()) -> list[Refusal]:
    """What Pydantic found, in sentences."""
    found = []
    for error in errors:
        if error["type"] == "default_factory_not_called":
            continue  # a default that waits for a field which is itself refused above
        sentence = _SENTENCES.get(error["type"])
        text = sentence(error.get("ctx") or {}, _shown(error.get("input"))) if sentence else str(error["msg"])
        found.append(Refusal(loc=[*prefix, *error["loc"]], msg=text, type=error["type"]))
    return found


def _shown(value: object) -> str:
    return str(value)[:40].encode(errors="replace").decode()


def install(app: FastAPI) -> None:
    """Answer every refusal in the one form."""

    @app.exception_handler(RequestValidationError)
    def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        return _answer(from_validation(error.errors()))

    @app.exception_handler(Refused)
    def not_done(request: Request, error: Refused) -> JSONResponse:
        return _answer(error.refusals)

    @app.exception_handler(PlanError)
    def cannot_be(request: Request, error: PlanError) -> JSONResponse:
        return _answer(refusals(error.problems))

    @app.exception_handler(NoRate)
    def no_rate(request: Request, error: NoRate) -> JSONResponse:
        return _answer([Refusal(loc=["rates"], msg=str(error), type="no_rate")])

    @app.exception_handler(sqlite3.OperationalError)
    def not_now(request: Request, error: sqlite3.OperationalError) -> JSONResponse:
        message = f"The household's file cannot be used just now ({error}): try again in a moment."
        return _answer([Refusal(loc=["file"], msg=message, type="file")], 503)


def _answer(found: Iterable[Refusal], status: int = 422) -> JSONResponse:
    return JSONResponse({"detail": [refusal.model_dump() for refusal in found]}, status_code=status)
