"""Sweeps over many paths: the days and rules of `accounts.sweeps`, by columns."""

import numpy as np

from next_penny.core.accounts.over_paths.ledger import Moved, PathsWalked
from next_penny.core.accounts.sweeps import SweepDays
from next_penny.core.plan.accounts import Account


class SweepOverPaths(SweepDays[Moved]):
    """One account's sweep: what it does on which day is its own, how much is a column."""

    def __init__(self, account: Account, walked: PathsWalked, order: int) -> None:
        assert account.sweep is not None
        self._own, self._other = walked.ledgers[account.id], walked.ledgers[account.sweep.partner]
        super().__init__(account, self._other.account, walked.passed.now, order)

    def _sweep(self, day: int) -> Moved | None:
        terms, balance = self._terms, self._own.balance(day)
        to_give = np.maximum(0, self._other.balance(day) - self._other.account.floor)
        amount = np.where(balance < terms.least, np.minimum(terms.least - balance, to_give), 0)
        if terms.most is not None:
            amount = np.where(balance > terms.most, terms.most - balance, amount)
        return ((self._own.account.id, amount), (self._other.account.id, -amount)) if amount.any() else None
