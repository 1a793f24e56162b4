"""Why a number of a loan's schedule is what it is."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.debts.loan_page import shown_schedule
from next_penny.api.http.errors import refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.loans.why import Figure, why
from next_penny.formats.documents.fields import Currency, Document, Id
from next_penny.formats.documents.loans import Loan

router = APIRouter(prefix="/api/debts", tags=["debts"])


class WhyRequest(Document):
    """One figure of one payment's row."""

    number: Annotated[int, Field(ge=1)]
    figure: Figure
    account: Id | None = None
    loan: Loan | None = None
    currency: Currency = "USD"


class WhyAnswer(BaseModel):
    text: str


@router.post("/why")
def why_this_number(request: WhyRequest, home: HomeOrWhatIf) -> WhyAnswer:
    """The sum that made a figure of the schedule, with its day count."""
    schedule, currency = shown_schedule(home, request.account, request.loan, request.currency)
    try:
        return WhyAnswer(text=why(schedule, request.number, request.figure, currency))
    except KeyError as error:
        raise refused(("body", "number"), "The schedule has no such payment.", "range") from error
