"""Money lent: what is owed, what is late, what came back, and a repayment as it is received."""

import datetime
import uuid

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.flows.flows import NextModel
from next_penny.api.http.lookups import account_of
from next_penny.api.http.session import Home, HomeOrWhatIf, Session
from next_penny.core.edits.receiving import Received, Rest, proposed_split, receive
from next_penny.core.loans.lent.standing import lent_standing
from next_penny.core.loans.lent.wording import reminder
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.terms.lent import Sureness
from next_penny.formats.documents.entries import Leg
from next_penny.formats.documents.fields import Amount, Day, Document, Id
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/lent", tags=["money lent"])


class LateModel(BaseModel):
    """What was due by an earlier day and did not come, and the day of the oldest of it."""

    amount: int
    since: datetime.date


class LentRow(BaseModel):
    """Money lent to somebody. owed, lent, repaid: principal; accrued: interest not received, to the minor unit.

    since: the day from which it is owed. ends: null where nothing is to come, or it would go on beyond a lifetime.
    reminder: one sentence to send, null where nothing is owed.
    """

    id: str
    name: str
    to: str
    currency: str
    into_account: str | None
    owed: int
    accrued: int
    lent: int
    repaid: int
    interest_earned: int
    since: datetime.date
    last_repaid: datetime.date | None
    late: LateModel | None
    next: NextModel | None
    ends: datetime.date | None
    sure: Sureness
    is_closed: bool
    reminder: str | None


class LentSums(BaseModel):
    """All that was lent to somebody, or to all, in the household's currency at today's rates."""

    to: str
    loans: int
    owed: int
    accrued: int
    late: int
    repaid: int
    interest_earned: int


class LentTotals(BaseModel):
    """Money lent by person, and in all."""

    currency: str
    people: list[LentSums]
    all: LentSums


class ReceiveRequest(Document):
    """What came. principal, interest: split by hand; rest: what is meant by more than is owed with its interest."""

    date: Day
    amount: Amount
    account: Id | None = None
    principal: Amount | None = None
    interest: Amount | None = None
    rest: Rest | None = None

    def to_core(self, id: str) -> Received:
        return Received(id, self.date, self.amount, self.account, self.principal, self.interest, self.rest)


class SplitAnswer(BaseModel):
    """How a repayment would be split; rest: what is beyond what is owed with its interest."""

    interest: int
    principal: int
    rest: int


class ReceivedAnswer(ChangeAnswer):
    """The entry that records it."""

    id: str
    date: datetime.date
    payee: str
    legs: list[Leg]


@router.get("")
def read_lent(home: HomeOrWhatIf) -> list[LentRow]:
    """All money lent, in the accounts' order."""
    return [_row(home, account) for account in home.plan.accounts if account.kind == "owed_to_us"]


@router.get("/totals")
def read_lent_totals(home: HomeOrWhatIf) -> LentTotals:
    """What is owed, late and earned, by person and in all."""
    lent = [account for account in home.plan.accounts if account.kind == "owed_to_us"]
    by_person: dict[str, list[Account]] = {}
    for account in lent:
        by_person.setdefault(account.lending.to, []).append(account)
    people = [_sums(home, to, accounts) for to, accounts in by_person.items()]
    return LentTotals(currency=home.plan.household.currency, people=people, all=_sums(home, "", lent))


def _sums(home: Session, to: str, accounts: list[Account]) -> LentSums:
    def worth(account: Account, amount: int) -> int:
        return home.plan.converted(amount, account.currency, home.plan.household.currency, home.today)

    standings = [(account, lent_standing(home.moment, account)) for account in accounts]
    late = [(account, standing.late(home.moment.now)) for account, standing in standings]
    return LentSums(
        to=to, loans=len(accounts),
        owed=sum(worth(account, standing.owed) for account, standing in standings),
        accrued=sum(worth(account, standing.accrued) for account, standing in standings),
        late=sum(worth(account, standing[0]) for account, standing in late if standing is not None),
        repaid=sum(worth(account, standing.repaid) for account, standing in standings),
        interest_earned=sum(worth(account, standing.earned) for account, standing in standings),
    )  # fmt: skip


def _row(home: Session, account: Account) -> LentRow:
    standing = lent_standing(home.moment, account)
    lending, now = account.lending, home.moment.now
    late = standing.late(now)
    dues = standing.dues(standing.horizon)
    following = min((due for due in dues if due.lands >= now), key=lambda due: due.lands, default=None)
    return LentRow(
        id=account.id, name=account.name, to=lending.to, currency=account.currency, into_account=lending.into_account,
        owed=standing.owed, accrued=standing.accrued, lent=standing.lent, repaid=standing.repaid,
        interest_earned=standing.earned, since=account.opening.date,
        last_repaid=_day(standing.last_received),
        late=LateModel(amount=late[0], since=datetime.date.fromordinal(late[1])) if late else None,
        next=NextModel(date=datetime.date.fromordinal(following.lands), amount=following.amount) if following else None,
        ends=_day(standing.ends),
        sure=lending.sure, is_closed=account.is_closed_on(home.today), reminder=reminder(standing, now),
    )  # fmt: skip


def _day(number: int | None) -> datetime.date | None:
    return datetime.date.fromordinal(number) if number is not None else None


@router.post("/{id}/split")
def split_repayment(id: Id, request: ReceiveRequest, home: Home) -> SplitAnswer:
    """How a repayment would be split, before it is recorded."""
    account = account_of(home.plan, id, ("path", "id"))
    split = proposed_split(home.moment, account, request.to_core(""))
    return SplitAnswer(interest=split.interest, principal=split.principal, rest=split.rest)


@router.post("/{id}/receive")
def receive_repayment(id: Id, request: ReceiveRequest, home: Home) -> ReceivedAnswer:
    """Record a repayment: one entry, interest accrued first, then principal."""
    entry = str(uuid.uuid4())

    def decide(reading: Reading) -> Decision:
        account = account_of(reading.moment.plan, id, ("path", "id"))
        changes = receive(reading.moment, account, request.to_core(entry))
        made.extend(change.item for change in changes if isinstance(change.item, Entry))
        label = f"Received {format_amount(request.amount, account.currency)} from {account.lending.to}"
        return Decision(changes, label)

    made: list[Entry] = []
    history = done_answer(home.change(decide))
    return ReceivedAnswer(
        **history.model_dump(), id=entry, date=made[-1].date, payee=made[-1].payee,
        legs=[Leg(account=leg.account, category=leg.category, amount=leg.amount) for leg in made[-1].legs],
    )  # fmt: skip
