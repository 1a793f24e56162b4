"""What it takes to pay a loan off on a day: the balance, and the interest since the last due date."""

from bisect import bisect_left, bisect_right
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from next_penny.core.loans.schedule import LoanError, Schedule
from next_penny.core.loans.terms import year_fraction
from next_penny.core.money import round_half_up


@dataclass(frozen=True, slots=True)
class Payoff:
    """Minor units; `balance` is owed at the end of the day, the day's own payment made."""

    balance: int
    accrued_interest: int

    @property
    def total(self) -> int:
        return self.balance + self.accrued_interest


def payoff_amount(found: Schedule, on: date, *, day_is_paid: bool = True) -> Payoff:
    """What pays a loan off on a day: simple interest since the last due date by the loan's own day count.

    Loans of equal periods count 30/360 days. A payment due on the day counts as made unless `day_is_paid` is False.
    Raises LoanError for a day before the loan.
    """
    day = on.toordinal()
    if day < found.since:
        began = date.fromordinal(found.since)
        raise LoanError("on", f"The loan begins on {began}: choose that day or a later one.", "range")
    place = bisect_right(found.due, day) if day_is_paid else bisect_left(found.due, day)
    if place >= len(found.due):
        return Payoff(0, 0)
    since = found.due[place - 1] if place else found.since
    held = found.balance[place - 1] if place else found.opening
    weighted, begin = Fraction(), since
    for when, amount in found.between:
        if since <= when <= day and held > 0:
            weighted += held * year_fraction(found.terms.interest, begin, when)
            held, begin = held - amount, when
    weighted += held * year_fraction(found.terms.interest, begin, day)
    return Payoff(held, round_half_up(weighted * Fraction(found.rate[place]) / 100))
