"""Accounts and what is on them today."""

import datetime
from collections import Counter

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.ahead.forecast import (
    LowPointModel,
    low_point,
)
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.ahead.stretch import spendable
from next_penny.core.edits.defaults import may_hold_back
from next_penny.core.forecast.low_points import lowest, short_by
from next_penny.core.forecast.projection import year_ahead
from next_penny.core.plan.accounts import Account as CoreAccount
from next_penny.core.plan.flows import Flow
from next_penny.core.reconciling.readings import can_be_looked_up
from next_penny.formats.documents.accounts import Account

router = APIRouter(prefix="/api", tags=["places"])


class OwnFlow(BaseModel):
    """A flow that an account makes of itself: a card's payment, interest."""

    id: str
    name: str


class AccountRow(BaseModel):
    """An account with what it holds today and its lowest point over the coming year.

    `is_spendable`: among those that are meant where no accounts are named. `makes`: the flows whose dates and amounts
    follow from its balance. is_closed: it is offered nowhere. may_hold_back: whether an allowance may be paid from it.
    has_bank: whether a balance can be looked up that is true; a loan has its statements, what is owned its worth.
    reconciled_to: the last day of its last finished statement. waiting: how many lines of its bank wait for a decision.
    """

    account: Account
    today_balance: int
    lowest: LowPointModel | None
    short_by: int
    flows: int
    is_spendable: bool
    is_debt: bool
    is_closed: bool
    may_hold_back: bool
    has_bank: bool
    reconciled_to: datetime.date | None
    waiting: int
    makes: list[OwnFlow]


class AccountsAnswer(BaseModel):
    today: datetime.date
    accounts: list[AccountRow]


def _made(account: CoreAccount) -> tuple[Flow, ...]:
    """The flows that are nobody's own to plan: what follows from balances, and what comes back of money lent."""
    back = account.lent.flows(account.id, account.name) if account.lent is not None else ()
    return (*account.flows(acting=True), *back)


@router.get("/accounts")
def read_accounts(home: HomeOrWhatIf) -> AccountsAnswer:
    """Every account, in the household's order."""
    forecast = year_ahead(home.moment)
    until = forecast.until.toordinal()
    meant = spendable(home.moment)
    waiting = Counter(line.account for line in home.reading.waiting_lines().values())
    done = sorted(
        (statement for statement in home.plan.statements if not statement.is_open), key=lambda statement: statement.last
    )
    return AccountsAnswer(
        today=home.today,
        accounts=[
            AccountRow(
                account=Account.of(run.account),
                today_balance=run.today_balance,
                lowest=low_point(lowest(run, last=until)),
                short_by=short_by(run, until),
                flows=sum(run.account.id in moved for moved in home.plan.accounts_moved.values()),
                is_spendable=run.account in meant,
                is_debt=run.account.is_debt,
                is_closed=run.account.is_closed_on(home.today),
                may_hold_back=may_hold_back(run.account),
                has_bank=can_be_looked_up(run.account),
                reconciled_to=next(
                    (statement.last for statement in done[::-1] if statement.account == run.account.id), None
                ),
                waiting=waiting[run.account.id],
                makes=[OwnFlow(id=flow.id, name=flow.name) for flow in _made(run.account)],
            )
            for run in forecast.runs
        ],
    )
