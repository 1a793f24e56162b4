"""Sweeps: an account kept between two amounts by moving money to and from another (docs/rules.md, Sweeps)."""

from collections.abc import Iterator
from datetime import date

from next_penny.core.balance_terms import SweepTerms
from next_penny.core.balances.ledger import Ledger
from next_penny.core.balances.making import Act, Facts, Made, Step
from next_penny.core.dates.recurrence import Recurrence, parse_rule, recurrence_days


class Sweep:
    """One account's sweep in the walk; it moves nothing before both accounts are open."""

    def __init__(self, terms: SweepTerms, own: Ledger, other: Ledger, order: int) -> None:
        self._terms, self._own, self._other, self._order = terms, own, other, order

    def agenda(self, now: int, until: int) -> Iterator[Act]:
        """The days on which it looks, from today on."""
        opened = max(self._own.opened, self._other.opened)
        start = self._terms.start or date.fromordinal(opened)
        rules = tuple(parse_rule(text) for text in self._terms.rules)
        for day in recurrence_days(Recurrence(rules=rules, start=start), max(now, opened), until):
            yield Act(day, Step.SWEEP, self._order, self._sweep)

    def _sweep(self, day: int) -> Made | None:
        terms, own, other = self._terms, self._own, self._other
        balance = own.balance(day)
        if balance < terms.least:
            amount = min(terms.least - balance, max(0, other.balance(day) - other.account.floor))
            facts = Facts(base=terms.least, how="below")
        elif terms.most is not None and balance > terms.most:
            amount, facts = terms.most - balance, Facts(base=terms.most, how="above")
        else:
            return None
        if amount == 0:
            return None
        legs = ((own.account.id, amount), (other.account.id, -amount))
        return Made(day, "sweep", own.account.id, None, 0, legs, facts)
