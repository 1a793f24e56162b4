"""The orders held against each other, and what a debt needs to be cleared at all."""

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

from next_penny.core.money import rounded_quotient
from next_penny.core.payoff.debts import Debt, monthly_share, rates_from
from next_penny.core.payoff.outcome import Run
from next_penny.core.plan.kept.way_out import STRATEGIES, Strategy

# A debt that never clears is told what would clear it in so many months.
_CLEARS_IN_MONTHS = 360


class Compared(NamedTuple):
    """An order against paying minimums only; None where one of the two never ends. Months are month numbers."""

    strategy: Strategy
    debt_free: int | None
    months: int | None
    total_interest: int
    saves_interest: int | None
    saves_months: int | None
    first_cleared: int | None


def compared(runs: Mapping[Strategy, Run]) -> list[Compared]:
    """All orders against minimums only."""
    least = runs["minimums"]
    return [_against(strategy, runs[strategy], least) for strategy in STRATEGIES]


def _against(strategy: Strategy, run: Run, least: Run) -> Compared:
    return Compared(
        strategy,
        run.debt_free,
        None if run.never else len(run),
        run.total_interest,
        *saving(run, least),
        run.cleared[0][1] if run.cleared else None,
    )


def saving(run: Run, other: Run) -> tuple[int | None, int | None]:
    """How much less interest a run costs than another, and months sooner it ends; None where one of them never does."""
    if run.never or other.never:
        return None, None
    return other.total_interest - run.total_interest, len(other) - len(run)


def saves_more(run: Run, others: Sequence[Run]) -> int | None:
    """How much less interest a run costs than the best of some others that end; None where none of them does."""
    ending = [other.total_interest for other in others if not other.never]
    return min(ending) - run.total_interest if ending and not run.never else None


def needs_monthly(debt: Debt, start: int) -> int:
    """The least fixed monthly amount that clears a debt alone in 360 months."""
    shares = [monthly_share(rate) for rate in rates_from(debt, start, _CLEARS_IN_MONTHS)]
    steps = [(share.numerator, share.denominator) for share in shares]

    def clears(monthly: int) -> bool:
        owed = debt.balance
        for numerator, denominator in steps:
            owed += rounded_quotient(owed * numerator, denominator) - monthly
            if owed <= 0:
                return True
        return False

    first = debt.balance + rounded_quotient(debt.balance * steps[0][0], steps[0][1])
    return least(clears, first)


def least(is_enough: Callable[[int], bool], most: int) -> int:
    """The least amount that is enough, where every larger one is too, and `most` is."""
    low, high = 0, most
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if is_enough(middle) else (middle + 1, high)
    return low


def cheapest_of(runs: Sequence[Run]) -> Run:
    """The run that leaves the fewest debts, then costs the least interest, then ends first; the first of equals."""
    return min(runs, key=lambda run: (len(run.never), run.total_interest, len(run)))
