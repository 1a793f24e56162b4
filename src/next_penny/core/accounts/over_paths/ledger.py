"""One account's balance along many paths at once, as the walk comes to each day (docs/rules.md, How sure it is).

It answers what `accounts.ledger.Ledger` answers, by columns: one amount a path.
"""

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from next_penny.core.accounts.generated import Passed
from next_penny.core.accounts.ledger import Ledger
from next_penny.core.plan.accounts import Account

Column = npt.NDArray[np.int64]
Matrix = npt.NDArray[np.int64]
# What a rule makes: what it changes on which account, in each path.
Moved = tuple[tuple[str, Column], ...]


class PathsLedger:
    """One account from today on: a row a day, a column a path. Amounts are minor units.

    past: what is recorded of it. moved: what is fixed beforehand on each day; it becomes the end-of-day balances as
    the walk passes. gained: of that the money in alone; None where nobody asks for it.
    """

    def __init__(self, account: Account, past: Ledger | None, now: int, moved: Matrix, gained: Matrix | None) -> None:
        self.account, self.charged = account, past.charged if past is not None else {}
        self.opened = account.opening.date.toordinal()
        self._past, self._now, self._balances, self._gained = past, now, moved, gained

    @property
    def balances(self) -> Matrix:
        """The end-of-day balances as far as the walk has come; what is fixed on each day after that."""
        return self._balances

    def pass_to(self, day: int) -> None:
        """Begin a day with what the one before it ended with."""
        at = day - self._now
        if at:
            self._balances[at] += self._balances[at - 1]
            if self._gained is not None:
                self._gained[at] += self._gained[at - 1]

    def post(self, day: int, amount: Column) -> None:
        """Put in what a rule makes on the day that the walk has come to."""
        self._balances[day - self._now] += amount
        if self._gained is not None:
            self._gained[day - self._now] += np.maximum(amount, 0)

    def balance(self, day: int) -> Column:
        """What the account holds at the end of a day, as far as the walk has come."""
        if day >= max(self._now, self.opened):
            row: Column = self._balances[day - self._now]
            return row
        # Before it is open it is taken to hold what it opens with.
        balance = self.account.opening.balance if self._past is None else self._past.balance(day)
        return np.full(self._balances.shape[1], balance, dtype=np.int64)

    def owed(self, day: int) -> Column:
        """What is owed on it: its negated balance, never below zero."""
        return np.maximum(0, -self.balance(day))

    def gained(self, after: int, upto: int) -> Column:
        """The money that came in after one day, up to and including another (which is not before it)."""
        return np.asarray(self._gained_by(upto) - self._gained_by(after), dtype=np.int64)

    def _gained_by(self, day: int) -> Column | int:
        """What came in by a day, counted from today's beginning: below zero before that."""
        if day >= self._now:
            assert self._gained is not None
            row: Column = self._gained[day - self._now]
            return row
        assert self._past is not None
        return -self._past.gained(day, self._now - 1)

    def owed_days(self, first: int, last: int) -> Column:
        """The sum of what is owed at the end of each day from one to another."""
        before = 0
        if first < self._now:
            assert self._past is not None
            before = self._past.owed_days(first, min(last, self._now - 1))
        owing = np.full(self._balances.shape[1], before, dtype=np.int64)
        if last >= self._now:
            rows = self._balances[max(0, first - self._now) : last - self._now + 1]
            owing -= np.minimum(0, rows).sum(axis=0)
        return owing


class PathsWalked(NamedTuple):
    """What a walk over many paths knows: the plan's accounts, a ledger for each that it follows, what is done."""

    accounts: Mapping[str, Account]
    ledgers: Mapping[str, PathsLedger]
    passed: Passed


def quotients(numerators: Column, denominator: int) -> Column:
    """Quotients of numbers that are not negative, rounded to whole ones, half up; see `rounded_quotient`."""
    return (2 * numerators + denominator) // (2 * denominator)
