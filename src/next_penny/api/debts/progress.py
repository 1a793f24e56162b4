"""How the way out of debt that was adopted goes, and what was paid so far."""

import datetime

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.debts.way_out_answers import (
    month_of,
)
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.payoff.paid_now import paid_above_minimums
from next_penny.core.payoff.progress import DebtProgress, DebtYear, progress, years_on_record
from next_penny.core.payoff.way import Way
from next_penny.formats.documents.kept.way_out import AskedDocument
from next_penny.formats.documents.parts import month_text

router = APIRouter(prefix="/api", tags=["debts"])


# So many months on record are drawn before the plan.
MONTHS_ON_RECORD = 24


class DebtProgressModel(BaseModel):
    """A debt against the plan; `planned` and `paid` are payments since it began, `expected` what it has owed by now."""

    id: str
    name: str
    original: int
    owed: int
    expected: int
    planned: int
    paid: int
    percent: int
    interest_planned: int
    interest_by_day: int


class ProgressModel(BaseModel):
    """The plan as a whole: `ahead` of what was planned to be paid, negative behind; null months never come."""

    on: datetime.date
    start: str
    asked: AskedDocument
    currency: str
    ahead: int
    planned_debt_free: str
    debt_free: str | None
    months_later: int | None
    percent: int
    debts: list[DebtProgressModel]


class DebtYearModel(BaseModel):
    year: int
    paid: int
    interest: int
    owed: int


class DebtOnRecord(BaseModel):
    id: str
    name: str
    currency: str
    years: list[DebtYearModel]


class ProgressAnswer(BaseModel):
    """How the adopted plan goes, null without one; and each year's payments on record, debt by debt.

    paid_now: what is paid above the minimums each month now, with which a plan begins.
    """

    today: datetime.date
    paid_now: int
    progress: ProgressModel | None
    on_record: list[DebtOnRecord]


@router.get("/payoff/progress", response_model_by_alias=True)
def read_progress(home: HomeOrWhatIf) -> ProgressAnswer:
    """Ahead or behind, the new debt-free month, and the years on record."""
    return ProgressAnswer(
        today=home.today,
        paid_now=paid_above_minimums(Way(home.moment, AskedDocument.model_validate({}).asked(home.today))),
        progress=_progress(home),
        on_record=_on_record(years_on_record(home.moment)),
    )


def _progress(home: Session) -> ProgressModel | None:
    found_progress = progress(home.moment)
    if found_progress is None:
        return None
    return ProgressModel(
        on=found_progress.adopted.on,
        start=month_text(found_progress.adopted.asked.start),
        asked=AskedDocument.of_asked(found_progress.adopted.asked),
        currency=found_progress.debts[0].account.currency,
        ahead=found_progress.ahead,
        planned_debt_free=month_text(found_progress.planned_debt_free),
        debt_free=month_of(found_progress.debt_free),
        months_later=found_progress.months_later,
        percent=found_progress.percent,
        debts=[_debt_progress(debt) for debt in found_progress.debts],
    )


def _debt_progress(progress: DebtProgress) -> DebtProgressModel:
    fields = progress._asdict()
    account = fields.pop("account")
    return DebtProgressModel(id=account.id, name=account.name, **fields)


def _on_record(years: list[DebtYear]) -> list[DebtOnRecord]:
    on_record: dict[str, DebtOnRecord] = {}
    for year in years:
        fields = year._asdict()
        account = fields.pop("account")
        debt = DebtOnRecord(id=account.id, name=account.name, currency=account.currency, years=[])
        on_record.setdefault(account.id, debt).years.append(DebtYearModel(**fields))
    return list(on_record.values())
