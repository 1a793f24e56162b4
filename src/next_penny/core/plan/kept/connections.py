"""What a household keeps of the services that it asks: a bank, a mailbox, a provider of exchange rates; as data."""

import datetime
from dataclasses import dataclass
from typing import Literal

ServiceKind = Literal["bank", "mailbox", "rates"]


@dataclass(frozen=True, slots=True)
class Service:
    """A service that is asked for what is new.

    address: a web address, of a mailbox its folder. key: a bank's user key, a secret; good up to `until`.
    daily: asked by itself once a day. asked: the day on which it was asked last; said, problem: what came of that.
    """

    id: str
    kind: ServiceKind
    address: str
    key: str = ""
    until: datetime.date | None = None
    daily: bool = False
    asked: datetime.date | None = None
    said: str = ""
    problem: str = ""


@dataclass(frozen=True, slots=True)
class NoticePattern:
    """Where in a sender's messages an account's balance stands: in one line, between two texts.

    owed: what it tells is owed, so the books have it below zero. decimal: the mark before the fraction, where the
    number that was taught has one; empty: by each number alone.
    """

    sender: str
    account: str
    before: str
    after: str
    owed: bool = False
    decimal: str = ""


@dataclass(frozen=True, slots=True)
class NoticeTaken:
    """A message whose balance was taken."""

    message: str
