"""The whole household as one document: read it, replace it, or learn what is wrong with one.

A document may be long: it is read, looked at and written in a thread of its own, a piece at a time.
"""

from typing import Any

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool

from next_penny.api.http.errors import Refusal, Refused, from_validation, refusals, refused
from next_penny.api.http.session import Home, Session
from next_penny.core.checks.memory import memory_problems
from next_penny.core.checks.plan import check
from next_penny.core.edits.conflicts import entry_list_problems
from next_penny.core.review.differences import Difference, differences
from next_penny.formats.documents.plan import DocumentErrors, PlanDocument, plan_json, read_plan_document
from next_penny.formats.json_pieces import loads
from next_penny.formats.schema import plan_schema

router = APIRouter(prefix="/api", tags=["plan"])
_BODY = {
    "requestBody": {
        "required": True,
        "content": {"application/json": {"schema": {"$ref": "#/components/schemas/PlanDocument"}}},
    }
}
_ANY_BODY = {"requestBody": {"required": True, "content": {"application/json": {"schema": {}}}}}


class PlanCheck(BaseModel):
    """Whether a document could be the plan, and if not, everything that is wrong with it."""

    ok: bool
    detail: list[Refusal]


class DifferenceModel(BaseModel):
    """How many of a kind would come, change and go, and the names of the first of them."""

    kind: str
    added: int
    changed: int
    removed: int
    names: list[str]


class LookAnswer(BaseModel):
    """What a document would change; empty where it is what is there."""

    household: str
    differences: list[DifferenceModel]


@router.get("/plan", response_model=PlanDocument, response_model_by_alias=True)
def read_plan(home: Home) -> Response:
    return _answer(home)


@router.put("/plan", response_model=PlanDocument, response_model_by_alias=True, openapi_extra=_BODY)
async def replace_plan(request: Request, home: Home) -> Response:
    """Replace the household, as one undoable change."""
    body = await request.body()

    def replace() -> Response:
        document = _document(body)
        plan, recorded = document.to_core(), document.core_entries()
        home.store.replace(home.today, plan, recorded, "Replaced the whole plan", document.memory())
        # Read after it was written; were it changed again meanwhile, that is what there is.
        return _answer(home)

    return await run_in_threadpool(replace)


@router.get("/plan/schema")
def read_plan_schema() -> dict[str, object]:
    """The JSON Schema of the plan document."""
    return plan_schema()


@router.post("/plan/check", openapi_extra=_ANY_BODY)
async def check_plan(request: Request) -> PlanCheck:
    """Say what is wrong with a plan document; nothing is changed."""
    body = await request.body()
    return await run_in_threadpool(_checked, body)


@router.post("/plan/look", openapi_extra=_BODY)
async def look_at_document(request: Request, home: Home) -> LookAnswer:
    """What a plan document would change if it replaced the household; nothing is changed."""
    body = await request.body()

    def looked() -> LookAnswer:
        document = _document(body)
        plan, recorded = document.to_core(), document.core_entries()
        home.store.check_replacement(home.today, plan, recorded, document.memory())
        found_differences = differences(home.reading.moment.plan, home.reading.entries(), plan, recorded)
        return LookAnswer(
            household=plan.household.name,
            differences=[difference_model(difference) for difference in found_differences],
        )

    return await run_in_threadpool(looked)


def _answer(home: Session) -> Response:
    text = plan_json(home.reading.moment.plan, home.reading.entries(), home.reading.memory())
    return Response(text, media_type="application/json")


def _json(body: bytes) -> Any:
    try:
        return loads(body)
    except (ValueError, RecursionError) as error:
        raise refused(("body",), "The request is not valid JSON.", "json_invalid") from error


def _document(body: bytes) -> PlanDocument:
    try:
        return read_plan_document(_json(body))
    except DocumentErrors as error:
        raise Refused(from_validation(error.errors, ("body",))) from error


def _checked(body: bytes) -> PlanCheck:
    try:
        document = read_plan_document(_json(body))
    except DocumentErrors as error:
        found_refusals = from_validation(error.errors, ("body",))
    else:
        household = document.to_core()
        problems = [*check(household), *entry_list_problems(household, document.core_entries())]
        found_refusals = refusals([*problems, *memory_problems(household, document.memory())])
    return PlanCheck(ok=not found_refusals, detail=found_refusals)


def difference_model(difference: Difference) -> DifferenceModel:
    """A difference in numbers, with the first names."""
    return DifferenceModel(kind=difference.kind, added=len(difference.added), changed=len(difference.changed),
                           removed=len(difference.removed), names=list(difference.names))  # fmt: skip
