"""What credit lines lend over many paths: the rule of `accounts.draws`, by columns."""

import numpy as np

from next_penny.core.accounts.over_paths.ledger import Moved, PathsLedger
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.terms.cards import CardTerms


class CoverOverPaths:
    """One line that covers an account."""

    def __init__(self, line: Account, terms: CardTerms, lending: PathsLedger, covered: PathsLedger) -> None:
        self._line, self._terms, self._lending, self._covered = line, terms, lending, covered
        self._begins = max(lending.opened, covered.opened)

    def draw(self, day: int) -> Moved | None:
        """What it lends at the end of a day, where the account would end that below its floor."""
        account, balance = self._covered.account, self._covered.balance(day)
        if day < self._begins or balance.min() >= account.floor:
            return None
        available = np.maximum(0, self._terms.limit - self._lending.owed(day))
        amount = np.minimum(np.maximum(0, account.floor - balance), available)
        return ((self._line.id, -amount), (account.id, amount)) if amount.any() else None
