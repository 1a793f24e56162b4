"""Paying several debts off month by month: minimums first, then what is left over goes to one debt after another.

docs/rules.md, Paying off several debts. All amounts are whole minor units, so a run conserves money exactly: what is
paid is what was owed at the beginning and all interest.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import accumulate
from typing import NamedTuple

from next_penny.core.money import LARGEST_AMOUNT
from next_penny.core.payoff.debts import MONTHS_A_YEAR, Debt, MonthsOfDebt
from next_penny.core.way_out import Wish

# A plan that is not through by then is taken never to be.
LONGEST_MONTHS = 100 * MONTHS_A_YEAR


class Spent(NamedTuple):
    """What a run has taken by a month, for whoever says how much more it may: own money, and everything paid.

    past: how many months came before. asked: what this month takes without any own money.
    """

    past: int
    own: int
    paid: int
    asked: int


class Guide(NamedTuple):
    """Where money should go: what there is in each month, and by debt what of it to pay beyond its minimum."""

    money: Sequence[int]
    beyond: Mapping[str, Sequence[int]]


NO_GUIDE = Guide((), {})
# Of what is wished for a month, so much may be taken.
Bearing = Callable[[Spent], int]


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
        return sum(sum(told[1::3]) for told, _ in self.told.values())

    @cached_property
    def months(self) -> dict[str, list[DebtMonth]]:
        """By debt, its months from the first to the one in which it is cleared."""
        return {id: _months(told, left) for id, (told, left) in self.told.items()}

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


class _State(NamedTuple):
    """A debt in a run."""

    id: str
    months: MonthsOfDebt


def run(
    debts: Sequence[Debt], start: int, wish: Wish, bears: Bearing | None = None,
    guide: Guide = NO_GUIDE,
) -> Run:  # fmt: skip
    """Pay debts off from a month on, as wished.

    bears: says how much own money a month may take. guide: what there is and where it goes, as far as that says so;
    what is left of a month then follows the order.
    """
    return _Run(tuple(debt for debt in debts if debt.balance > 0), start, wish, bears, guide).carried_out()


class _Run:
    def __init__(
        self,
        debts: tuple[Debt, ...],
        start: int,
        wish: Wish,
        bears: Bearing | None,
        guide: Guide,
    ) -> None:
        self._debts, self._start, self._wish, self._bears, self._guide = debts, start, wish, bears, guide
        self._states = [_State(debt.id, debt.begun()) for debt in debts]
        self._rank = {id: rank for rank, id in enumerate(wish.order)}
        self._left_over: list[int] = []
        self._own: list[int] = []
        self._cleared: list[tuple[str, int]] = []
        self._spent = Spent(0, 0, 0, 0)
        self._is_pooled = wish.strategy != "minimums"

    def carried_out(self) -> Run:
        owing, never, freed = list(self._states), list[str](), 0
        while owing and len(self._left_over) < LONGEST_MONTHS:
            self._month(owing, freed)
            still = [state for state in owing if 0 < state.months.balance < LARGEST_AMOUNT]
            if len(still) < len(owing):
                freed += self._note_cleared(owing)
                never += [state.id for state in owing if state.months.balance >= LARGEST_AMOUNT]
                owing = still
        told = {state.id: (state.months.told, state.months.balance) for state in self._states}
        never += [state.id for state in owing]
        freed_by = {state.id: state.months.freed for state in self._states}
        return Run(self._start, self._debts, told, self._left_over, self._own, self._cleared, freed_by, never)

    def _month(self, owing: Sequence[_State], freed: int) -> None:
        """One month of the debts that are still owed, with what those cleared before leave free."""
        index = len(self._left_over)
        month = self._start + index
        unneeded = 0
        for state in owing:
            months = state.months
            months.begin(month)
            if months.unneeded:
                unneeded += months.unneeded
        if not self._is_pooled:
            self._own.append(0)
            self._left_over.append(0)
            return
        rolled = freed + unneeded if self._wish.roll_freed else 0
        own, rolled = self._money(owing, month, rolled)
        self._own.append(own)
        self._left_over.append(self._share_out(owing, index, own + rolled))

    def _note_cleared(self, owing: Sequence[_State]) -> int:
        """Note what was cleared in this month. Returns what is free each month from the next on."""
        cleared = [state for state in owing if state.months.balance <= 0]
        self._cleared += [(state.id, self._start + len(self._left_over) - 1) for state in cleared]
        return sum(state.months.freed for state in cleared)

    def _money(self, owing: Sequence[_State], month: int, rolled: int) -> tuple[int, int]:
        """What there is beside the minimums: own money, and what is rolled on."""
        aimed = sum(each.amount for each in self._wish.aimed.values() if each.month == month)
        wished = self._wish.own_money(month) + aimed
        if self._bears is None and not self._guide.money:
            return wished, rolled
        minimums = sum(state.months.minimum for state in owing)
        past, taken, paid, _ = self._spent
        if past < len(self._guide.money):
            beyond = max(0, self._guide.money[past] - minimums)
            own, rolled = max(0, beyond - rolled), min(rolled, beyond)
        elif self._bears is not None:
            own = max(0, min(wished, self._bears(self._spent._replace(asked=minimums + rolled))))
        else:
            own = wished
        self._spent = Spent(past + 1, taken + own, paid + minimums + rolled + own, 0)
        return own, rolled

    def _share_out(self, owing: Sequence[_State], index: int, pool: int) -> int:
        """Pay beyond the minimums; what is not needed is returned."""
        if pool and (self._wish.aimed or self._guide.beyond):
            pool = self._share_out_aimed(owing, index, pool)
        if not pool:
            return 0
        for state in self._in_order(owing):
            months = state.months
            if months.takes_extra and (amount := min(pool, months.balance)) > 0:
                months.pay(amount)
                pool -= amount
                if not pool:
                    return 0
        return pool

    def _share_out_aimed(self, owing: Sequence[_State], index: int, pool: int) -> int:
        for state in owing:
            aimed = self._wish.aimed.get(state.id)
            wanted = aimed.amount if aimed is not None and aimed.month == self._start + index else 0
            target = self._guide.beyond.get(state.id, ())
            wanted += target[index] if index < len(target) else 0
            if wanted and state.months.takes_extra:
                amount = min(pool, wanted, state.months.balance)
                state.months.pay(amount)
                pool -= amount
        return pool

    def _in_order(self, owing: Sequence[_State]) -> Sequence[_State]:
        match self._wish.strategy:
            case "smallest_balance":
                return sorted(owing, key=lambda state: state.months.opening)
            case "highest_rate":
                return sorted(owing, key=lambda state: (state.months.falling_rate, state.months.opening))
            case _:
                last = len(self._rank)
                return sorted(owing, key=lambda state: self._rank.get(state.id, last))


def _months(told: list[int], left: int) -> list[DebtMonth]:
    """A debt's months, from what they began with: the rest of what is paid is extra."""
    openings, interests, minimums = (told[place::3] for place in range(3))
    closings = [*openings[1:], left]
    extras = [
        opening + interest - minimum - closing
        for opening, interest, minimum, closing in zip(openings, interests, minimums, closings, strict=True)
    ]
    return list(map(DebtMonth._make, zip(openings, interests, minimums, extras, closings, strict=True)))
