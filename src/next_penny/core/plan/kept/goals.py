"""Goals as data: what a household wants to earn, save, repay, give, or spend no more than."""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from next_penny.core.plan.categories import CategoryKind

MOST_GOALS = 200

GoalKind = Literal["earn", "save", "repay", "give", "spend_at_most"]
Per = Literal["month", "year"]

# Which categories a goal may name; saving and repaying name accounts.
CATEGORY_KINDS: dict[GoalKind, CategoryKind] = {"earn": "income", "give": "expense", "spend_at_most": "expense"}
# What is done with income: what several of these ask for together is held against it.
USES: tuple[GoalKind, ...] = ("save", "repay", "give", "spend_at_most")


@dataclass(frozen=True)
class Goal:
    """A target for each calendar month or year, or, without `per`, for the days from `start` until `until`.

    amount: minor units of the household's currency. share: percent of the period's income. One of them is given.
    Without categories it is about all income or spending, without accounts about all savings or debts.
    """

    id: str
    name: str
    kind: GoalKind
    per: Per | None = None
    start: datetime.date | None = None
    until: datetime.date | None = None
    amount: int | None = None
    share: Decimal | None = None
    categories: tuple[str, ...] = ()
    accounts: tuple[str, ...] = ()


def merged(goals: Iterable[Goal], source: str, into: str) -> tuple[Goal, ...]:
    """Goals that name one category in the place of another, each once."""
    return tuple(
        replace(
            goal,
            categories=tuple(dict.fromkeys(into if category == source else category for category in goal.categories)),
        )
        for goal in goals
    )
