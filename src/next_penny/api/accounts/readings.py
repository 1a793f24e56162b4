"""True balances: what the bank says an account held, beside the books, and what would explain a difference."""

import datetime
from collections.abc import Sequence

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.ahead.forecast import LowPointModel, low_point
from next_penny.api.edits.applying import refuse_problems, requests_for, resolved
from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import refused
from next_penny.api.http.lookups import account_of
from next_penny.api.http.session import Home, HomeOrWhatIf, Session
from next_penny.core.dates.sentences import full_day
from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import year_ahead
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.readings import BalanceReading, reading_id
from next_penny.core.reconciling.causes import ENTRY_DAYS, NEAR_DAYS, CauseKind, causes
from next_penny.core.reconciling.readings import adjustment, balance_on, check_day, with_reading
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Amount, Day, Document, Id
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/readings", tags=["true balances"])


class ReadingRequest(Document):
    """A true balance, signed as the account's books are: what is owed is below zero."""

    account: Id
    date: Day
    balance: Amount


class KeepRequest(ReadingRequest):
    """`changes`: what explains the difference, or books it, made together with it."""

    changes: list[ChangeRequest] = Field([], max_length=20)


class DifferenceCause(BaseModel):
    """What would explain the difference: `changes` make it so; `lowest`: the account's lowest point in a year then."""

    cause: CauseKind
    sentence: str
    changes: list[ChangeRequest]
    lowest: LowPointModel | None


class ReadingCheck(BaseModel):
    """difference: the true balance less the books of that day. `adjustment` books it where nothing explains it."""

    currency: str
    books: int
    difference: int
    causes: list[DifferenceCause]
    adjustment: list[ChangeRequest]
    lowest: LowPointModel | None


class ReadingRow(BaseModel):
    """A true balance that is kept, and what the books say of its day now."""

    currency: str

    account: str
    date: datetime.date
    balance: int
    source: str
    books: int
    difference: int


@router.post("/check")
def check_reading(request: ReadingRequest, home: HomeOrWhatIf) -> ReadingCheck:
    """Whether the books agree with the bank, and if not, what would explain it, the likeliest first."""
    account = account_of(home.plan, request.account)
    check_day(account, request.date, home.today)
    books = balance_on(account, home.register(account), request.date)
    difference = request.balance - books
    return ReadingCheck(
        currency=account.currency, books=books, difference=difference,
        causes=_causes(home, account, request.date, difference),
        adjustment=requests_for(home.reading, adjustment(home.plan, account, request.date, difference)),
        lowest=_lowest(home, account, []),
    )  # fmt: skip


def _causes(home: Session, account: Account, day: datetime.date, difference: int) -> list[DifferenceCause]:
    first, last = day - datetime.timedelta(days=ENTRY_DAYS), day + datetime.timedelta(days=NEAR_DAYS)
    recorded = home.recorded(home.reading.between([account], first, last))
    found_causes = causes(home.moment, account, recorded, day, difference)
    requests = [requests_for(home.reading, cause.changes) for cause in found_causes]
    return [
        DifferenceCause(
            cause=cause.kind, sentence=cause.sentence, changes=changes, lowest=_lowest(home, account, changes)
        )
        for cause, changes in zip(found_causes, requests, strict=True)
    ]


def _lowest(home: Session, account: Account, changes: Sequence[ChangeRequest]) -> LowPointModel | None:
    """The account's lowest point of the coming year; of a debt there is none."""
    if account.is_debt:
        return None
    forecast = year_ahead(home.apply_changes(changes).moment if changes else home.moment)
    run = next(run for run in forecast.runs if run.account.id == account.id)
    return low_point(lowest(run, last=forecast.until.toordinal()))


@router.get("")
def read_readings(home: HomeOrWhatIf, account: Id | None = None) -> list[ReadingRow]:
    """The true balances that are kept, of one account or of all, the newest of each account first."""
    accounts = home.plan.accounts if account is None else [account_of(home.plan, account, ("query", "account"))]
    return [
        _row(home, one_account, reading)
        for one_account in accounts
        for reading in with_reading(home.plan.readings, one_account.id)
    ]


def _row(home: Session, account: Account, reading: BalanceReading) -> ReadingRow:
    books = balance_on(account, home.register(account), reading.date)
    return ReadingRow(
        account=account.id, currency=account.currency, date=reading.date, balance=reading.balance,
        source=reading.source, books=books,
        difference=reading.balance - books,
    )  # fmt: skip


@router.post("")
def keep_reading(request: KeepRequest, home: Home) -> ChangeAnswer:
    """Keep a true balance, in the place of an earlier one of the same day."""

    def decide(reading: Reading) -> Decision:
        account = account_of(reading.moment.plan, request.account)
        check_day(account, request.date, home.today)
        asked = resolved(reading, request.changes)
        refuse_problems(reading, asked)
        balance_reading = BalanceReading(account.id, request.date, request.balance)
        amount = format_amount(balance_reading.balance, account.currency)
        label = f"“{account.name}” held {amount} on {full_day(balance_reading.date)}, says the bank"
        return Decision([*asked.changes, PlanChange("reading", balance_reading.id, balance_reading)], label)

    return done_answer(home.change(decide))


@router.delete("")
def forget_reading(account: Id, date: Day, home: Home) -> ChangeAnswer:
    """Take a true balance away."""

    def decide(reading: Reading) -> Decision:
        id = reading_id(account, date)
        if not any(balance_reading.id == id for balance_reading in reading.moment.plan.readings):
            raise refused(("query", "date"), "There is no true balance of that day: it may be deleted already.",
                          "unknown_id")  # fmt: skip
        return Decision([PlanChange("reading", id, None)], f"Deleted the true balance of {full_day(date)}")

    return done_answer(home.change(decide))
