"""Sweeps: an account kept between two amounts by moving money to and from another (docs/rules.md, Sweeps)."""

from collections.abc import Iterator
from datetime import date
from typing import Generic

from next_penny.core.accounts.generated import Act, Facts, Generated, Made, Step, Walked
from next_penny.core.dates.recurrence import Recurrence, recurrence_days
from next_penny.core.dates.rules import parse_rule
from next_penny.core.plan.accounts import Account


class SweepDays(Generic[Made]):
    """On which days a sweep looks; it moves nothing before both accounts are open."""

    def __init__(self, account: Account, partner: Account, now: int, order: int) -> None:
        assert account.sweep is not None
        self._terms, self._order, self._now = account.sweep, order, now
        self._opened = max(one_account.opening.date.toordinal() for one_account in (account, partner))

    def _sweep(self, day: int) -> Made | None:
        """Move what is missing or too much on a day."""
        raise NotImplementedError

    def agenda(self, until: int) -> Iterator[Act[Made]]:
        """The days on which it looks, from today on."""
        opened = self._opened
        start = self._terms.start or date.fromordinal(opened)
        rules = tuple(parse_rule(text) for text in self._terms.rules)
        for day in recurrence_days(Recurrence(rules=rules, start=start), max(self._now, opened), until):
            yield Act(day, Step.SWEEP, self._order, self._sweep)


class Sweep(SweepDays[Generated]):
    """One account's sweep in the walk."""

    def __init__(self, account: Account, walked: Walked, order: int) -> None:
        assert account.sweep is not None
        self._own, self._other = walked.ledgers[account.id], walked.ledgers[account.sweep.partner]
        super().__init__(account, self._other.account, walked.passed.now, order)

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
