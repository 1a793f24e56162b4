"""The calendar: each day's items, recorded and expected, and what it closes with."""

import datetime
from collections.abc import Mapping
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from next_penny.api.ahead.months import stretch_of
from next_penny.api.http.errors import refused
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.ahead.calendar_days import CalendarDay, DayItem, Depth, calendar_days
from next_penny.core.ahead.months import RowKind
from next_penny.core.forecast.events import Status
from next_penny.core.plan.accounts import Account
from next_penny.formats.documents.fields import Day

router = APIRouter(prefix="/api", tags=["places"])

_MOST_DAYS = 400


class DayItemModel(BaseModel):
    """An entry (with its id) or an occurrence, once, by what it changes on the accounts together.

    passed: what it moves from one of the accounts to another. card: the name of the card that it is on, where it moves
    nothing on them. may_change: whether its date is the household's own to change.
    """

    name: str
    amount: int
    passed: int
    status: Status
    kind: RowKind
    flow: str | None
    nominal: datetime.date | None
    entry: str | None
    card: str | None
    may_change: bool


class CalendarDayModel(BaseModel):
    """`closing` is null before any of the accounts is open; `depth` is told from today on.

    short_account, short_by: the name of the account that is furthest below its own floor, and by how much.
    """

    date: datetime.date
    closing: int | None
    depth: Depth
    short_account: str | None
    short_by: int
    items: list[DayItemModel]


class CalendarAnswer(BaseModel):
    today: datetime.date
    currency: str
    accounts: list[str]
    days: list[CalendarDayModel]


@router.get("/calendar-days")
def read_calendar(
    home: HomeOrWhatIf,
    first: Annotated[Day, Query(alias="from")],
    last: Annotated[Day, Query(alias="to")],
    accounts: str | None = None,
) -> CalendarAnswer:
    """The days from one to another, of chosen accounts of one currency.

    Where none are named: of the spendable ones, with what is bought by card beside.
    """
    if last.toordinal() - first.toordinal() >= _MOST_DAYS:
        raise refused(("query", "to"), f"Choose at most {_MOST_DAYS} days.", "range")
    over = stretch_of(home, accounts, first, last, "to")
    currency = over.accounts[0].currency
    cards = [
        account.id for account in home.plan.accounts
        if not accounts and account.kind in ("credit_card", "credit_line") and account.currency == currency
    ]  # fmt: skip
    beside = stretch_of(home, ",".join(cards), first, last, "to") if cards else None
    days = [_day(calendar_day, home.plan.account_by_id) for calendar_day in calendar_days(over, beside)]
    names = [account.name for account in over.accounts]
    return CalendarAnswer(today=home.today, currency=currency, accounts=names, days=days)


def _day(day: CalendarDay, accounts: Mapping[str, Account]) -> CalendarDayModel:
    return CalendarDayModel(
        date=datetime.date.fromordinal(day.day), closing=day.closing, depth=day.depth,
        short_account=accounts[day.short_account].name if day.short_account else None, short_by=day.short_by,
        items=[_item(item, accounts[item.card].name if item.card is not None else None) for item in day.items],
    )  # fmt: skip


def _item(item: DayItem, card: str | None) -> DayItemModel:
    nominal = datetime.date.fromordinal(item.nominal) if item.nominal is not None else None
    return DayItemModel(
        name=item.name, amount=item.net, passed=item.passed, status=item.status, kind=item.kind, flow=item.flow,
        nominal=nominal, entry=item.entry, card=card, may_change=item.may_change,
    )  # fmt: skip
