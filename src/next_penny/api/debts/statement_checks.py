"""Statement checks: a lender's statement held against a loan's books, and the checks that are kept."""

import datetime
from collections.abc import Sequence

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.debts.loan_page import loan_account
from next_penny.api.edits.applying import requests_for
from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home, HomeOrWhatIf, Session
from next_penny.core.dates.sentences import full_day
from next_penny.core.mortgage.evidence import CauseKind
from next_penny.core.mortgage.loan_books import Item, LoanBooks, loan_books
from next_penny.core.mortgage.recorded_whole import suspect_range
from next_penny.core.mortgage.statement_check import Checked, check_statement, confirmed_until, refuse_date
from next_penny.core.mortgage.suspects import Suspects
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.statements import StatementCheck, check_id
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Day, Id
from next_penny.formats.documents.kept.statements import StatementCheckDocument, StatementDocument
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/loans", tags=["statement checks"])


class ComparedFigure(BaseModel):
    """A figure of the statement beside the books' at the end of its date; `difference` is the statement's less it."""

    item: Item
    statement: int
    books: int
    difference: int


class CausePart(BaseModel):
    """One of several mistakes: what would put it right by itself."""

    sentence: str
    changes: list[ChangeRequest]


class CauseModel(BaseModel):
    """Why they differ. `changes`, made, let what it `explains` agree; `parts`: several mistakes one by one."""

    cause: CauseKind
    sentence: str
    explains: list[Item]
    changes: list[ChangeRequest]
    parts: list[CausePart]


class CheckAnswer(BaseModel):
    """A statement against the books: the likeliest cause first."""

    compared: list[ComparedFigure]
    agrees: bool
    causes: list[CauseModel]
    notes: list[str]


@router.post("/{account}/statement-check")
def check(account: Id, request: StatementDocument, home: HomeOrWhatIf) -> CheckAnswer:
    """Compare a statement with the books on its date, and name what explains the differences."""
    return _answer(home.reading, _checked(home, loan_account(home.plan, account, "account"), request))


def _checked(home: Session, account: Account, request: StatementDocument) -> Checked:
    books, suspects = books_of(home, account)
    return check_statement(home.moment, books, request.statement(), suspects)


def books_of(home: Session, account: Account) -> tuple[LoanBooks, Suspects]:
    """A loan's books, and the entries beside them that may be payments of it."""
    concerning = home.recorded(home.reading.of_loan(account, suspect_range(home.moment, account)))
    books = loan_books(home.plan, account, concerning)
    entry_ids = {entry.id for entry in books.entries}
    return books, Suspects(home.plan, (entry for entry in concerning if entry.id not in entry_ids))


def _answer(reading: Reading, checked: Checked) -> CheckAnswer:
    return CheckAnswer(
        compared=[
            ComparedFigure(**comparison._asdict(), difference=comparison.difference) for comparison in checked.compared
        ],
        agrees=checked.agrees,
        causes=[
            CauseModel(
                cause=cause.kind,
                sentence=cause.sentence,
                explains=list(cause.explains),
                changes=requests_for(reading, cause.changes),
                parts=[
                    CausePart(sentence=part.sentence, changes=requests_for(reading, part.changes))
                    for part in cause.parts
                ],
            )
            for cause in checked.causes
        ],
        notes=list(checked.notes),
    )


class KeptCheck(BaseModel):
    """A statement that was checked, and whether the books agree with it now; `differs` counts what does not."""

    statement: StatementCheckDocument
    agrees: bool
    differs: int


class SplitLine(BaseModel):
    """How a recorded payment was split; `proposed` until a statement that agrees covers it."""

    entry: str
    date: datetime.date
    payment: int
    principal: int
    interest: int
    escrow: int
    proposed: bool


class KeptChecks(BaseModel):
    """The checks of a loan, the newest first, and its recorded payments, the newest first."""

    checks: list[KeptCheck]
    confirmed_until: datetime.date | None
    payments: list[SplitLine]
    today: datetime.date


@router.get("/{account}/statement-checks", response_model_by_alias=True)
def read_checks(account: Id, home: HomeOrWhatIf) -> KeptChecks:
    """The history of a loan's statement checks, held against the books as they are now."""
    existing = loan_account(home.plan, account, "account")
    books, _ = books_of(home, existing)
    checks = [
        statement_check for statement_check in home.plan.statement_checks if statement_check.account == existing.id
    ]
    confirmed = confirmed_until(books, checks)
    return KeptChecks(
        checks=[_kept(books, check) for check in sorted(checks, key=lambda check: check.statement.date, reverse=True)],
        confirmed_until=confirmed,
        payments=[_split(books, entry, confirmed) for entry in reversed(books.payments)],
        today=home.today,
    )


def _kept(books: LoanBooks, check: StatementCheck) -> KeptCheck:
    compared = books.compare(check.statement)
    differs = sum(comparison.difference != 0 for comparison in compared)
    return KeptCheck(statement=StatementCheckDocument.of(check), agrees=differs == 0, differs=differs)


def _split(books: LoanBooks, entry: Entry, confirmed: datetime.date | None) -> SplitLine:
    parts = books.parts(entry)
    paid = -sum(leg.amount for leg in entry.legs if leg.account and leg.amount < 0)
    return SplitLine(
        entry=entry.id, date=entry.date, payment=paid,
        principal=parts.principal, interest=parts.interest, escrow=parts.escrow,
        proposed=confirmed is None or entry.date > confirmed,
    )  # fmt: skip


@router.post("/{account}/statement-checks")
def keep(account: Id, request: StatementDocument, home: Home) -> ChangeAnswer:
    """Keep a check, in the place of an earlier one of the same statement."""

    def decide(reading: Reading) -> Decision:
        existing = loan_account(reading.moment.plan, account, "account")
        statement = request.statement()
        refuse_date(reading.moment, existing, statement)
        check = StatementCheck(existing.id, statement)
        label = f"Kept the statement check of {full_day(statement.date)}"
        return Decision([PlanChange("statement_check", check.id, check)], label)

    return done_answer(home.change(decide))


@router.delete("/{account}/statement-checks/{day}")
def forget(account: Id, day: Day, home: Home) -> ChangeAnswer:
    """Take a kept check out."""

    def decide(reading: Reading) -> Decision:
        id = check_id(account, day)
        checks: Sequence[StatementCheck] = reading.moment.plan.statement_checks
        if not any(check.id == id for check in checks):
            raise refused(("path", "day"), "There is no such check: it may be deleted already.", "unknown_id")
        return Decision([PlanChange("statement_check", id, None)], f"Deleted the statement check of {full_day(day)}")

    return done_answer(home.change(decide))
