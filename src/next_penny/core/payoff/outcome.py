"""What paying several debts off comes to, month by month. All amounts are whole minor units."""

from collections.abc import Mapping, Sequence
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
    """A plan carried out. numbers_by_debt: see `MonthsOfDebt`; with what is owed at the end.

    left_over: by month, what no debt needed any more. own: what was added to the minimums. cleared: (id, month) in
    order. freed: by debt, what each then leaves free. never: the debts that are not cleared within a hundred years.
    """

    start: int
    debts: tuple[Debt, ...]
    numbers_by_debt: Mapping[str, tuple[list[int], int]]
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
        return sum(sum(numbers[1::3]) for numbers, _ in self.numbers_by_debt.values())

    @cached_property
    def months(self) -> dict[str, list[DebtMonth]]:
        """By debt, its months from the first to the one in which it is cleared."""
        return {id: months_of(numbers, left) for id, (numbers, left) in self.numbers_by_debt.items()}

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
    def owed_by_debt(self) -> dict[str, list[int]]:
        """What is owed on each debt at the end of each month; what has grown beyond what is counted stands still."""
        return {
            id: [*(month.closing for month in months), *[months[-1].closing] * (len(self) - len(months))]
            for id, months in self.months.items()
        }

    @cached_property
    def owed(self) -> list[int]:
        """What is owed on all debts at the end of each month."""
        return list(map(sum, zip(*self.owed_by_debt.values(), strict=True)))

    @cached_property
    def paid_before(self) -> list[int]:
        """What is paid on all debts before each month, and in all."""
        return list(accumulate(self.paid, initial=0))


class MonthsTogether(NamedTuple):
    """Months taken together: until the end of which, what is paid on each debt in them, and what is then owed."""

    until: int
    paid: list[int]
    owed: list[int]


# So many lines fit one lying page.
_MOST_LINES = 40


def months_a_line(run: Run) -> int:
    """How many months of a run are taken together, so that all of it fits one page."""
    return next((size for size in (1, 3, 6, 12, 24) if len(run) <= size * _MOST_LINES), 60)


def taken_together(run: Run, size: int, order: Sequence[str]) -> list[MonthsTogether]:
    """A run, so many months at a time, the last line with what is left of them; the debts in an order of their ids."""
    ends = [min(begin + size, len(run)) for begin in range(0, len(run), size)]
    return [
        MonthsTogether(
            run.start + end - 1,
            [sum(month.paid for month in run.months[id][place * size : end]) for id in order],
            [run.owed_by_debt[id][end - 1] for id in order],
        )
        for place, end in enumerate(ends)
    ]


def months_of(numbers: list[int], left: int) -> list[DebtMonth]:
    """A debt's months, from what they began with: the rest of what is paid is extra."""
    openings, interests, minimums = (numbers[place::3] for place in range(3))
    closings = [*openings[1:], left]
    extras = [
        opening + interest - minimum - closing
        for opening, interest, minimum, closing in zip(openings, interests, minimums, closings, strict=True)
    ]
    return list(map(DebtMonth._make, zip(openings, interests, minimums, extras, closings, strict=True)))
