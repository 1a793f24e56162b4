"""What paying several debts off comes to, month by month. All amounts are whole minor units."""

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import accumulate
from typing import NamedTuple

from propcache.api import cached_property

from next_penny.core.payoff.debts import Debt


class DebtMonth(NamedTuple):
    """A debt in a month; what is paid is `minimum` and `extra`."""

    opening: int
    interest: int
    minimum: int
    extra: int
    closing: int

    @property
    def paid(self) -> int:
        return self.minimum + self.extra


@dataclass(frozen=True, eq=False)
class Run:
    """A plan carried out. told: by debt, see `MonthsOfDebt`; and what is owed of it at the end.

    left_over: by month, what no debt needed any more. own: what was added to the minimums. cleared: (id, month) in
    order. freed: by debt, what each then leaves free. never: the debts that are not cleared within a hundred years.
    """

    start: int
    debts: tuple[Debt, ...]
    told: Mapping[str, tuple[list[int], int]]
    left_over: list[int]
    own: list[int]
    cleared: list[tuple[str, int]]
    freed: Mapping[str, int]
    never: list[str]

    def __len__(self) -> int:
        return len(self.left_over)

    @property
    def debt_free(self) -> int | None:
        """The month in which the last debt is cleared; None where one never is, or nothing is owed."""
        return None if self.never or not self.debts else self.start + len(self) - 1

    @cached_property
    def total_interest(self) -> int:
        return sum(sum(numbers[1::3]) for numbers, _ in self.told.values())

    @cached_property
    def months(self) -> dict[str, list[DebtMonth]]:
        """By debt, its months from the first to the one in which it is cleared."""
        return {id: months_of(numbers, left) for id, (numbers, left) in self.told.items()}

    @cached_property
    def paid(self) -> list[int]:
        """What is paid on all debts in each month."""
        paid = [0] * len(self)
        for months in self.months.values():
            for index, month in enumerate(months):
                paid[index] += month.paid
        return paid

    @property
    def total_paid(self) -> int:
        return sum(self.paid)

    @cached_property
    def owed(self) -> list[int]:
        """What is owed on all debts at the end of each month."""
        owed = [0] * len(self)
        for months in self.months.values():
            for index, month in enumerate(months):
                owed[index] += month.closing
        return owed

    @cached_property
    def paid_before(self) -> list[int]:
        """What is paid on all debts before each month, and in all."""
        return list(accumulate(self.paid, initial=0))


def months_of(numbers: list[int], left: int) -> list[DebtMonth]:
    """A debt's months, from what they began with: the rest of what is paid is extra."""
    openings, interests, minimums = (numbers[place::3] for place in range(3))
    closings = [*openings[1:], left]
    extras = [
        opening + interest - minimum - closing
        for opening, interest, minimum, closing in zip(openings, interests, minimums, closings, strict=True)
    ]
    return list(map(DebtMonth._make, zip(openings, interests, minimums, extras, closings, strict=True)))
