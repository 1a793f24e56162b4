"""Allowances as data: limits per period on spending that has no fixed date."""

import datetime
from dataclasses import dataclass
from typing import Literal

MOST_ALLOWANCES = 200


Period = Literal["week", "two_weeks", "month"]
PERIOD_NAMES: dict[Period, str] = {"week": "week", "two_weeks": "two weeks", "month": "month"}


Timing = Literal["at_end", "evenly"]


Carry = Literal["none", "forward"]


@dataclass(frozen=True, slots=True)
class LimitRevision:
    """From the first period that begins on or after a date: another limit."""

    start: datetime.date
    limit: int


@dataclass(frozen=True)
class Allowance:
    """A limit per period on spending with no fixed date, in some categories, paid from one account.

    `week_starts` is the weekday on which weeks begin, Monday 0. Without a start it holds since the account is open.
    """

    id: str
    name: str
    limit: int
    account: str
    period: Period = "month"
    week_starts: int = 0
    categories: tuple[str, ...] = ()
    timing: Timing = "at_end"
    carry: Carry = "none"
    start: datetime.date | None = None
    until: datetime.date | None = None
    revisions: tuple[LimitRevision, ...] = ()
    known_since: datetime.date | None = None
