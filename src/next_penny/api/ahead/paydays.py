"""From payday to payday, with the bills of the next weeks."""

import datetime

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.ahead.months import stretch_of
from next_penny.api.http.errors import refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.ahead.left import Left, last_payday, left_of
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.edits.defaults import default_account
from next_penny.core.forecast.outlook import bills_ahead, next_payday, pay_periods
from next_penny.core.forecast.projection import year_ahead
from next_penny.formats.documents.fields import Id

router = APIRouter(prefix="/api", tags=["places"])

# So many days back the last payday is looked for.
_LOOKED_BACK = 62


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


class LeftModel(BaseModel):
    """Of the days from one to another: what comes in, goes out and is left, recorded and expected together.

    `until`: the name of the income that ends a payday's stretch, empty for a month.
    """

    first: datetime.date = Field(alias="from")
    last: datetime.date = Field(alias="to")
    income: int
    out: int
    left: int
    until: str


class LeftAnswer(BaseModel):
    """What is left of this month, and from the last payday until the next; null where no payday is ahead.

    `bills`: those due soon from these accounts.
    """

    today: datetime.date
    currency: str
    accounts: list[str]
    month: LeftModel
    payday: LeftModel | None
    bills: list[BillsAheadModel]


class PayPeriodsAnswer(BaseModel):
    account: str
    name: str
    currency: str
    today: datetime.date
    bills: list[BillsAheadModel]
    periods: list[PayPeriodModel]


@router.get("/ahead/left", response_model_by_alias=True)
def read_left(home: HomeOrWhatIf, accounts: str | None = None) -> LeftAnswer:
    """What is left of the running month and payday's stretch, for chosen accounts or the spendable ones."""
    today, month = home.today.toordinal(), month_number(home.today)
    first, last = datetime.date.fromordinal(month_start(month)), datetime.date.fromordinal(month_end(month))
    of_month = stretch_of(home, accounts, first, last, "accounts")
    forecast = year_ahead(home.moment)
    chosen = [account.id for account in of_month.accounts]
    coming = min(
        (payday for id in chosen if (payday := next_payday(forecast, id))),
        key=lambda one_payday: one_payday.day,
        default=None,
    )
    of_payday = None
    if coming is not None:
        before = datetime.date.fromordinal(today - _LOOKED_BACK)
        begun = last_payday(stretch_of(home, accounts, before, home.today, "accounts")) or today
        begin, end = (datetime.date.fromordinal(day) for day in (begun, coming.day - 1))
        of_payday = _left(left_of(stretch_of(home, accounts, begin, end, "accounts")), coming.name)
    bills = [bills_ahead(forecast, id) for id in chosen]
    return LeftAnswer(
        today=home.today,
        currency=of_month.accounts[0].currency,
        accounts=[account.name for account in of_month.accounts],
        month=_left(left_of(of_month), ""),
        payday=of_payday,
        bills=[
            BillsAheadModel(
                days=moved[0].days, count=sum(one.count for one in moved), amount=sum(one.amount for one in moved)
            )
            for moved in zip(*bills, strict=True)
        ],
    )


def _left(left: Left, until: str) -> LeftModel:
    first, last = (datetime.date.fromordinal(day) for day in (left.first, left.last))
    return LeftModel.model_validate({
        "from": first, "to": last, "income": left.income, "out": left.out, "left": left.left, "until": until,
    })  # fmt: skip


@router.get("/ahead/paydays", response_model_by_alias=True)
def read_paydays(home: HomeOrWhatIf, account: Id | None = None) -> PayPeriodsAnswer:
    """Bills due in the next 14, 30 and 90 days, and what each payday has to last for."""
    chosen = account or next(iter(default_account(home.plan.accounts)), None)
    existing = home.plan.account_by_id.get(chosen or "")
    if existing is None:
        raise refused(("query", "account"), f"There is no account “{account}”.", "unknown_id")
    forecast = year_ahead(home.moment)
    return PayPeriodsAnswer(
        account=existing.id,
        name=existing.name,
        currency=existing.currency,
        today=home.today,
        bills=[
            BillsAheadModel(days=bills_ahead.days, count=bills_ahead.count, amount=bills_ahead.amount)
            for bills_ahead in bills_ahead(forecast, existing.id)
        ],
        periods=[
            PayPeriodModel.model_validate(
                {
                    "from": datetime.date.fromordinal(pay_period.first),
                    "to": datetime.date.fromordinal(pay_period.last),
                    "name": pay_period.name,
                    "amount": pay_period.amount,
                    "to_pay": pay_period.to_pay,
                    "left": pay_period.left,
                }
            )
            for pay_period in pay_periods(forecast, existing.id)
        ],
    )
