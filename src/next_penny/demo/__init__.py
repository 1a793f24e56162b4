"""The demo household: invented people in a place that does not exist, dated from today so that they never age."""

from datetime import date, timedelta

from next_penny.core.books.books import books_from_entries
from next_penny.core.dates.calendar import EARLIEST
from next_penny.core.flows.assumed import moment_of
from next_penny.core.plan.memory import Memory
from next_penny.core.review.remembering import landed
from next_penny.demo.household import demo_plan
from next_penny.store.store import Store


def fill_with_demo(store: Store, today: date) -> None:
    """Put the demo household into a file."""
    plan, entries = demo_plan(today)
    moment = moment_of(plan, books_from_entries(entries, today), today)
    until = today - timedelta(days=1)
    remembered = Memory(tuple(landed(moment, EARLIEST, until)), until)
    store.replace(today, plan, entries, "Moved in", remembered)
    store.forget_history()
