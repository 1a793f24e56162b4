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
    found = [_difference(*each) for each in kinds]
    before, after = (
        (
            each.household,
            each.rates,
            each.way_out,
            each.statement_checks,
            each.readings,
            each.statements,
            each.payee_rules,
        )
        for each in (plan, other)
    )
    if before != after:
        found.append(Difference("setting", [], ["the household's settings"], []))
    return [each for each in found if each.names]


def _difference(kind: str, before: Iterable[_Named], after: Iterable[_Named]) -> Difference:
    held, given = {each.id: each for each in before}, {each.id: each for each in after}
    return Difference(
        kind,
        [_name(given[id]) for id in given if id not in held],
        [_name(given[id]) for id in given if id in held and given[id] != held[id]],
        [_name(held[id]) for id in held if id not in given],
    )


def _name(item: _Named) -> str:
    if isinstance(item, Entry):
        return f"{item.payee or 'an entry'}, {full_day(item.date)}"
    return str(getattr(item, "name", item.id))
