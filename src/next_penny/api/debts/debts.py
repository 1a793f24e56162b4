"""Debts: every loan as it stands, and what all of them come to."""

import datetime

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.debts.cards import CardRow, card_row
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.edits.notes import loan_notes_of
from next_penny.core.forecast.cards.standing import CardTotals, all_owed, card_totals, cards_standing, lines_available
from next_penny.core.loans.overview import AllLoans, LoanSummary, OverviewYear, overview

router = APIRouter(prefix="/api/debts", tags=["debts"])


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
    loan_totals: AllLoans
    cards: list[CardRow]
    card_totals: CardTotals
    lines_available: int | None
    owed: int
    debt_free: str | None
    this_month: LoanSums
    next_twelve: LoanSums
    years: list[DebtYear]
    balances: list[tuple[datetime.date, int]]
    notes: list[str]


@router.get("")
def read_debts(home: HomeOrWhatIf) -> DebtsAnswer:
    """All loans as they stand today."""
    seen = overview(home.moment)
    cards = cards_standing(home.moment)
    return DebtsAnswer(
        today=home.today,
        currency=seen.currency,
        loans=[_summary(loan) for loan in seen.loans],
        loan_totals=seen.totals,
        cards=[card_row(card) for card in cards],
        card_totals=card_totals(home.moment, cards),
        lines_available=lines_available(home.moment, cards),
        owed=seen.totals.owed + all_owed(home.moment),
        debt_free=f"{seen.debt_free:%Y-%m}" if seen.debt_free else None,
        this_month=LoanSums(principal=seen.this_month[0], interest=seen.this_month[1]),
        next_twelve=LoanSums(principal=seen.next_twelve[0], interest=seen.next_twelve[1]),
        years=[_year(year) for year in seen.years],
        balances=[(datetime.date.fromordinal(day), owed) for day, owed in seen.balances],
        notes=loan_notes_of(home.moment),
    )


def _summary(loan: LoanSummary) -> LoanRowModel:
    standing = loan.standing
    return LoanRowModel(
        id=standing.account.id,
        name=standing.account.name,
        currency=standing.account.currency,
        annual_rate=f"{loan.annual_rate:f}",
        payment=loan.payment,
        principal_and_interest=loan.principal_and_interest,
        next_due=loan.next_due,
        months_left=loan.months_left,
        payments_left=loan.payments_left,
        never_ends=standing.never_ends,
        paid_off=standing.ends,
        owed=standing.owed,
        original=loan.original,
        paid_down=standing.paid_down,
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
