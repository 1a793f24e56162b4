"""Limits for many categories at once: an allowance a line, its category made where there is none of that name."""

from collections.abc import Callable, Iterator, Sequence
from datetime import date
from typing import Literal, NamedTuple

from next_penny.core.money import rounded_quotient
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance, Period
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError, Problem

Every = Literal["week", "two_weeks", "month", "quarter", "year"]
# What is said for longer is held back by the month: its share. By what is said, the period and how many shares.
_HELD_BACK: dict[Every, tuple[Period, int]] = {
    "week": ("week", 1), "two_weeks": ("two_weeks", 1), "month": ("month", 1), "quarter": ("month", 3),
    "year": ("month", 12),
}  # fmt: skip


class LimitLine(NamedTuple):
    """A category by its name, and how much may be spent in it every so often, in minor units."""

    category: str
    limit: int
    every: Every


class LimitsTable(NamedTuple):
    """The allowances in the order of their lines, and the changes that put them into the plan."""

    allowances: list[Allowance]
    changes: list[PlanChange]


def read_limits(
    plan: Plan, lines: Sequence[LimitLine], account: Account, begin: date, new_id: Callable[[], str]
) -> LimitsTable:
    """The allowances that lines say, paid from an account since a day. Raises PlanError at `lines`, place and field."""
    problems = list(_problems(plan, lines))
    if problems:
        raise PlanError(problems)
    table = LimitsTable([], [])
    for line in lines:
        name = line.category.strip()
        category = _named(plan, name)
        if category is None:
            category = Category(new_id(), name)
            table.changes.append(PlanChange("category", category.id, category))
        period, _ = _HELD_BACK[line.every]
        allowance = Allowance(
            new_id(), category.name, _share(line.limit, line.every), account.id, period, categories=(category.id,),
            timing="evenly", start=begin,
        )  # fmt: skip
        table.allowances.append(allowance)
        table.changes.append(PlanChange("allowance", allowance.id, allowance))
    return table


def _problems(plan: Plan, lines: Sequence[LimitLine]) -> Iterator[Problem]:
    limited, seen = _limited(plan), set[str]()
    for place, (said, limit, every) in enumerate(lines):
        name, at = said.strip(), ("lines", place, "category")
        category = _named(plan, name)
        if not name:
            yield Problem(at, "Name the category.", "needed")
        elif category is not None and category.kind != "expense":
            yield Problem(at, f"“{category.name}” is income: choose another name.", "kind")
        elif category is not None and category.id in limited:
            yield Problem(at, f"“{category.name}” has an allowance already.", "taken")
        elif name.casefold() in seen:
            yield Problem(at, f"“{name}” stands here twice.", "taken")
        if _share(limit, every) <= 0:
            yield Problem(("lines", place, "limit"), "Write an amount above zero.", "range")
        seen.add(name.casefold())


def _share(limit: int, every: Every) -> int:
    """What a period of the allowance has of a limit that is said for so long."""
    return rounded_quotient(limit, _HELD_BACK[every][1])


def _named(plan: Plan, name: str) -> Category | None:
    """The category of a name that is still offered: what was merged or retired counts nothing any more."""
    named = (category for category in plan.categories if category.name.casefold() == name.casefold())
    return next((category for category in named if not category.retired), None)


def _limited(plan: Plan) -> set[str]:
    return {id for allowance in plan.allowances if allowance.until is None for id in allowance.categories}


def without_limit(plan: Plan) -> list[str]:
    """The categories of spending that no allowance in force limits, by name."""
    limited = _limited(plan)
    return [category.name for category in plan.categories
            if category.kind == "expense" and not category.retired and category.id not in limited]  # fmt: skip
