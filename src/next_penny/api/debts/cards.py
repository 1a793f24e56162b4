"""Cards and credit lines: how they stand, one card's page, and other ways of paying it."""

import datetime
from collections.abc import Sequence

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.edits.applying import requests_for
from next_penny.api.http.errors import refused
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.forecast.cards.mistakes import CountedTwice, counted_twice
from next_penny.core.forecast.cards.payments import Paying, paying_against_minimum
from next_penny.core.forecast.cards.standing import CardStanding, RateRise, card_standing
from next_penny.core.forecast.cards.statements import (
    ComingMonth,
    PastStatement,
    coming_months,
    coming_year,
    past_statements,
)
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.terms.cards import CardPays, CardTerms
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.accounts import Account as AccountDocument
from next_penny.formats.documents.fields import Amount, Document, Id
from next_penny.formats.documents.parts import month_text

router = APIRouter(prefix="/api/debts/cards", tags=["debts"])


class RateRiseModel(BaseModel):
    """The day from which a rate is higher; what a month costs then and before, at what is expected to be owed then."""

    day: datetime.date
    before: str
    rate: str
    owed: int
    cost_month: int
    cost_month_before: int


class CardRow(BaseModel):
    """A card or line at a glance; amounts are positive and in its currency. `next_payment` is that of `next_due`."""

    id: str
    name: str
    currency: str
    is_line: bool
    owed: int
    limit: int
    available: int
    used_percent: int
    annual_rate: str
    next_closing: datetime.date
    next_due: datetime.date
    next_payment: int
    cost_year: int
    cost_month: int
    pays: CardPays
    paid_from: str | None
    covers: str | None
    rises: RateRiseModel | None


def card_row(standing: CardStanding) -> CardRow:
    """A card's row as the API gives it."""
    account, terms = standing.account, standing.terms
    return CardRow(
        id=account.id,
        name=account.name,
        currency=account.currency,
        is_line=terms.is_line,
        owed=standing.owed,
        limit=terms.limit,
        available=standing.available,
        used_percent=standing.used_percent,
        annual_rate=f"{standing.annual_rate:f}",
        next_closing=standing.next_closing,
        next_due=standing.next_due,
        next_payment=standing.next_payment,
        cost_year=standing.cost_year,
        cost_month=standing.cost_month,
        pays=terms.pays,
        paid_from=terms.from_account,
        covers=terms.covers,
        rises=_rise(standing.rises),
    )


def _rise(rises: RateRise | None) -> RateRiseModel | None:
    if rises is None:
        return None
    return RateRiseModel(
        day=rises.day,
        before=f"{rises.before:f}",
        rate=f"{rises.rate:f}",
        owed=rises.owed,
        cost_month=rises.cost_month,
        cost_month_before=rises.cost_month_before,
    )


class StatementModel(BaseModel):
    """A recorded cycle: its days, what was spent and came in, its interest, and what was then owed."""

    first: datetime.date
    closing: datetime.date
    due: datetime.date
    spent: int
    came_in: int
    interest: int
    balance: int
    minimum: int
    why_minimum: str


class ComingMonthModel(BaseModel):
    """A month ahead, as the forecast has it; `whys` has a sentence for each movement."""

    month: str
    paid: int
    interest: int
    drawn: int
    owed: int
    whys: list[str]


class ComingYear(BaseModel):
    """The months ahead together."""

    paid: int
    interest: int
    drawn: int


class PayingModel(BaseModel):
    """One way of paying, without new purchases: until when (null: never), and at what interest in all.

    saves: how much less interest than paying only the minimum; null where one of the two never ends.
    """

    pays: CardPays
    ends: datetime.date | None
    months: int
    payments: int
    interest: int
    first_payment: int
    saves: int | None


class CountedTwiceModel(BaseModel):
    """Payments of the card that are recorded as spending; `changes` record them as what they are."""

    entries: int
    first: datetime.date
    last: datetime.date
    amount: int
    changes: list[ChangeRequest]


class CardPage(BaseModel):
    """A card's page; `statements` begin with the running cycle."""

    today: datetime.date
    account: AccountDocument
    card: CardRow
    paid_from: str | None
    covers: str | None
    statements: list[StatementModel]
    months: list[ComingMonthModel]
    year: ComingYear
    ways: list[PayingModel]
    counted_twice: CountedTwiceModel | None


@router.get("/{id}")
def read_card(id: Id, home: HomeOrWhatIf) -> CardPage:
    """One card's or line's page."""
    account = _card_account(home, id)
    standing, names = card_standing(home.moment, account), home.plan.account_by_id
    twice = counted_twice(home.moment, account, home.reading.unplanned(account.opening.date))
    months = coming_months(home.moment, account)
    paid, interest, drawn = coming_year(months)
    return CardPage(
        today=home.today,
        account=AccountDocument.of(account),
        card=card_row(standing),
        paid_from=names[standing.terms.from_account].name if standing.terms.from_account else None,
        covers=names[standing.terms.covers].name if standing.terms.covers else None,
        statements=[_statement(past_statement) for past_statement in past_statements(home.moment, account)],
        months=[_month(month) for month in months],
        year=ComingYear(paid=paid, interest=interest, drawn=drawn),
        ways=_ways(home, account, standing.terms),
        counted_twice=_twice(home, twice),
    )


class WayRequest(Document):
    """Another way of paying a card."""

    pays: CardPays
    fixed_amount: Amount | None = None


@router.post("/{id}/paying")
def try_paying(id: Id, request: WayRequest, home: HomeOrWhatIf) -> PayingModel:
    """What another way of paying would cost, and how long it would last, without new purchases."""
    account = _card_account(home, id)
    if request.pays == "fixed" and (request.fixed_amount or 0) <= 0:
        raise refused(("body", "fixed_amount"), "Say how much is paid each time.", "needed")
    return _way(request.pays, home, account, request.fixed_amount)


def _card_account(home: Session, id: str) -> Account:
    account = home.plan.account_by_id.get(id)
    if account is None or account.card is None:
        raise refused(("path", "id"), "There is no such card: it may be deleted already.", "unknown_id")
    return account


def _statement(statement: PastStatement) -> StatementModel:
    day = datetime.date.fromordinal
    return StatementModel(
        first=day(statement.first),
        closing=day(statement.closing),
        due=day(statement.due),
        spent=statement.spent,
        came_in=statement.came_in,
        interest=statement.interest,
        balance=statement.balance,
        minimum=statement.minimum,
        why_minimum=statement.why_minimum,
    )


def _month(coming_month: ComingMonth) -> ComingMonthModel:
    return ComingMonthModel(**{**coming_month._asdict(), "month": month_text(coming_month.month)})


def _way(pays: CardPays, home: Session, account: Account, fixed_amount: int | None = None) -> PayingModel:
    paying: Paying = paying_against_minimum(home.moment, account, pays, fixed_amount)
    return PayingModel(pays=pays, **paying._asdict())


def _ways(home: Session, account: Account, terms: CardTerms) -> list[PayingModel]:
    """The usual ways of paying, and a fixed amount where that is how it is paid."""
    own = [_way("fixed", home, account, terms.fixed_amount)] if terms.pays == "fixed" else []
    return [*own, *(_way(pays, home, account) for pays in ("statement", "minimum"))]


def _twice(home: Session, counted_twice: CountedTwice) -> CountedTwiceModel | None:
    if not counted_twice.entries:
        return None
    changes: Sequence[ChangeRequest] = requests_for(home.reading, counted_twice.changes)
    return CountedTwiceModel(
        entries=len(counted_twice.entries),
        first=counted_twice.entries[0].date,
        last=counted_twice.entries[-1].date,
        amount=counted_twice.amount,
        changes=list(changes),
    )
