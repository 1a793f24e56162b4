"""Lines of Settle, as they are shown and as they are worked through."""

import datetime
from typing import Literal

from pydantic import BaseModel

from next_penny.api.ahead.tideline import TidelineAnswer, TidelineRequest
from next_penny.api.debts.parts import PartsModel
from next_penny.api.edits.changes import ChangeAnswer
from next_penny.core.edits.settling.due import DueStatus
from next_penny.core.plan.flows import FlowKind
from next_penny.formats.documents.fields import Amount, Day, Document, Id, Percent


class DueModel(BaseModel):
    """One unsettled occurrence.

    `moves_lowest`: how much higher the account's lowest point over the coming year would be were it left out; of what
    follows by rules (a debt's payment), were its money still there; null on a debt, which has no such point.

    kind: income also of money lent that comes back, on the account that it comes to. `settled_on` and `put_off_to` are
    the days that are meant where nothing else is said.
    """

    flow: str
    name: str
    kind: FlowKind
    nominal: datetime.date
    lands: datetime.date
    account: str
    currency: str
    amount: int
    estimate: bool
    by_the_hour: bool
    status: DueStatus
    moves_lowest: int | None
    may_be_paid_in_parts: bool
    may_be_foreign: bool
    settled_on: datetime.date
    put_off_to: datetime.date
    split: PartsModel | None


class SettledModel(BaseModel):
    """An entry recorded today that settles, in whole or part, a flow."""

    entry: str
    flow: str
    name: str
    date: datetime.date
    amount: int
    currency: str


class LeftOutModel(BaseModel):
    """An occurrence that was left out lately; `amount` is what it would have moved, null where a balance decides it."""

    flow: str
    name: str
    nominal: datetime.date
    amount: int | None
    currency: str


class NoticeModel(BaseModel):
    """Something to know of some days ahead, about an account (an escrow's names a loan too); nothing to settle."""

    account: str
    loan: str | None = None
    date: datetime.date
    text: str


class SettleAnswer(BaseModel):
    """A page of what is due, `due_in_all` lines in all; `next_page` begins at that line, null on the last page."""

    today: datetime.date
    due: list[DueModel]
    due_in_all: int
    next_page: int | None
    settled: list[SettledModel]
    left_out: list[LeftOutModel]
    notices: list[NoticeModel]


class PaidSplitDocument(Document):
    """How a loan's payment was split; null is as proposed, and principal takes up the difference."""

    principal: Amount | None = None
    interest: Amount | None = None
    escrow: Amount | None = None
    insurance: Amount | None = None


class SettleLine(Document):
    """One line and what to do with it. Amount (or hours), date and account only where not as expected.

    The amount is in the currency of the account; where it is left out, it is as expected, at the rate of its day.
    """

    flow: Id
    nominal: Day
    do: Literal["settle", "leave_out", "put_off"]
    amount: Amount | None = None
    hours: Percent | None = None
    date: Day | None = None
    account: Id | None = None
    part: bool = False
    to: Day | None = None
    split: PaidSplitDocument | None = None


class SettleRequest(Document):
    """What to do with lines, and which tideline to answer with, for a view that shows one."""

    lines: list[SettleLine]
    tideline: TidelineRequest | None = None


class DoneAnswer(ChangeAnswer):
    """What was done, and the tideline as it then is, where it was asked for."""

    tideline: TidelineAnswer | None = None
