"""The year's bills, bank holidays, and what the household is worth over time."""

import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from next_penny.api.ahead.forecast import checked_until
from next_penny.api.http.errors import refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.ahead.revaluation import revaluation
from next_penny.core.ahead.worth import whole_span, worth_over
from next_penny.core.ahead.year_list import MarkName, YearRow, year_list
from next_penny.core.dates.business_days import bank_holidays
from next_penny.core.flows.makers import Occurrence
from next_penny.core.plan.accounts import AccountKind
from next_penny.formats.documents.fields import Day

router = APIRouter(prefix="/api", tags=["years"])
_LONGEST_DAYS, _MOST_BACK_DAYS = 41 * 366, 35 * 365


class YearMark(BaseModel):
    """A bill in a month: `settled`, in `part`, `past_due`, `expected` or `none`; its amount is positive."""

    stands: MarkName
    amount: int
    unsettled: list[Occurrence]


class YearListRow(BaseModel):
    """`owed` is what is still owed on the debt that it pays, null for a bill; `monthly`: a month that it is due in."""

    id: str
    name: str
    due_day: int
    rhythm: str
    currency: str
    owed: int | None
    monthly: int
    total: int
    months: list[YearMark]


class YearListAnswer(BaseModel):
    """Bills, loan and card payments of a year by due day; sums are in the household's currency at today's rates."""

    today: datetime.date
    year: int
    currency: str
    rows: list[YearListRow]
    months: list[int]
    total: int
    owed: int


@router.get("/year-list")
def read_year_list(home: HomeOrWhatIf, year: Annotated[int, Query(ge=1901, le=2199)]) -> YearListAnswer:
    """The year's bills in order of due day, each month settled or not."""
    checked_until(home.today, max(home.today, datetime.date(year, 12, 31)), ("query", "year"))
    found_year_list = year_list(home.moment, year)
    return YearListAnswer(
        today=home.today,
        year=year,
        currency=home.plan.household.currency,
        rows=[_row(row) for row in found_year_list.rows],
        months=found_year_list.months,
        total=found_year_list.total,
        owed=found_year_list.owed,
    )


def _row(row: YearRow) -> YearListRow:
    marks = [YearMark(stands=mark.stands, amount=mark.amount, unsettled=list(mark.unsettled)) for mark in row.months]
    return YearListRow(
        id=row.id, name=row.name, due_day=row.due_day, rhythm=row.rhythm, currency=row.currency, owed=row.owed,
        monthly=row.monthly, total=row.total, months=marks,
    )  # fmt: skip


class BankHoliday(BaseModel):
    date: datetime.date
    name: str


class BankHolidays(BaseModel):
    """`country` is the household's; without one there are none."""

    country: str | None
    days: list[BankHoliday]


@router.get("/bank-holidays")
def read_bank_holidays(
    home: HomeOrWhatIf, first: Annotated[Day, Query(alias="from")], last: Annotated[Day, Query(alias="to")]
) -> BankHolidays:
    """The days from one to another that are bank holidays in the household's country."""
    country = home.plan.household.country
    _refuse_stretch(first, last)
    days = [BankHoliday(date=day, name=name) for day, name in bank_holidays(country, first, last)]
    return BankHolidays(country=country, days=days)


class KindWorthModel(BaseModel):
    """The accounts of one kind together, one balance a day of `days`; debts are negative."""

    kind: AccountKind
    balances: list[int]


class NetWorthAnswer(BaseModel):
    """In the household's currency, at the end of each month, today, and on the last day.

    Today is as recorded; `expected_today` is what today's and past-due items would still change of it. `together` is
    `owned` less `owed`. revaluation: what the exchange rates alone did from the first day to today, null where nothing
    is held in another currency.
    """

    today: datetime.date
    currency: str
    days: list[datetime.date]
    kinds: list[KindWorthModel]
    owned: list[int]
    owed: list[int]
    together: list[int]
    expected_today: int
    revaluation: int | None


@router.get("/net-worth")
def read_net_worth(
    home: HomeOrWhatIf,
    first: Annotated[Day | None, Query(alias="from")] = None,
    last: Annotated[Day | None, Query(alias="to")] = None,
) -> NetWorthAnswer:
    """What the household owns less what it owes over a stretch, recorded up to today and expected after it.

    Without days: from when the first account was begun (at most 35 years back) to five years ahead.
    """
    begun, ahead = whole_span(home.moment)
    first = first or max(begun, datetime.date.fromordinal(home.today.toordinal() - _MOST_BACK_DAYS))
    last = last or max(ahead, first)
    _refuse_stretch(first, last)
    checked_until(home.today, max(home.today, last), ("query", "to"))
    worth = worth_over(home.moment, first, last)
    return NetWorthAnswer(
        today=home.today,
        currency=home.plan.household.currency,
        days=[datetime.date.fromordinal(day) for day in worth.days],
        kinds=[KindWorthModel(kind=kind.kind, balances=list(kind.balances)) for kind in worth.kinds],
        owned=list(worth.owned),
        owed=list(worth.owed),
        together=list(worth.together),
        expected_today=worth.expected_today,
        revaluation=revaluation(home.moment, first, last, home.plan.accounts),
    )


def _refuse_stretch(first: datetime.date, last: datetime.date) -> None:
    if last < first:
        raise refused(("query", "to"), "The stretch ends before it starts: choose a later end.", "range")
    if last.toordinal() - first.toordinal() > _LONGEST_DAYS:
        raise refused(("query", "to"), "Choose a stretch of at most forty years.", "range")
