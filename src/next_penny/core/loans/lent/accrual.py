"""Simple interest on money lent, and how what comes is split (docs/rules.md, Money lent)."""

from decimal import Decimal
from fractions import Fraction
from typing import NamedTuple

_YEAR_IN_PERCENT = 36_500


class Part(NamedTuple):
    """A repayment in its parts."""

    interest: int
    principal: int

    @property
    def amount(self) -> int:
        return self.interest + self.principal


def part_of(amount: int, owed: int, accrued: int) -> Part:
    """A repayment of at most an amount: interest accrued first, then principal, and never more than both."""
    interest = min(amount, max(0, accrued))
    return Part(interest, min(amount - interest, max(0, owed)))


class Accrual:
    """Simple interest by actual/365, exact until it is received. Walked forward only; days are day numbers."""

    def __init__(self, rate: Decimal, day: int, balance: int) -> None:
        self._daily, self._day = Fraction(rate) / _YEAR_IN_PERCENT, day
        self.balance, self.exact = balance, Fraction(0)

    def to(self, day: int) -> None:
        """Let the days pass until the end of one, its own interest included."""
        if day > self._day:
            self.exact += max(0, self.balance) * self._daily * (day - self._day)
            self._day = day

    @property
    def rounded(self) -> int:
        """What has accrued and was not received, half up; below zero where more was received than had accrued."""
        twice = 2 * abs(self.exact)
        whole = int((twice + 1) // 2)
        return whole if self.exact >= 0 else -whole

    def receive(self, interest: int) -> None:
        """Interest that came: the fraction left by rounding goes with what takes all."""
        self.exact = Fraction(0) if interest == self.rounded else self.exact - interest

    def record(self, principal: int, interest: int) -> None:
        """What was recorded on a day: principal lent (above zero) or repaid, and interest that came with it."""
        if principal <= 0:  # lending more takes no interest, nor its fraction
            self.receive(interest)
        self.balance += principal

    def take(self, amount: int) -> Part:
        """Receive at most an amount: interest accrued first, then principal, and never more than both."""
        part = part_of(amount, self.balance, self.rounded)
        self.receive(part.interest)
        self.balance -= part.principal
        return part
