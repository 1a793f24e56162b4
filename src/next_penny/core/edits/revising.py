"""Flows and allowances revised from a day on, or as if it had always been so.

What was planned for later stays unless told otherwise, and that is said (`notes`).
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Any, Generic, NamedTuple, TypeVar

from next_penny.core.dates.sentences import full_day
from next_penny.core.flows.amounts import amount_on, hourly_on, rules_on
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance, LimitRevision
from next_penny.core.plan.flows import Flow, Revision
from next_penny.core.problems import refused

Item = TypeVar("Item", Flow, Allowance, Account)


# What of a flow may hold from a day on; all else is of the flow as a whole.
REVISABLE = ("amount", "rules", "from_account", "to_account", "category", "hourly")


class Edited(NamedTuple, Generic[Item]):
    """The item as edited, and what is worth saying about it."""

    item: Item
    notes: list[str]


def revise_flow(
    flow: Flow, values: Mapping[str, object], start: date | None, today: date, *, keep_later: bool = True
) -> Edited[Flow]:
    """The flow with other values from a day on; without a day, as if it had always been so.

    What is revised is kept, even where it changes nothing yet: it holds when what is before it becomes another. What
    is no matter of a day is set for the whole flow.
    """
    whole = {name: value for name, value in values.items() if name not in REVISABLE}
    changed = {name: value for name, value in values.items() if name in REVISABLE}
    flow = replace(flow, **whole)  # type: ignore[arg-type]
    if start is None:
        return _always(flow, changed, today)
    in_force = _in_force(flow, start)
    if in_force["hourly"] is not None and changed.get("hourly", in_force["hourly"]) == in_force["hourly"]:
        changed.pop("amount", None)  # it follows from the hours
    if not changed:
        return Edited(flow, [])
    same = next((revision for revision in flow.revisions if revision.start == start), Revision(start))
    revision = replace(same, **changed)  # type: ignore[arg-type]
    others = [
        one_revision
        for one_revision in flow.revisions
        if one_revision.start < start or (keep_later and one_revision.start > start)
    ]
    later = [other.start for other in others if other.start > start]
    return Edited(replace(flow, revisions=_in_order([*others, revision])), stays_note(later))


def _in_force(flow: Flow, day: date) -> dict[str, object]:
    then = flow.on(day)
    return {
        "amount": amount_on(flow, day), "rules": rules_on(flow, day), "hourly": hourly_on(flow, day),
        "from_account": then.from_account, "to_account": then.to_account, "category": then.category,
    }  # fmt: skip


def _always(flow: Flow, changed: Mapping[str, object], today: date) -> Edited[Flow]:
    """What is in force today is set as if it had always been so: revisions until today set it no more."""
    in_force = _in_force(flow, today)
    changed = {name: value for name, value in changed.items() if value != in_force[name]}
    cleared = dict.fromkeys(changed)
    revisions = []
    for revision in flow.revisions:
        left = replace(revision, **cleared) if revision.start <= today else revision  # type: ignore[arg-type]
        if left != Revision(left.start):
            revisions.append(left)
    later = [revision.start for revision in revisions if revision.start > today]
    revised = replace(flow, **changed, revisions=_in_order(revisions))  # type: ignore[arg-type]
    return Edited(revised, stays_note(later) if changed else [])


def take_back(item: Flow | Allowance, start: date | None) -> Edited[Any]:
    """The flow or allowance without what is planned from a day on. Raises PlanError where nothing begins then."""
    if start not in [revision.start for revision in item.revisions]:
        raise refused("from", "Nothing is planned from that day on: it may be taken back already.", "unknown_id")
    revisions: Any = tuple(revision for revision in item.revisions if revision.start != start)
    return Edited(replace(item, revisions=revisions), [])


def _in_order(revisions: Sequence[Revision]) -> tuple[Revision, ...]:
    return tuple(sorted(revisions, key=lambda revision: revision.start))


def stays_note(later: Sequence[date]) -> list[str]:
    if not later:
        return []
    wording = f"What is planned from {full_day(min(later))} stays as it is"
    return [f"{wording}, and {len(later) - 1} more." if len(later) > 1 else f"{wording}."]


def revise_allowance(
    allowance: Allowance, values: Mapping[str, object], start: date | None, today: date, *, keep_later: bool = True
) -> Edited[Allowance]:
    """The allowance with other values, its limit from a day on, or as if it had always been so."""
    whole = {name: value for name, value in values.items() if name != "limit"}
    allowance = replace(allowance, **whole)  # type: ignore[arg-type]
    limit = values.get("limit")
    if not isinstance(limit, int):
        return Edited(allowance, [])
    by_day = {revision.start: revision.limit for revision in allowance.revisions}
    if start is None:
        later = {day: amount for day, amount in by_day.items() if day > today}
        allowance = replace(allowance, limit=limit)
    else:
        later = {day: amount for day, amount in by_day.items() if day > start} if keep_later else {}
    earlier = {day: amount for day, amount in by_day.items() if start is not None and day < start}
    own = {start: limit} if start is not None else {}
    revisions = tuple(LimitRevision(day, amount) for day, amount in sorted({**earlier, **own, **later}.items()))
    return Edited(replace(allowance, revisions=revisions), stays_note(list(later)))
