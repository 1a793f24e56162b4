"""Flows that always happen, such as direct debits: what was due before today is taken to have happened as planned.

Nothing is written down for it: until the household confirms it (which records it), leaves it out or says otherwise, it
is worked out afresh, so it follows every change of the plan.
"""

from collections.abc import Sequence
from datetime import date, timedelta

from next_penny.core.books import Books
from next_penny.core.flows.loan_payments import payment_parts
from next_penny.core.forecast.projection import past_due
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Entry, Plan
from next_penny.core.recorded import overlay_books
from next_penny.core.settling import planned_legs

_PREFIX = "assumed:"


def is_assumed(entry: str) -> bool:
    """Whether an entry's id is that of one that is assumed, not recorded."""
    return entry.startswith(_PREFIX)


def assumed_entries(plan: Plan, books: Books, today: date) -> tuple[Entry, ...]:
    """What flows that always happen moved before today and nobody has confirmed; by day. `books` are as recorded."""
    yesterday = today - timedelta(days=1)
    entries = []
    for flow in plan.all_flows:
        opened = plan.flow_opened(flow)
        if not flow.always_happens or opened >= today:
            continue
        parts = payment_parts(plan, flow, books) if flow.kind == "loan_payment" else {}
        late = past_due(plan, flow, books, opened, yesterday)
        for nominal, landing, amount in zip(*(column.tolist() for column in late), strict=True):
            day, of = date.fromordinal(landing), date.fromordinal(nominal)
            legs = tuple(planned_legs(plan, flow.on(of), amount, day, parts.get(nominal)))
            entries.append(Entry(f"{_PREFIX}{flow.id}:{of}", day, flow.payee or flow.name, legs, flow.id, of))
    return tuple(sorted(entries, key=lambda entry: (entry.date, entry.id)))


def with_assumed(books: Books, entries: Sequence[Entry], today: date) -> Books:
    """The books with what is assumed in them, as if it had been recorded."""
    changes = [PlanChange("entry", entry.id, entry) for entry in entries]
    return overlay_books(books, changes, lambda id: None, today) if entries else books
