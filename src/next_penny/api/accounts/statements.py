"""Reconciling: a bank's statements of an account, held against its entries, ticked until they are even."""

import datetime
import uuid
from collections.abc import Sequence

from fastapi import APIRouter
from pydantic import BaseModel, Field

from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import refused
from next_penny.api.http.lookups import account_of
from next_penny.api.http.session import Home
from next_penny.core.books.registers import RegisterLine, line_name
from next_penny.core.checks.statements import statement_name
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.account_statements import AccountStatement, finished_of
from next_penny.core.plan.plan import Plan
from next_penny.core.reconciling import statements as reconciling
from next_penny.formats.documents.fields import Amount, Day, Document, Id
from next_penny.formats.documents.kept.account_statements import AccountStatementDocument
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision, Done

router = APIRouter(prefix="/api", tags=["true balances"])
_MOST_TICKED = 20_000


class StatementRequest(Document):
    """A statement; without an id a new one is made, without an opening it opens with what the last one closed with."""

    id: Id | None = None
    account: Id
    first: Day = Field(alias="from")
    last: Day = Field(alias="to")
    opening: Amount | None = None
    closing: Amount
    entries: tuple[Id, ...] = Field((), max_length=_MOST_TICKED)
    finished: Day | None = None


class TickRequest(Document):
    """Entries to tick, or (`on` false) to tick no more."""

    entries: tuple[Id, ...] = Field(max_length=_MOST_TICKED)
    on: bool = True


class FinishRequest(Document):
    """`adjust`: what is missing still is booked as a difference on the statement's last day."""

    adjust: bool = False


class StatementRow(AccountStatementDocument):
    """A statement and how far it is. missing: closing less opening less what is ticked (`ticked` entries), 0 is even.

    outstanding: entries by its last day that no statement has, since the account's first one; what they come to.
    """

    name: str
    currency: str
    ticked: int
    missing: int
    is_even: bool
    outstanding: int
    outstanding_sum: int


class StatementLine(BaseModel):
    """An entry that can be ticked: what it changes on the statement's account."""

    id: str
    date: datetime.date
    name: str
    number: str
    other: str
    amount: int
    is_ticked: bool
    is_assumed: bool


class StatementPage(BaseModel):
    """A statement with all that can be ticked on it, oldest first."""

    statement: StatementRow
    lines: list[StatementLine]


class StatementDone(AccountStatementDocument, ChangeAnswer):
    """What was done, and the statement as it then is."""


class ProposedStatement(Document):
    """The next statement of an account as it will most likely be; nobody knows its closing balance yet."""

    currency: str
    first: datetime.date = Field(alias="from")
    last: datetime.date = Field(alias="to")
    opening: int
    follows: str | None


@router.get("/statements", response_model_by_alias=True)
def read_statements(home: Home, account: Id | None = None) -> list[StatementRow]:
    """The statements of an account, or of all, the newest of each account first."""
    plan = home.reading.moment.plan
    accounts = plan.accounts if account is None else (account_of(plan, account, ("query", "account")),)
    rows: list[StatementRow] = []
    for one_account in accounts:
        books = _reconciling(home.reading, one_account.id)
        own = sorted(
            (statement for statement in plan.statements if statement.account == one_account.id),
            key=lambda statement: statement.last,
        )
        rows += [_row(plan, books, statement) for statement in reversed(own)]
    return rows


@router.get("/accounts/{id}/next-statement", response_model_by_alias=True)
def read_next_statement(home: Home, id: Id) -> ProposedStatement:
    """What the next statement of an account will most likely be, to begin with."""
    reading = home.reading
    account = account_of(reading.moment.plan, id, ("path", "id"))
    next_one = reconciling.proposed(reading.moment.plan, account, reading.register(account), home.today)
    done = finished_of(reading.moment.plan.statements, account.id)
    follows = statement_name(reading.moment.plan, done[-1]) if done else None
    return ProposedStatement.model_validate(
        {"currency": account.currency, "from": next_one.first, "to": next_one.last, "opening": next_one.opening,
         "follows": follows}
    )  # fmt: skip


@router.post("/statements", response_model_by_alias=True)
def begin_statement(request: StatementRequest, home: Home) -> StatementDone:
    """Begin a statement."""
    id = request.id or str(uuid.uuid4())

    def decide(reading: Reading) -> Decision:
        if any(statement.id == id for statement in reading.moment.plan.statements):
            raise refused(("body", "id"), f"There is already a statement with the id “{id}”.", "duplicate_id")
        return _written(reading, id, request, "Began")

    return _done(home.change(decide), id)


@router.get("/statements/{id}", response_model_by_alias=True)
def read_statement(id: Id, home: Home) -> StatementPage:
    """One statement with all that can be ticked on it."""
    reading = home.reading
    statement = _statement(reading.moment.plan, id)
    plan, books = reading.moment.plan, _reconciling(reading, statement.account)
    return StatementPage(
        statement=_row(plan, books, statement), lines=_lines(plan, statement, books.lines_for(statement))
    )


@router.put("/statements/{id}", response_model_by_alias=True)
def replace_statement(id: Id, request: StatementRequest, home: Home) -> StatementDone:
    """Put other days, balances or entries in the place of a statement's."""
    if request.id not in (None, id):
        raise refused(("body", "id"), "The id of a statement stays as it is.", "not_possible")

    def decide(reading: Reading) -> Decision:
        statement = _statement(reading.moment.plan, id)
        reconciling.refuse_finished(reading.moment.plan, statement)
        if statement.account != request.account:
            raise refused(("body", "account"), "A statement stays with its account: begin another.", "not_possible")
        return _written(reading, id, request, "Changed")

    return _done(home.change(decide), id)


@router.delete("/statements/{id}")
def delete_statement(id: Id, home: Home) -> ChangeAnswer:
    """Delete an open statement; its entries stay."""

    def decide(reading: Reading) -> Decision:
        statement = _statement(reading.moment.plan, id)
        reconciling.refuse_finished(reading.moment.plan, statement)
        return Decision([PlanChange("statement", id, None)], _label(reading.moment.plan, statement, "Deleted"))

    return done_answer(home.change(decide))


@router.post("/statements/{id}/tick", response_model_by_alias=True)
def tick_entries(id: Id, request: TickRequest, home: Home) -> StatementDone:
    """Tick entries on a statement, or tick them no more; what is assumed is recorded by it."""

    def decide(reading: Reading) -> Decision:
        statement = _statement(reading.moment.plan, id)
        reconciling.refuse_finished(reading.moment.plan, statement)
        asked = set(request.entries)
        others = [entry for entry in statement.entries if entry not in asked] if not request.on else statement.entries
        wanted = [*others, *(entry for entry in request.entries if request.on and entry not in statement.entries)]
        changes = reconciling.ticked(reading.moment, statement, wanted, _register(reading, statement))
        several = "an entry" if len(request.entries) == 1 else f"{len(request.entries)} entries"
        verb = f"{'Ticked' if request.on else 'Unticked'} {several} on"
        return Decision(changes, _label(reading.moment.plan, statement, verb))

    return _done(home.change(decide), id)


@router.post("/statements/{id}/finish", response_model_by_alias=True)
def finish_statement(id: Id, home: Home, request: FinishRequest | None = None) -> StatementDone:
    """Finish a statement that is even, or with the difference booked: its entries are locked."""

    def decide(reading: Reading) -> Decision:
        plan = reading.moment.plan
        statement = _statement(plan, id)
        missing = _reconciling(reading, statement.account).standing(statement).missing
        changes = reconciling.finished(
            plan, statement, missing, home.today, adjust=request is not None and request.adjust
        )
        return Decision(changes, _label(plan, statement, "Finished"))

    return _done(home.change(decide), id)


@router.post("/statements/{id}/open", response_model_by_alias=True)
def open_statement(id: Id, home: Home) -> StatementDone:
    """Open a finished statement again, the newest of its account first."""

    def decide(reading: Reading) -> Decision:
        statement = _statement(reading.moment.plan, id)
        return Decision(
            reconciling.opened(reading.moment.plan, statement), _label(reading.moment.plan, statement, "Opened again")
        )

    return _done(home.change(decide), id)


def _written(reading: Reading, id: str, request: StatementRequest, verb: str) -> Decision:
    if request.finished is not None:
        raise refused(("body", "finished"), "Finish it once it is even: it is written as open.", "not_possible")
    plan = reading.moment.plan
    opening = request.opening
    if opening is None:
        account = account_of(plan, request.account)
        opening = reconciling.proposed(plan, account, reading.register(account), reading.today).opening
    statement = AccountStatement(id, request.account, request.first, request.last, opening, request.closing)
    reconciling.check_statement(plan, statement, reading.today)
    changes = reconciling.ticked(reading.moment, statement, request.entries, _register(reading, statement))
    return Decision(changes, _label(plan, statement, verb))


def _lines(plan: Plan, statement: AccountStatement, lines: Sequence[RegisterLine]) -> list[StatementLine]:
    account, ticked = plan.account_by_id[statement.account], set(statement.entries)
    names = {one_account.id: one_account.name for one_account in plan.accounts} | {
        category.id: category.name for category in plan.categories
    }
    return [
        StatementLine(
            id=line.entry, date=datetime.date.fromordinal(line.day), name=line_name(plan, account, line),
            number=line.number, other=", ".join(names.get(id, id) for id in line.others), amount=line.amount,
            is_ticked=line.entry in ticked, is_assumed=line.is_assumed,
        )
        for line in lines
    ]  # fmt: skip


def _reconciling(reading: Reading, account: str) -> reconciling.Reconciling:
    register = reading.register(account_of(reading.moment.plan, account))
    return reconciling.Reconciling(reading.moment.plan, account, register)


def _row(plan: Plan, books: reconciling.Reconciling, statement: AccountStatement) -> StatementRow:
    standing = books.standing(statement)
    return StatementRow(
        **AccountStatementDocument.of(statement).model_dump(),
        name=statement_name(plan, statement), currency=plan.account_by_id[statement.account].currency,
        ticked=standing.ticked, missing=standing.missing, is_even=standing.is_even,
        outstanding=standing.outstanding, outstanding_sum=standing.outstanding_sum,
    )  # fmt: skip


def _done(done: Done, id: str) -> StatementDone:
    statement = _statement(done.moment.plan, id)
    return StatementDone(**AccountStatementDocument.of(statement).model_dump(), **done_answer(done).model_dump())


def _label(plan: Plan, statement: AccountStatement, verb: str) -> str:
    return f"{verb} the statement of {statement_name(plan, statement)}"


def _register(reading: Reading, statement: AccountStatement) -> list[RegisterLine]:
    return reading.register(account_of(reading.moment.plan, statement.account))


def _statement(plan: Plan, id: str) -> AccountStatement:
    for statement in plan.statements:
        if statement.id == id:
            return statement
    raise refused(("path", "id"), "There is no such statement: it may be deleted already.", "unknown_id")
