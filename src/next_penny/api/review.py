"""Looking back on loans and properties: payments recorded whole, and what a calendar year cost."""

import datetime
from collections.abc import Mapping, Sequence
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from next_penny.api.household import Home, Visit
from next_penny.api.statement_checks import books_of
from next_penny.api.what_if import requests_for
from next_penny.core.dates.calendar import FIRST_YEAR, LAST_YEAR
from next_penny.core.flows.assumed import laid_over
from next_penny.core.loans.standing import Parts
from next_penny.core.plan import Entry
from next_penny.core.review.loan_years import (
    LoanYear,
    Property,
    PropertyItem,
    coming_year,
    loan_years,
    net_of,
    properties,
    property_lines,
    sums_by_year,
    sums_of,
)
from next_penny.core.review.recorded_whole import RecordedWhole, Whole, overstated_by_year, recorded_whole
from next_penny.core.review.splitting import Splitter
from next_penny.core.review.worth import net_worth, spending_of, year_of
from next_penny.formats.change_request import ChangeRequest
from next_penny.store.reading import Reading

router = APIRouter(prefix="/api/review", tags=["review"])

Year = Annotated[int, Query(ge=FIRST_YEAR, lt=LAST_YEAR)]


class PartsModel(BaseModel):
    principal: int
    interest: int
    escrow: int
    insurance: int
    fee: int


def _parts(parts: Parts) -> PartsModel:
    return PartsModel(**parts._asdict())


class WholeModel(BaseModel):
    """A payment recorded whole: what it is booked to, and how it is to be split."""

    entry: str
    date: datetime.date
    payee: str
    amount: int
    category: str
    split: PartsModel


class TwoWays(BaseModel):
    """A figure as recorded, and as it should be."""

    recorded: int
    right: int


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
def read_recorded_whole(home: Home) -> WholeAnswer:
    """Loan payments recorded as one expense, anywhere in the books, and both effects of that."""
    loans: list[WholeLoan] = []
    found: list[Whole] = []
    moment = after = home.reading.moment
    for account in moment.plan.accounts:
        if account.loan is None:
            continue
        books, suspects = books_of(home.reading, account)
        each = recorded_whole(Splitter(moment, books, suspects), suspects)
        if each.found:
            found += each.found
            after = laid_over(after, each.changes, home.reading.entry)
            loans.append(_whole_loan(home.reading, each))
    currency = moment.plan.household.currency
    years = [
        YearSpending(year=year, spending=TwoWays(recorded=spent, right=spent - overstated))
        for year, overstated in overstated_by_year(moment.plan, found).items()
        for spent in [spending_of(moment, home.reading.between(moment.plan.accounts, *year_of(year, moment.today)))]
    ]
    worth = TwoWays(recorded=net_worth(moment), right=net_worth(after)) if found else None
    return WholeAnswer(currency=currency, loans=loans, years=years, net_worth=worth)


def _whole_loan(reading: Reading, each: RecordedWhole) -> WholeLoan:
    before, account = reading.moment, each.found[0].account
    after = laid_over(before, each.changes, reading.entry)
    assert account.loan is not None
    escrow = before.plan.account_by_id.get(account.loan.escrow_account or "")
    now = before.now
    balances = [(moment.balance_on(account, now), moment.balance_on(escrow, now) if escrow else 0)
                for moment in (before, after)]  # fmt: skip
    names = {category.id: category.name for category in before.plan.categories}
    return WholeLoan(
        loan=account.id,
        name=account.name,
        currency=account.currency,
        found=[
            WholeModel(
                entry=whole.entry.id, date=whole.entry.date, payee=whole.entry.payee,
                amount=-sum(leg.amount for leg in whole.entry.legs if leg.account is not None),
                category=names.get(whole.category, whole.category), split=_parts(whole.parts),
            )
            for whole in each.found
        ],
        owed=TwoWays(recorded=-balances[0][0], right=-balances[1][0]),
        escrow=TwoWays(recorded=balances[0][1], right=balances[1][1]) if escrow is not None else None,
        changes=requests_for(reading, each.changes),
    )  # fmt: skip


class LenderYear(BaseModel):
    name: str
    parts: PartsModel


class LoanLine(BaseModel):
    entry: str
    date: datetime.date
    lender: str
    parts: PartsModel


class LoanYearModel(BaseModel):
    """What a loan cost in a calendar year, by lender and together, and each payment behind it."""

    id: str
    name: str
    currency: str
    parts: PartsModel
    lenders: list[LenderYear]
    lines: list[LoanLine]
    began: datetime.date | None
    ended: datetime.date | None


class PropertySums(BaseModel):
    """What a property brought and cost; `other` is what no purpose is set for. `net`: income less costs."""

    rent: int = 0
    interest: int = 0
    tax: int = 0
    insurance: int = 0
    upkeep: int = 0
    other: int = 0
    net: int


def _sums(sums: Mapping[PropertyItem, int]) -> PropertySums:
    return PropertySums.model_validate({**sums, "net": net_of(sums)})


class PropertyLineModel(BaseModel):
    entry: str
    date: datetime.date
    payee: str
    item: str
    amount: int


class PropertyYear(BaseModel):
    id: str
    name: str
    currency: str
    sums: PropertySums
    lines: list[PropertyLineModel]


class YearAnswer(BaseModel):
    """A calendar year as the tax return wants it: as paid. `years` are those in which something is recorded."""

    year: int
    years: list[int]
    today: datetime.date
    loans: list[LoanYearModel]
    properties: list[PropertyYear]


@router.get("/year")
def read_year(home: Home, year: Year | None = None) -> YearAnswer:
    """Interest and property tax paid in a calendar year, per loan and property, with what is behind each figure."""
    recorded = home.recorded(home.reading.of_loans())
    years = sorted({entry.date.year for entry in recorded})
    wanted = home.today.year if year is None else year
    of_year = [entry for entry in recorded if entry.date.year == wanted]
    return YearAnswer(
        year=wanted,
        years=years,
        today=home.today,
        loans=[_loan_year(each) for each in loan_years(home.moment, recorded, wanted)],
        properties=[
            told for owned in properties(home.plan) if (told := _property_year(home, owned, of_year)).lines
        ],
    )  # fmt: skip


def _loan_year(each: LoanYear) -> LoanYearModel:
    return LoanYearModel(
        id=each.account.id,
        name=each.account.name,
        currency=each.account.currency,
        parts=_parts(each.parts),
        lenders=[LenderYear(name=name, parts=_parts(parts)) for name, parts in each.by_lender],
        lines=[
            LoanLine(entry=line.entry.id, date=line.entry.date, lender=line.lender, parts=_parts(line.parts))
            for line in each.lines
        ],
        began=each.began,
        ended=each.ended,
    )


def _property_year(home: Visit, owned: Property, of_year: Sequence[Entry]) -> PropertyYear:
    lines = list(property_lines(home.plan, owned, of_year))
    return PropertyYear(
        id=owned.account.id,
        name=owned.account.name,
        currency=owned.account.currency,
        sums=_sums(sums_of(lines)),
        lines=[
            PropertyLineModel(entry=line.entry.id, date=line.entry.date, payee=line.entry.payee, item=line.item,
                              amount=line.amount)
            for line in lines
        ],
    )  # fmt: skip


class PropertyYearSums(BaseModel):
    year: int
    sums: PropertySums


class PropertyModel(BaseModel):
    """A property: what it is worth, what is owed on it, what its escrow holds, its years and the twelve months ahead.

    `worth` is null where no account stands for the property itself.
    """

    id: str
    name: str
    currency: str
    worth: int | None
    owed: int
    escrow: int
    loans: list[str]
    escrows: list[str]
    years: list[PropertyYearSums]
    ahead: PropertySums


class PropertiesAnswer(BaseModel):
    today: datetime.date
    properties: list[PropertyModel]


@router.get("/properties")
def read_properties(home: Home) -> PropertiesAnswer:
    """Each property with its income and costs, year by year."""
    recorded = home.recorded(home.reading.of_loans())
    return PropertiesAnswer(
        today=home.today, properties=[_property(home, owned, recorded) for owned in properties(home.plan)]
    )


def _property(home: Visit, owned: Property, recorded: Sequence[Entry]) -> PropertyModel:
    years = sums_by_year(property_lines(home.plan, owned, recorded))
    accounts, now = home.plan.account_by_id, home.moment.now
    is_loan = owned.account.loan is not None
    return PropertyModel(
        id=owned.account.id,
        name=owned.account.name,
        currency=owned.account.currency,
        worth=None if is_loan else home.moment.balance_on(owned.account, now),
        owed=-sum(home.moment.balance_on(loan, now) for loan in owned.loans),
        escrow=sum(home.moment.balance_on(accounts[id], now) for id in owned.escrows),
        loans=[loan.id for loan in owned.loans],
        escrows=sorted(owned.escrows),
        years=[PropertyYearSums(year=year, sums=_sums(each)) for year, each in years.items()],
        ahead=_sums(coming_year(home.moment, owned)),
    )  # fmt: skip
