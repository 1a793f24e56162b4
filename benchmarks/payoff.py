"""How long paying twenty debts off takes over forty years in all orders, and the cheapest way for ten over ten years.

.venv/bin/python benchmarks/payoff.py
"""

import random
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import date
from decimal import Decimal

from next_penny.core.loans.level import period_rate, rounded_level
from next_penny.core.payoff.cheapest import cheapest
from next_penny.core.payoff.debts import Minimum, PlainDebt
from next_penny.core.payoff.run import run
from next_penny.core.plan.kept.way_out import STRATEGIES, Wish
from next_penny.core.plan.terms.cards import RateStep

START = 2027 * 12


def debts(count: int, months: int) -> list[PlainDebt]:
    """Debts that their minimums clear in so many months, some with a rate that rises on the way."""
    rng = random.Random(count)
    made = []
    for number in range(count):
        balance, rate = rng.randint(2_000_00, 200_000_00), Decimal(rng.randint(300, 1200)) / 100
        level = rounded_level(balance, period_rate(rate, 12), months, 0, "half_up")
        steps = (RateStep(date(2028, 1 + number % 12, 1), rate - 2),) if number % 3 == 0 else ()
        made.append(PlainDebt(f"d{number}", f"Debt {number}", balance, rate, Minimum(level), steps))
    return made


def best(work: Callable[[], object], times: int) -> float:
    """The least milliseconds of so many times."""
    taken = []
    for _ in range(times):
        begin = time.perf_counter()
        work()
        taken.append(1000 * (time.perf_counter() - begin))
    return min(taken)


def main() -> None:
    twenty, wish = debts(20, 480), Wish(extra_monthly=100_00)
    orders = best(lambda: [run(twenty, START, replace(wish, strategy=each)) for each in STRATEGIES], 9)
    print(f"20 debts over 40 years, all orders: {orders:.0f} ms (wanted under 60)")
    ten = debts(10, 120)
    runs = [run(ten, START, replace(wish, strategy=each)) for each in STRATEGIES]
    found = best(lambda: cheapest(ten, runs, lambda guide: run(ten, START, wish, None, guide)), 3)
    print(f"cheapest way for 10 debts over 120 months: {found:.0f} ms (wanted under 2000)")


if __name__ == "__main__":
    main()
