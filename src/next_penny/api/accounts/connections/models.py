"""What is told and asked of connections."""

import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from next_penny.api.accounts.bank_files.models import BankLookAnswer, ClosingModel
from next_penny.core.plan.kept.connections import ServiceKind
from next_penny.formats.documents.fields import Document, Id

Address = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=500)]
Secret = Annotated[str, StringConstraints(max_length=500)]


class ConnectionRow(BaseModel):
    """A service, without its secret. until: how long its consent is good; said, problem: what came when last asked."""

    id: str
    kind: ServiceKind
    address: str
    until: datetime.date | None
    has_ended: bool
    daily: bool
    asked: datetime.date | None
    said: str
    problem: str


class SignOnRequest(Document):
    """Who signs on at a bank; only the key that the bank gives for it is kept."""

    user: Secret
    password: Secret


class ConnectRequest(Document):
    """A service to connect: a bank with who signs on, a mailbox by its folder, rates by their address."""

    kind: ServiceKind
    address: Address
    user: Secret = ""
    password: Secret = ""


class ConnectionChange(Document):
    """daily: ask it by itself once a day, when the app is started or a day begins."""

    daily: bool


class AskedAnswer(BaseModel):
    """What came. look: of a bank's lines, to be taken in like a file's; null where there is nothing to look at."""

    said: str
    look: BankLookAnswer | None = None


class NoticeNumber(BaseModel):
    """A number in a line, from a place to a place of its letters."""

    start: int
    end: int


class NoticeLine(BaseModel):
    """A line of a message, with the numbers that could be a balance."""

    text: str
    numbers: list[NoticeNumber]


class NoticeRow(BaseModel):
    """A message. told: the balance that is read of it, or problem: why none is; neither for a sender not taught."""

    id: str
    sender: str
    subject: str
    date: datetime.date
    lines: list[NoticeLine]
    told: ClosingModel | None
    problem: str | None
    taken: bool


class PatternRow(BaseModel):
    """Where a sender's messages tell an account's balance: between two texts of one line."""

    sender: str
    account: str
    currency: str
    before: str
    after: str
    owed: bool


class NoticesAnswer(BaseModel):
    """The newest messages of a mailbox, and what is taught about their senders."""

    messages: list[NoticeRow]
    patterns: list[PatternRow]


class TeachRequest(Document):
    """The number of a line of a message, by their places from 0, is an account's balance; owed: it tells a debt."""

    message: str = Field(max_length=500)
    line: int = Field(ge=0, le=1000)
    number: int = Field(ge=0, le=1000)
    account: Id
    owed: bool = False


class DemoAnswer(BaseModel):
    """Whether this is the demo, and what there is to try."""

    is_demo: bool
    today: datetime.date
    bank: str = ""
    user: str = ""
    password: str = ""
    mailbox: str = ""
    rates: str = ""
    mood: Literal["well", "down", "slow", "nonsense"] = "well"


class DemoDayRequest(Document):
    """So many days pass."""

    days: Literal[1, 7]


class DemoBankRequest(Document):
    """How well the bank to try is."""

    mood: Literal["well", "down", "slow", "nonsense"]
