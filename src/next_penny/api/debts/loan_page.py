"""One loan's page: its terms, lenders and schedule, also as a table to take away."""

import datetime
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, ValidationError

from next_penny.api.http.answers import response, whole, workbook
from next_penny.api.http.errors import Refused, from_validation, refused
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.api.tools.loans import LoanScheduleAnswer, checked_terms, schedule_fields
from next_penny.core.edits.notes import loan_notes
from next_penny.core.edits.paying_by_move import payment_meant
from next_penny.core.flows.makers import Occurrence
from next_penny.core.loans.overview import summarize_loan
from next_penny.core.loans.schedule import Schedule, schedule
from next_penny.core.loans.standing import standing
from next_penny.core.money import LARGEST_AMOUNT
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.formats.documents.accounts import Account as AccountDocument
from next_penny.formats.documents.fields import Day, Id
from next_penny.formats.documents.loans import Loan
from next_penny.formats.workbooks.loans import loan_csv, loan_workbook

router = APIRouter(prefix="/api/debts", tags=["debts"])


class LenderModel(BaseModel):
    """Who is paid next, since a loan has moved; `fee` is charged with each payment."""

    name: str
    address: str
    fee: int
    since: datetime.date


class PaymentMeantAnswer(BaseModel):
    payment: Occurrence | None


class LoanPage(LoanScheduleAnswer):
    """A household's loan: its schedule from when it was joined, and which of its payments are settled (ink).

    `notes` also say that it is never paid off, or that its payment does not cover the interest.
    """

    account: AccountDocument
    currency: str
    today: datetime.date
    owed: int
    paid_down: int
    settled: list[datetime.date]
    first_number: int
    never_ends: bool
    months_left: int | None
    payments_left: int
    next_payment: int
    next_principal_and_interest: int
    lender: LenderModel | None


@router.get("/schedule.{form}", response_class=Response)
def export_schedule(
    home: HomeOrWhatIf, form: Literal["csv", "xlsx"], account: Id | None = None, loan: str | None = None
) -> Response:
    """A schedule as CSV, or as a workbook of live formulas: a household's loan, or one as JSON that is only tried."""
    tried = _tried(loan) if loan is not None else None
    schedule, currency = shown_schedule(home, account, tried, home.plan.household.currency)
    name = home.plan.account_by_id[account].name if account else "A loan"
    plain = "".join(letter if letter.isalnum() and letter.isascii() else "-" for letter in name).strip("-") or "loan"
    if form == "csv":
        headers = {"Content-Disposition": f'attachment; filename="{plain}.csv"'}
        return Response(loan_csv(schedule, currency), media_type="text/csv; charset=utf-8", headers=headers)
    return workbook(loan_workbook(schedule, name, currency), f"{plain}.xlsx")


def _tried(text: str) -> Loan:
    try:
        return Loan.model_validate_json(text)
    except ValidationError as error:
        raise Refused(from_validation(error.errors(), ("query", "loan"))) from error


@router.get("/{id}/payment-meant")
def read_payment_meant(
    id: Id,
    home: HomeOrWhatIf,
    amount: Annotated[int, Query(ge=0, le=LARGEST_AMOUNT)],
    day: Annotated[Day, Query(alias="date")],
) -> PaymentMeantAnswer:
    """The payment due near a day that money moved to the loan may be: one of exactly that amount, or null."""
    occurrence = payment_meant(home.moment, loan_account(home.plan, id).id, amount, day)
    return PaymentMeantAnswer(payment=occurrence)


@router.get("/{id}", response_model=LoanPage, response_model_by_alias=True)
def read_loan(id: Id, home: HomeOrWhatIf) -> Response:
    """One loan's page."""
    account = loan_account(home.plan, id)
    current_standing = standing(home.moment, account)
    settled = home.moment.books.settled.get(current_standing.flow.id, {}) if current_standing.flow else {}
    glance = summarize_loan(current_standing, home.today)
    fields = schedule_fields(current_standing.shown, current_standing.shown_without_extras)
    return response(whole(LoanPage, {
        **fields,
        "notes": [*loan_notes(current_standing), *current_standing.shown.notes],
        "account": AccountDocument.of(account),
        "currency": account.currency,
        "today": home.today,
        "owed": current_standing.owed,
        "paid_down": current_standing.paid_down,
        "settled": [datetime.date.fromordinal(day) for day in sorted(settled)],
        "first_number": current_standing.shown.first_number,
        "never_ends": current_standing.never_ends,
        "months_left": glance.months_left,
        "payments_left": glance.payments_left,
        "next_payment": glance.payment,
        "next_principal_and_interest": glance.principal_and_interest,
        "lender": _lender(current_standing.terms, (glance.next_due or home.today).toordinal()),
    }))  # fmt: skip


def _lender(terms: LoanTerms, due: int) -> LenderModel | None:
    lender = terms.lender_on(due)
    if lender is None:
        return None
    return LenderModel(name=lender.name, address=lender.address, fee=lender.fee, since=lender.start)


def loan_account(plan: Plan, id: str, named: str = "id") -> Account:
    """The loan that a path names."""
    account = plan.account_by_id.get(id)
    if account is None or account.loan is None:
        raise refused(("path", named), "There is no such loan: it may be deleted already.", "unknown_id")
    return account


def shown_schedule(home: Session, account: str | None, loan: Loan | None, currency: str) -> tuple[Schedule, str]:
    """The schedule of a household's loan as its page shows it, or of one that is only tried."""
    if account is not None:
        existing = loan_account(home.plan, account)
        return standing(home.moment, existing).shown, existing.currency
    if loan is None:
        raise refused(("body", "loan"), "Give a loan.", "needed")
    return schedule(checked_terms(loan, currency, ("body", "loan"))), currency
