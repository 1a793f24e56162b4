"""Changes laid over the household, as requests write them: an unsaved edit, its preview and its saving are one."""

from collections.abc import Sequence
from dataclasses import dataclass

from next_penny.api.http.errors import Refusal, Refused, from_validation
from next_penny.core.books.moment import Moment
from next_penny.core.edits.conflicts import change_problems
from next_penny.core.edits.notes import change_notes
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc, PlanError, Problem
from next_penny.formats.changes import proposing
from next_penny.formats.changes.reading import Resolved, UnreadableChange, resolve
from next_penny.formats.changes.request import ChangeRequest
from next_penny.store.moments import Reading


@dataclass(frozen=True, slots=True)
class WhatIf:
    """The household as it would be with changes, the changes as the core takes them, and what is worth saying."""

    moment: Moment
    changes: tuple[PlanChange, ...]
    notes: list[str]

    @property
    def entries(self) -> list[Entry]:
        """The entries that would be recorded."""
        return [change.item for change in self.changes if isinstance(change.item, Entry)]


def resolved(reading: Reading, requests: Sequence[ChangeRequest]) -> Resolved:
    """What requests change. Raises Refused, with each problem at its field."""
    try:
        return resolve(reading.moment, requests, reading.entry)
    except UnreadableChange as error:
        raise Refused(from_validation(error.errors, ("body", *error.loc))) from error
    except PlanError as error:
        raise Refused(_refusal(problem, problem.loc) for problem in error.problems) from error


def apply_changes(reading: Reading, requests: Sequence[ChangeRequest]) -> WhatIf:
    """The household with changes laid over it. Raises Refused, with each problem at its field."""
    asked = resolved(reading, requests)
    refuse_problems(reading, asked)
    after = apply_to_moment(reading.moment, asked.changes, reading.entry)
    return WhatIf(after, tuple(asked.changes), asked.notes + change_notes(reading.moment, after))


def apply_on_top(
    reading: Reading, change_requests: Sequence[ChangeRequest], requests: Sequence[ChangeRequest]
) -> WhatIf:
    """The household with a kept what-if's changes laid over it, and others over these.

    Raises Refused, with each problem at the field of the new request that brought it.
    """
    try:
        return apply_changes(reading, [*change_requests, *requests])
    except Refused as error:
        raise Refused(_counted_from(refusal, len(change_requests)) for refusal in error.refusals) from error


def _counted_from(refusal: Refusal, earlier: int) -> Refusal:
    """A refusal of several changes, of which the first are not the request's own."""
    loc = refusal.loc
    if loc[:2] != ["body", "changes"] or len(loc) < 3 or not isinstance(loc[2], int):
        return refusal
    if loc[2] >= earlier:
        return refusal.model_copy(update={"loc": [*loc[:2], loc[2] - earlier, *loc[3:]]})
    return refusal.model_copy(update={"loc": ["query", "what_if"]})


def refuse_problems(reading: Reading, asked: Resolved) -> None:
    """Raise Refused if the household could not be so, with each problem at the field that brought it."""
    problems = change_problems(reading.moment, asked.plan, asked.changes, reading)
    if problems:
        raise Refused(at_field(problem, asked) for problem in problems)


_LISTS = {
    "accounts": "account",
    "categories": "category",
    "flows": "flow",
    "allowances": "allowance",
    "goals": "goal",
    "payee_rules": "payee_rule",
    "rates": "rate",
}


def at_field(problem: Problem, asked: Resolved) -> Refusal:
    """A problem of the changed plan, placed at the change that brought it where one did."""
    kind, id, field = _item_of(problem, asked.plan)
    for change, number in zip(asked.changes, asked.origins, strict=True):
        if (change.kind, change.id) == (kind, id):
            loc: Loc = ("changes", number, "value", *field) if change.item is not None else ("changes", number)
            return _refusal(problem, loc)
    return _refusal(problem, problem.loc)


def _item_of(problem: Problem, plan: Plan) -> tuple[str, str, Loc]:
    """The kind and id of the item that a problem is about, and its field."""
    kind, field = str(problem.loc[0]), problem.loc[1:]
    if kind in _LISTS and len(problem.loc) > 1:
        return _LISTS[kind], getattr(plan, kind)[int(problem.loc[1])].id, problem.loc[2:]
    if kind in ("currency", "country"):
        return "household", "", problem.loc
    return (kind, str(problem.loc[1]), problem.loc[2:]) if len(problem.loc) > 1 else (kind, "", field)


def _refusal(problem: Problem, loc: Loc) -> Refusal:
    return Refusal(loc=["body", *loc], msg=problem.message, type=problem.kind)


def requests_for_plan(plan: Plan, changes: Sequence[PlanChange]) -> list[ChangeRequest]:
    """The same for changes that record nothing, of a plan that may be a what-if."""
    return proposing.requests_for(plan, changes, lambda id: False)


def requests_for(reading: Reading, changes: Sequence[PlanChange]) -> list[ChangeRequest]:
    """Changes that the core proposes, as the interface sends them back to preview or save them."""
    return proposing.requests_for(reading.moment.plan, changes, lambda id: reading.entry(id) is not None)
