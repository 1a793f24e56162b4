"""The demo household: invented people in a place that does not exist, dated from today so that they never age."""

from datetime import date

from next_penny.demo.household import demo_plan
from next_penny.store.store import Store


def fill_with_demo(store: Store, today: date) -> None:
    """Put the demo household into a file."""
    plan, entries = demo_plan(today)
    store.replace(today, plan, entries, "Moved in")
    store.forget_history()
