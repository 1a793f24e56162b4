"""What is asked and answered about a bank's file."""

import datetime
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from next_penny.api.edits.changes import ChangeAnswer
from next_penny.api.http.errors import Refusal
from next_penny.core.bank_lines.found import LineKind
from next_penny.core.bank_lines.statements import BankFormat
from next_penny.formats.documents.fields import Day, Document, Id
from next_penny.formats.documents.kept.bank_lines import PayeeRuleDocument


class MatchedModel(BaseModel):
    """What a line was found to be, to be shown beside it: what a person calls it, its day and its amount there."""

    name: str
    date: datetime.date | None
    amount: int | None


class BankLineModel(BaseModel):
    """A line, and what it is taken for. `offered`: not sure, and not ticked. `account`: a transfer's other side.

    `partner`: the key of the line that is that other side, where the file has it too. `shown`: what it was found to be.
    """

    model_config = ConfigDict(populate_by_name=True)

    key: str
    date: datetime.date
    amount: int
    payee: str
    memo: str
    number: str
    bank_id: str | None
    kind: LineKind = Field(validation_alias="is", serialization_alias="is")
    offered: bool
    entry: str | None
    flow: str | None
    nominal: datetime.date | None
    account: str | None
    category: str | None
    partner: str | None
    shown: MatchedModel | None


class ClosingModel(BaseModel):
    """What the bank says the account held at the end of a day."""

    date: datetime.date
    balance: int


class BankStatementModel(BaseModel):
    """What a file says of one account; `account` is ours, null where nobody chose it yet; `name` is the bank's."""

    model_config = ConfigDict(populate_by_name=True)

    bank_account: str | None
    name: str
    account: str | None
    currency: str | None
    first: datetime.date | None = Field(validation_alias="from", serialization_alias="from")
    last: datetime.date | None = Field(validation_alias="to", serialization_alias="to")
    closing: ClosingModel | None
    lines: list[BankLineModel]


class LeftOutLine(BaseModel):
    """A line that was not read: its place in the file, and why."""

    where: str
    why: str


class TableModel(BaseModel):
    """The header of a CSV and its first rows, to choose its columns by."""

    header: list[str] | None
    rows: list[list[str]]


class BankLookAnswer(BaseModel):
    """What taking a file in would do; nothing is changed yet. `look` is good for an hour, and for one taking-in."""

    look: str
    format: BankFormat
    statements: list[BankStatementModel]
    columns: dict[str, Any] | None
    table: TableModel | None
    left_out: list[LeftOutLine]


class BankLinesChanged(BaseModel):
    """The plan changed since the look: here is another."""

    detail: list[Refusal]
    look: BankLookAnswer


class LineDecision(Document):
    """What a line is to be. What is not given is as it was looked at; `take` false: it is left as it is."""

    key: str = Field(max_length=200)
    take: bool = True
    kind: LineKind | None = Field(None, alias="is")
    entry: Id | None = None
    flow: Id | None = None
    nominal: Day | None = None
    account: Id | None = None
    category: Id | None = None


class StatementDecision(Document):
    """A statement's lines, and the account that they are taken into.

    Lines that are not listed are not taken, but for those that were only offered, which wait. Without `lines` all are
    taken as they were looked at.
    """

    account: Id
    lines: list[LineDecision] | None = Field(None, max_length=100_000)


class OwnersRequest(Document):
    """By the place of a statement in its look, from 0, the account of ours that it is of."""

    accounts: dict[Annotated[str, StringConstraints(pattern=r"^\d{1,4}$")], Id] = Field(max_length=1000)


class ImportRequest(Document):
    """A look, and what is to become of its lines. Without `statements` all are taken as they were looked at."""

    look: str = Field(max_length=100)
    statements: list[StatementDecision] | None = Field(None, max_length=100)
    payee_rules: list[PayeeRuleDocument] = Field([], max_length=100)


class ImportAnswer(ChangeAnswer):
    """How many lines were taken in; how many of them were entries already, settled something, or wait."""

    taken: int
    matched: int
    settled: int
    known: int
    waiting: int


class AccountLowest(BaseModel):
    """An account's lowest point of the coming year, before and after, and what the bank's closing balance leaves."""

    account: str
    currency: str
    before: int | None
    after: int | None
    closing: ClosingModel | None
    books: int | None
    difference: int | None


class ImportEffect(BaseModel):
    """What taking lines in as they are chosen would do, account by account; by line, where what is new would go."""

    accounts: list[AccountLowest]
    categories: dict[str, str]
    names: dict[str, str]


class WaitingLine(BankLineModel):
    """A line that waits for a decision, and the account that it is on."""

    on: str
    currency: str


class WaitingDecision(Document):
    """What waiting lines are to be; `take` false: none of the household's business."""

    lines: list[LineDecision] = Field(min_length=1, max_length=10_000)
    payee_rules: list[PayeeRuleDocument] = Field([], max_length=100)
