"""Can we afford it: the forecast run again with money leaving once, or monthly (docs/rules.md, Running short)."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import clipped_day, month_number
from next_penny.core.dates.sentences import full_day
from next_penny.core.forecast.low_points import LowPoint
from next_penny.core.forecast.trials import Matrix, Trial, with_changes
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow
from next_penny.core.problems import refused

_ID = "can-we-afford-it"


@dataclass(frozen=True, slots=True)
class Afford:
    """Whether an account bears it; `fails_on` and `works_from` are day numbers. `lowest_then`: if it began there."""

    ok: bool
    lowest: LowPoint
    fails_on: int | None
    works_from: int | None
    lowest_then: LowPoint | None


def afford(moment: Moment, account: Account, amount: int, on: date, until: date, *, monthly: bool) -> Afford:
    """Whether an account stays at or above its floor from a day on, with an amount less on it.

    Raises PlanError for a day before today or after `until`, and for an account that cannot be judged.
    """
    _refuse(moment, account, amount, on, until)
    asking = _Asking(moment, account, amount, until, monthly=monthly)
    first = on.toordinal()
    column = asking.balances(first)
    fails = asking.first_short(column, first)
    works = first if fails is None else next((day for day in asking.days_after(first) if asking.is_ok(day)), None)
    then = asking.lowest(asking.balances(works), works) if works is not None else None
    return Afford(fails is None, asking.lowest(column, first), fails, works, then)


def with_it(moment: Moment, account: Account, amount: int, on: date, until: date, *, monthly: bool) -> Moment:
    """The household with an amount less on an account from a day on. Raises PlanError; see `afford`."""
    _refuse(moment, account, amount, on, until)
    return with_changes(moment, _spending(account, amount, _days_paid(on.toordinal(), until, monthly=monthly)))


def _days_paid(first: int, until: date, *, monthly: bool) -> Iterator[int]:
    yield first
    if monthly:
        begun = date.fromordinal(first)
        month = month_number(begun) + 1
        while (day := clipped_day(month, begun.day)) <= until.toordinal():
            yield day
            month += 1


def _spending(account: Account, amount: int, days: Iterator[int]) -> list[PlanChange]:
    dates = tuple(date.fromordinal(day) for day in days)
    flow = Flow(_ID, "This", "bill", amount, account.id, dates=dates)
    return [PlanChange("flow", _ID, flow)]


def _refuse(moment: Moment, account: Account, amount: int, on: date, until: date) -> None:
    if amount <= 0:
        raise refused("amount", "Give an amount above nothing.", "range")
    if on < moment.today:
        raise refused("on", "This day has passed: choose today or a later day.", "range")
    if until < on:
        raise refused("until", "It is looked at until this day: choose one on or after the day it is paid.", "range")
    if account.is_debt:
        raise refused("account", "A debt has no floor: choose the account that pays.", "not_possible")
    if account.opening.date > on:
        raise refused(
            "on", f"“{account.name}” opens on {full_day(account.opening.date)}: choose that day or later.", "range"
        )


class _Asking:
    """One account and amount, for any day on which it might begin."""

    def __init__(self, moment: Moment, account: Account, amount: int, until: date, *, monthly: bool) -> None:
        self._account, self._amount, self._until = account, amount, until
        self._monthly, self._now = monthly, moment.now
        self._before = Trial(moment, until)
        self._plain: Matrix = self._before.balances[self._before.place[account.id]]
        self._is_read = account in moment.plan.accounts_read

    def balances(self, first: int) -> Matrix:
        """The account's end-of-day balances from today on, if it begins on a day."""
        if not self._is_read:
            paid = np.zeros(len(self._plain), dtype=np.int64)
            for day in self._days_paid(first):
                paid[day - self._now] += self._amount
            return np.asarray(self._plain - np.cumsum(paid), dtype=np.int64)
        trial = self._before.with_changes(_spending(self._account, self._amount, self._days_paid(first)))
        column: Matrix = trial.balances[trial.place[self._account.id]]
        return column

    def _days_paid(self, first: int) -> Iterator[int]:
        return _days_paid(first, self._until, monthly=self._monthly)

    def first_short(self, balances: Matrix, first: int) -> int | None:
        """The first day from one on at whose end the account is below its floor."""
        short = np.flatnonzero(balances[first - self._now :] < self._account.floor)
        return first + int(short[0]) if len(short) else None

    def is_ok(self, first: int) -> bool:
        return self.first_short(self.balances(first), first) is None

    def days_after(self, first: int) -> Iterator[int]:
        """The days on which it might work, if it does not on one: never one that is short without it."""
        last = self._until.toordinal()
        if self._is_read:
            yield from range(first + 1, last + 1)
            return
        short = np.flatnonzero(self._plain < self._account.floor + self._amount)
        # Every day from the one it begins on has to bear it at least once.
        begin = self._now + int(short[-1]) + 1 if len(short) else first + 1
        yield from range(max(first + 1, begin), last + 1)

    def lowest(self, balances: Matrix, first: int) -> LowPoint:
        """The lowest end-of-day balance from a day on."""
        part = balances[first - self._now :]
        at = int(part.argmin())
        return LowPoint(first + at, int(part[at]), int(part[at]) - self._account.floor)
