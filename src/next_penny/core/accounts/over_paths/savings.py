"""Savings interest over many paths: the days and rules of `accounts.savings`, reckoned in floating point by columns."""

from collections.abc import Iterator
from datetime import date

import numpy as np
import numpy.typing as npt

from next_penny.core.accounts.over_paths.ledger import Column, Moved, PathsWalked
from next_penny.core.accounts.savings import SavingsDays, factor_on
from next_penny.core.dates.calendar import month_start
from next_penny.core.money import LARGEST_AMOUNT
from next_penny.core.plan.accounts import Account

_Floats = npt.NDArray[np.float64]
# A half is a half although its last digits are lost.
_NUDGE = 1e-7


class SavingsOverPaths(SavingsDays[Moved]):
    """One savings account: what it does on which day is its own, how much is a column."""

    def __init__(self, account: Account, walked: PathsWalked, order: int) -> None:
        super().__init__(account, walked.passed, order)
        self._ledger = walked.ledgers[account.id]
        self._factors: dict[int, float] = {}

    def _credit(self, month: int, day: int) -> Moved | None:
        first, last = max(self.opened, month_start(month)), month_start(month + 1) - 1
        change = self.terms.change_by_month.get(month)
        if change is not None and change.amount is not None:
            amount = np.full_like(self._ledger.balance(day), change.amount)
        else:
            amount = self._interest(first, last)
        return ((self.account.id, amount),) if amount.any() else None

    def _interest(self, first: int, last: int) -> Column:
        is_daily, compounds = self.terms.rounding == "daily", self.terms.compounding == "daily"
        accrued: _Floats = np.zeros(len(self._ledger.balance(last)))
        for base, factor in self._earning(first, last):
            earned = (base + accrued if compounds else base) * factor
            accrued = accrued + (np.floor(earned + 0.5 + _NUDGE) if is_daily else earned)
        return np.minimum(LARGEST_AMOUNT, np.floor(accrued + 0.5 + _NUDGE)).astype(np.int64)

    def _earning(self, first: int, last: int) -> Iterator[tuple[_Floats, float]]:
        """Day by day what earns, and what a unit of it earns."""
        earlier = 1 if self.terms.movements_earn == "next_day" else 0
        for day in range(first, last + 1):
            base = np.maximum(0, self._ledger.balance(day - earlier)).astype(np.float64)
            yield base, self._factor(day)

    def _factor(self, day: int) -> float:
        year = date.fromordinal(day).year
        if year not in self._factors:
            self._factors[year] = float(factor_on(self.terms, day))
        return self._factors[year]
