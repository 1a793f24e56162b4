"""A loan's alternatives side by side, and the question in reverse: what ends it by a day."""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from next_penny.api.debts.loan_page import loan_account
from next_penny.api.edits.applying import requests_for
from next_penny.api.http.answers import Written, response, several, whole
from next_penny.api.http.columns import amounts, days
from next_penny.api.http.errors import Refused, refused, refused_loan
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.api.tools.loans import checked_terms
from next_penny.core.edits.defaults import furthest_extra
from next_penny.core.loans.alternatives.adoption import adoption
from next_penny.core.loans.alternatives.compare import (
    Outcome,
    Variant,
    WithExtra,
    compare,
    extra_to_end_by,
    principal_for,
    rate_for,
)
from next_penny.core.loans.alternatives.variants import LoanWish, rest_as_loan, vary
from next_penny.core.loans.schedule import Schedule, schedule
from next_penny.core.loans.standing import Standing, standing
from next_penny.core.loans.walked import LoanError
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.terms.loans import Extra
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Name, Percent, values_of
from next_penny.formats.documents.loans import Loan, PaymentsPerYear

router = APIRouter(prefix="/api/debts", tags=["debts"])


_MOST_VARIANTS = 4


class WishModel(Document):
    """What a variant does differently; what is left out stays as it is. `payments` counts what is left to pay.

    `extra` comes with every payment, `lump` once, on `lump_on`; `principal` is for a loan that is only tried.
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
    principal: Annotated[Amount, Field(gt=0)] | None = None

    def to_core(self) -> LoanWish:
        lump = Extra(self.lump, date=self.lump_on) if self.lump and self.lump_on is not None else None
        return LoanWish(**values_of(self, besides=("name", "lump", "lump_on")), lump=lump)


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
    """The loan as it is and its variants: `most_variants` can be asked, an extra is dragged up to `extra_most`."""

    today: datetime.date
    currency: str
    horizon_months: int
    most_variants: int
    extra_most: int
    outcomes: list[OutcomeModel]


@router.post("/alternatives", response_model=AlternativesAnswer)
def alternatives(request: AlternativesRequest, home: HomeOrWhatIf) -> Response:
    """A loan and up to four variants of it, side by side."""
    base = _Base(request.account, request.loan, home)
    answers = [_Told("As it is", Variant(base.schedule))]
    for number, wish in enumerate(request.variants, 1):
        answers.append(base.told(wish.name or f"Variant {number}", wish.to_core()))
    outcomes = compare([answer.variant for answer in answers], base.begin, request.horizon_months)
    return response(whole(AlternativesAnswer, {
        "today": home.today,
        "currency": base.currency,
        "horizon_months": request.horizon_months,
        "most_variants": _MOST_VARIANTS,
        "extra_most": furthest_extra(outcomes[0].payment, base.currency),
        "outcomes": several(OutcomeModel, [
            _outcome(answer, outcome, outcomes[0], requests_for(home.reading, answer.changes))
            for answer, outcome in zip(answers, outcomes, strict=True)
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

    def __init__(self, account: str | None, loan: Loan | None, home: Session) -> None:
        self._today, self._plan = home.today, home.plan
        self.currency = home.plan.household.currency
        self._standing: Standing | None = None
        if account is not None:
            existing = loan_account(home.plan, account)
            self.currency, self._standing = existing.currency, standing(home.moment, existing)
            rest = self._standing.rest
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
        return self._today if self._standing else min(self._today, self.terms.disbursed)

    def told(self, name: str, wish: LoanWish) -> _Told:
        """A wish fulfilled."""
        today = self._today if self._standing else self.terms.disbursed
        as_it_is = Variant(self.schedule)
        try:
            under_way, arrears = (self.schedule, self._standing.arrears(today)) if self._standing else (None, 0)
            varied = vary(self.terms, wish, today, under_way, arrears)
            checked_terms(Loan.of(varied), self.currency, is_rest=self._standing is not None)
            if self._standing is None:
                return _Told(name, Variant(schedule(varied)))
            made = adoption(self._plan, self._standing, wish, varied, today)
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
            if self._standing is None:
                return schedule(replace(self.terms, extras=(*self.terms.extras, extra), extra_effect="shorten"))
            terms = self._standing.terms
            changed = replace(terms, extras=(*terms.extras, extra), extra_effect="shorten")
            return self._standing.with_terms(changed)

        return paid


def _outcome(answer: _Told, outcome: Outcome, base: Outcome, changes: list[ChangeRequest]) -> Written:
    schedule = outcome.schedule
    return whole(OutcomeModel, {
        "name": answer.name,
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
        "due": days(schedule.due),
        "balance": amounts(schedule.balance),
        "interest": amounts(schedule.interest),
        "principal": amounts([part + extra for part, extra in zip(schedule.principal, schedule.extra, strict=True)]),
        "changes": changes,
        "problem": answer.problem,
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
def reverse(request: ReverseRequest, home: HomeOrWhatIf) -> ReverseAnswer:
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
