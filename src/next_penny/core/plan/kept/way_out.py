"""The way out of debt that a household wants, and the one that it has taken, as data.

Months are month numbers, amounts integers of minor units (docs/rules.md, Paying off several debts).
"""

from bisect import bisect_right
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Literal, NamedTuple

from propcache.api import cached_property

from next_penny.core.plan.terms.cards import StatementChange
from next_penny.core.plan.terms.loans import Extra

Strategy = Literal["smallest_balance", "highest_rate", "custom", "minimums"]
STRATEGIES: tuple[Strategy, ...] = ("smallest_balance", "highest_rate", "custom", "minimums")
# What a household may choose: one of the orders, or whatever costs the least interest.
Choice = Literal["smallest_balance", "highest_rate", "custom", "minimums", "cheapest"]
Cap = Literal["none", "affordable"]
Wanted = Literal["affordable", "cheapest"]


class MonthAmount(NamedTuple):
    """An amount of one month, or from one on."""

    month: int
    amount: int


@dataclass(frozen=True)
class Wish:
    """How debts are to be paid off.

    order: ids, for `custom`; debts that it does not name come after it. extra_changes: from a month on, another monthly
    extra. one_time: beside it, in one month. aimed: in one month, at one debt before all others. roll_freed: whether
    what no debt needs any more goes on to the next.
    """

    strategy: Strategy = "highest_rate"
    order: tuple[str, ...] = ()
    extra_monthly: int = 0
    extra_changes: tuple[MonthAmount, ...] = ()
    one_time: tuple[MonthAmount, ...] = ()
    roll_freed: bool = True
    aimed: Mapping[str, MonthAmount] = field(default_factory=dict)

    @cached_property
    def _steps(self) -> tuple[list[int], list[int]]:
        steps = sorted(dict(self.extra_changes).items())
        return [month for month, _ in steps], [self.extra_monthly, *(amount for _, amount in steps)]

    @cached_property
    def _once(self) -> dict[int, int]:
        once: dict[int, int] = {}
        for month, amount in self.one_time:
            once[month] = once.get(month, 0) + amount
        return once

    def own_money(self, month: int) -> int:
        """What the household adds to the minimums in a month."""
        months, amounts = self._steps
        return amounts[bisect_right(months, month)] + self._once.get(month, 0)


@dataclass(frozen=True, slots=True)
class Asked:
    """What a household asks of its way out of debt.

    debts: account ids; None for all that are owed. from_account: what the extra comes from. until: how far the forecast
    is looked at for what it bears; None for as long as the debts last. cap: whether no more is paid than it bears.
    want: what is to be told beside it.
    """

    start: int
    choice: Choice
    wish: Wish
    debts: tuple[str, ...] | None = None
    from_account: str | None = None
    until: date | None = None
    cap: Cap = "none"
    want: tuple[Wanted, ...] = ()


class ExpectedMonth(NamedTuple):
    """What a plan pays on a debt in a month, and what is then owed."""

    paid: int
    closing: int


@dataclass(frozen=True, slots=True)
class ExpectedDebt:
    """A debt as the plan that was adopted has it, from its first month to the one in which it is cleared."""

    account: str
    opening: int
    months: tuple[ExpectedMonth, ...]


@dataclass(frozen=True, slots=True)
class Replaced:
    """What a plan put out of the way on an account when it was adopted; it comes back when the plan is dropped."""

    account: str
    extras: tuple[Extra, ...] = ()
    changes: tuple[StatementChange, ...] = ()


@dataclass(frozen=True, slots=True)
class WayOut:
    """A plan that was adopted on a day: what was asked, and what it then came to."""

    asked: Asked
    on: date
    expected: tuple[ExpectedDebt, ...] = ()
    replaced: tuple[Replaced, ...] = ()

    @property
    def account_ids(self) -> frozenset[str]:
        """Every account that it names."""
        named = {*(self.asked.debts or ()), *(debt.account for debt in self.expected)}
        return frozenset(named | ({self.asked.from_account} if self.asked.from_account else set()))
