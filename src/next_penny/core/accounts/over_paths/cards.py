"""Cards and credit lines over many paths: the days and rules of `accounts.cards`, by columns."""

from typing import NamedTuple

import numpy as np

from next_penny.core.accounts.cards import DAYS_A_YEAR, CardDays, due_day
from next_penny.core.accounts.over_paths.ledger import Column, Moved, PathsLedger, PathsWalked, quotients
from next_penny.core.money import LARGEST_AMOUNT
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.terms.cards import CardTerms

# Sums beyond this would leave 64 bits once they are multiplied by a rate; they are reckoned in floating point.
_SAFE = 2**62


class _Statement(NamedTuple):
    """What a closing says in each path."""

    closing: int
    due: int
    balance: Column
    minimum: Column


class CardOverPaths(CardDays[Moved]):
    """One card or line: what it does on which day is the card's own, how much is a column."""

    def __init__(self, account: Account, walked: PathsWalked, order: int) -> None:
        super().__init__(account, walked.accounts, walked.passed, order)
        self.ledger = walked.ledgers[account.id]
        self._statements: dict[int, _Statement] = {}
        if self.begun is not None:
            closing, said = self.begun
            owed = self.ledger.owed(closing)
            if said is not None:
                owed = np.full_like(owed, said)
            self._state(closing, owed, np.zeros_like(owed))

    def _state(self, closing: int, owed: Column, interest: Column) -> None:
        minimum = _minimums(self.terms, owed, interest)
        self._statements[closing] = _Statement(closing, due_day(self.terms, closing), owed, minimum)

    def _pay(self, closing: int, day: int, counted: int, is_past_due: bool) -> Moved | None:
        want = self._wanted(self._statements[closing])
        paid = self.ledger.gained(closing, counted)
        amount = np.minimum(self.ledger.owed(day), np.maximum(0, want - paid))
        return ((self.terms.from_account or "", -amount), (self.account.id, amount)) if amount.any() else None

    def _wanted(self, statement: _Statement) -> Column:
        change = self.terms.change_by_closing.get(statement.closing)
        if change is not None and change.amount is not None:
            return np.full_like(statement.balance, change.amount)
        if self.terms.pays == "statement":
            return statement.balance
        if self.terms.pays == "minimum":
            return statement.minimum
        fixed = np.minimum(self.terms.fixed_amount or 0, statement.balance)
        return np.maximum(fixed, statement.minimum)

    def _close(self, closing: int) -> Moved | None:
        change = self.terms.change_by_closing.get(closing)
        balance = self.ledger.balance(closing)
        if closing in self._charged:
            charged = np.full_like(balance, self._charged[closing])
            self._state(closing, np.maximum(0, -balance), charged)
            return None
        if change is not None and change.interest is not None:
            charged = np.full_like(balance, change.interest)
        else:
            charged = self._interest(max(self.opened, self._before[closing] + 1), closing)
        self._state(closing, np.maximum(0, charged - balance), charged)
        return ((self.account.id, -charged),) if charged.any() else None

    def _interest(self, first: int, closing: int) -> Column:
        """What a cycle costs: nothing where the statement before it was paid in full in time."""
        charged = _interest_between(self.terms, self.ledger, first, closing)
        if self.terms.is_line:
            return charged
        before = self._statements.get(self._before[closing])
        if before is None:
            return np.zeros_like(charged)
        return np.where(self.ledger.gained(before.closing, before.due) >= before.balance, 0, charged)


def _minimums(terms: CardTerms, owed: Column, interest: Column) -> Column:
    """The least that statements ask for; see `minimum_of`."""
    percent, scale = terms.minimum_share
    asked = quotients(percent * owed, 100 * scale)
    if terms.minimum.plus_interest:
        asked = asked + interest
    return np.minimum(owed, np.maximum(terms.minimum.floor, asked))


def _interest_between(terms: CardTerms, ledger: PathsLedger, first: int, last: int) -> Column:
    """Interest of days by what is owed at each one's end and that day's rate, rounded once; see `interest_between`."""
    scale = terms.rate_scale
    pieces: list[tuple[Column, int]] = []
    for begin, end, _rate, scaled in terms.rates_between(first, last):
        here = ledger.owed_days(begin, end)
        if end == last and (charged := ledger.charged.get(last)):
            here = here + np.maximum(0, charged - ledger.balance(last)) - ledger.owed(last)
        pieces.append((here, scaled))
    by = 100 * DAYS_A_YEAR * scale
    most = sum(int(here.max(initial=0)) * whole for here, whole in pieces)
    if 2 * most + by < _SAFE:
        cost = np.zeros_like(pieces[0][0])
        for here, whole in pieces:
            cost += here * whole
        return np.minimum(LARGEST_AMOUNT, quotients(cost, by))
    total = sum(here.astype(np.float64) * whole for here, whole in pieces)
    return np.minimum(LARGEST_AMOUNT, np.floor(total / by + 0.5)).astype(np.int64)
