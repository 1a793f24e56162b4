"""Sweeps: an account kept between two amounts by moving money to and from another (docs/rules.md, Sweeps)."""

from collections.abc import Iterator
from datetime import date

from next_penny.core.accounts.generated import Act, Facts, Generated, Step, Walked
from next_penny.core.dates.recurrence import Recurrence, recurrence_days
from next_penny.core.dates.rules import parse_rule
from next_penny.core.plan.accounts import Account


class Sweep:
    """One account's sweep in the walk; it moves nothing before both accounts are open."""

    def __init__(self, account: Account, walked: Walked, order: int) -> None:
        assert account.sweep is not None
        self._terms, self._order, self._now = account.sweep, order, walked.passed.now
        self._own, self._other = walked.ledgers[account.id], walked.ledgers[account.sweep.partner]

    def agenda(self, until: int) -> Iterator[Act]:
        """The days on which it looks, from today on."""
        opened = max(self._own.opened, self._other.opened)
        start = self._terms.start or date.fromordinal(opened)
        rules = tuple(parse_rule(text) for text in self._terms.rules)
        for day in recurrence_days(Recurrence(rules=rules, start=start), max(self._now, opened), until):
            yield Act(day, Step.SWEEP, self._order, self._sweep)

    def _sweep(self, day: int) -> Generated | None:
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
        return Generated(day, "sweep", own.account.id, None, 0, legs, facts)
