"""The bank's interest checked: on typed figures, or on a savings account's own months."""

import datetime
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home, HomeOrWhatIf
from next_penny.core.accounts.savings import plain_terms
from next_penny.core.checks.common import unknown_currency
from next_penny.core.money import DECIMALS
from next_penny.core.plan.terms.savings import Basis, Compounding, InterestRounding, MovementsEarn
from next_penny.core.reconciling.interest import (
    Counted,
    CreditedMonth,
    Movement,
    Statement,
    by_day,
    check_statement,
    counted,
    credited_months,
    otherwise,
    yield_earned,
)
from next_penny.core.reconciling.interest_wording import explanation, verdict, way_of_counting
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Percent
from next_penny.formats.documents.parts import month_text

router = APIRouter(prefix="/api", tags=["the bank's interest"])
_MOST_MONTHS = 120


class MovementModel(Document):
    """Money in, or out (below zero), on a day."""

    date: Day
    amount: Amount


class InterestRequest(Document):
    """A statement's figures, in minor units. `opening`: at the start of `from`; `credited`: paid at the end of `to`.

    One of `apy` (the yield) and `rate` (nominal), percent a year. `currency` is only for the words.
    """

    first: Day = Field(alias="from")
    last: Day = Field(alias="to")
    opening: Amount
    movements: list[MovementModel] = Field([], max_length=1_000)
    apy: Percent | None = None
    rate: Percent | None = None
    credited: Amount
    currency: Annotated[str, Field(pattern=r"^[A-Z]{3}$")] | None = None


class WayModel(BaseModel):
    """A way of counting interest."""

    basis: Basis
    compounding: Compounding
    movements_earn: MovementsEarn
    rounding: InterestRounding


class Convention(WayModel):
    """A way of counting, what it gives, and what the bank paid beyond that. `words`: the way in words."""

    interest: int
    difference: int
    words: str


class EarningDay(BaseModel):
    """A day, the balance that earned, and what it earned: minor units to two decimals."""

    date: datetime.date
    balance: int
    earned: str


class InterestAnswer(BaseModel):
    """The conventions, nearest first; `matches`: how many give exactly what was paid. yield_earned: percent a year.

    `days`: as the first of them counts.
    """

    conventions: list[Convention]
    matches: int
    verdict: str
    explanations: list[str]
    yield_earned: str | None
    days: list[EarningDay]


@router.post("/tools/interest-check")
def check_interest(request: InterestRequest, home: Home) -> InterestAnswer:
    """Which way of counting gives what the bank paid, or the nearest."""
    statement = Statement(
        request.first, request.last, request.opening,
        tuple(Movement(movement.date, movement.amount) for movement in request.movements), request.credited,
        request.apy, request.rate,
    )  # fmt: skip
    check_statement(statement)
    currency = request.currency or home.plan.household.currency
    if currency not in DECIMALS:
        raise refused(("body", "currency"), unknown_currency(currency), "unknown_currency")
    return _checked(statement, currency)


def _checked(statement: Statement, currency: str) -> InterestAnswer:
    counts = counted(statement)
    earned = yield_earned(statement)
    return InterestAnswer(
        conventions=[_convention(count) for count in counts],
        matches=sum(count.difference == 0 for count in counts),
        verdict=verdict(statement, counts, currency),
        explanations=[explanation(alternative, currency) for alternative in otherwise(statement, counts)],
        yield_earned=str(earned) if earned is not None else None,
        days=[EarningDay(date=day, balance=base, earned=f"{interest:f}")
              for day, base, interest in by_day(statement, counts[0].terms)],
    )  # fmt: skip


def _convention(count: Counted) -> Convention:
    terms = count.terms
    return Convention(
        basis=terms.basis, compounding=terms.compounding, movements_earn=terms.movements_earn, rounding=terms.rounding,
        interest=count.interest, difference=count.difference, words=way_of_counting(terms),
    )  # fmt: skip


class InterestMonth(BaseModel):
    """A month of a savings account: its figures, and what the check says. `own`: what its own way gives."""

    month: str
    first: datetime.date
    last: datetime.date
    opening: int
    movements: list[MovementModel]
    credited: int
    own: int
    check: InterestAnswer


class InterestMonths(BaseModel):
    """An account's months whose credit is recorded, the newest first; `kind`: whether its terms tell yield or rate."""

    account: str
    currency: str
    kind: Literal["apy", "rate"]
    percent: str
    own_way: WayModel
    months: list[InterestMonth]
    credited: int
    own: int


@router.get("/accounts/{id}/interest")
def read_interest(
    id: Id, home: HomeOrWhatIf, months: Annotated[int, Query(ge=1, le=_MOST_MONTHS)] = 12
) -> InterestMonths:
    """A savings account's interest, month by month from its register, held against every way of counting."""
    account = home.plan.account_by_id.get(id)
    terms = plain_terms(account) if account is not None else None
    if account is None or terms is None:
        raise refused(("path", "id"), "There is no savings account with a yield or a rate by that name.", "unknown_id")
    credited = credited_months(account, terms, home.register(account), home.today, months)
    interest_months = [_month(credited_month, account.currency) for credited_month in credited]
    return InterestMonths(
        account=account.id,
        currency=account.currency,
        kind="apy" if terms.apy is not None else "rate",
        percent=f"{terms.apy if terms.apy is not None else terms.rate or 0:f}",
        months=interest_months,
        own_way=WayModel(
            basis=terms.basis,
            compounding=terms.compounding,
            movements_earn=terms.movements_earn,
            rounding=terms.rounding,
        ),
        credited=sum(interest_month.credited for interest_month in interest_months),
        own=sum(interest_month.own for interest_month in interest_months),
    )


def _month(credited_month: CreditedMonth, currency: str) -> InterestMonth:
    statement = credited_month.statement
    return InterestMonth(
        month=month_text(credited_month.month),
        first=statement.first,
        last=statement.last,
        opening=statement.opening,
        movements=[MovementModel(date=movement.date, amount=movement.amount) for movement in statement.movements],
        credited=statement.credited,
        own=credited_month.own,
        check=_checked(statement, currency),
    )
