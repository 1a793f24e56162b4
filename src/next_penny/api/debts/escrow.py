"""Escrow: the analysis of an account as a stateless tool, and a household's own in the coming year."""

import datetime
from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.http.errors import Refused, refusals, refused
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.mortgage.escrow import Disbursement, EscrowAnalysis, analyse, cushion_problems, problems
from next_penny.core.mortgage.escrow_ahead import EscrowPayment, escrow_ahead
from next_penny.core.mortgage.escrow_spent import escrow_spent
from next_penny.core.plan.accounts import Account
from next_penny.formats.changes.proposing import requests_for
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Amount, Document, Id, Name, Percent
from next_penny.formats.documents.parts import Month, month_text

router = APIRouter(prefix="/api", tags=["escrow"])

_MOST_DISBURSEMENTS = 500
LetterItem = Literal["new_deposit", "required_start", "shortage", "surplus"]


class DisbursementDocument(Document):
    """What is paid out of escrow in a month."""

    month: Month
    amount: Amount
    name: Name = ""


class AnalysisRequest(Document):
    """Twelve months from `first_month`. `balance`: what is there then; `deposit`: the present one of a month."""

    first_month: Month
    disbursements: list[DisbursementDocument] = Field(max_length=_MOST_DISBURSEMENTS)
    cushion_months: Percent = Decimal(2)
    balance: Amount = 0
    deposit: Annotated[Amount, Field(ge=0)] | None = None


class EscrowRowModel(BaseModel):
    """One month. Balances are those at its end; `projected` with the present deposit, the others with a twelfth."""

    month: str
    deposit: int
    disbursed: int
    trial: int
    required: int
    projected: int


class AnalysisAnswer(BaseModel):
    """The analysis of Regulation X, § 1024.17, aggregate method."""

    annual_disbursements: int
    base_deposit: int
    rows: list[EscrowRowModel]
    lowest_trial: int
    cushion: int
    required_start: int
    shortage: int
    surplus: int
    deficiency: int
    new_deposit: int
    notes: list[str]


@router.post("/tools/escrow-analysis")
def escrow_analysis(request: AnalysisRequest) -> AnalysisAnswer:
    """What a lender's yearly analysis of an escrow account should come to."""
    out = [
        Disbursement(disbursement.month, disbursement.amount, disbursement.name)
        for disbursement in request.disbursements
    ]
    found_problems = problems(request.first_month, out, request.cushion_months)
    if found_problems:
        raise Refused(refusals(found_problems))
    return _analysis(analyse(request.first_month, out, request.cushion_months, request.balance, request.deposit))


def _analysis(escrow_analysis: EscrowAnalysis) -> AnalysisAnswer:
    rows = [EscrowRowModel(**{**row._asdict(), "month": month_text(row.month)}) for row in escrow_analysis.rows]
    values = {name: getattr(escrow_analysis, name) for name in AnalysisAnswer.model_fields if name != "rows"}
    return AnalysisAnswer(**{**values, "notes": list(escrow_analysis.notes)}, rows=rows)


class LetterFigure(BaseModel):
    """A figure of the lender's letter beside the one worked out; `difference` is the letter's less it."""

    item: LetterItem
    letter: int
    worked_out: int
    difference: int


class EscrowSpentModel(BaseModel):
    """What payments spent on escrow before the account was linked; `changes` put it into the account."""

    amount: int
    payments: int
    changes: list[ChangeRequest]


class EscrowAnswer(BaseModel):
    """An escrow account: `deposit` comes with a month's payments, `starts` is there as the analysis begins."""

    id: str
    name: str
    currency: str
    today: datetime.date
    loans: list[str]
    balance: int
    deposit: int
    starts: int
    payments: list[EscrowPayment]
    uncovered: EscrowPayment | None
    analysis: AnalysisAnswer
    letter: list[LetterFigure]
    spent: EscrowSpentModel | None


@router.get("/escrow/{id}")
def read_escrow(
    home: HomeOrWhatIf, id: Id, cushion_months: Percent = Decimal(2), new_deposit: int | None = None,
    required_start: int | None = None, shortage: int | None = None, surplus: int | None = None,
) -> EscrowAnswer:  # fmt: skip
    """An escrow account's coming twelve months, their analysis, and a lender's letter held against that."""
    account = home.plan.account_by_id.get(id)
    if account is None or account.kind != "escrow":
        raise refused(("path", "id"), "There is no such escrow account: it may be deleted already.", "unknown_id")
    problems = cushion_problems(cushion_months)
    if problems:
        raise Refused(refusals(problems, ("query",)))
    ahead = escrow_ahead(home.moment, account, cushion_months)
    first = ahead.first_uncovered
    return EscrowAnswer(
        id=account.id,
        name=account.name,
        currency=account.currency,
        today=home.today,
        loans=[loan.id for loan in ahead.loans],
        balance=ahead.balance,
        deposit=ahead.deposit,
        starts=ahead.starts,
        payments=list(ahead.payments),
        uncovered=first,
        analysis=_analysis(ahead.analysis),
        letter=_letter(
            ahead.analysis,
            {
                "new_deposit": new_deposit,
                "required_start": required_start,
                "shortage": shortage,
                "surplus": surplus,
            },
        ),
        spent=_spent(home, account),
    )


def _spent(home: Session, account: Account) -> EscrowSpentModel | None:
    recorded = home.recorded(home.reading.of_loans())
    found_escrow_spent, ids = escrow_spent(home.moment, account, recorded), {entry.id for entry in recorded}
    if found_escrow_spent is None:
        return None
    changes = requests_for(home.plan, found_escrow_spent.changes, ids.__contains__)
    return EscrowSpentModel(amount=found_escrow_spent.amount, payments=found_escrow_spent.payments, changes=changes)


def _letter(escrow_analysis: EscrowAnalysis, said: Mapping[LetterItem, int | None]) -> list[LetterFigure]:
    return [
        LetterFigure(item=item, letter=amount, worked_out=right, difference=amount - right)
        for item, amount in said.items()
        if amount is not None
        for right in [getattr(escrow_analysis, item)]
    ]
