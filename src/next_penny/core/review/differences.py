"""What one household has other than another: before a document takes a household's place."""

from collections.abc import Iterable, Sequence
from typing import NamedTuple, Protocol

from next_penny.core.dates.sentences import full_day
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan

# As many names as one reads before deciding.
_NAMED = 12


class Difference(NamedTuple):
    """Of one kind, the names of what would come, be another, and go."""

    kind: str
    added: list[str]
    changed: list[str]
    removed: list[str]

    @property
    def names(self) -> list[str]:
        """The first of them all."""
        return [*self.removed, *self.changed, *self.added][:_NAMED]


class _Named(Protocol):
    @property
    def id(self) -> str: ...


def differences(
    plan: Plan, recorded: Sequence[Entry], other: Plan, other_recorded: Sequence[Entry]
) -> list[Difference]:
    """What `other` has other than `plan`, kind by kind; kinds without a difference are left out."""
    kinds: list[tuple[str, Iterable[_Named], Iterable[_Named]]] = [
        ("account", plan.accounts, other.accounts),
        ("category", plan.categories, other.categories),
        ("flow", plan.flows, other.flows),
        ("goal", plan.goals, other.goals),
        ("allowance", plan.allowances, other.allowances),
        ("entry", recorded, other_recorded),
        ("what-if", plan.what_ifs, other.what_ifs),
    ]
    differences = [_difference(*kind) for kind in kinds]
    before, after = (
        (
            one_plan.household,
            one_plan.rates,
            one_plan.way_out,
            one_plan.statement_checks,
            one_plan.readings,
            one_plan.statements,
            one_plan.payee_rules,
        )
        for one_plan in (plan, other)
    )
    if before != after:
        differences.append(Difference("setting", [], ["the household's settings"], []))
    return [difference for difference in differences if difference.names]


def _difference(kind: str, before: Iterable[_Named], after: Iterable[_Named]) -> Difference:
    before_by_id, given = {item.id: item for item in before}, {item.id: item for item in after}
    return Difference(
        kind,
        [_name(given[id]) for id in given if id not in before_by_id],
        [_name(given[id]) for id in given if id in before_by_id and given[id] != before_by_id[id]],
        [_name(before_by_id[id]) for id in before_by_id if id not in given],
    )


def _name(item: _Named) -> str:
    if isinstance(item, Entry):
        return f"{item.payee or 'an entry'}, {full_day(item.date)}"
    return str(getattr(item, "name", item.id))
