"""Loan payments recorded as one expense, and what splitting them makes of the household's figures."""

import datetime
from collections.abc import Collection

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.debts.parts import PartsModel, parts_model
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.mortgage import whole_years
from next_penny.core.mortgage.whole_years import TwoWays, whole_figures
from next_penny.core.plan.plan import Plan
from next_penny.formats.changes import proposing
from next_penny.formats.changes.request import ChangeRequest

router = APIRouter(prefix="/api/review", tags=["review"])


class WholeModel(BaseModel):
    """A payment recorded whole, and how it is to be split. category: what it is booked to; empty where it was moved."""

    entry: str
    date: datetime.date
    payee: str
    amount: int
    category: str
    split: PartsModel


class YearSpending(BaseModel):
    year: int
    spending: TwoWays


class WholeLoan(BaseModel):
    """A loan's payments that were recorded whole; `changes` split them all. `escrow`: null without such an account."""

    loan: str
    name: str
    currency: str
    found: list[WholeModel]
    owed: TwoWays
    escrow: TwoWays | None
    changes: list[ChangeRequest]


class WholeAnswer(BaseModel):
    """All of them, and what they do to the household's figures, in its currency."""

    currency: str
    loans: list[WholeLoan]
    years: list[YearSpending]
    net_worth: TwoWays | None


@router.get("/recorded-whole")
def read_recorded_whole(home: HomeOrWhatIf) -> WholeAnswer:
    """Loan payments recorded as one expense, anywhere in the books, and both effects of that."""
    moment, recorded = home.moment, home.recorded(home.reading.entries())
    figures = whole_figures(moment, recorded)
    ids = frozenset(entry.id for entry in recorded)
    years = [YearSpending(year=year, spending=spending) for year, spending in figures.spending.items()]
    return WholeAnswer(
        currency=moment.plan.household.currency,
        loans=[_whole_loan(moment.plan, loan, ids) for loan in figures.loans],
        years=years,
        net_worth=figures.net_worth,
    )


def _whole_loan(plan: Plan, loan: whole_years.WholeLoan, ids: Collection[str]) -> WholeLoan:
    names = {category.id: category.name for category in plan.categories}
    return WholeLoan(
        loan=loan.account.id,
        name=loan.account.name,
        currency=loan.account.currency,
        found=[
            WholeModel(
                entry=whole.entry.id, date=whole.entry.date, payee=whole.entry.payee,
                amount=-sum(leg.amount for leg in whole.entry.legs if leg.account is not None and leg.amount < 0),
                category=names.get(whole.category or "", whole.category or ""), split=parts_model(whole.parts),
            )
            for whole in loan.whole.wholes
        ],
        owed=loan.owed,
        escrow=loan.escrow,
        changes=proposing.requests_for(plan, loan.whole.changes, ids.__contains__),
    )  # fmt: skip
