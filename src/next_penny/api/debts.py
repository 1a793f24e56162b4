"""Debts: every loan as it stands, one loan's page, alternatives side by side, and the reverse questions."""

import datetime
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field, ValidationError

from next_penny.api.errors import Refused, from_validation, refused
from next_penny.api.forecast import day_text, json_response
from next_penny.api.household import Home, OpenHousehold
from next_penny.api.loan_tools import LoanScheduleAnswer, checked_terms, schedule_document
from next_penny.api.what_if import ChangeRequest, requests_for
from next_penny.core.loans.adoption import adoption
from next_penny.core.loans.compare import Outcome, compare, extra_to_end_by, principal_for, rate_for
from next_penny.core.loans.overview import LoanSummary, OverviewYear, overview
from next_penny.core.loans.schedule import LoanError, Schedule, schedule
from next_penny.core.loans.standing import standing
from next_penny.core.loans.terms import LoanTerms
from next_penny.core.loans.variants import Wish, rest_as_loan, vary
from next_penny.core.loans.why import Figure, why
from next_penny.core.plan import Account
from next_penny.formats.fields import Amount, Currency, Day, Document, Id, Name, Percent
from next_penny.formats.loan_document import Loan, PaymentsPerYear
from next_penny.formats.loan_workbook import loan_csv, loan_workbook
from next_penny.formats.plan_document import Account as AccountDocument

router = APIRouter(prefix="/api/debts", tags=["debts"])

_MOST_VARIANTS = 4


class LoanRowModel(BaseModel):
    """A loan at a glance. Amounts are positive and in its currency; `months_left` is as of today."""

    id: str
    name: str
    currency: str
    annual_rate: str
    payment: int
    next_due: datetime.date | None
    months_left: int
    paid_off: datetime.date | None
    owed: int
    original: int
    paid_down: int
    interest_left: int


class LoanSums(BaseModel):
    principal: int
    interest: int


class DebtYear(BaseModel):
    """A calendar year of all loans: what was recorded (ink) and what is to come (pencil); `paid_so_far` runs on."""

    year: int
    recorded: int
    principal: int
    interest: int
    paid_so_far: int


class DebtsAnswer(BaseModel):
    """Every loan, and all together in the household's currency where all have it."""

    today: datetime.date
    currency: str
    loans: list[LoanRowModel]
    owed: int
    debt_free: str | None
    this_month: LoanSums
    next_twelve: LoanSums
    years: list[DebtYear]
    balances: list[tuple[datetime.date, int]]


@router.get("")
def read_debts(home: Home) -> DebtsAnswer:
    """All loans as they stand today."""
    found = overview(home.plan(), home.books(), home.store.recorded_by_year, home.today)
    return DebtsAnswer(
        today=home.today,
        currency=found.currency,
        loans=[_summary(each) for each in found.loans],
        owed=found.owed,
        debt_free=f"{found.debt_free:%Y-%m}" if found.debt_free else None,
        this_month=LoanSums(principal=found.this_month[0], interest=found.this_month[1]),
        next_twelve=LoanSums(principal=found.next_twelve[0], interest=found.next_twelve[1]),
        years=[_year(each) for each in found.years],
        balances=[(datetime.date.fromordinal(day), owed) for day, owed in found.balances],
    )


def _summary(loan: LoanSummary) -> LoanRowModel:
    account = loan.standing.account
    return LoanRowModel(
        id=account.id,
        name=account.name,
        currency=account.currency,
        annual_rate=f"{loan.annual_rate:f}",
        payment=loan.payment,
        next_due=loan.next_due,
        months_left=loan.months_left,
        paid_off=loan.standing.paid_off,
        owed=loan.standing.owed,
        original=loan.original,
        paid_down=loan.original - loan.standing.owed,
        interest_left=loan.interest_left,
    )


def _year(year: OverviewYear) -> DebtYear:
    return DebtYear(
        year=year.year,
        recorded=year.recorded,
        principal=year.principal,
        interest=year.interest,
        paid_so_far=year.paid_so_far,
    )


class LoanPage(LoanScheduleAnswer):
    """A household's loan: its schedule from when it was joined, and which of its payments are settled (ink)."""

    account: AccountDocument
    currency: str
    today: datetime.date
    owed: int
    paid_down: int
    settled: list[datetime.date]
    first_number: int


@router.get("/schedule.{form}", response_class=Response)
def export_schedule(
    home: Home, form: Literal["csv", "xlsx"], account: Id | None = None, loan: str | None = None
) -> Response:
    """A schedule as CSV, or as a workbook of live formulas: a household's loan, or one as JSON that is only tried."""
    tried = _tried(loan) if loan is not None else None
    found, currency = shown_schedule(home, account, tried, home.plan().household.currency)
    name = home.plan().account_by_id[account].name if account else "A loan"
    plain = "".join(letter if letter.isalnum() and letter.isascii() else "-" for letter in name).strip("-") or "loan"
    headers = {"Content-Disposition": f'attachment; filename="{plain}.{form}"'}
    if form == "csv":
        return Response(loan_csv(found, currency), media_type="text/csv; charset=utf-8", headers=headers)
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return Response(loan_workbook(found, name, currency), media_type=kind, headers=headers)


def _tried(text: str) -> Loan:
    try:
        return Loan.model_validate_json(text)
    except ValidationError as error:
        raise Refused(from_validation(error.errors(), ("query", "loan"))) from error


@router.get("/{id}", response_model=LoanPage, response_model_by_alias=True)
def read_loan(id: Id, home: Home) -> Response:
    """One loan's page."""
    account = _loan_account(home, id)
    stands = standing(home.plan(), account, home.books())
    settled = home.books().settled.get(stands.flow.id, frozenset()) if stands.flow else frozenset()
    assert account.loan is not None
    return json_response(
        {
            **schedule_document(stands.shown, stands.shown_without_extras),
            "account": AccountDocument.of(account).model_dump(mode="json", by_alias=True),
            "currency": account.currency,
            "today": home.today.isoformat(),
            "owed": stands.owed,
            "paid_down": account.loan.amount_financed - stands.owed,
            "settled": [day_text(day) for day in sorted(settled)],
            "first_number": stands.shown.first_number,
        }
    )


def _loan_account(home: OpenHousehold, id: str) -> Account:
    account = home.plan().account_by_id.get(id)
    if account is None or account.loan is None:
        raise refused(("path", "id"), "There is no such loan: it may be deleted already.", "unknown_id")
    return account


class WishModel(Document):
    """What a variant does differently; what is left out stays as it is. `payments` counts what is left to pay."""

    name: Name = ""
    annual_rate: Percent | None = None
    payments: Annotated[int, Field(ge=1, le=5200)] | None = None
    payments_per_year: PaymentsPerYear | None = None
    accelerated: bool = False
    payment: Amount | None = None
    extra: Annotated[Amount, Field(ge=0)] = 0
    balloon: Amount | None = None
    refinance: bool = False
    fees: Annotated[Amount, Field(ge=0)] = 0
    fees_financed: bool = False

    def to_core(self) -> Wish:
        return Wish(**{name: value for name, value in self.model_dump().items() if name != "name"})


class AlternativesRequest(Document):
    """Variants of a loan of the household (`account`), or of one that is only tried (`loan`)."""

    account: Id | None = None
    loan: Loan | None = None
    variants: list[WishModel] = Field(max_length=_MOST_VARIANTS)
    horizon_months: Annotated[int, Field(ge=1, le=1200)] = 60


class OutcomeModel(BaseModel):
    """One variant; the first is the loan as it is. `changes` would put it into the household's plan."""

    name: str
    payment: int
    total_interest: int
    payments: int
    paid_off: datetime.date
    apr: str | None
    cost: int
    saves: int
    interest_saved: int
    breaks_even: datetime.date | None
    due: list[datetime.date]
    balance: list[int]
    interest: list[int]
    principal: list[int]
    changes: list[ChangeRequest]
    problem: str | None


class AlternativesAnswer(BaseModel):
    today: datetime.date
    currency: str
    horizon_months: int
    outcomes: list[OutcomeModel]


@router.post("/alternatives", response_model=AlternativesAnswer)
def alternatives(request: AlternativesRequest, home: Home) -> Response:
    """A loan and up to four variants of it, side by side."""
    base, account = _base(request, home)
    # A loan that is only tried is seen from its beginning.
    begin = home.today if account else min(home.today, base.disbursed)
    variants: list[LoanTerms] = [base]
    problems: list[str | None] = [None]
    for place, wish in enumerate(request.variants):
        loc = ("body", "variants", place)
        try:
            varied = vary(base, wish.to_core(), home.today if account else base.disbursed)
            checked_terms(Loan.of(varied), loc, is_rest=account is not None)
        except LoanError as error:
            problems.append(error.message)
            varied = base
        except Refused as error:
            problems.append(error.refusals[0].msg)
            varied = base
        else:
            problems.append(None)
        variants.append(varied)
    outcomes = compare([(terms, None) for terms in variants], begin, request.horizon_months)
    names = ["As it is", *(wish.name or f"Variant {n}" for n, wish in enumerate(request.variants, 1))]
    documents = [_outcome(name, each, problem) for name, each, problem in zip(names, outcomes, problems, strict=True)]
    if account is not None:
        stands = standing(home.plan(), account, home.books())
        for place, wish in enumerate(request.variants, 1):
            if problems[place] is None:
                made = adoption(home.plan(), stands, wish.to_core(), variants[place], home.today)
                documents[place]["changes"] = [each.model_dump() for each in requests_for(home, made)]
    return json_response(
        {
            "today": home.today.isoformat(),
            "currency": account.currency if account else home.plan().household.currency,
            "horizon_months": request.horizon_months,
            "outcomes": documents,
        }
    )


def _base(request: AlternativesRequest, home: OpenHousehold) -> tuple[LoanTerms, Account | None]:
    if request.account is not None:
        account = _loan_account(home, request.account)
        rest = standing(home.plan(), account, home.books()).rest
        if rest is None:
            raise refused(("body", "account"), "Nothing is owed on this loan any more.", "range")
        return rest_as_loan(rest), account
    if request.loan is None:
        raise refused(("body", "loan"), "Give a loan.", "needed")
    return checked_terms(request.loan, ("body", "loan")), None


def _outcome(name: str, outcome: Outcome, problem: str | None) -> dict[str, Any]:
    found = outcome.schedule
    return {
        "name": name,
        "payment": outcome.payment,
        "total_interest": outcome.total_interest,
        "payments": outcome.payments,
        "paid_off": outcome.paid_off.isoformat(),
        "apr": str(outcome.apr) if outcome.apr is not None else None,
        "cost": outcome.cost,
        "saves": outcome.saves,
        "interest_saved": outcome.interest_saved,
        "breaks_even": outcome.breaks_even.isoformat() if outcome.breaks_even else None,
        "due": [day_text(day) for day in found.due],
        "balance": list(found.balance),
        "interest": list(found.interest),
        "principal": [part + extra for part, extra in zip(found.principal, found.extra, strict=True)],
        "changes": [],
        "problem": problem,
    }


class ReverseRequest(Document):
    """`ends_by`: the extra that ends the loan by `by`. `borrow`, `rate`: what fits a payment."""

    ask: Literal["ends_by", "borrow", "rate"]
    account: Id | None = None
    loan: Loan | None = None
    by: Day | None = None
    payment: Amount | None = None


class ReverseAnswer(BaseModel):
    extra: int | None = None
    principal: int | None = None
    annual_rate: str | None = None
    paid_off: datetime.date | None = None
    currency: str


@router.post("/reverse")
def reverse(request: ReverseRequest, home: Home) -> ReverseAnswer:
    """What extra ends it by a day, how much can be borrowed for a payment, or what rate makes a payment."""
    chosen = AlternativesRequest(account=request.account, loan=request.loan, variants=[])
    terms, account = _base(chosen, home)
    currency = account.currency if account else home.plan().household.currency
    try:
        if request.ask == "ends_by":
            if request.by is None:
                raise refused(("body", "by"), "Choose a day.", "needed")
            begin = terms.first_payment
            extra = extra_to_end_by(terms, None, begin, request.by)
            ended = schedule(vary(terms, Wish(extra=extra), begin)).paid_off
            return ReverseAnswer(extra=extra, paid_off=ended, currency=currency)
        if request.payment is None or request.payment <= 0:
            raise refused(("body", "payment"), "Say how much the payment is.", "needed")
        if request.ask == "borrow":
            return ReverseAnswer(principal=principal_for(terms, request.payment), currency=currency)
        return ReverseAnswer(annual_rate=f"{rate_for(terms, request.payment):f}", currency=currency)
    except LoanError as error:
        raise refused(("body", error.field), error.message, error.kind) from error


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
def why_this_number(request: WhyRequest, home: Home) -> WhyAnswer:
    """The sum that made a figure of the schedule, with its day count."""
    found, currency = shown_schedule(home, request.account, request.loan, request.currency)
    try:
        return WhyAnswer(text=why(found, request.number, request.figure, currency))
    except KeyError as error:
        raise refused(("body", "number"), "The schedule has no such payment.", "range") from error


def shown_schedule(home: OpenHousehold, account: str | None, loan: Loan | None, currency: str) -> tuple[Schedule, str]:
    """The schedule of a household's loan as its page shows it, or of one that is only tried."""
    if account is not None:
        held = _loan_account(home, account)
        return standing(home.plan(), held, home.books()).shown, held.currency
    if loan is None:
        raise refused(("body", "loan"), "Give a loan.", "needed")
    return schedule(checked_terms(loan, ("body", "loan"))), currency
