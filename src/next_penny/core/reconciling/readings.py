"""An account's books on the day of a true balance (docs/rules.md, True balances)."""

from bisect import bisect_left
from collections.abc import Sequence
from datetime import date
from uuid import uuid4

from next_penny.core.books.registers import RegisterLine
from next_penny.core.dates.sentences import full_day
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.kept.readings import BalanceReading
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import ADJUSTMENTS, categories_for
from next_penny.core.problems import refused


def can_be_looked_up(account: Account) -> bool:
    """Whether somebody else tells its balance: a loan has its statements, what is owned its worth."""
    return account.loan is None and account.kind not in ("asset", "owed_to_us")


def check_day(account: Account, day: date, today: date) -> None:
    """Refuse a day on which an account cannot have been looked at. Raises PlanError."""
    if day > today:
        raise refused("date", "A true balance is of today or of a day before.", "range")
    if day < account.opening.date:
        message = f"“{account.name}” begins on {full_day(account.opening.date)}: choose that day, or a later one."
        raise refused("date", message, "range")


def balance_on(account: Account, lines: Sequence[RegisterLine], day: date) -> int:
    """What an account held at the end of a day by its register (newest first), what is assumed included."""
    # The register's days fall: the first line that is not after the day.
    at = bisect_left(lines, -day.toordinal(), key=lambda line: -line.day)
    return lines[at].balance if at < len(lines) else account.opening.balance


def adjustment(plan: Plan, account: Account, day: date, difference: int) -> list[PlanChange]:
    """The changes that book a difference (true balance less books), and make its category where there is none."""
    if difference == 0:
        return []
    legs = (Leg(difference, account=account.id), Leg(-difference, category=ADJUSTMENTS.id))
    entry = Entry(str(uuid4()), day, "Difference to the bank", legs)
    return [*categories_for(plan, legs), PlanChange("entry", entry.id, entry)]


def with_reading(readings: Sequence[BalanceReading], account: str) -> list[BalanceReading]:
    """An account's readings, the newest first."""
    return sorted(
        (reading for reading in readings if reading.account == account), key=lambda reading: reading.date, reverse=True
    )
