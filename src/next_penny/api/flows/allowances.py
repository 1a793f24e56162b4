"""Allowances as they stand today."""

import datetime

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.flows.allowance_rates import rate_note
from next_penny.core.flows.allowances import AllowanceStatus, limit_on, status
from next_penny.core.forecast.overspending import overspending_cost
from next_penny.formats.documents.allowances import Allowance

router = APIRouter(prefix="/api/allowances", tags=["allowances"])


class PeriodModel(BaseModel):
    """The period that today is in. `left` is negative when more was spent or is coming than the limit."""

    first: datetime.date
    last: datetime.date
    limit: int
    used: int
    committed: int
    left: int
    held_back: int
    days_left: int
    daily_pace: int


class AllowanceRow(BaseModel):
    """An allowance, with the limit in force today; without a period when it has not begun or has ended.

    `costs_lowest`: how much lower what was overspent makes the account's lowest point over the coming year. `note`:
    what is not counted in it, if anything.
    """

    allowance: Allowance
    currency: str
    limit_now: int
    now: PeriodModel | None
    costs_lowest: int
    note: str | None


class AllowancesAnswer(BaseModel):
    today: datetime.date
    allowances: list[AllowanceRow]


@router.get("")
def read_allowances(home: HomeOrWhatIf) -> AllowancesAnswer:
    """Every allowance: what is left, what is held back, and the pace that would use it exactly."""
    moment, plan = home.moment, home.plan
    stood = [(allowance, status(moment, allowance)) for allowance in plan.allowances]
    return AllowancesAnswer(
        today=home.today,
        allowances=[
            AllowanceRow(
                allowance=Allowance.of(allowance),
                currency=plan.account_by_id[allowance.account].currency,
                limit_now=limit_on(allowance, moment.now),
                now=_period(allowance_status),
                costs_lowest=overspending_cost(moment, allowance_status) if allowance_status else 0,
                note=rate_note(moment, allowance),
            )
            for allowance, allowance_status in stood
        ],
    )


def _period(allowance_status: AllowanceStatus | None) -> PeriodModel | None:
    if allowance_status is None:
        return None
    period = allowance_status.period
    return PeriodModel(
        first=datetime.date.fromordinal(period.first),
        last=datetime.date.fromordinal(period.last),
        limit=period.limit,
        used=period.used,
        committed=period.committed,
        left=period.left,
        held_back=period.held_back,
        days_left=allowance_status.days_left,
        daily_pace=allowance_status.daily_pace,
    )
