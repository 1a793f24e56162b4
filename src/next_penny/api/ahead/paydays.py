"""From payday to payday, with the bills of the next weeks."""

import datetime

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.http.errors import refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.edits.defaults import default_account
from next_penny.core.forecast.outlook import bills_ahead, pay_periods
from next_penny.core.forecast.projection import year_ahead
from next_penny.formats.documents.fields import Id

router = APIRouter(prefix="/api", tags=["places"])


class BillsAheadModel(BaseModel):
    """Bills and loan payments due within `days` from today."""

    days: int
    count: int
    amount: int


class PayPeriodModel(BaseModel):
    """From a payday to the day before the next: what came, what is to be paid until then, what is left then."""

    first: datetime.date = Field(alias="from")
    last: datetime.date = Field(alias="to")
    name: str
    amount: int
    to_pay: int
    left: int


class PayPeriodsAnswer(BaseModel):
    account: str
    name: str
    currency: str
    today: datetime.date
    bills: list[BillsAheadModel]
    periods: list[PayPeriodModel]


@router.get("/ahead/paydays", response_model_by_alias=True)
def read_paydays(home: HomeOrWhatIf, account: Id | None = None) -> PayPeriodsAnswer:
    """Bills due in the next 14, 30 and 90 days, and what each payday has to last for."""
    chosen = account or next(iter(default_account(home.plan.accounts)), None)
    held = home.plan.account_by_id.get(chosen or "")
    if held is None:
        raise refused(("query", "account"), f"There is no account “{account}”.", "unknown_id")
    forecast = year_ahead(home.moment)
    return PayPeriodsAnswer(
        account=held.id,
        name=held.name,
        currency=held.currency,
        today=home.today,
        bills=[BillsAheadModel(days=each.days, count=each.count, amount=each.amount)
               for each in bills_ahead(forecast, held.id)],
        periods=[
            PayPeriodModel.model_validate({
                "from": datetime.date.fromordinal(each.first), "to": datetime.date.fromordinal(each.last),
                "name": each.name, "amount": each.amount, "to_pay": each.to_pay, "left": each.left,
            })
            for each in pay_periods(forecast, held.id)
        ],
    )  # fmt: skip
