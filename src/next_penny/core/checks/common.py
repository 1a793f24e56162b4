"""What several checks of a plan say in the same words."""

from collections.abc import Iterable, Iterator

from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc, Problem


def no_account(id: str) -> str:
    return f"There is no account “{id}”."


def unique_ids(name: str, ids: Iterable[str]) -> Iterator[Problem]:
    """A problem at every id that its list has already."""
    seen: set[str] = set()
    for number, id in enumerate(ids):
        if id in seen:
            yield Problem(
                (name, number, "id"), f"The id “{id}” is used twice in {name}: ids are unique.", "duplicate_id"
            )
        seen.add(id)


def unknown_currency(code: str) -> str:
    return f"“{code}” is not a currency: give a code such as USD or EUR."


TOO_LARGE = "The amount is too large to be counted: check it."


def property_problems(plan: Plan, id: str, loc: Loc) -> Iterator[Problem]:
    named = plan.account_by_id.get(id)
    if named is None:
        yield Problem(loc, no_account(id), "unknown_id")
    elif named.kind != "asset":
        yield Problem(loc, "Choose an account of something that is owned.", "not_possible")
