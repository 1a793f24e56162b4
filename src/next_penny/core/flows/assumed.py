"""Flows that always happen, such as direct debits: what was due before today is taken to have happened as planned.

Nothing is written down for it: until the household confirms it (which records it), leaves it out or says otherwise, it
is worked out afresh, so it follows every change of the plan. Here, too, moments begin: from what is recorded, and with
changes laid over them.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date

from next_penny.core.books.assumed_ids import ASSUMED_PREFIX
from next_penny.core.books.books import Books
from next_penny.core.books.moment import Cache, Moment
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import past_due
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan


def moment_of(plan: Plan, recorded: Books, today: date, cache: Cache | None = None) -> Moment:
    """A household as recorded, with what always happens assumed; it begins with what is remembered."""
    return with_assumed(Moment(plan, today, recorded, (), recorded, Cache(cache)))


def apply_to_moment(
    moment: Moment, changes: Sequence[PlanChange], recorded: Callable[[str], Entry | None]
) -> Moment:  # fmt: skip
    """The moment as it would be with changes; `recorded` gives the entry of an id as it is now, if there is one."""
    books = apply_to_books(moment.recorded, changes, recorded, moment.today)
    return with_assumed(moment.replaced(apply(moment.plan, changes), books))


def with_assumed(moment: Moment) -> Moment:
    """A moment as recorded, with what is assumed in its books as if it had been recorded."""
    entries = _assumed_entries(moment)
    if not entries:
        return moment
    changes = [PlanChange("entry", entry.id, entry) for entry in entries]
    books = apply_to_books(moment.recorded, changes, lambda id: None, moment.today)
    return replace(moment, assumed=entries, books=books, _answers={})


def _assumed_entries(moment: Moment) -> tuple[Entry, ...]:
    """What flows that always happen moved before today and nobody has confirmed; by day."""
    entries = []
    for flow in moment.plan.all_flows:
        if not flow.always_happens:
            continue
        maker = maker_of(moment, flow)
        for nominal, landing, amount in zip(*(column.tolist() for column in past_due(moment, flow)), strict=True):
            day, of = date.fromordinal(landing), date.fromordinal(nominal)
            legs = tuple(maker.legs(of, amount, day, None))
            entries.append(Entry(f"{ASSUMED_PREFIX}{flow.id}:{of}", day, maker.payee(of), legs, flow.id, of))
    return tuple(sorted(entries, key=lambda entry: (entry.date, entry.id)))
