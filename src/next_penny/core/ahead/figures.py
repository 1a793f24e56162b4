"""Figures for any stretch: money in and out, balances, days in shallow water (docs/rules.md, Months and figures)."""

from dataclasses import dataclass
from fractions import Fraction

from next_penny.core.ahead.stretch import Stretch
from next_penny.core.forecast.low_points import LowPoint
from next_penny.core.money import round_half_up


@dataclass(frozen=True, slots=True)
class Figures:
    """Amounts are minor units of the accounts' currency; `money_out` is positive. Highest and lowest are first days."""

    opening: int
    money_in: int
    money_out: int
    closing: int
    highest: LowPoint
    lowest: LowPoint
    average: int
    days: int
    days_below_floor: int
    days_below_cushion: int

    @property
    def net(self) -> int:
        """What came in less what went out."""
        return self.money_in - self.money_out


def figures(over: Stretch) -> Figures:
    """The figures of a stretch; closing is opening + in − out, exactly."""
    nets = [movement.net for movement in over.movements()]
    balances = over.together[1:]
    high, low = int(balances.argmax()), int(balances.argmin())
    return Figures(
        opening=int(over.together[0]),
        money_in=sum(net for net in nets if net > 0),
        money_out=-sum(net for net in nets if net < 0),
        closing=int(balances[-1]),
        highest=LowPoint(over.first + high, int(balances[high]), 0),
        lowest=LowPoint(over.first + low, int(balances[low]), 0),
        average=round_half_up(Fraction(int(balances.sum()), len(balances))),
        days=len(balances),
        days_below_floor=int(over.below("floor").sum()),
        days_below_cushion=int(over.below("cushion").sum()),
    )
