"""Alternatives side by side, and the reverse questions: what extra, how much, at what rate."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from itertools import accumulate

from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.loans.apr import loan_apr
from next_penny.core.loans.level import payment_for
from next_penny.core.loans.schedule import Schedule, payments_until
from next_penny.core.loans.walked import LoanError
from next_penny.core.plan.terms.loans import LoanTerms

_RATE_STEP = Decimal("0.001")
_HIGHEST_RATE = 200


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a variant comes to; minor units, seen from the day on which it begins.

    total: every payment and fee to the end. cost: what of that by the end of the horizon is no principal: interest,
    insurance, fees, and interest of the old loan that is rolled in. saves: how much less that is than the first
    variant's; saves_in_all: the same of `total`, to the very end. breaks_even: the first month in which the variant has
    cost no more than the first so far; None if never. never_ends: nothing of this is final.
    """

    schedule: Schedule
    payment: int
    total_interest: int
    payments: int
    paid_off: date
    apr: Decimal | None
    cost: int
    saves: int
    total: int
    saves_in_all: int
    breaks_even: date | None
    never_ends: bool


@dataclass(frozen=True, slots=True)
class Variant:
    """A schedule from a day on, and what of interest so far was rolled into it when it took another loan's place."""

    schedule: Schedule
    rolled_in: int = 0


def compare(variants: Sequence[Variant], begin: date, horizon_months: int) -> list[Outcome]:
    """Variants of a loan seen from a day; the first is what the others are held against.

    Payments and fees before `begin` are past for all. Costs over so many months are those of the same days for all, up
    to that day so many months later: sixty monthly payments are held against all weekly ones that fall due by then.
    """
    costs = [_monthly_costs(variant, begin) for variant in variants]
    length = max(len(months) for months in costs)
    totals = [list(accumulate([*months, *[0] * (length - len(months))])) for months in costs]
    days = _days_over(variants[0].schedule.terms, begin, horizon_months)
    over = [_cost_over(variant, begin, days) for variant in variants]
    paid = [_paid_in_all(variant.schedule, begin) for variant in variants]
    return [
        Outcome(
            schedule=variant.schedule,
            payment=variant.schedule.level,
            total_interest=sum(variant.schedule.interest[payments_until(variant.schedule, begin.toordinal()) :]),
            payments=len(variant.schedule) - payments_until(variant.schedule, begin.toordinal()),
            paid_off=variant.schedule.paid_off,
            apr=_apr(variant.schedule.terms),
            cost=over[number],
            saves=over[0] - over[number],
            total=paid[number],
            saves_in_all=paid[0] - paid[number],
            breaks_even=_break_even(totals[0], totals[number], begin) if number else None,
            never_ends=variant.schedule.findings.never_ends,
        )
        for number, variant in enumerate(variants)
    ]


def _apr(terms: LoanTerms) -> Decimal | None:
    """The rate as agreed; None where payments never were worth what was advanced."""
    try:
        # Extras are not part of what was agreed, so the rate is the same whatever they are.
        return loan_apr(replace(terms, extras=())).apr
    except LoanError:
        return None


def _fees_from(schedule: Schedule, begin: date, *, in_cash: bool) -> int:
    """The fees that are still to be paid: in cash, or all of them."""
    if schedule.terms.disbursed < begin or schedule.first_number > 1:
        return 0
    return sum(fee.amount for fee in schedule.terms.fees if not (in_cash and fee.financed))


def _paid_in_all(schedule: Schedule, begin: date) -> int:
    """All payments, extras and fees from a day to the end; escrow apart, which is the household's own."""
    first = payments_until(schedule, begin.toordinal())
    columns = (schedule.interest, schedule.principal, schedule.extra, schedule.insurance)
    return sum(sum(column[first:]) for column in columns) + _fees_from(schedule, begin, in_cash=True)


def _monthly_costs(variant: Variant, begin: date) -> list[int]:
    """By month from that of `begin`: interest, insurance and fees, and what was rolled in."""
    schedule, first = variant.schedule, month_number(begin)
    months = [0] * (max(0, month_number(date.fromordinal(schedule.due[-1])) - first) + 1)
    for due, interest, insurance in zip(schedule.due, schedule.interest, schedule.insurance, strict=True):
        if due >= begin.toordinal():
            months[month_number(date.fromordinal(due)) - first] += interest + insurance
    months[0] += variant.rolled_in
    if schedule.terms.disbursed >= begin:
        months[max(0, month_number(schedule.terms.disbursed) - first)] += _fees_from(schedule, begin, in_cash=False)
    return months


def _days_over(terms: LoanTerms, begin: date, months: int) -> range:
    """The days (numbers) of so many months from a day; of a loan that is paid out on that day, from the day after."""
    first, last = begin.toordinal(), add_months(begin, months).toordinal()
    return range(first + 1, last + 1) if terms.disbursed >= begin else range(first, last)


def _cost_over(variant: Variant, begin: date, days: range) -> int:
    """Interest, insurance and fees of what is due on some days, and what was rolled in."""
    schedule = variant.schedule
    cost = variant.rolled_in + sum(
        interest + insurance
        for due, interest, insurance in zip(schedule.due, schedule.interest, schedule.insurance, strict=True)
        if due in days
    )
    return cost + (
        _fees_from(schedule, begin, in_cash=False) if schedule.terms.disbursed.toordinal() < days.stop else 0
    )


def _break_even(base: Sequence[int], other: Sequence[int], begin: date) -> date | None:
    """The first month from which on the other has never cost more so far than the base."""
    later = len(base)
    while later > 0 and other[later - 1] <= base[later - 1]:
        later -= 1
    return add_months(begin.replace(day=1), later) if later < len(base) else None


# The schedule of a loan had it so much extra with every payment.
WithExtra = Callable[[int], Schedule]


def extra_to_end_by(with_extra: WithExtra, most: int, begin: date, by: date) -> int:
    """The least extra with every payment that pays a loan off by a day. Raises LoanError if none up to `most` can."""
    if by < begin:
        raise LoanError("by", "Choose a later day.", "range")

    def is_enough(amount: int) -> bool:
        ends = with_extra(amount).ends
        return ends is not None and ends <= by

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
