"""A bill written as one line."""

import uuid

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.edits.applying import requests_for_plan
from next_penny.api.http.errors import Refused, refusals, refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.edits.defaults import paying_account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.problems import PlanError
from next_penny.core.saying.bill_line import bill_sentence, read_bill_line
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Document, Name

router = APIRouter(prefix="/api/flows", tags=["places"])


class BillLineRequest(Document):
    text: Name


class BillLineAnswer(BaseModel):
    """What the line was read as, and the change that puts it into the plan."""

    sentence: str
    changes: list[ChangeRequest]


@router.post("/bill-line")
def read_line(request: BillLineRequest, home: HomeOrWhatIf) -> BillLineAnswer:
    """A bill of one line, such as “Rent 1150 1st”, paid from the account that forms begin with. Nothing is changed."""
    plan, today = home.plan, home.today
    account = paying_account(plan, today)
    if account is None:
        raise refused(("body", "text"), "Add the account first from which bills are paid.", "needed")
    try:
        bill = read_bill_line(home.moment, str(uuid.uuid4()), request.text, account)
    except PlanError as error:
        raise Refused(refusals(error.problems)) from error
    changes = requests_for_plan(plan, [PlanChange("flow", bill.id, bill)])
    return BillLineAnswer(sentence=bill_sentence(bill, account, today), changes=changes)
