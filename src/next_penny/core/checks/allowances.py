"""What is wrong with allowances."""

from collections import defaultdict
from collections.abc import Iterator
from datetime import date

from next_penny.core.checks.common import no_account
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc, Problem


def allowance_problems(plan: Plan) -> Iterator[Problem]:
    categories = {category.id: category.name for category in plan.categories}
    for number, allowance in enumerate(plan.allowances):
        loc: Loc = ("allowances", number)
        if not allowance.name.strip():
            yield Problem((*loc, "name"), "Give it a name.", "needed")
        if allowance.account not in plan.account_by_id:
            yield Problem((*loc, "account"), no_account(allowance.account), "unknown_id")
        if allowance.limit < 0 or any(revision.limit < 0 for revision in allowance.revisions):
            yield Problem((*loc, "limit"), "A limit is zero or more.", "negative")
        if not allowance.categories:
            yield Problem((*loc, "categories"), "Choose at least one category.", "needed")
        if allowance.until is not None and allowance.start is not None and allowance.until < allowance.start:
            yield Problem((*loc, "until"), "It ends before it starts: choose a later end.", "end_before_start")
        for at, category in enumerate(allowance.categories):
            if category not in categories:
                yield Problem((*loc, "categories", at), f"There is no category “{category}”.", "unknown_id")
    yield from _shared_categories(plan, categories)


def _shared_categories(plan: Plan, names: dict[str, str]) -> Iterator[Problem]:
    """A category that two allowances limit on some day together: by when each begins, only neighbours can meet."""
    by_category: defaultdict[str, list[tuple[date, date, int]]] = defaultdict(list)
    for number, allowance in enumerate(plan.allowances):
        for category in dict.fromkeys(allowance.categories):
            by_category[category].append((allowance.start or date.min, allowance.until or date.max, number))
    for category, lives in by_category.items():
        longest: tuple[date, int] | None = None
        for begin, end, number in sorted(lives):
            if longest is not None and begin <= longest[0]:
                later, earlier = max(number, longest[1]), min(number, longest[1])
                at = plan.allowances[later].categories.index(category)
                other = plan.allowances[earlier].name
                message = f"“{names.get(category, category)}” is in the allowance “{other}” already."
                yield Problem(("allowances", later, "categories", at), message, "category_in_two")
            if longest is None or end > longest[0]:
                longest = (end, number)
