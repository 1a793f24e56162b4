"""Bank files: a look before anything is taken in, what that would do, and taking in as one undoable step."""

import json
from collections.abc import Mapping
from typing import Annotated, Any

from fastapi import APIRouter, File, Form, Path, Request, Response, UploadFile
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool

from next_penny.api.accounts.bank_files.answers import look_answer
from next_penny.api.accounts.bank_files.looking import Look, Looks, look_at, with_found, with_owners
from next_penny.api.accounts.bank_files.models import (
    AccountLowest,
    BankLinesChanged,
    BankLookAnswer,
    ClosingModel,
    ImportAnswer,
    ImportEffect,
    ImportRequest,
    OwnersRequest,
)
from next_penny.api.accounts.bank_files.taking import Result, taken_in
from next_penny.api.edits.changes import done_answer
from next_penny.api.http.errors import Refusal, Refused, refusals, refused
from next_penny.api.http.session import Home
from next_penny.core.bank_lines.effect import TakingEffect, taking_effect
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.problems import Loc, NextPennyError, PlanError
from next_penny.formats.bank_files.texts import MOST_BYTES, BankFileError
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/import", tags=["files from a bank"])

_COLUMNS = {"date", "amount", "in", "out", "side", "payee", "memo", "date_order", "decimal"}


class _Changed(NextPennyError):
    """The plan changed since the look."""


def _looks(request: Request) -> Looks:
    looks: Looks = request.app.state.looks
    return looks


@router.post("/look", response_model=BankLookAnswer)
async def look_at_file(
    request: Request,
    home: Home,
    file: Annotated[UploadFile, File(description="OFX, camt.053 or CSV, at most 10 MB.")],
    account: Annotated[str | None, Form(max_length=200)] = None,
    accounts: Annotated[
        str | None, Form(max_length=20_000, description="Of several statements: {place: account}.")
    ] = None,
    columns: Annotated[str | None, Form(max_length=5_000)] = None,
) -> Response:
    """What taking a bank's file in would do; nothing is changed."""
    content = await file.read(MOST_BYTES + 1)
    chosen = _chosen(accounts)
    named = _columns(columns)

    def looked() -> Response:
        try:
            look = look_at(home.reading, content, chosen, account or None, named)
        except BankFileError as error:
            raise refused(
                ("body", "columns" if named and "column" in str(error) else "file"), str(error), "file"
            ) from error
        except PlanError as error:
            raise Refused(refusals(error.problems)) from error
        return _written(look_answer(home.reading, _looks(request).keep(look)))

    return await run_in_threadpool(looked)


@router.post("/look/{look}/accounts", response_model=BankLookAnswer)
def choose_accounts(
    request: Request, look: Annotated[str, Path(max_length=100)], body: OwnersRequest, home: Home
) -> Response:
    """Another look at the same lines, for the accounts that they are said to be of."""
    chosen = {int(place): account for place, account in body.accounts.items()}
    try:
        again = with_owners(home.reading, find_look(request, look, ("path", "look")), chosen)
    except PlanError as error:
        raise Refused(refusals(error.problems)) from error
    return _written(look_answer(home.reading, _looks(request).keep(again)))


def _object(text: str | None, field: str) -> dict[str, Any]:
    if text is None or not text.strip():
        return {}
    try:
        read = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise refused(("body", field), "This is not valid JSON.", "json_invalid") from error
    if not isinstance(read, dict):
        raise refused(("body", field), "This is an object with fields.", "dict_type")
    return read


def _chosen(text: str | None) -> dict[int, str]:
    read = _object(text, "accounts")
    if not all(
        place.isascii() and place.isdecimal() and len(place) < 6 and isinstance(id, str) for place, id in read.items()
    ):
        raise refused(("body", "accounts"), "Name accounts by the place of their statement, from 0.", "dict_type")
    return {int(place): id for place, id in read.items()}


def _columns(text: str | None) -> Mapping[str, Any] | None:
    read = _object(text, "columns")
    for name, value in read.items():
        if name not in _COLUMNS:
            raise refused(("body", "columns", name), "There is no such field here.", "extra_forbidden")
        if isinstance(value, bool) or not isinstance(value, (str, int, type(None))):
            raise refused(("body", "columns", name), "Name the column by its header, or by its number from 0.", "type")
    if read.get("date_order") not in (None, "day_first", "month_first", "year_first"):
        raise refused(
            ("body", "columns", "date_order"), "Choose day_first, month_first or year_first.", "literal_error"
        )
    if read.get("decimal") not in (None, ".", ","):
        raise refused(("body", "columns", "decimal"), "The decimal mark is “.” or “,”.", "literal_error")
    return {name: value for name, value in read.items() if value is not None} or None


@router.post("/preview")
def preview_import(request: Request, body: ImportRequest, home: Home) -> ImportEffect:
    """What taking lines in as they are chosen would do to the lowest points, and what then differs from the bank."""
    look = find_look(request, body.look)
    result = taken_in(home.reading, look, body)
    after = apply_to_moment(home.reading.moment, result.changes, home.reading.entry)
    closings = {account.id: look.file.statements[number].closing for number, account in result.statements}
    taking_effects = [
        taking_effect(home.reading.moment, after, account, closings[account.id]) for account in result.accounts
    ]
    return ImportEffect(
        accounts=[_effect(taking_effect) for taking_effect in taking_effects],
        categories=result.categories,
        names=result.names,
    )


def _effect(taking_effect: TakingEffect) -> AccountLowest:
    closing = taking_effect.closing
    return AccountLowest(
        account=taking_effect.account.id,
        currency=taking_effect.account.currency,
        before=taking_effect.before,
        after=taking_effect.after,
        closing=ClosingModel(date=closing.date, balance=closing.balance) if closing is not None else None,
        books=taking_effect.books,
        difference=closing.balance - taking_effect.books
        if closing is not None and taking_effect.books is not None
        else None,
    )


def _written(answer: BaseModel, status: int = 200) -> Response:
    """Many lines are written at once, and by no other than who asked for them."""
    return Response(answer.model_dump_json(by_alias=True), status, media_type="application/json")


@router.post("", response_model=ImportAnswer, responses={409: {"model": BankLinesChanged}})
def take_in(request: Request, body: ImportRequest, home: Home) -> Response:
    """Take lines in, as one undoable step. Where the plan changed since the look, another look is answered (409)."""
    look = find_look(request, body.look)
    made: list[Result] = []

    def decide(reading: Reading) -> Decision:
        if reading.place_in_history() != look.place:
            raise _Changed
        made.append(taken_in(reading, look, body))
        return Decision(made[-1].changes, made[-1].label)

    try:
        done = home.change(decide)
    except _Changed:
        return _looked_again(request, home.reading, look)
    _looks(request).drop(look.id)
    result = made[-1]
    answer = ImportAnswer(
        **done_answer(done).model_dump(), **result.counts._asdict(), known=result.known, waiting=result.waiting
    )
    return _written(answer)


def find_look(request: Request, id: str, loc: Loc = ("body", "look")) -> Look:
    """A look that was not taken in yet. Raises Refused."""
    look = _looks(request).find(id)
    if look is None:
        message = (
            "This look is not there any more: it was taken in already, or is older than an hour. Open the file again."
        )
        raise Refused([Refusal(loc=list(loc), msg=message, type="unknown_id")], 404)
    return look


def _looked_again(request: Request, reading: Reading, look: Look) -> Response:
    plan = reading.moment.plan
    owners = tuple(owner if owner in plan.account_by_id else None for owner in look.accounts)
    again = Look(look.file, look.table, owners, (), reading.place_in_history(), look.shape, look.currency)
    again = _looks(request).keep(with_found(reading, again, owners))
    message = "The plan was changed since you looked at this file: look at its lines once more."
    answer = BankLinesChanged(
        detail=[Refusal(loc=["body", "look"], msg=message, type="changed")], look=look_answer(reading, again)
    )
    return _written(answer, 409)
