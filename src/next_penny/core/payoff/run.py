"""Paying several debts off month by month: minimums first, then what is left over goes to one debt after another.

docs/rules.md, Paying off several debts. All amounts are whole minor units, so a run conserves money exactly: what is
paid is what was owed at the beginning and all interest.
"""

from collections.abc import Callable, Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

from next_penny.core.money import LARGEST_AMOUNT
from next_penny.core.payoff.debts import MONTHS_A_YEAR, Debt, MonthsOfDebt
from next_penny.core.payoff.outcome import Run
from next_penny.core.plan.kept.way_out import Wish
from next_penny.core.problems import go_on

# A plan that is not through by then is taken never to be.
LONGEST_MONTHS = 100 * MONTHS_A_YEAR


class Spent(NamedTuple):
    """What a run has taken by a month, for whoever says how much more it may: own money, and everything paid.

    past: how many months came before. minimums: what this month takes by debt. day: on which more would be paid.
    """

    past: int = 0
    own: int = 0
    paid: int = 0
    minimums: Mapping[str, int] = MappingProxyType({})
    day: int = 0


class Guide(NamedTuple):
    """Where money should go: what there is in each month, and by debt what of it to pay beyond its minimum."""

    money: Sequence[int]
    beyond: Mapping[str, Sequence[int]]


NO_GUIDE = Guide((), {})


class Borne(NamedTuple):
    """How much a month may take beyond its minimums, and how much of it may be own money; less than none is none."""

    beyond: int
    own: int


Bearing = Callable[[Spent], Borne]


# The last day of a month on which a debt is due, by id and month, as a day number; 0 where it is not.
LastDue = Callable[[str, int], int]


class _State(NamedTuple):
    """A debt in a run."""

    id: str
    months: MonthsOfDebt


def run(
    debts: Sequence[Debt], start: int, wish: Wish, bears: Bearing | None = None,
    guide: Guide = NO_GUIDE, last_due: LastDue | None = None,
) -> Run:  # fmt: skip
    """Pay debts off from a month on, as wished.

    bears: says how much a month may take beyond its minimums; what is freed waits where it may not. guide: what there
    is and where it goes, as far as that says so; what is left of a month then follows the order. last_due: in a
    household, what is freed is paid with the first due date, on or after its own, of the debt that it goes to; without
    it, in the same month.
    """
    owed = tuple(debt for debt in debts if debt.balance > 0)
    return _Run(owed, start, _Asked(wish, bears, guide, last_due)).carried_out()


class _Asked(NamedTuple):
    """What is wished, and what bounds it; see `run`."""

    wish: Wish
    bears: Bearing | None
    guide: Guide
    last_due: LastDue | None


class _Run:
    def __init__(self, debts: tuple[Debt, ...], start: int, asked: _Asked) -> None:
        self._debts, self._start, self._asked = debts, start, asked
        self._states = [_State(debt.id, debt.begun()) for debt in debts]
        self._rank = {id: rank for rank, id in enumerate(asked.wish.order)}
        self._left_over: list[int] = []
        self._own: list[int] = []
        self._cleared: list[tuple[str, int]] = []
        self._spent = Spent()
        self._is_pooled = asked.wish.strategy != "minimums"
        # What those that are cleared leave free each month, and what of it waits for a due date of the next one.
        self._freed: list[tuple[str, int]] = []
        self._waiting = 0

    def carried_out(self) -> Run:
        owing, never = list(self._states), list[str]()
        while owing and len(self._left_over) < LONGEST_MONTHS:
            self._month(owing)
            go_on()
            still = [state for state in owing if 0 < state.months.balance < LARGEST_AMOUNT]
            if len(still) < len(owing):
                self._note_cleared(owing)
                never += [state.id for state in owing if state.months.balance >= LARGEST_AMOUNT]
                owing = still
        months_by_id = {state.id: (state.months.numbers, state.months.balance) for state in self._states}
        never += [state.id for state in owing]
        if self._waiting:
            self._left_over[-1] += self._waiting
        freed_by = {state.id: state.months.freed for state in self._states}
        return Run(self._start, self._debts, months_by_id, self._left_over, self._own, self._cleared, freed_by, never)

    def _month(self, owing: Sequence[_State]) -> None:
        """One month of the debts that are still owed, with what those cleared before leave free."""
        index = len(self._left_over)
        month = self._start + index
        unneeded = list[tuple[str, int]]()
        for state in owing:
            months = state.months
            months.begin(month)
            if months.unneeded:
                unneeded.append((state.id, months.unneeded))
        if not self._is_pooled:
            self._own.append(0)
            self._left_over.append(0)
            return
        rolled = self._rolled(owing, month, [*self._freed, *unneeded]) if self._asked.wish.roll_freed else 0
        own, rolled = self._money(owing, month, rolled)
        self._own.append(own)
        self._left_over.append(self._share_out(owing, index, own + rolled))

    def _rolled(self, owing: Sequence[_State], month: int, freed: Sequence[tuple[str, int]]) -> int:
        """What goes on to other debts in a month: what waited for it, and what is freed in time for their due date."""
        rolled, self._waiting = self._waiting, 0
        if self._asked.last_due is None or not freed or all(state.months.balance <= 0 for state in owing):
            return rolled + sum(amount for _, amount in freed)
        due = self._paid_on(owing, month)
        for id, amount in freed:
            if self._asked.last_due(id, month) <= due:
                rolled += amount
            else:
                self._waiting += amount
        return rolled

    def _paid_on(self, owing: Sequence[_State], month: int) -> int:
        """The day on which more than minimums is paid: when the first debt in the order is due; 0 where none is."""
        target = next((state for state in self._in_order(owing) if state.months.balance > 0), None)
        if self._asked.last_due is None or target is None or not target.months.takes_extra:
            return 0
        return self._asked.last_due(target.id, month)

    def _note_cleared(self, owing: Sequence[_State]) -> None:
        """Note what was cleared in this month, and what that leaves free each month from the next on."""
        cleared = [state for state in owing if state.months.balance <= 0]
        self._cleared += [(state.id, self._start + len(self._left_over) - 1) for state in cleared]
        self._freed += [(state.id, state.months.freed) for state in cleared]

    def _money(self, owing: Sequence[_State], month: int, rolled: int) -> tuple[int, int]:
        """What there is beside the minimums: own money, and what is rolled on."""
        aimed = sum(
            month_amount.amount for month_amount in self._asked.wish.aimed.values() if month_amount.month == month
        )
        wished = self._asked.wish.own_money(month) + aimed
        if self._asked.bears is None and not self._asked.guide.money:
            return wished, rolled
        minimums = sum(state.months.minimum for state in owing)
        past, taken, paid, *_ = self._spent
        if past < len(self._asked.guide.money):
            beyond = max(0, self._asked.guide.money[past] - minimums)
            own, rolled = max(0, beyond - rolled), min(rolled, beyond)
        elif self._asked.bears is not None:
            by_debt = {state.id: state.months.minimum for state in owing}
            borne = self._asked.bears(self._spent._replace(minimums=by_debt, day=self._paid_on(owing, month)))
            goes_on = max(0, min(rolled, borne.beyond))
            self._waiting += rolled - goes_on
            rolled, own = goes_on, max(0, min(wished, borne.own, borne.beyond - goes_on))
        else:
            own = wished
        self._spent = Spent(past + 1, taken + own, paid + minimums + rolled + own)
        return own, rolled

    def _share_out(self, owing: Sequence[_State], index: int, pool: int) -> int:
        """Pay beyond the minimums; what is not needed is returned."""
        if pool and (self._asked.wish.aimed or self._asked.guide.beyond):
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
            aimed = self._asked.wish.aimed.get(state.id)
            wanted = aimed.amount if aimed is not None and aimed.month == self._start + index else 0
            target = self._asked.guide.beyond.get(state.id, ())
            wanted += target[index] if index < len(target) else 0
            if wanted and state.months.takes_extra:
                amount = min(pool, wanted, state.months.balance)
                state.months.pay(amount)
                pool -= amount
        return pool

    def _in_order(self, owing: Sequence[_State]) -> Sequence[_State]:
        match self._asked.wish.strategy:
            case "smallest_balance":
                return sorted(owing, key=lambda state: state.months.opening)
            case "highest_rate":
                return sorted(owing, key=lambda state: (state.months.falling_rate, state.months.opening))
            case _:
                last = len(self._rank)
                return sorted(owing, key=lambda state: self._rank.get(state.id, last))
