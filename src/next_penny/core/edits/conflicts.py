"""What forbids a change: something still uses what is to go, an occurrence would be settled twice, and the like."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import date
from typing import Protocol

from next_penny.core.books.moment import Moment
from next_penny.core.checks.entries import check_entry
from next_penny.core.checks.in_use import why_in_use
from next_penny.core.checks.plan import check
from next_penny.core.checks.statements import lock_problems, ticked_problems
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Problem


class Records(Protocol):
    """What is recorded, asked of whoever keeps it, at the moment in which a change is made."""

    def entry(self, id: str) -> Entry | None: ...
    def times_named(self, kind: str, id: str) -> int: ...
    def has_receipt(self, file: str) -> bool: ...
    def is_remembered(self, kind: str, id: str) -> bool: ...


def change_problems(before: Moment, after: Plan, changes: Sequence[PlanChange], records: Records) -> list[Problem]:
    """What forbids changes that lead from a moment to another plan; first of all, that something uses what is to go."""
    in_use = [*_deletion_problems(after, changes, records), *_made_no_more(before.plan, after, records)]
    if in_use:
        return in_use
    # A plan that is held already was checked when it came to be.
    of_plan = [] if after is before.plan else check(after)
    entries = [change.item for change in changes if isinstance(change.item, Entry)]
    of_entries = [
        problem.under("entry", entry.id)
        for entry in entries
        for problem in (*check_entry(after, entry), *_receipt_problem(entry, records))
    ]
    locked = lock_problems(before.plan, after, changes, records)
    return [*of_plan, *of_entries, *_settled_twice(before, changes, records), *locked]


def _deletion_problems(after: Plan, changes: Sequence[PlanChange], records: Records) -> Iterator[Problem]:
    for change in changes:
        if change.item is not None or change.kind not in ("account", "category", "flow"):
            continue
        reason, recorded = why_in_use(after, change.kind, change.id), records.times_named(change.kind, change.id)
        if reason is None and recorded:
            several = "entry names" if recorded == 1 else "entries name"
            reason = f"{recorded} recorded {several} this {change.kind}: what has happened is kept."
            if change.kind == "flow":
                reason += " It can be ended today in place of that."
        elif reason is None and records.is_remembered(change.kind, change.id):
            instead = "Close it" if change.kind == "account" else "Retire it"
            reason = f"What was expected names this {change.kind}, and stays as it was. {instead} in place of that."
        if reason is not None:
            yield Problem((change.kind, change.id), reason, "in_use")


def _made_no_more(before: Plan, after: Plan, records: Records) -> Iterator[Problem]:
    """What an account makes of itself stays while entries name it: a card, savings that earn, money that comes back."""
    made = before.maker_accounts | {flow.id: lent for flow in before.all_flows if (lent := before.lent_by(flow))}
    for id, account in made.items():
        if id not in after.flow_by_id and account.id in after.account_by_id and records.times_named("flow", id):
            message = f"Payments or interest of “{account.name}” are recorded: what has happened is kept."
            yield Problem(("account", account.id), message, "in_use")


def _settled_twice(before: Moment, changes: Sequence[PlanChange], records: Records) -> Iterator[Problem]:
    """An occurrence is settled once."""
    moving = [change for change in changes if change.kind == "entry"]
    replaced = [existing for change in moving if (existing := records.entry(change.id)) is not None]
    free = {(existing_entry.flow, existing_entry.settles) for existing_entry in replaced}
    made: set[tuple[str | None, date | None]] = set()
    for change in moving:
        entry = change.item
        if not isinstance(entry, Entry) or entry.flow is None or entry.settles is None:
            continue
        occurrence = (entry.flow, entry.settles)
        is_settled = entry.settles.toordinal() in before.recorded.settled.get(entry.flow, {})
        if occurrence in made or (is_settled and occurrence not in free):
            yield Problem(("entry", change.id, "nominal"), _twice(entry), "settled_twice")
        made.add(occurrence)


def _twice(entry: Entry) -> str:
    return f"The occurrence of {entry.nominal} is settled already: an occurrence is settled once."


_NO_RECEIPT = "This household's file does not hold that receipt: attach it again."


def _receipt_problem(entry: Entry, records: Records) -> Iterator[Problem]:
    if entry.receipt is not None and not records.has_receipt(entry.receipt.file):
        yield Problem(("receipt",), _NO_RECEIPT, "unknown_id")


def receipt_problems(recorded: Sequence[Entry], records: Records) -> Iterator[Problem]:
    """Receipts of a whole list of entries that are not kept."""
    for number, entry in enumerate(recorded):
        for problem in _receipt_problem(entry, records):
            yield problem.under("entries", number)


def entry_list_problems(plan: Plan, recorded: Iterable[Entry]) -> Iterator[Problem]:
    """What is wrong with a whole list of entries."""
    seen: set[str] = set()
    settled: set[tuple[str, date]] = set()
    recorded = tuple(recorded)
    yield from ticked_problems(plan, recorded)
    for number, entry in enumerate(recorded):
        if entry.id in seen:
            yield Problem(("entries", number, "id"), f"The id “{entry.id}” is used twice in entries.", "duplicate_id")
        seen.add(entry.id)
        if entry.flow is not None and entry.settles is not None:
            if (entry.flow, entry.settles) in settled:
                yield Problem(("entries", number, "nominal"), _twice(entry), "settled_twice")
            settled.add((entry.flow, entry.settles))
        for problem in check_entry(plan, entry):
            yield problem.under("entries", number)


def merge_problem(mapping: Mapping[str, Category], source: str, into: str) -> Problem | None:
    """Why one category cannot be merged into another; None when it can."""
    for field, id in (("from", source), ("into", into)):
        if id not in mapping:
            return Problem((field,), f"There is no category “{id}”.", "unknown_id")
    if source == into:
        return Problem(("into",), "A category cannot be merged into itself: choose another.", "same_category")
    if mapping[source].kind != mapping[into].kind:
        return Problem(("into",), "Money in and money out cannot be merged.", "other_kind")
    return None
