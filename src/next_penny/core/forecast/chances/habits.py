"""What is known of how things vary, from what was expected and what happened (docs/rules.md, How sure it is)."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

# Fewer than so many are no habit; only the newest are looked at, of an allowance's periods fewer.
ENOUGH, MOST, MOST_PERIODS = 4, 36, 24


class Ratio(NamedTuple):
    """What happened of what was expected, in minor units; `whole` is not 0."""

    part: int
    whole: int


# What an estimate is taken to come to while nothing is known of it.
ASSUMED_RATIOS = (Ratio(9, 10), Ratio(1, 1), Ratio(11, 10))
_DOUBTFUL = Ratio(1, 2)


@dataclass(frozen=True, slots=True)
class Habit:
    """Of one flow or allowance, oldest first: what it came to of what was expected, by how many days it was late.

    missed: of money lent, how many of how many due days did not bring it.
    """

    ratios: tuple[Ratio, ...] = ()
    late: tuple[int, ...] = ()
    missed: Ratio | None = None

    @property
    def is_known(self) -> bool:
        """Whether its amounts are remembered often enough to be drawn from."""
        return len(self.ratios) >= ENOUGH


NO_HABIT = Habit()


@dataclass(frozen=True)
class Habits:
    """What is known of every flow and of every allowance, by id."""

    flows: Mapping[str, Habit] = field(default_factory=dict)
    allowances: Mapping[str, Habit] = field(default_factory=dict)

    def of_flow(self, id: str) -> Habit:
        return self.flows.get(id, NO_HABIT)

    def of_allowance(self, id: str) -> Habit:
        return self.allowances.get(id, NO_HABIT)


NO_HABITS = Habits()


def missing_chance(habit: Habit, sure: str) -> Ratio | None:
    """How often money lent does not come; None where it always does. `sure`: how sure the household says it is."""
    if habit.missed is not None and habit.missed.whole >= ENOUGH:
        return habit.missed if habit.missed.part else None
    return _DOUBTFUL if sure == "doubtful" else None
