"""Limits for many categories, typed in one table."""

import uuid

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.edits.applying import requests_for_plan
from next_penny.api.http.errors import Refused, refusals, refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.edits.defaults import beginnings, paying_account
from next_penny.core.edits.limits_table import Every, LimitLine, read_limits, without_limit
from next_penny.core.plan.allowances import MOST_ALLOWANCES, Period
from next_penny.core.problems import PlanError
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Amount, Document, Name

router = APIRouter(prefix="/api/allowances/table", tags=["allowances"])


class LimitLineModel(Document):
    """`limit` is for a week, two weeks, a month, a quarter or a year; of the last two a month's share is held back."""

    category: Name
    limit: Amount
    every: Every = "month"


class LimitsRequest(Document):
    lines: list[LimitLineModel] = Field(min_length=1, max_length=MOST_ALLOWANCES)


class ReadLimit(BaseModel):
    limit: int
    period: Period


class LimitsAnswer(BaseModel):
    """What each line comes to, and the changes that make the allowances."""

    lines: list[ReadLimit]
    changes: list[ChangeRequest]


class WithoutLimitAnswer(BaseModel):
    """The names of categories of spending that no allowance limits, and the currency that limits are in."""

    categories: list[str]
    currency: str


@router.get("")
def read_without_limit(home: HomeOrWhatIf) -> WithoutLimitAnswer:
    """What a table of limits begins with."""
    account = paying_account(home.plan, home.today)
    currency = account.currency if account is not None else home.plan.household.currency
    return WithoutLimitAnswer(categories=without_limit(home.plan), currency=currency)


@router.post("")
def read_table(request: LimitsRequest, home: HomeOrWhatIf) -> LimitsAnswer:
    """An allowance a line, paid from the account that forms begin with. Nothing is changed."""
    plan, begin = home.plan, beginnings(home.plan, home.today).allowance_from
    account = paying_account(plan, home.today)
    if account is None:
        raise refused(("body", "lines"), "Add the account first from which it is paid.", "needed")
    lines = [LimitLine(line.category, line.limit, line.every) for line in request.lines]
    try:
        table = read_limits(plan, lines, account, begin, lambda: str(uuid.uuid4()))
    except PlanError as error:
        raise Refused(refusals(error.problems)) from error
    return LimitsAnswer(
        lines=[ReadLimit(limit=allowance.limit, period=allowance.period) for allowance in table.allowances],
        changes=requests_for_plan(plan, table.changes),
    )
