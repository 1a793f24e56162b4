"""What it takes to pay a loan off on a day: the balance, and the interest since the last due date."""

from bisect import bisect_left, bisect_right
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from next_penny.core.dates.day_counts import year_fraction
from next_penny.core.loans.schedule import Schedule
from next_penny.core.loans.walked import LoanError
from next_penny.core.money import round_half_up


@dataclass(frozen=True, slots=True)
class Payoff:
    """Minor units; `balance` is owed at the end of the day, the day's own payment made."""

    balance: int
    accrued_interest: int

    @property
    def total(self) -> int:
        return self.balance + self.accrued_interest


def payoff_amount(schedule: Schedule, on: date, *, day_is_paid: bool = True) -> Payoff:
    """What pays a loan off on a day: simple interest since the last due date by the loan's own day count.

    Loans of equal periods count 30/360 days. A payment due on the day counts as made unless `day_is_paid` is False.
    Interest that stayed due from payments that were not made is part of it. Raises LoanError for a day before the loan.
    """
    day = on.toordinal()
    if day < schedule.since:
        began = date.fromordinal(schedule.since)
        raise LoanError("on", f"The loan begins on {began}: choose that day or a later one.", "range")
    paid = bisect_right(schedule.due, day) if day_is_paid else bisect_left(schedule.due, day)
    if paid >= len(schedule):
        return Payoff(0, 0)
    since = schedule.due[paid - 1] if paid else schedule.since
    owed = schedule.balance[paid - 1] if paid else schedule.opening
    is_equal = schedule.terms.interest == "equal_periods"
    weighted, begin = Fraction(), since
    for moved in sorted((*schedule.between, *schedule.moved)):
        if since <= moved.day <= day and (owed > 0 or moved.amount < 0) and (paid == 0 or moved.day > since):
            if not is_equal:
                weighted += max(0, owed) * year_fraction(schedule.terms.interest, begin, moved.day)
                begin = moved.day
            owed -= moved.amount
    bearing = (schedule.balance[paid - 1] if paid else schedule.opening) if is_equal else max(0, owed)
    weighted += bearing * year_fraction(schedule.terms.interest, begin, day)
    accrued = round_half_up(weighted * Fraction(schedule.rate[paid]) / 100)
    return Payoff(max(0, owed), accrued + schedule.columns.carried[paid])
