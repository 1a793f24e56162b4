"""The cheapest way out: how to share the same money among debts so that the least interest is paid.

A linear program over all months (solved by HiGHS through scipy) says where money should go: rates that change later,
minimums and what each month has are its constraints. It counts in fractions, and a minimum near a debt's end is only
bounded from below; so what it says is rounded to minor units and run again exactly, by the same rules as every order,
and then made cheaper with the months in which debts are cleared as they are. The answer is the cheapest of these runs
and the orders. Floats are in the program alone: what it says is rounded at once.
"""

from collections.abc import Callable, Sequence

import numpy as np
from scipy.optimize import linprog
from scipy.sparse import coo_array

from next_penny.core.payoff.comparing import cheapest_of
from next_penny.core.payoff.debts import Debt, LoanDebt, PlainDebt, rates_from
from next_penny.core.payoff.outcome import Run
from next_penny.core.payoff.run import Guide

# What is still owed at the end of the program costs so much beside its interest: more than any rate.
_LEFT_OWED = 100.0
# So many times a run is made cheaper within its own clearing months.
_MOST_REFINED = 3


def cheapest_guide(debts: Sequence[Debt], order: Run, clearing: Run | None = None) -> Guide:
    """Where the money that an order has in its months should go.

    clearing: a run whose clearing months are kept to, none of them earlier: minimums are then what they are until then.
    """
    return _Program([debt for debt in debts if debt.balance > 0], order, clearing).solved()


class _Program:
    """Variables: what is paid on each debt in each month, then what is owed after it; both in minor units."""

    def __init__(self, debts: Sequence[Debt], order: Run, clearing: Run | None) -> None:
        self._debts, self._order, self._count = debts, order, len(order)
        # What is asked for in full, by debt and month, until the debt is cleared.
        self._asked = [_asked(debt, clearing)[: self._count] for debt in debts]
        rates = [rates_from(debt, order.start, self._count) for debt in debts]
        self._rates = np.array(rates, dtype=float).reshape(len(debts), self._count) / 1200
        self._money = [paid + left for paid, left in zip(order.paid, order.left_over, strict=True)]
        self._rows: list[int] = []
        self._columns: list[int] = []
        self._values: list[float] = []
        self._bounds: list[float] = []

    def _paid(self, debt: int, month: int) -> int:
        return debt * self._count + month

    def _owed(self, debt: int, month: int) -> int:
        return (len(self._debts) + debt) * self._count + month

    def _at_most(self, bound: float, *terms: tuple[int, float]) -> None:
        row = len(self._bounds)
        for column, value in terms:
            self._rows.append(row)
            self._columns.append(column)
            self._values.append(value)
        self._bounds.append(bound)

    def _matrix(self) -> coo_array:
        shape = (len(self._bounds), 2 * len(self._debts) * self._count)
        made = coo_array((self._values, (self._rows, self._columns)), shape=shape)
        self._rows, self._columns, self._values = [], [], []
        return made

    def solved(self) -> Guide:
        size = len(self._debts) * self._count
        for number, debt in enumerate(self._debts):
            self._owing(number, debt)
        equal, opened = self._matrix(), self._bounds
        self._bounds = []
        for number, debt in enumerate(self._debts):
            self._minimums(number, debt)
        for month in range(self._count):
            self._at_most(
                float(self._money[month]), *((self._paid(debt, month), 1.0) for debt in range(len(self._debts)))
            )
        costs = np.zeros(2 * size)
        costs[size:] = np.hstack([self._rates[:, 1:], np.full((len(self._debts), 1), _LEFT_OWED)]).ravel()
        solution = linprog(costs, self._matrix(), self._bounds, equal, opened, bounds=(0, None), method="highs")
        if solution.x is None:
            return Guide((), {})
        paid, owed = (part.reshape(len(self._debts), -1) for part in (solution.x[:size], solution.x[size:]))
        return Guide(self._money, self._beyond_minimums(paid, owed))

    def _owing(self, number: int, debt: Debt) -> None:
        """What is owed after a month: what was, with interest, less what is paid."""
        for month, rate in enumerate(self._rates[number]):
            terms = [(self._owed(number, month), 1.0), (self._paid(number, month), 1.0)]
            if month:
                self._at_most(0.0, *terms, (self._owed(number, month - 1), -(1.0 + rate)))
            else:
                self._at_most(debt.balance * (1.0 + rate), *terms)

    def _minimums(self, number: int, debt: Debt) -> None:
        """Pay at least the percentage; a fixed amount in full, or in the share in which the debt is still owed."""
        least, share, plus_interest = self._least(debt)
        highest = float(debt.balance)
        for month, rate in enumerate(self._rates[number]):
            if month < len(self._asked[number]):
                self._at_most(-float(self._asked[number][month]), (self._paid(number, month), -1.0))
                if isinstance(debt, LoanDebt):
                    continue  # what its schedule asks is known
            asked = max(share + (rate if plus_interest else 0.0), min(1.0, least / max(1.0, highest)))
            paid = (self._paid(number, month), -1.0)
            if month:
                self._at_most(0.0, paid, (self._owed(number, month - 1), min(1.0, asked)))
            else:
                self._at_most(-min(1.0, asked) * debt.balance, paid)

    def _least(self, debt: Debt) -> tuple[float, float, bool]:
        if isinstance(debt, PlainDebt):
            return float(debt.minimum.floor), float(debt.minimum.percent or 0) / 100, debt.minimum.plus_interest
        assert isinstance(debt, LoanDebt)
        first = self._order.months[debt.id][0] if self._order.months.get(debt.id) else None
        return float(first.minimum if first else 0), 0.0, False

    def _beyond_minimums(self, paid: np.ndarray, closing: np.ndarray) -> dict[str, list[int]]:
        beyond = {}
        for number, debt in enumerate(self._debts):
            least, share, plus_interest = self._least(debt)
            opening = np.concatenate([[debt.balance], closing[number][:-1]])
            interest = opening * self._rates[number]
            asked = np.maximum(least, share * opening + (interest if plus_interest else 0.0))
            asked = np.minimum(asked, opening + interest)
            beyond[debt.id] = np.maximum(0, np.rint(paid[number] - asked)).astype(np.int64).tolist()
        return beyond


def _asked(debt: Debt, clearing: Run | None) -> list[int]:
    """The minimums of the months before a run clears a debt; of one that follows what is owed, its floor."""
    if clearing is None:
        return []
    months = clearing.months[debt.id][:-1]
    return [debt.minimum.floor] * len(months) if isinstance(debt, PlainDebt) else [month.minimum for month in months]


def cheapest(debts: Sequence[Debt], orders: Sequence[Run], carry_out: Callable[[Guide], Run]) -> Run:
    """The least total interest with the same money as the orders have; never dearer than any of them.

    carry_out: a run that is guided, by the rules of the orders.
    """
    best = cheapest_of(orders)
    if best.never or not len(best):
        return best
    runs = [*orders, carry_out(cheapest_guide(debts, best))]
    # With fixed minimums in full until a debt is cleared, what the program says is carried out as it stands: so the
    # cheapest run so far is made cheaper within its own clearing months, as long as that helps.
    tried = list[Run]()
    for _ in range(_MOST_REFINED):
        clearing = [run for run in (cheapest_of(runs), runs[-1]) if run not in tried]
        if not clearing:
            break
        tried += clearing
        runs += [carry_out(cheapest_guide(debts, best, run)) for run in clearing]
    return cheapest_of(runs)
