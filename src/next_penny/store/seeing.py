"""What the household has looked at, kept beside the plan and outside undo."""

from collections.abc import Collection

from next_penny.store.moments import Reading
from next_penny.store.sql import seen
from next_penny.store.store import Store


def see_goals(store: Store, reading: Reading, goals: seen.Seen) -> None:
    """Remember how goals stand now; nothing is written where they stood so when they were looked at last."""
    if reading.goals_seen() != goals:
        with store.beside_the_plan() as connection:
            seen.write_seen(connection, goals)


def see_noticed(store: Store, reading: Reading, keys: Collection[str]) -> None:
    """Remember that something was looked at; nothing is written where it was before."""
    if not reading.noticed_seen().issuperset(keys):
        with store.beside_the_plan() as connection:
            seen.write_noticed(connection, keys)
