"""The cheapest way out, held against every way of sending each month's extra to one debt first (RULES section 9)."""

from dataclasses import replace
from datetime import date
from decimal import Decimal
from fractions import Fraction
from itertools import product

from hypothesis import example, given
from hypothesis import strategies as st

from next_penny.core.payoff.cheapest import cheapest
from next_penny.core.payoff.debts import Minimum, PlainDebt
from next_penny.core.payoff.run import run
from next_penny.core.plan.kept.way_out import STRATEGIES, Wish
from next_penny.core.plan.terms.cards import RateStep

# A month number, as the core counts them, and how many months are tried in every way.
START, TRIED = 2027 * 12, 6
Rates = list[Decimal]


def rounded(amount: Fraction) -> int:
    return (2 * amount.numerator + amount.denominator) // (2 * amount.denominator)


def paid_so(balances: list[int], fixed: list[int], rates: list[Rates], extra: int, firsts: tuple[int, ...]) -> int:
    """The interest in all where each month's extra goes to one debt first, then to the dearest; fixed minimums roll on.

    All that was paid as minimums once goes on being paid: so every month has the same money.
    """
    owed, interest_in_all, month = balances[:], 0, 0
    while any(owed):
        rate = [each[min(month, len(each) - 1)] for each in rates]
        money = sum(fixed) + extra
        for debt, balance in enumerate(owed):
            interest = rounded(Fraction(balance) * Fraction(rate[debt]) / 1200)
            interest_in_all += interest
            least = min(fixed[debt], balance + interest)
            owed[debt], money = balance + interest - least, money - least
        dearest = sorted(range(len(owed)), key=lambda debt: -rate[debt])
        first = [firsts[month]] if month < len(firsts) else []
        for debt in [*first, *dearest]:
            paid = min(owed[debt], money)
            owed[debt], money = owed[debt] - paid, money - paid
        month += 1
    return interest_in_all


@st.composite
def debts_to_pay(draw: st.DrawFn) -> tuple[list[PlainDebt], list[Rates], int]:
    """Two or three debts that are gone in a few months, most with a rate that changes on the way."""
    debts, rates = [], []
    for number in range(draw(st.integers(2, 3))):
        balance = draw(st.integers(200_00, 4_000_00))
        fixed = -(-balance // draw(st.integers(6, 14)))
        first, later = (Decimal(draw(st.integers(0, 6_000))) / 100 for _ in range(2))
        at = draw(st.integers(1, 4))
        steps = (RateStep(date(2027, 1 + at, 1), later),) if draw(st.booleans()) else ()
        debts.append(PlainDebt(f"d{number}", f"Debt {number}", balance, first, Minimum(fixed), steps))
        rates.append([first] * at + [later] if steps else [first])
    return debts, rates, draw(st.integers(20_00, 900_00))


def changing(number: int, balance: int, fixed: int, first: str, later: str, at: int) -> PlainDebt:
    """A debt with a fixed minimum, whose rate is another from a month on."""
    steps = (RateStep(date(2027, 1 + at, 1), Decimal(later)),)
    return PlainDebt(f"d{number}", f"Debt {number}", balance, Decimal(first), Minimum(fixed), steps)


# The smallest is to be cleared early, though two others have the higher rates: its minimum is freed for them.
@example(
    (
        [
            changing(0, 3_479_25, 347_93, "39.96", "24.07", 1),
            changing(1, 261_22, 32_66, "30.59", "52.12", 3),
            changing(2, 1_817_91, 181_80, "48.39", "23.02", 3),
        ],
        [
            [Decimal("39.96"), Decimal("24.07")],
            [*[Decimal("30.59")] * 3, Decimal("52.12")],
            [*[Decimal("48.39")] * 3, Decimal("23.02")],
        ],
        272_39,
    )
)
@given(debts_to_pay())
def test_no_way_of_sending_the_extra_to_one_debt_first_is_cheaper(
    drawn: tuple[list[PlainDebt], list[Rates], int],
) -> None:
    debts, rates, extra = drawn
    wish = Wish(extra_monthly=extra)
    orders = [run(debts, START, replace(wish, strategy=each)) for each in STRATEGIES]
    found = cheapest(debts, orders, lambda guide: run(debts, START, wish, None, guide))
    balances, fixed = [debt.balance for debt in debts], [debt.minimum.floor for debt in debts]
    firsts = product(range(len(debts)), repeat=min(TRIED, len(found)))
    best = min(paid_so(balances, fixed, rates, extra, first) for first in firsts)
    # Both are rounded once for each debt and month, by half a unit at most; the other may take a month longer.
    assert found.total_interest <= best + len(debts) * (len(found) + 1)
    assert found.total_interest <= min(order.total_interest for order in orders)
    assert found.total_paid == sum(balances) + found.total_interest
    money = sum(fixed) + extra
    assert [paid + left for paid, left in zip(found.paid, found.left_over, strict=True)] == [money] * len(found)
    # The dearest first is that, where no rate ever changes.
    if not any(debt.rate_changes for debt in debts):
        highest = orders[STRATEGIES.index("highest_rate")]
        assert abs(found.total_interest - highest.total_interest) <= len(debts) * len(found) // 2
        assert highest.total_interest == paid_so(balances, fixed, rates, extra, ())
