"""Questions about the way out of debt: in reverse, a sum, debt or savings, and some debts replaced by one."""

import datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.ahead.forecast import LowPointModel, low_point
from next_penny.api.debts.way_out import asked_way
from next_penny.api.debts.way_out_answers import month_of
from next_penny.api.http.errors import refused
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.payoff.consolidation import NewCard, NewLoan, consolidate
from next_penny.core.payoff.questions import debt_or_savings, extra_for, worth_of
from next_penny.core.plan.accounts import Account
from next_penny.formats.documents.fields import Amount, Document, Id
from next_penny.formats.documents.kept.way_out import AnnualRate, AskedDocument, MinimumDocument, Owed, RateFrom
from next_penny.formats.documents.parts import Month

router = APIRouter(prefix="/api/payoff", tags=["debts"])

_Sum = Annotated[Amount, Field(gt=0)]


class ByRequest(Document):
    """Debt-free by a month."""

    asked: AskedDocument
    by: Month


class ByAnswer(BaseModel):
    """The least monthly extra."""

    extra_monthly: int
    currency: str


@router.post("/extra-for")
def extra_for_month(request: ByRequest, home: HomeOrWhatIf) -> ByAnswer:
    """What monthly extra is debt-free by a month."""
    way = asked_way(home.moment, request.asked, ("body", "asked"))
    return ByAnswer(extra_monthly=extra_for(way, request.by), currency=way.debts.currency)


class WorthRequest(Document):
    """A sum that is paid in a month."""

    asked: AskedDocument
    amount: _Sum
    month: Month


class WorthModel(BaseModel):
    """What the sum is worth on one debt; null where one of the two plans never ends. `used`: what that debt takes."""

    id: str
    name: str
    used: int
    saves_interest: int | None
    saves_months: int | None
    debt_free: str | None


class WorthAnswer(BaseModel):
    currency: str
    worth: list[WorthModel]


@router.post("/worth")
def worth_of_a_sum(request: WorthRequest, home: HomeOrWhatIf) -> WorthAnswer:
    """What a sum in a month is worth, debt by debt; the most saving first."""
    way = asked_way(home.moment, request.asked, ("body", "asked"))
    worths = [
        WorthModel(
            id=worth.debt.id,
            name=worth.debt.name,
            used=worth.used,
            saves_interest=worth.saves_interest,
            saves_months=worth.saves_months,
            debt_free=month_of(worth.debt_free),
        )
        for worth in worth_of(way, request.amount, request.month)
    ]
    return WorthAnswer(currency=way.debts.currency, worth=worths)


class SavingsRequest(WorthRequest):
    """A sum taken from an account."""

    account: Id


class SavingsAnswer(BaseModel):
    """Interest saved against what the sum would have earned, both until `until`; the account's low point without it."""

    currency: str
    saves_interest: int | None
    yield_lost: int
    until: datetime.date
    lowest: LowPointModel
    debt_free: str | None


@router.post("/savings")
def debt_or_keep(request: SavingsRequest, home: HomeOrWhatIf) -> SavingsAnswer:
    """Whether to pay the debt or keep the savings."""
    way = asked_way(home.moment, request.asked, ("body", "asked"))
    account = _savings(home, request.account, way.debts.currency)
    found_debt_or_savings = debt_or_savings(way, account, request.amount, request.month)
    lowest = low_point(found_debt_or_savings.lowest)
    assert lowest is not None
    return SavingsAnswer(
        currency=way.debts.currency,
        saves_interest=found_debt_or_savings.saves_interest,
        yield_lost=found_debt_or_savings.yield_lost,
        until=found_debt_or_savings.until,
        lowest=lowest,
        debt_free=month_of(found_debt_or_savings.debt_free),
    )


def _savings(home: Session, id: str, currency: str) -> Account:
    account = home.plan.account_by_id.get(id)
    if account is None or account.is_debt or account.currency != currency:
        raise refused(("body", "account"), f"Choose an account in {currency} that holds money.", "unknown_id")
    return account


class NewLoanDocument(Document):
    """One loan in the place of several debts."""

    annual_rate: AnnualRate
    payments: Annotated[int, Field(ge=1, le=600)]
    fees: Owed = 0
    fees_financed: bool = True


class NewCardDocument(Document):
    """A card that balances are moved to."""

    rates: tuple[RateFrom, ...] = Field(min_length=1, max_length=20)
    minimum: MinimumDocument
    fee_percent: AnnualRate


class ConsolidationRequest(Document):
    """Debts that are replaced by a new loan, or by a card."""

    asked: AskedDocument
    chosen: tuple[Id, ...]
    loan: NewLoanDocument | None = None
    card: NewCardDocument | None = None


class ConsolidationAnswer(BaseModel):
    """The plan with the new debt against the one without; `costs` are interest and fees in all.

    moved: what the new debt pays off. payment: its first minimum; minimums: of all debts in the first month. saves:
    null where one of the two never ends.
    """

    currency: str
    moved: int
    owed: int
    fees: int
    fees_in_cash: int
    payment: int
    minimums: int
    minimums_before: int
    costs: int
    costs_before: int
    saves: int | None
    debt_free: str | None
    debt_free_before: str | None


@router.post("/consolidation")
def replace_debts(request: ConsolidationRequest, home: HomeOrWhatIf) -> ConsolidationAnswer:
    """What some debts replaced by one would come to."""
    way = asked_way(home.moment, request.asked, ("body", "asked"))
    if (request.loan is None) == (request.card is None):
        raise refused(("body", "loan"), "Say what replaces them: a loan, or a card.", "needed")
    consolidated = consolidate(way, request.chosen, _new_debt(request))
    return ConsolidationAnswer(
        currency=way.debts.currency,
        moved=consolidated.moved,
        owed=consolidated.debt.balance,
        fees=consolidated.fees,
        fees_in_cash=consolidated.fees_in_cash,
        payment=consolidated.payment,
        minimums=consolidated.minimums,
        minimums_before=consolidated.minimums_before,
        costs=consolidated.costs,
        costs_before=consolidated.costs_before,
        saves=consolidated.saves,
        debt_free=month_of(consolidated.run.debt_free),
        debt_free_before=month_of(way.run.debt_free),
    )


def _new_debt(request: ConsolidationRequest) -> NewLoan | NewCard:
    if request.loan is not None:
        loan = request.loan
        return NewLoan(loan.annual_rate, loan.payments, loan.fees, loan.fees_financed)
    assert request.card is not None
    card = request.card
    return NewCard(tuple(rate.to_core() for rate in card.rates), card.minimum.to_core(), card.fee_percent)
