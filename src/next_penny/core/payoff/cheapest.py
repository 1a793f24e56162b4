"""The cheapest way out: how to share the same money among debts so that the least interest is paid.

A program over all months (solved by HiGHS through scipy) says where money should go: rates that change later, minimums
and what each month has are its constraints. A minimum is asked in full for as long as its debt is owed, so for each
debt and month a variable says whether it still is, one or zero (a mixed-integer program). A small program is solved
whole; of a larger one, the months in which debts may be cleared are those about the cheapest run so far, and then again
about the one that is cheaper. The program counts in fractions: what it says is rounded to minor units and run again
exactly, by the same rules as every order. The answer is the cheapest of these runs and the orders. Floats are in the
program alone.
"""

from collections.abc import Callable, Mapping, Sequence

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array

from next_penny.core.payoff.comparing import cheapest_of
from next_penny.core.payoff.debts import Debt, PlainDebt, rates_from
from next_penny.core.payoff.outcome import Run
from next_penny.core.payoff.run import Guide

# What is still owed at the end of the program costs so much beside its interest: more than any rate.
_LEFT_OWED = 100.0
# A program of so many amounts is solved whole; one of at most so many, some months about a run; a larger one, nearer.
_WHOLE, _WIDE = 60, 600
_WIDE_MONTHS, _NEAR_MONTHS = 3, 1
# So many times the months about a run are tried, and so many branches each time.
_MOST_ROUNDS = 4
_OPTIONS = {"node_limit": 300, "mip_rel_gap": 1e-7}

Clearing = Mapping[str, range]


def cheapest(debts: Sequence[Debt], orders: Sequence[Run], carry_out: Callable[[Guide], Run]) -> Run:
    """The least total interest with the same money as the orders have; never dearer than any of them.

    carry_out: a run that is guided, by the rules of the orders.
    """
    best = cheapest_of(orders)
    if best.never or not len(best):
        return best
    owing = [debt for debt in debts if debt.balance > 0]
    program, months, amounts = _Program(owing, best, orders), len(best), len(owing) * len(best)
    if amounts <= _WHOLE:
        anywhere = {debt.id: range(months) for debt in owing}
        return cheapest_of([*orders, carry_out(program.solved(anywhere))])
    reach = _WIDE_MONTHS if amounts <= _WIDE else _NEAR_MONTHS
    runs, tried = [*orders, carry_out(program.solved())], list[Run]()
    for _ in range(_MOST_ROUNDS):
        run = cheapest_of(runs)
        if run in tried:
            break
        tried.append(run)
        # First with no debt cleared earlier than in that run, which may lead far from it; then about the better one.
        runs.append(
            carry_out(program.solved({id: range(end, months) for id, end in _ends(run).items()}, in_shares=True))
        )
        ends = _ends(cheapest_of(runs))
        about = {id: range(max(0, end - reach), min(months, end + reach + 1)) for id, end in ends.items()}
        runs.append(carry_out(program.solved(about)))
    return cheapest_of(runs)


def _ends(run: Run) -> dict[str, int]:
    """In which month each debt is cleared, counted from 0."""
    return {id: len(months) - 1 for id, months in run.months.items()}


class _Program:
    """Variables, each by debt and month: what is paid, what is owed after it (minor units), whether anything is."""

    def __init__(self, debts: Sequence[Debt], order: Run, orders: Sequence[Run]) -> None:
        """order: whose money there is. orders: in which the minimums of whole schedules are."""
        self._debts, self._count, self._size = debts, len(order), len(debts) * len(order)
        rates = [rates_from(debt, order.start, self._count) for debt in debts]
        self._rates = np.array(rates, dtype=float).reshape(len(debts), self._count) / 1200
        self._minimums = [_minimums_of(debt, orders, self._count) for debt in debts]
        self._money = [paid + left for paid, left in zip(order.paid, order.left_over, strict=True)]
        self._lines: list[tuple[float, float, Sequence[tuple[int, float]]]] = []
        for number, debt in enumerate(debts):
            self._owing(number, debt)
            self._minimum(number, debt)
        for month, money in enumerate(self._money):
            self._between(-np.inf, float(money), *((self._paid(debt, month), 1.0) for debt in range(len(debts))))
        self._within = self._constraint()
        self._costs = np.zeros(3 * self._size)
        left_owed = np.full((len(debts), 1), _LEFT_OWED)
        self._costs[self._size : 2 * self._size] = np.hstack([self._rates[:, 1:], left_owed]).ravel()

    def _paid(self, debt: int, month: int) -> int:
        return debt * self._count + month

    def _owed(self, debt: int, month: int) -> int:
        return self._size + self._paid(debt, month)

    def _is_owed(self, debt: int, month: int) -> int:
        return 2 * self._size + self._paid(debt, month)

    def _between(self, low: float, high: float, *terms: tuple[int, float]) -> None:
        """A row: the sum of variables, each so many times, is within two bounds."""
        self._lines.append((low, high, terms))

    def _constraint(self) -> LinearConstraint:
        lows, highs, sums = zip(*self._lines, strict=True)
        terms = [(row, column, value) for row, terms in enumerate(sums) for column, value in terms]
        rows, columns, values = zip(*terms, strict=True)
        matrix = csr_array((values, (rows, columns)), shape=(len(sums), 3 * self._size))
        return LinearConstraint(matrix, lows, highs)

    def _owing(self, number: int, debt: Debt) -> None:
        """What is owed after a month: what was, with interest, less what is paid. What is cleared stays so."""
        most = float(debt.balance)
        for month, rate in enumerate(self._rates[number]):
            terms = [(self._owed(number, month), 1.0), (self._paid(number, month), 1.0)]
            most *= 1.0 + rate
            if month:
                self._between(0.0, 0.0, *terms, (self._owed(number, month - 1), -(1.0 + rate)))
                still, before = self._is_owed(number, month), self._is_owed(number, month - 1)
                self._between(-np.inf, 0.0, (still, 1.0), (before, -1.0))
            else:
                self._between(most, most, *terms)
            self._between(-np.inf, 0.0, (self._owed(number, month), 1.0), (self._is_owed(number, month), -most))

    def _minimum(self, number: int, debt: Debt) -> None:
        """Pay at least the minimum while the debt is owed after it, and the share of what was owed before."""
        share, plus_interest = _share_of(debt)
        for month, rate in enumerate(self._rates[number]):
            paid = (self._paid(number, month), 1.0)
            self._between(0.0, np.inf, paid, (self._is_owed(number, month), -float(self._minimums[number][month])))
            asked = min(1.0, share + (rate if plus_interest else 0.0))
            if asked and month:
                self._between(0.0, np.inf, paid, (self._owed(number, month - 1), -asked))
            elif asked:
                self._between(asked * debt.balance, np.inf, paid)

    def solved(self, clearing: Clearing | None = None, *, in_shares: bool = False) -> Guide:
        """Where money should go where each debt is cleared in one of some months, counted from 0; by id.

        in_shares: within those months, as without any, a minimum is asked in the share in which its debt is still owed.
        A guide that says nothing where it cannot be.
        """
        size, debts = self._size, len(self._debts)
        least, most, whole = np.zeros(3 * size), np.full(3 * size, np.inf), np.zeros(3 * size)
        most[2 * size :] = 1.0
        if clearing is not None:
            whole[2 * size :] = not in_shares
            for number, debt in enumerate(self._debts):
                first, months = self._is_owed(number, 0), clearing[debt.id]
                least[first : first + months.start] = 1.0
                most[first + months.stop - 1 : first + self._count] = 0.0
        bounds = Bounds(least, most)
        solution = milp(self._costs, constraints=self._within, integrality=whole, bounds=bounds, options=_OPTIONS)
        if solution.x is None:
            return Guide((), {})
        paid, owed = (part.reshape(debts, -1) for part in (solution.x[:size], solution.x[size : 2 * size]))
        return Guide(self._money, self._beyond_minimums(paid, owed))

    def _beyond_minimums(self, paid: np.ndarray, closing: np.ndarray) -> dict[str, list[int]]:
        beyond = {}
        for number, debt in enumerate(self._debts):
            share, plus_interest = _share_of(debt)
            opening = np.concatenate([[debt.balance], closing[number][:-1]])
            interest = opening * self._rates[number]
            asked = np.maximum(self._minimums[number], share * opening + (interest if plus_interest else 0.0))
            asked = np.minimum(asked, opening + interest)
            beyond[debt.id] = np.maximum(0, np.rint(paid[number] - asked)).astype(np.int64).tolist()
        return beyond


def _share_of(debt: Debt) -> tuple[float, bool]:
    """The share of what is owed that a debt's minimum is, and whether its interest is added."""
    if not isinstance(debt, PlainDebt):
        return 0.0, False
    return float(debt.minimum.percent or 0) / 100, debt.minimum.plus_interest


def _minimums_of(debt: Debt, orders: Sequence[Run], count: int) -> list[int]:
    """The minimums of so many months while a debt is owed; of one that follows what is owed, its floor."""
    if isinstance(debt, PlainDebt):
        return [debt.minimum.floor] * count
    longest = max((run.months[debt.id] for run in orders), key=len)
    full = [month.minimum for month in longest[:-1]][:count]
    return [*full, *[full[-1] if full else 0] * (count - len(full))]
