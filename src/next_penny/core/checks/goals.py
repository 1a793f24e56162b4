"""What is wrong with goals."""

from collections.abc import Iterator

from next_penny.core.checks.common import no_account
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.categories import Category
from next_penny.core.plan.kept.goals import CATEGORY_KINDS, Goal, GoalKind
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc, Problem

_MOST_YEARS = 30


def may_name(kind: GoalKind, named: Category | Account) -> bool:
    """Whether a goal of a kind may be about a category or an account."""
    if isinstance(named, Category):
        return named.kind == CATEGORY_KINDS.get(kind)
    return kind == "repay" if named.is_debt else kind == "save"


def goal_problems(plan: Plan) -> Iterator[Problem]:
    for number, goal in enumerate(plan.goals):
        loc: Loc = ("goals", number)
        if not goal.name.strip():
            yield Problem((*loc, "name"), "Give it a name.", "needed")
        yield from _days(goal, loc)
        yield from _target(goal, loc)
        yield from _categories(plan, goal, loc)
        yield from _accounts(plan, goal, loc)


def _days(goal: Goal, loc: Loc) -> Iterator[Problem]:
    if goal.per is None:
        for name, day in (("from", goal.start), ("until", goal.until)):
            if day is None:
                yield Problem((*loc, name), "Say which day, or make it a goal per month or year.", "needed")
    if goal.start is not None and goal.until is not None:
        if goal.until < goal.start:
            yield Problem((*loc, "until"), "It ends before it starts: choose a later end.", "end_before_start")
        elif goal.per is None and goal.until.year - goal.start.year > _MOST_YEARS:
            yield Problem((*loc, "until"), f"A goal is of {_MOST_YEARS} years at most: choose an earlier end.", "range")


def _target(goal: Goal, loc: Loc) -> Iterator[Problem]:
    if goal.amount is None and goal.share is None:
        yield Problem((*loc, "amount"), "Give an amount, or a share of income.", "needed")
    elif goal.amount is not None and goal.share is not None:
        yield Problem((*loc, "share"), "Give an amount or a share of income, not both.", "not_possible")
    elif goal.amount is not None and (goal.amount < 0 or (goal.amount == 0 and goal.kind != "spend_at_most")):
        yield Problem((*loc, "amount"), "A goal is more than zero.", "negative")
    elif goal.share is not None and not 0 < goal.share <= 100:
        yield Problem((*loc, "share"), "A share is more than 0 and at most 100 percent of income.", "range")


def _categories(plan: Plan, goal: Goal, loc: Loc) -> Iterator[Problem]:
    kind = CATEGORY_KINDS.get(goal.kind)
    if goal.kind == "give" and not goal.categories:
        yield Problem((*loc, "categories"), "Choose the categories that gifts are recorded in.", "needed")
    for at, id in enumerate(goal.categories):
        place: Loc = (*loc, "categories", at)
        category = plan.category_by_id.get(id)
        if kind is None:
            yield Problem(place, "Saving and repaying go by accounts, not by categories.", "not_used")
        elif category is None:
            yield Problem(place, f"There is no category “{id}”.", "unknown_id")
        elif not may_name(goal.kind, category):
            of = "money that comes in" if kind == "income" else "money that is spent"
            yield Problem(place, f"“{category.name}” is not of {of}: choose another category.", "other_kind")


def _accounts(plan: Plan, goal: Goal, loc: Loc) -> Iterator[Problem]:
    currencies: set[str] = set()
    for at, id in enumerate(goal.accounts):
        place: Loc = (*loc, "accounts", at)
        account = plan.account_by_id.get(id)
        if account is None:
            yield Problem(place, no_account(id), "unknown_id")
            continue
        currencies.add(account.currency)
        if may_name(goal.kind, account) and len(currencies) > 1:
            yield Problem(place, "These accounts are in several currencies: make a goal of each.", "other_currency")
        elif goal.kind in CATEGORY_KINDS:
            yield Problem(place, "This goal goes by categories, not by accounts.", "not_used")
        elif not may_name(goal.kind, account) and goal.kind == "repay":
            yield Problem(place, f"Nothing is owed on “{account.name}”: choose a loan, card or line.", "not_possible")
        elif not may_name(goal.kind, account):
            yield Problem(place, f"“{account.name}” is a debt: that is repaid, not saved.", "not_possible")
