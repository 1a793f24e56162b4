"""The whole household as one document: read it, replace it, or learn what is wrong with one."""

from typing import Any

from fastapi import APIRouter, Body
from pydantic import BaseModel, ValidationError

from next_penny.api.errors import Refusal, from_validation, refusals
from next_penny.api.household import Home
from next_penny.core.changing import entry_list_problems
from next_penny.core.check import check
from next_penny.formats.plan_document import PlanDocument, plan_document

router = APIRouter(prefix="/api/plan", tags=["plan"])


class PlanCheck(BaseModel):
    """Whether a document could be the plan, and if not, everything that is wrong with it."""

    ok: bool
    detail: list[Refusal]


@router.get("", response_model_by_alias=True)
def read_plan(home: Home) -> PlanDocument:
    return plan_document(home.reading.moment.plan, home.reading.entries())


@router.put("", response_model_by_alias=True)
def replace_plan(document: PlanDocument, home: Home) -> PlanDocument:
    """Replace the household, as one undoable change."""
    home.store.replace(home.today, document.to_core(), document.core_entries(), "Replaced the whole plan")
    # Read after it was written; were it changed again meanwhile, that is what there is.
    return read_plan(home)


@router.post("/check")
def check_plan(document: Any = Body()) -> PlanCheck:
    """Say what is wrong with a plan document; nothing is changed."""
    try:
        plan = PlanDocument.model_validate(document)
    except ValidationError as error:
        found = from_validation(error.errors(), ("body",))
    else:
        household = plan.to_core()
        found = refusals([*check(household), *entry_list_problems(household, plan.core_entries())])
    return PlanCheck(ok=not found, detail=found)
