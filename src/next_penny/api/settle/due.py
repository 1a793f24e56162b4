"""What is due, what was settled today, and what was left out lately."""

import datetime
from typing import Annotated

from fastapi import APIRouter, Query

from next_penny.api.debts.parts import parts_model
from next_penny.api.http.session import Home
from next_penny.api.settle.models import DueModel, LeftOutModel, NoticeModel, SettleAnswer, SettledModel
from next_penny.core.books.moment import Moment
from next_penny.core.edits.defaults import put_off_to
from next_penny.core.edits.settling.due import DueLine, LeftOut, due_lines, left_out_lately
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.forecast.cards.standing import rises_soon
from next_penny.core.money import format_amount, percent_text
from next_penny.core.mortgage.escrow_ahead import escrow_loans, uncovered
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan

_ESCROW_NOTICE_DAYS = 60


# As many lines as a person can work through; the rest are on further pages.
_PAGE = 500


router = APIRouter(prefix="/api/settle", tags=["settle"])


@router.get("")
def read_due(
    home: Home, first: Annotated[int, Query(ge=0)] = 0, most: Annotated[int, Query(ge=1, le=2000)] = _PAGE
) -> SettleAnswer:
    """What is past due or due within the days of reminder, and what was settled today."""
    plan, page = home.plan, due_lines(home.moment, first, most)
    following = first + len(page.lines)
    return SettleAnswer(
        today=home.today,
        due=[_due(home.moment, line) for line in page.lines],
        due_in_all=page.in_all,
        next_page=following if following < page.in_all else None,
        settled=[
            _settled(plan, entry) for entry in home.reading.settled_on(home.today) if entry.flow in plan.flow_by_id
        ],
        left_out=[_left_out(plan, omission) for omission in left_out_lately(home.moment)],
        notices=[
            NoticeModel(
                account=account.id, date=day, text=f"The rate of “{account.name}” rises to {percent_text(rate)}"
            )
            for day, account, rate in rises_soon(home.moment)
        ]
        + _escrow_notices(home.moment),
    )


def _escrow_notices(moment: Moment) -> list[NoticeModel]:
    """Payments out of escrow that it will not cover, some weeks ahead."""
    notices = []
    for account, payment in uncovered(moment):
        if payment.day <= moment.today + datetime.timedelta(days=_ESCROW_NOTICE_DAYS):
            short = format_amount(payment.short_by, account.currency)
            text = f"“{account.name}” is {short} short of “{payment.name}”: the lender advances it"
            loan = next((escrow_loan.id for escrow_loan in escrow_loans(moment, account.id)), None)
            notices.append(NoticeModel(account=account.id, loan=loan, date=payment.day, text=text))
    return notices


def _due(moment: Moment, line: DueLine) -> DueModel:
    flow = line.flow
    account, lands = line.account, datetime.date.fromordinal(line.landing)
    nominal = datetime.date.fromordinal(line.nominal)
    return DueModel(
        flow=flow.id,
        name=flow.name,
        kind="income" if line.comes_back else flow.kind,
        nominal=nominal,
        lands=lands,
        account=account,
        currency=moment.plan.account_by_id[account].currency,
        amount=line.amount,
        estimate=flow.estimate,
        by_the_hour=flow.hourly is not None,
        status=line.status,
        moves_lowest=line.moves_lowest,
        may_be_paid_in_parts=line.may_be_paid_in_parts,
        may_be_foreign=line.may_be_foreign,
        settled_on=min(lands, moment.today),
        put_off_to=put_off_to(lands, moment.today),
        split=parts_model(split) if (split := maker_of(moment, flow).split(nominal)) else None,
    )


def _settled(plan: Plan, entry: Entry) -> SettledModel:
    flow = plan.flow_by_id[entry.flow or ""]
    leg = next(leg for leg in entry.legs if leg.account is not None)
    return SettledModel(
        entry=entry.id,
        flow=flow.id,
        name=flow.name,
        date=entry.date,
        amount=leg.amount,
        currency=plan.account_by_id[leg.account or ""].currency,
    )


def _left_out(plan: Plan, omission: LeftOut) -> LeftOutModel:
    return LeftOutModel(
        flow=omission.flow.id,
        name=omission.flow.name,
        nominal=omission.nominal,
        amount=None if omission.flow.id in plan.maker_accounts else omission.amount,
        currency=plan.currency_of(omission.flow),
    )
