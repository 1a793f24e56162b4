"""What loans and properties cost in a calendar year."""

import datetime
from collections.abc import Mapping, Sequence
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from next_penny.api.debts.parts import PartsModel, parts_model
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.dates.calendar import FIRST_YEAR, LAST_YEAR
from next_penny.core.mortgage.loan_years import (
    ExpectedInterest,
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
    years_ahead,
    years_before,
)
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry

router = APIRouter(prefix="/api/review", tags=["review"])


Year = Annotated[int, Query(ge=FIRST_YEAR, lt=LAST_YEAR)]


class LenderYear(BaseModel):
    name: str
    parts: PartsModel


class LoanLine(BaseModel):
    entry: str
    date: datetime.date
    lender: str
    parts: PartsModel


class LoanYearModel(BaseModel):
    """What a loan cost in a calendar year, by lender and together, and each payment behind it.

    `expected`: interest of payments still to come in the year, and what runs up in it by days; null once it has ended.

    `interest_before` and `property_tax_before` were given for the time before the household began here; the interest
    is in `parts`.
    """

    id: str
    name: str
    currency: str
    parts: PartsModel
    lenders: list[LenderYear]
    lines: list[LoanLine]
    began: datetime.date | None
    ended: datetime.date | None
    interest_before: int
    property_tax_before: int
    expected: ExpectedInterest | None


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
    """A calendar year as the tax return wants it: as paid. `years`: in which something is paid or is to be."""

    year: int
    years: list[int]
    today: datetime.date
    loans: list[LoanYearModel]
    properties: list[PropertyYear]


@router.get("/year")
def read_year(home: HomeOrWhatIf, year: Year | None = None) -> YearAnswer:
    """Interest and property tax paid in a calendar year, per loan and property, with what is behind each figure."""
    recorded = home.recorded(home.reading.of_loans())
    years = sorted({entry.date.year for entry in recorded} | years_before(home.plan) | {*years_ahead(home.moment)})
    wanted = home.today.year if year is None else year
    of_year = [entry for entry in recorded if entry.date.year == wanted]
    return YearAnswer(
        year=wanted,
        years=years,
        today=home.today,
        loans=[_loan_year(loan_year) for loan_year in loan_years(home.moment, recorded, wanted)],
        properties=[
            property_year
            for owned in properties(home.plan)
            if (property_year := _property_year(home, owned, of_year)).lines
        ],
    )


def _loan_year(year: LoanYear) -> LoanYearModel:
    return LoanYearModel(
        id=year.account.id,
        name=year.account.name,
        currency=year.account.currency,
        parts=parts_model(year.parts),
        lenders=[LenderYear(name=name, parts=parts_model(parts)) for name, parts in year.by_lender],
        lines=[
            LoanLine(entry=line.entry.id, date=line.entry.date, lender=line.lender, parts=parts_model(line.parts))
            for line in year.lines
        ],
        began=year.began,
        ended=year.ended,
        interest_before=year.before.interest if year.before else 0,
        property_tax_before=year.before.property_tax if year.before else 0,
        expected=year.expected,
    )


def _property_year(home: Session, owned: Property, of_year: Sequence[Entry]) -> PropertyYear:
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
def read_properties(home: HomeOrWhatIf) -> PropertiesAnswer:
    """Each property with its income and costs, year by year."""
    recorded = home.recorded(home.reading.of_loans())
    return PropertiesAnswer(
        today=home.today, properties=[_property(home, owned, recorded) for owned in properties(home.plan)]
    )


def _property(home: Session, owned: Property, recorded: Sequence[Entry]) -> PropertyModel:
    years = sums_by_year(property_lines(home.plan, owned, recorded))
    accounts, now = home.plan.account_by_id, home.moment.now
    is_loan = owned.account in owned.loans

    def here(account: Account) -> int:
        balance = home.moment.balance_on(account, now)
        return home.plan.between(account.id, owned.account.id, balance, home.today)

    return PropertyModel(
        id=owned.account.id,
        name=owned.account.name,
        currency=owned.account.currency,
        worth=None if is_loan else home.moment.balance_on(owned.account, now),
        owed=-sum(here(loan) for loan in owned.loans),
        escrow=sum(here(accounts[id]) for id in owned.escrows),
        loans=[loan.id for loan in owned.loans],
        escrows=sorted(owned.escrows),
        years=[PropertyYearSums(year=year, sums=_sums(one_owned)) for year, one_owned in years.items()],
        ahead=_sums(coming_year(home.moment, owned)),
    )  # fmt: skip
