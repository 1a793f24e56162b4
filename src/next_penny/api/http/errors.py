"""Every refusal as a sentence at its field: `{"detail": [{"loc", "msg", "type"}]}` with status 422."""

import logging
import sqlite3
from collections.abc import Callable, Iterable, Mapping
from typing import Any, get_args

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from pydantic_core import core_schema
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from next_penny.core.loans.walked import LoanError
from next_penny.core.plan.rates import NoRate
from next_penny.core.problems import GivenUp, Loc, NextPennyError, PlanError, Problem
from next_penny.store.file.faults import BackupError, CannotWrite, FileFault, StoreError, sentence_of


class Refusal(BaseModel):
    """One thing that is wrong: where, in a sentence, and of what sort."""

    loc: list[str | int]
    msg: str
    type: str


class Refusals(BaseModel):
    """The one form of every refusal."""

    detail: list[Refusal]


_AS_REFUSALS = {"application/json": {"schema": {"$ref": "#/components/schemas/Refusals"}}}
# What any call may be refused with, for the OpenAPI document. Named, not given as a model: of a model a reader of its
# own would be made for each status of each route, which takes most of a second before the first answer.
STATUSES: dict[int | str, dict[str, Any]] = {
    status: {"content": _AS_REFUSALS, "description": description}
    for status, description in (
        (400, "The request is not one: its Origin or its address cannot be read."),
        (401, "A password is needed: log in first."),
        (403, "The address is not served here, or the change comes from another site."),
        (404, "There is no such thing."),
        (405, "This is not done so."),
        (408, "The request took too long to arrive."),
        (413, "The request is too large, or too deep."),
        (422, "It cannot be so; each sentence at its field, and nothing was changed."),
        (429, "Too many wrong passwords: wait."),
        (503, "The household's file cannot be used just now; nothing was changed."),
    )
}


def with_refusals(document: dict[str, Any]) -> dict[str, Any]:
    """The OpenAPI document, with the schema of refusals that every call names."""
    schema = Refusals.model_json_schema(ref_template="#/components/schemas/{model}")
    schemas = document.setdefault("components", {}).setdefault("schemas", {})
    schemas.update(schema.pop("$defs"))
    schemas["Refusals"] = schema
    document["components"]["schemas"] = dict(sorted(schemas.items()))
    return document


class Refused(NextPennyError):
    """A request that cannot be done; nothing was changed."""

    def __init__(self, refusals: Iterable[Refusal], status: int = 422) -> None:
        super().__init__()
        self.refusals, self.status = list(refusals), status


def refused(loc: Loc, message: str, kind: str) -> Refused:
    return Refused([Refusal(loc=list(loc), msg=message, type=kind)])


def refused_loan(error: LoanError, currency: str, prefix: Loc = ("body",)) -> Refused:
    """A loan that cannot be followed, at its field."""
    return refused((*prefix, error.field), error.told(currency), error.kind)


def refusals(problems: Iterable[Problem], prefix: Loc = ("body",)) -> list[Refusal]:
    return [Refusal(loc=[*prefix, *problem.loc], msg=problem.message, type=problem.kind) for problem in problems]


_BUILT_IN = frozenset(get_args(core_schema.ErrorType))
_SENTENCES: dict[str, Callable[[dict[str, Any], Any], str]] = {
    "missing": lambda context, value: "This is needed.",
    "extra_forbidden": lambda context, value: "There is no such field here.",
    "string_type": lambda context, value: "Write this as text.",
    "string_too_short": lambda context, value: "This is needed.",
    "string_too_long": lambda context, value: f"This is too long: at most {context['max_length']} characters.",
    "string_pattern_mismatch": lambda context, value: f"{value} is not of the form that this field takes.",
    "string_unicode": lambda context, value: "The text contains a character that cannot be kept.",
    "literal_error": lambda context, value: f"{value} is not possible here: choose {context['expected']}.",
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
    refusals = []
    for error in errors:
        if error["type"] == "default_factory_not_called":
            continue  # a default that waits for a field which is itself refused above
        sentence = _SENTENCES.get(error["type"])
        if sentence is not None:
            text = sentence(error.get("ctx") or {}, _shown(error.get("input")))
        else:
            # Our own validators speak for themselves; the library's words are for developers.
            text = (
                str(error["msg"]) if error["type"] not in _BUILT_IN else "This is not of the form that is meant here."
            )
        refusals.append(Refusal(loc=[*prefix, *error["loc"]], msg=text, type=error["type"]))
    return refusals


def _shown(value: object) -> str:
    """What was given, as a person would know it again: a text or a number; a list or an object is not quoted."""
    if value is None or isinstance(value, (bool, list, tuple, dict)):
        return "This"
    return f"“{str(value)[:40].encode(errors='replace').decode()}”"


def install(app: FastAPI) -> None:
    """Answer every refusal in the one form."""

    @app.exception_handler(RequestValidationError)
    def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        return refusal_answer(from_validation(error.errors()))

    @app.exception_handler(Refused)
    def not_done(request: Request, error: Refused) -> JSONResponse:
        return refusal_answer(error.refusals, error.status)

    @app.exception_handler(HTTPException)
    def no_way(request: Request, error: HTTPException) -> JSONResponse:
        sentence = {404: "There is no such call.", 405: "This is not done so: another method is meant."}
        message = sentence.get(error.status_code, str(error.detail))
        found_refusals = [Refusal(loc=["path"], msg=message, type="http")]
        return refusal_answer(found_refusals, error.status_code, error.headers)

    @app.exception_handler(PlanError)
    def cannot_be(request: Request, error: PlanError) -> JSONResponse:
        return refusal_answer(refusals(error.problems))

    @app.exception_handler(NoRate)
    def no_rate(request: Request, error: NoRate) -> JSONResponse:
        return refusal_answer([Refusal(loc=["rates", error.id], msg=str(error), type="no_rate")])

    @app.exception_handler(sqlite3.DatabaseError)
    def not_now(request: Request, error: sqlite3.DatabaseError) -> JSONResponse:
        return refusal_answer([Refusal(loc=["file"], msg=sentence_of(error), type="file")], 503)

    @app.exception_handler(FileFault)
    def not_this_file(request: Request, error: FileFault) -> JSONResponse:
        kind = "other_file" if error.is_other else "file"
        return refusal_answer([Refusal(loc=["file"], msg=str(error), type=kind)], 503)

    @app.exception_handler(GivenUp)
    def nobody_waits(request: Request, error: GivenUp) -> JSONResponse:
        return refusal_answer([Refusal(loc=["request"], msg="Nobody waited for the answer.", type="given_up")], 408)

    @app.exception_handler(BackupError)
    @app.exception_handler(StoreError)
    def no_backup(request: Request, error: Exception) -> JSONResponse:
        status = 503 if isinstance(error, CannotWrite) else 422
        return refusal_answer([Refusal(loc=["file"], msg=str(error), type="backup")], status)


class Faults:
    """Answers what nobody foresaw: damaged rows make any computation stumble, and that is looked into first."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        is_begun = False

        async def sent(message: Message) -> None:
            nonlocal is_begun
            is_begun = is_begun or message["type"] == "http.response.start"
            await send(message)

        try:
            await self._app(scope, receive, sent)
        except Exception:
            if scope["type"] != "http" or is_begun:
                raise
            file = scope["app"].state.household.store.file
            damage = await run_in_threadpool(file.look_for_damage)
            if damage is None:
                logging.getLogger("uvicorn.error").exception("The app made a mistake")
            await _fault_answer(damage)(scope, receive, send)


def _fault_answer(damage: str | None) -> JSONResponse:
    if damage is not None:
        return refusal_answer([Refusal(loc=["file"], msg=damage, type="file")], 503)
    message = "Something went wrong in the app itself: nothing was changed."
    return refusal_answer([Refusal(loc=["request"], msg=message, type="fault")], 500)


def refusal_answer(
    refusals: Iterable[Refusal], status: int = 422, headers: Mapping[str, str] | None = None
) -> JSONResponse:
    """Refusals in the one form."""
    detail = [refusal.model_dump() for refusal in refusals]
    return JSONResponse({"detail": detail}, status_code=status, headers=dict(headers or {}))
