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


def card_row(stands: CardStanding) -> CardRow:
    """A card's row as the API gives it."""
    account, terms = stands.account, stands.terms
    return CardRow(
        id=account.id,
        name=account.name,
        currency=account.currency,
        is_line=terms.is_line,
        owed=stands.owed,
        limit=terms.limit,
        available=stands.available,
        used_percent=stands.used_percent,
        annual_rate=f"{stands.annual_rate:f}",
        next_closing=stands.next_closing,
        next_due=stands.next_due,
        next_payment=stands.next_payment,
        cost_year=stands.cost_year,
        cost_month=stands.cost_month,
        pays=terms.pays,
        paid_from=terms.from_account,
        covers=terms.covers,
        rises=_rise(stands.rises),
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
    stands, names = card_standing(home.moment, account), home.plan.account_by_id
    twice = counted_twice(home.moment, account, home.reading.unplanned(account.opening.date))
    months = coming_months(home.moment, account)
    paid, interest, drawn = coming_year(months)
    return CardPage(
        today=home.today,
        account=AccountDocument.of(account),
        card=card_row(stands),
        paid_from=names[stands.terms.from_account].name if stands.terms.from_account else None,
        covers=names[stands.terms.covers].name if stands.terms.covers else None,
        statements=[_statement(each) for each in past_statements(home.moment, account)],
        months=[_month(each) for each in months],
        year=ComingYear(paid=paid, interest=interest, drawn=drawn),
        ways=_ways(home, account, stands.terms),
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


def _statement(each: PastStatement) -> StatementModel:
    day = datetime.date.fromordinal
    return StatementModel(
        first=day(each.first),
        closing=day(each.closing),
        due=day(each.due),
        spent=each.spent,
        came_in=each.came_in,
        interest=each.interest,
        balance=each.balance,
        minimum=each.minimum,
        why_minimum=each.why_minimum,
    )


def _month(each: ComingMonth) -> ComingMonthModel:
    return ComingMonthModel(**{**each._asdict(), "month": month_text(each.month)})


def _way(pays: CardPays, home: Session, account: Account, fixed_amount: int | None = None) -> PayingModel:
    found: Paying = paying_against_minimum(home.moment, account, pays, fixed_amount)
    return PayingModel(pays=pays, **found._asdict())


def _ways(home: Session, account: Account, terms: CardTerms) -> list[PayingModel]:
    """The usual ways of paying, and a fixed amount where that is how it is paid."""
    own = [_way("fixed", home, account, terms.fixed_amount)] if terms.pays == "fixed" else []
    return [*own, *(_way(pays, home, account) for pays in ("statement", "minimum"))]


def _twice(home: Session, found: CountedTwice) -> CountedTwiceModel | None:
    if not found.entries:
        return None
    changes: Sequence[ChangeRequest] = requests_for(home.reading, found.changes)
    return CountedTwiceModel(
        entries=len(found.entries),
        first=found.entries[0].date,
        last=found.entries[-1].date,
        amount=found.amount,
        changes=list(changes),
    )
