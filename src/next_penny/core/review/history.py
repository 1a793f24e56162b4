"""The household's history of changes, and what each did to the lowest point then ahead."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

from next_penny.core.ahead.effects import lowest_of_the_year
from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day
from next_penny.core.money import format_amount
from next_penny.core.plan.rates import NoRate


class Low(NamedTuple):
    """The lowest end-of-day balance of the spendable accounts together over a year ahead, and its first day."""

    day: date
    balance: int


class Lowest(NamedTuple):
    """The lowest points ahead before a change and after it; None where no account is spendable."""

    before: Low | None
    after: Low | None


@dataclass(frozen=True, slots=True)
class Step:
    """One change that undo and redo walk over, said in `label`.

    made_at: day and time, ISO 8601; None for those of older versions. lowest: None where it was not worked out.
    """

    id: int
    label: str
    made_at: str | None
    is_undone: bool
    lowest: Lowest | None

    @property
    def moved(self) -> bool:
        """Whether the lowest point ahead is another by it."""
        return self.lowest is not None and self.lowest.before != self.lowest.after


def lowest_now(moment: Moment) -> Low | None:
    """The lowest point ahead as a step keeps it; None without spendable accounts, or where a rate is lacking."""
    try:
        low = lowest_of_the_year(moment)
    except NoRate:  # there is no such sum
        return None
    return Low(date.fromordinal(low.day), low.balance) if low is not None else None


def newest_done(steps: Sequence[Step]) -> int:
    """The id of the newest change that is not undone; 0 where there is none. Steps come newest first."""
    return next((step.id for step in steps if not step.is_undone), 0)


def moved_since(steps: Sequence[Step], seen: int) -> list[Step]:
    """The changes that moved the lowest point since the change `seen` was the newest, those undone since then too."""
    return [step for step in steps if step.moved and (step.id > seen) != step.is_undone]


def told_since(was: Low, now: Low | None, currency: str, today: date) -> str | None:
    """What became of the lowest point since it was `was`; None where it is the same."""
    if now is None or now == was:
        return None
    before, after = (f"{format_amount(low.balance, currency)} on {full_day(low.day)}" for low in (was, now))
    since = "that day is past" if was.day < today else "when you last looked"
    return f"What can be spent in all was, at its lowest in a year ahead, {before} ({since}); now it is {after}."
