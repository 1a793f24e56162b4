"""Debts: every loan as it stands, one loan's page, alternatives side by side, and the reverse questions."""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field, ValidationError

from next_penny.api.answers import Written, amounts, days, response, several, whole
from next_penny.api.cards import CardRow, card_row
from next_penny.api.errors import Refused, from_validation, refused, refused_loan
from next_penny.api.household import Home, Visit
from next_penny.api.loan_tools import LoanScheduleAnswer, checked_terms, schedule_fields
from next_penny.api.what_if import requests_for
from next_penny.core.forecast.card_standing import all_owed, cards_standing, lines_available
from next_penny.core.loan_terms import Extra, LoanTerms
from next_penny.core.loans.adoption import adoption
from next_penny.core.loans.compare import (
    Outcome,
    Variant,
    WithExtra,
    compare,
    extra_to_end_by,
    principal_for,
    rate_for,
)
from next_penny.core.loans.overview import LoanSummary, OverviewYear, overview, summarize_loan
from next_penny.core.loans.schedule import LoanError, Schedule, schedule
from next_penny.core.loans.standing import Standing, standing
from next_penny.core.loans.variants import LoanWish, rest_as_loan, vary
from next_penny.core.loans.why import Figure, why
from next_penny.core.notes import loan_notes, loan_notes_of
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Account, Plan
from next_penny.formats.change_request import ChangeRequest
from next_penny.formats.fields import Amount, Currency, Day, Document, Id, Name, Percent
from next_penny.formats.loan_document import Loan, PaymentsPerYear
from next_penny.formats.loan_workbook import loan_csv, loan_workbook
from next_penny.formats.plan_document import Account as AccountDocument

router = APIRouter(prefix="/api/debts", tags=["debts"])

_MOST_VARIANTS = 4


class LoanRowModel(BaseModel):
    """A loan at a glance. Amounts are positive and in its currency.

    `payment` is the next one with all its parts, `principal_and_interest` a part of it. `owed` is what the books say at
    the end of today; `months_left` are calendar months to the last payment, null where there is none.
    """

    id: str
    name: str
    currency: str
    annual_rate: str
    payment: int
    principal_and_interest: int
    next_due: datetime.date | None
    months_left: int | None
    payments_left: int
    never_ends: bool
    paid_off: datetime.date | None
    owed: int
    original: int
    paid_down: int
    paid_down_percent: int
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
    """Every loan, card and line; `owed` is on all of them, in the household's currency.

    debt_free, this_month, next_twelve, years and balances are of the loans. `lines_available` is what all lines
    together may still lend, null where there is none.
    """

    today: datetime.date
    currency: str
    loans: list[LoanRowModel]
    cards: list[CardRow]
    lines_available: int | None
    owed: int
    debt_free: str | None
    this_month: LoanSums
    next_twelve: LoanSums
    years: list[DebtYear]
    balances: list[tuple[datetime.date, int]]
    notes: list[str]


@router.get("")
def read_debts(home: Home) -> DebtsAnswer:
    """All loans as they stand today."""
    seen = overview(home.moment)
    cards = cards_standing(home.moment)
    return DebtsAnswer(
        today=home.today,
        currency=seen.currency,
        loans=[_summary(each) for each in seen.loans],
        cards=[card_row(each) for each in cards],
        lines_available=lines_available(home.moment, cards),
        owed=seen.owed + all_owed(home.moment),
        debt_free=f"{seen.debt_free:%Y-%m}" if seen.debt_free else None,
        this_month=LoanSums(principal=seen.this_month[0], interest=seen.this_month[1]),
        next_twelve=LoanSums(principal=seen.next_twelve[0], interest=seen.next_twelve[1]),
        years=[_year(each) for each in seen.years],
        balances=[(datetime.date.fromordinal(day), owed) for day, owed in seen.balances],
        notes=loan_notes_of(home.moment),
    )


def _summary(loan: LoanSummary) -> LoanRowModel:
    stands = loan.standing
    return LoanRowModel(
        id=stands.account.id,
        name=stands.account.name,
        currency=stands.account.currency,
        annual_rate=f"{loan.annual_rate:f}",
        payment=loan.payment,
        principal_and_interest=loan.principal_and_interest,
        next_due=loan.next_due,
        months_left=loan.months_left,
        payments_left=loan.payments_left,
        never_ends=stands.never_ends,
        paid_off=stands.ends,
        owed=stands.owed,
        original=loan.original,
        paid_down=stands.paid_down,
        paid_down_percent=loan.paid_down_percent,
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


class LenderModel(BaseModel):
    """Who is paid next, since a loan has moved; `fee` is charged with each payment."""

    name: str
    address: str
    fee: int
    since: datetime.date


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
    home: Home, form: Literal["csv", "xlsx"], account: Id | None = None, loan: str | None = None
) -> Response:
    """A schedule as CSV, or as a workbook of live formulas: a household's loan, or one as JSON that is only tried."""
    tried = _tried(loan) if loan is not None else None
    found, currency = shown_schedule(home, account, tried, home.plan.household.currency)
    name = home.plan.account_by_id[account].name if account else "A loan"
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
    account = loan_account(home.plan, id)
    stands = standing(home.moment, account)
    settled = home.moment.books.settled.get(stands.flow.id, {}) if stands.flow else {}
    glance = summarize_loan(stands, home.today)
    fields = schedule_fields(stands.shown, stands.shown_without_extras)
    return response(whole(LoanPage, {
        **fields,
        "notes": [*loan_notes(stands), *stands.shown.notes],
        "account": AccountDocument.of(account),
        "currency": account.currency,
        "today": home.today,
        "owed": stands.owed,
        "paid_down": stands.paid_down,
        "settled": [datetime.date.fromordinal(day) for day in sorted(settled)],
        "first_number": stands.shown.first_number,
        "never_ends": stands.never_ends,
        "months_left": glance.months_left,
        "payments_left": glance.payments_left,
        "next_payment": glance.payment,
        "next_principal_and_interest": glance.principal_and_interest,
        "lender": _lender(stands.terms, (glance.next_due or home.today).toordinal()),
    }))  # fmt: skip


def _lender(terms: LoanTerms, due: int) -> LenderModel | None:
    held = terms.lender_on(due)
    if held is None:
        return None
    return LenderModel(name=held.name, address=held.address, fee=held.fee, since=held.start)


def loan_account(plan: Plan, id: str, named: str = "id") -> Account:
    """The loan that a path names."""
    account = plan.account_by_id.get(id)
    if account is None or account.loan is None:
        raise refused(("path", named), "There is no such loan: it may be deleted already.", "unknown_id")
    return account


class WishModel(Document):
    """What a variant does differently; what is left out stays as it is. `payments` counts what is left to pay.

    `extra` comes with every payment, `lump` once, on `lump_on`.
    """

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
    lump: Annotated[Amount, Field(ge=0)] = 0
    lump_on: Day | None = None

    def to_core(self) -> LoanWish:
        return LoanWish(**{name: getattr(self, name) for name in type(self).model_fields if name != "name"})


class AlternativesRequest(Document):
    """Variants of a loan of the household (`account`), or of one that is only tried (`loan`)."""

    account: Id | None = None
    loan: Loan | None = None
    variants: list[WishModel] = Field(max_length=_MOST_VARIANTS)
    horizon_months: Annotated[int, Field(ge=1, le=1200)] = 60


class OutcomeModel(BaseModel):
    """One variant; the first is the loan as it is. `changes` would put it into the household's plan.

    `total`: every payment and fee to the end; `saves_in_all`: how much less that is than as it is. `cost` and `saves`
    are the same of interest, insurance and fees by the horizon. `saves_interest`: how much less interest than as it is.
    """

    name: str
    payment: int
    total_interest: int
    saves_interest: int
    payments: int
    paid_off: datetime.date
    never_ends: bool
    apr: str | None
    cost: int
    saves: int
    total: int
    saves_in_all: int
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
    base = _Base(request.account, request.loan, home)
    told = [_Told("As it is", Variant(base.schedule))]
    for number, wish in enumerate(request.variants, 1):
        told.append(base.told(wish.name or f"Variant {number}", wish.to_core()))
    outcomes = compare([each.variant for each in told], base.begin, request.horizon_months)
    return response(whole(AlternativesAnswer, {
        "today": home.today,
        "currency": base.currency,
        "horizon_months": request.horizon_months,
        "outcomes": several(OutcomeModel, [
            _outcome(each, outcome, outcomes[0], requests_for(home.reading, each.changes))
            for each, outcome in zip(told, outcomes, strict=True)
        ]),
    }))  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Told:
    """A variant as it is told: what would put it into the plan, or why it cannot be."""

    name: str
    variant: Variant
    changes: Sequence[PlanChange] = ()
    problem: str | None = None


class _Base:
    """The loan that is varied: a household's, in what is left of it, or one that is only tried."""

    def __init__(self, account: str | None, loan: Loan | None, home: Visit) -> None:
        self._today, self._plan = home.today, home.plan
        self.currency = home.plan.household.currency
        self._stands: Standing | None = None
        if account is not None:
            held = loan_account(home.plan, account)
            self.currency, self._stands = held.currency, standing(home.moment, held)
            rest = self._stands.rest
            if rest is None:
                raise refused(("body", "account"), "Nothing is owed on this loan any more.", "range")
            self.schedule, self.terms = rest, rest_as_loan(rest)
            return
        if loan is None:
            raise refused(("body", "loan"), "Give a loan.", "needed")
        self.terms = checked_terms(loan, self.currency, ("body", "loan"))
        self.schedule = schedule(self.terms)

    @property
    def begin(self) -> datetime.date:
        """From when variants are seen; a loan that is only tried, from its beginning."""
        return self._today if self._stands else min(self._today, self.terms.disbursed)

    def told(self, name: str, wish: LoanWish) -> _Told:
        """A wish fulfilled."""
        today = self._today if self._stands else self.terms.disbursed
        as_it_is = Variant(self.schedule)
        try:
            under_way, arrears = (self.schedule, self._stands.arrears(today)) if self._stands else (None, 0)
            varied = vary(self.terms, wish, today, under_way, arrears)
            checked_terms(Loan.of(varied), self.currency, is_rest=self._stands is not None)
            if self._stands is None:
                return _Told(name, Variant(schedule(varied)))
            made = adoption(self._plan, self._stands, wish, varied, today)
        except LoanError as error:
            return _Told(name, as_it_is, problem=error.told(self.currency))
        except Refused as error:
            return _Told(name, as_it_is, problem=error.refusals[0].msg)
        return _Told(name, made.variant, made.changes)

    def with_extra(self) -> WithExtra:
        """The loan with an extra with every payment from the next on."""
        first = datetime.date.fromordinal(self.schedule.due[0])

        def paid(amount: int) -> Schedule:
            extra = Extra(amount, every=1, start=first)
            if self._stands is None:
                return schedule(replace(self.terms, extras=(*self.terms.extras, extra), extra_effect="shorten"))
            terms = self._stands.terms
            changed = replace(terms, extras=(*terms.extras, extra), extra_effect="shorten")
            return self._stands.with_terms(changed)

        return paid


def _outcome(told: _Told, outcome: Outcome, base: Outcome, changes: list[ChangeRequest]) -> Written:
    found = outcome.schedule
    return whole(OutcomeModel, {
        "name": told.name,
        "payment": outcome.payment,
        "total_interest": outcome.total_interest,
        "saves_interest": base.total_interest - outcome.total_interest,
        "payments": outcome.payments,
        "paid_off": outcome.paid_off,
        "never_ends": outcome.never_ends,
        "apr": str(outcome.apr) if outcome.apr is not None else None,
        "cost": outcome.cost,
        "saves": outcome.saves,
        "total": outcome.total,
        "saves_in_all": outcome.saves_in_all,
        "breaks_even": outcome.breaks_even,
        "due": days(found.due),
        "balance": amounts(found.balance),
        "interest": amounts(found.interest),
        "principal": amounts([part + extra for part, extra in zip(found.principal, found.extra, strict=True)]),
        "changes": changes,
        "problem": told.problem,
    })  # fmt: skip


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
    base = _Base(request.account, request.loan, home)
    try:
        if request.ask == "ends_by":
            return _ends_by(base, request.by)
        if request.payment is None or request.payment <= 0:
            raise refused(("body", "payment"), "Say how much the payment is.", "needed")
        if request.ask == "borrow":
            return ReverseAnswer(principal=principal_for(base.terms, request.payment), currency=base.currency)
        return ReverseAnswer(annual_rate=f"{rate_for(base.terms, request.payment):f}", currency=base.currency)
    except LoanError as error:
        raise refused_loan(error, base.currency) from error


def _ends_by(base: _Base, by: datetime.date | None) -> ReverseAnswer:
    if by is None:
        raise refused(("body", "by"), "Choose a day.", "needed")
    with_extra, first = base.with_extra(), datetime.date.fromordinal(base.schedule.due[0])
    extra = extra_to_end_by(with_extra, base.schedule.opening, first, by)
    return ReverseAnswer(extra=extra, paid_off=with_extra(extra).paid_off, currency=base.currency)


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


def shown_schedule(home: Visit, account: str | None, loan: Loan | None, currency: str) -> tuple[Schedule, str]:
    """The schedule of a household's loan as its page shows it, or of one that is only tried."""
    if account is not None:
        held = loan_account(home.plan, account)
        return standing(home.moment, held).shown, held.currency
    if loan is None:
        raise refused(("body", "loan"), "Give a loan.", "needed")
    return schedule(checked_terms(loan, currency, ("body", "loan"))), currency
