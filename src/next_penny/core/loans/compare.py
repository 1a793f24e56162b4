"""Alternatives side by side, and the reverse questions: what extra, how much, at what rate."""

from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from itertools import accumulate

from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.loans.apr import loan_apr
from next_penny.core.loans.level import payment_for
from next_penny.core.loans.schedule import LoanError, Resume, Schedule, schedule
from next_penny.core.loans.terms import Extra, LoanTerms

_RATE_STEP = Decimal("0.001")
_HIGHEST_RATE = 200


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a variant comes to; minor units. `cost` is interest, insurance and fees paid by the end of the horizon.

    `saves` is how much less that is than the first variant's, `interest_saved` the same to the very end.
    `breaks_even`: the first month in which the variant has cost no more than the first so far; None if never.
    """

    schedule: Schedule
    payment: int
    total_interest: int
    payments: int
    paid_off: date
    apr: Decimal | None
    cost: int
    saves: int
    interest_saved: int
    breaks_even: date | None


def compare(variants: Sequence[tuple[LoanTerms, Resume | None]], begin: date, horizon_months: int) -> list[Outcome]:
    """Variants of a loan seen from a day; the first is what the others are held against.

    Payments and fees before `begin` are past for all. Raises LoanError where a variant cannot be followed.
    """
    schedules = [schedule(terms, resume) for terms, resume in variants]
    costs = [_monthly_costs(found, begin) for found in schedules]
    length = max(len(months) for months in costs)
    totals = [list(accumulate([*months, *[0] * (length - len(months))])) for months in costs]
    at = min(horizon_months, length) - 1
    base_interest = _interest_from(schedules[0], begin)
    outcomes = []
    for place, found in enumerate(schedules):
        cost = totals[place][at] if at >= 0 else 0
        outcomes.append(
            Outcome(
                schedule=found,
                payment=found.level,
                total_interest=_interest_from(found, begin),
                payments=sum(day >= begin.toordinal() for day in found.due),
                paid_off=found.paid_off,
                apr=_apr(variants[place][0]),
                cost=cost,
                saves=(totals[0][at] if at >= 0 else 0) - cost,
                interest_saved=base_interest - _interest_from(found, begin),
                breaks_even=_break_even(totals[0], totals[place], begin) if place else None,
            )
        )
    return outcomes


def _apr(terms: LoanTerms) -> Decimal | None:
    """The rate as agreed; None where payments never were worth what was advanced."""
    try:
        # Extras are not part of what was agreed, so the rate is the same whatever they are.
        return loan_apr(replace(terms, extras=())).apr
    except LoanError:
        return None


def _interest_from(found: Schedule, begin: date) -> int:
    first = bisect_left(found.due, begin.toordinal())
    return sum(found.interest[first:])


def _monthly_costs(found: Schedule, begin: date) -> list[int]:
    """By month from that of `begin`: interest, insurance and fees paid."""
    first = month_number(begin)
    length = max(0, month_number(found.paid_off) - first) + 1
    months = [0] * length
    for due, interest, insurance in zip(found.due, found.interest, found.insurance, strict=True):
        if due >= begin.toordinal():
            months[month_number(date.fromordinal(due)) - first] += interest + insurance
    if found.terms.disbursed >= begin:
        months[max(0, month_number(found.terms.disbursed) - first)] += sum(fee.amount for fee in found.terms.fees)
    return months


def _break_even(base: Sequence[int], other: Sequence[int], begin: date) -> date | None:
    """The first month from which on the other has never cost more so far than the base."""
    later = len(base)
    while later > 0 and other[later - 1] <= base[later - 1]:
        later -= 1
    return add_months(begin.replace(day=1), later) if later < len(base) else None


def extra_to_end_by(terms: LoanTerms, resume: Resume | None, begin: date, by: date) -> int:
    """The least extra with every payment from `begin` that pays the loan off by a day. Raises LoanError if none can."""
    if by < begin:
        raise LoanError("by", "Choose a later day.", "range")

    def is_enough(amount: int) -> bool:
        extras = (*terms.extras, Extra(amount, every=1, start=begin))
        return schedule(replace(terms, extras=extras, extra_effect="shorten"), resume).paid_off <= by

    most = resume.balance if resume else terms.amount_financed
    if not is_enough(most):
        raise LoanError("by", "No payment is due by then: choose a later day.", "range")
    return _least(is_enough, 0, most)


def principal_for(terms: LoanTerms, payment: int) -> int:
    """The most that can be borrowed for a level payment at these terms' rate, number of payments and balloon."""
    count = _count(terms)

    def is_too_much(principal: int) -> bool:
        return payment_for(terms, principal, terms.annual_rate, count) > payment

    if is_too_much(max(1, terms.balloon)):
        raise LoanError("payment", "This payment is too small to borrow anything: raise it.", "range")
    return _least(is_too_much, max(1, terms.balloon), max(1, terms.balloon) + (payment + 1) * count) - 1


def rate_for(terms: LoanTerms, payment: int) -> Decimal:
    """The highest yearly rate, to 0.001 percent, at which the level payment is no more than one given."""
    count = _count(terms)

    def is_too_much(steps: int) -> bool:
        return payment_for(terms, terms.amount_financed, steps * _RATE_STEP, count) > payment

    if is_too_much(0):
        raise LoanError("payment", "Even without interest the payment would be higher: raise it.", "range")
    most = int(_HIGHEST_RATE / _RATE_STEP)
    if not is_too_much(most):
        raise LoanError("payment", f"The rate would be above {_HIGHEST_RATE} percent: lower the payment.", "range")
    return (_least(is_too_much, 0, most) - 1) * _RATE_STEP


def _count(terms: LoanTerms) -> int:
    if terms.payments is None:
        raise LoanError("payments", "Say how many payments there are.", "needed")
    return terms.payments - terms.interest_only


def _least(is_so: Callable[[int], bool], low: int, high: int) -> int:
    """The least whole number from `low` to `high` for which something holds, given that it then holds for all above."""
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if is_so(middle) else (middle + 1, high)
    return low
