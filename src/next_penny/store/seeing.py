"""What the household has looked at, kept beside the plan and outside undo."""

from next_penny.store.moments import Reading
from next_penny.store.sql import goals
from next_penny.store.store import Store


def see_goals(store: Store, reading: Reading, seen: goals.Seen) -> None:
    """Remember how goals stand now; nothing is written where they stood so when they were looked at last."""
    if reading.goals_seen() != seen:
        with store.beside_the_plan() as connection:
            goals.write_seen(connection, seen)
