"""What the household's own forecast can bear beside the minimums (docs/rules.md, Paying off several debts)."""

from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import accumulate
from typing import NamedTuple

from propcache.api import cached_property

from next_penny.core.forecast.projection import AccountRun
from next_penny.core.payoff.outcome import Run
from next_penny.core.payoff.run import Bearing, Borne, LastDue, Spent


class Room:
    """The least headroom of an account from a day to the end of the forecast, which `until` may cut short."""

    def __init__(self, run: AccountRun) -> None:
        self._days = [day for day, _ in run.levels]
        self._rooms = [balance - run.account.floor for _, balance in run.levels]

    def least_from(self, days: Sequence[int], until: int) -> list[int]:
        """From each of some days. An account that is not open yet on one has nothing that could be paid from it."""
        last = bisect_right(self._days, until)
        least = [0, *list(accumulate(reversed(self._rooms[:last]), min))[::-1]]
        # A day between two steps has the level of the earlier one.
        return [least[bisect_right(self._days, day, 0, last)] for day in days]


class MonthlyRoom(NamedTuple):
    """A month (its number), the day on which its extra is paid, and the least headroom from then on."""

    month: int
    day: int
    headroom: int


@dataclass(frozen=True)
class Affordable:
    """What a forecast bears, month by month from the first on."""

    rooms: tuple[MonthlyRoom, ...]

    @cached_property
    def even(self) -> int:
        """The same extra in every month that breaks no floor."""
        return self._even_from(0)

    def _even_from(self, first: int) -> int:
        rooms = enumerate(self.rooms[first:], 1)
        return max(0, min((room.headroom // number for number, room in rooms), default=0))

    @cached_property
    def later(self) -> tuple[int, int] | None:
        """Where the first month bears nothing: the first that does, within a year, and the same extra from it on."""
        candidates = ((self.rooms[place].month, self._even_from(place)) for place in range(1, min(13, len(self.rooms))))
        return next((candidate for candidate in candidates if candidate[1] > 0), None) if self.even == 0 else None

    @cached_property
    def early(self) -> list[int]:
        """As early as can be: what each month bears after those before it took all that they bear."""
        taken, early = 0, []
        for room in self.rooms:
            early.append(max(0, room.headroom - taken))
            taken += early[-1]
        return early

    def strained(self, own: Sequence[int]) -> list[int]:
        """The months that cannot bear what they are to take, with what those before them take."""
        taken, candidates = 0, []
        for room, amount in zip(self.rooms, own, strict=False):
            taken += amount
            if amount and taken > room.headroom:
                candidates.append(room.month)
        return candidates

    def bearing(self, least: Run, last_due: LastDue) -> Bearing:
        """How much a month may take beyond its minimums, so that no floor is broken.

        least: what the forecast behind it pays on the debts. What was freed early is counted too, once the forecast no
        longer pays it; and of the month itself only what the forecast has paid by the day on which more is paid.
        """
        rooms, before = self.rooms, least.paid_before
        foreseen = {id: [month.paid for month in months] for id, months in least.months.items()}

        def bears(spent: Spent) -> Borne:
            if not rooms:
                return Borne(0, 0)
            headroom = rooms[min(spent.past, len(rooms) - 1)].headroom
            ahead = spent.paid - before[min(spent.past, len(before) - 1)]
            by_day = {spent.day: 0}
            for id in {**foreseen, **spent.minimums}:
                paid = foreseen.get(id, ())
                planned = paid[spent.past] if spent.past < len(paid) else 0
                if planned != (asked := spent.minimums.get(id, 0)):
                    day = max(spent.day, last_due(id, least.start + spent.past))
                    by_day[day] = by_day.get(day, 0) + asked - planned
            worst = max(accumulate(amount for _, amount in sorted(by_day.items())))
            return Borne(headroom - ahead - worst, headroom - spent.own)

        return bears


def capped(
    look: Callable[[int | None], Affordable], carry_out: Callable[[Bearing | None], Run], least: Run, last_due: LastDue
) -> Run:  # fmt: skip
    """A run that pays no more than the forecast bears until it is debt-free.

    look: what is borne until the end of a month. least: the minimums alone, which the forecast pays anyway.
    """
    run = carry_out(None)
    while True:
        ends = run.debt_free
        bears = look(ends)
        run = carry_out(bears.bearing(least, last_due))
        # Paying less takes longer, and the forecast is then looked at for longer.
        if ends is None or (run.debt_free is not None and run.debt_free <= ends):
            return run
