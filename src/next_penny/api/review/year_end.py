"""The end of a year on one page, and as a workbook."""

import datetime
from typing import Annotated

from fastapi import APIRouter, Path, Response
from pydantic import BaseModel

from next_penny.api.http.answers import workbook
from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home, HomeOrWhatIf, Session
from next_penny.api.review.proposals import ProposalModel, proposal_model
from next_penny.api.review.sources import Recorded
from next_penny.core.dates.calendar import FIRST_YEAR, LAST_YEAR
from next_penny.core.mortgage.loan_years import loan_years
from next_penny.core.plan.accounts import Account, AccountKind
from next_penny.core.review.forward.year_end import YearEnd, year_end
from next_penny.core.review.records import RowKind
from next_penny.core.review.review import review
from next_penny.core.review.telling import fitting_sentence, groups_of, lines_of
from next_penny.formats.workbooks.year_end import LoanCost, year_workbook

router = APIRouter(prefix="/api/review", tags=["review"])
Year = Annotated[int, Path(ge=FIRST_YEAR + 1, lt=LAST_YEAR)]


class YearGroup(BaseModel):
    """What came in or went out in a group of categories, in the household's currency."""

    kind: RowKind
    name: str
    expected: int
    actual: int


class YearStanding(BaseModel):
    """An account at the beginning and the end, in its own currency; debts are negative."""

    id: str
    name: str
    kind: AccountKind
    currency: str
    begins: int
    ends: int


class YearInterest(BaseModel):
    """Interest of a loan or card (negative: paid) or of savings (earned), in its account's currency."""

    id: str
    name: str
    currency: str
    amount: int


class YearGoal(BaseModel):
    """In how many of its periods that have begun a goal was met."""

    id: str
    name: str
    met: int
    periods: int


class YearBill(BaseModel):
    """A bill that comes once in the coming year, with nothing held back or set aside for it."""

    flow: str
    name: str
    date: datetime.date
    amount: int
    currency: str


class YearEndAnswer(BaseModel):
    """A calendar year up to today. `worth`: net worth at both ends; `off`: what was off by more than a tenth."""

    year: int
    today: datetime.date
    currency: str
    income: int
    spending: int
    kept: int
    groups: list[YearGroup]
    interest: list[YearInterest]
    standings: list[YearStanding]
    worth: tuple[int, int]
    goals: list[YearGoal]
    off: list[ProposalModel]
    unprepared: list[YearBill]


@router.get("/year-end/{year}")
def read_year_end(year: Year, home: HomeOrWhatIf) -> YearEndAnswer:
    """What a year came to, where everything stood at both ends, and what to change for the next."""
    year_end = _found(year, home)
    sums = review(home.moment, Recorded(home), *year_end.days)
    return YearEndAnswer(
        year=year,
        today=home.today,
        currency=home.plan.household.currency,
        income=sums.totals.income.actual,
        spending=sums.totals.spending.actual,
        kept=sums.totals.kept.actual,
        groups=[
            YearGroup(kind=kind, name=name, expected=both.expected, actual=both.actual)
            for kind, name, both in groups_of(lines_of(sums))
        ],
        interest=[
            YearInterest(id=account.id, name=account.name, currency=account.currency, amount=amount)
            for account, amount in _interest(year, home, year_end)
        ],
        standings=[
            YearStanding(
                id=standing.account.id,
                name=standing.account.name,
                kind=standing.account.kind,
                currency=standing.account.currency,
                begins=standing.begins,
                ends=standing.ends,
            )
            for standing in year_end.standings
        ],
        worth=year_end.worth,
        goals=[
            YearGoal(id=goal.goal.id, name=goal.goal.name, met=goal.met, periods=goal.periods)
            for goal in year_end.goals
        ],
        off=[proposal_model(proposal, fitting_sentence(proposal)) for proposal in year_end.off],
        unprepared=[
            YearBill(
                flow=unprepared.flow,
                name=unprepared.name,
                date=unprepared.lands,
                amount=unprepared.amount,
                currency=unprepared.currency,
            )
            for unprepared in year_end.unprepared
        ],
    )


@router.get("/year-end/{year}/workbook.xlsx", response_class=Response)
def export_year_end(year: Year, home: Home) -> Response:
    """The same as a workbook, sums as live formulas."""
    year_end = _found(year, home)
    groups = groups_of(lines_of(review(home.moment, Recorded(home), *year_end.days)))
    costs = [LoanCost(account.name, account.currency, amount) for account, amount in _interest(year, home, year_end)]
    content = year_workbook(year, year_end, groups, costs, home.plan.household.currency)
    return workbook(content, f"year-{year}.xlsx")


def _found(year: int, home: Session) -> YearEnd:
    if year > home.today.year:
        raise refused(("path", "year"), "That year has not begun: choose this one, or an earlier one.", "range")
    return year_end(home.moment, Recorded(home), year)


def _interest(year: int, home: Session, year_end: YearEnd) -> list[tuple[Account, int]]:
    """Of loans as their years have it, of cards and savings as it was charged and credited."""
    recorded = home.recorded(home.reading.of_loans())
    loans = [(loan_year.account, -loan_year.parts.interest) for loan_year in loan_years(home.moment, recorded, year)]
    return [*loans, *((interest.account, interest.amount) for interest in year_end.interest)]
