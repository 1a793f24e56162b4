"""The annual percentage rate by the actuarial method of US Regulation Z (12 CFR 1026), Appendix J.

The general equation of Appendix J (b)(8) is solved in decimals of 50 digits. Paragraphs are named where each rule is
applied: (b)(4) chooses the unit-period, (b)(5) counts unit-periods between dates, fractions at simple interest.
"""

import datetime
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal, localcontext
from fractions import Fraction
from functools import lru_cache
from typing import NamedTuple

from next_penny.core.loans.schedule import without_extras
from next_penny.core.loans.unit_periods import DatedSum, UnitPeriod, Units, unit_period, unit_periods
from next_penny.core.loans.walked import LoanError
from next_penny.core.plan.terms.loans import LoanTerms

_SHOWN = Decimal("0.001")


_DIGITS = 50


_MOST_STEPS = 200


_HIGHEST = 1_000_000


@dataclass(frozen=True, slots=True)
class AnnualPercentageRate:
    """In percent, rounded to 0.001; with the unit-period by which it was found."""

    apr: Decimal
    unit_period: UnitPeriod


@lru_cache(maxsize=256)
def loan_apr(terms: LoanTerms) -> AnnualPercentageRate:
    """The rate of a loan as agreed, without extras. Fees and mortgage insurance are costs of it, escrow is not."""
    schedule = without_extras(terms)
    in_cash = sum(fee.amount for fee in terms.fees if not fee.financed)
    advance = DatedSum(terms.disbursed, terms.principal - in_cash)
    payments = [
        DatedSum(datetime.date.fromordinal(due), interest + principal + insurance)
        for due, interest, principal, insurance in zip(
            schedule.due, schedule.interest, schedule.principal, schedule.insurance, strict=True
        )
    ]
    return annual_percentage_rate([advance], payments, _agreed_unit(terms) if len(payments) > 1 else None)


def _agreed_unit(terms: LoanTerms) -> UnitPeriod:
    per_year = terms.payments_per_year
    if per_year in (26, 52):
        return UnitPeriod("week", 52 // per_year)
    return UnitPeriod("half month", 1) if per_year == 24 else UnitPeriod("month", 12 // per_year)


def annual_percentage_rate(
    advances: Sequence[DatedSum], payments: Sequence[DatedSum], unit: UnitPeriod | None = None
) -> AnnualPercentageRate:
    """The rate at which payments are worth the advances. Raises LoanError where there is none."""
    if not advances or not payments:
        raise LoanError("advances" if not advances else "payments", "Give at least one of each.", "needed")
    begin = min(advance.date for advance in advances)
    if min(payment.date for payment in payments) < begin:
        raise LoanError("payments", "A payment comes before the first advance.", "range")
    if sum(p.amount for p in payments) < sum(a.amount for a in advances):
        raise LoanError(
            "payments", "The payments are less than what was advanced: there is no cost of credit.", "range"
        )
    unit = unit or unit_period(advances, payments)
    units = {**unit_periods(begin, [a.date for a in advances], unit), begin: (0, Fraction())}
    paid = unit_periods(begin, [p.date for p in payments], unit)
    rate = _solve([*_runs(units, advances, -1), *_runs(paid, payments, 1)])
    if Fraction(rate) * unit.per_year * 100 > _HIGHEST:
        raise LoanError("payments", f"The rate would be above {_HIGHEST:,} percent: check the amounts.", "range")
    with localcontext() as context:
        context.prec = _DIGITS
        per_year = Decimal(unit.per_year.numerator) / unit.per_year.denominator
        return AnnualPercentageRate((rate * per_year * 100).quantize(_SHOWN, ROUND_HALF_UP), unit)


class _Run(NamedTuple):
    """Equal amounts, so many of them: the first after `whole` unit-periods and a part, then every `step` of them."""

    whole: int
    part: Decimal
    amount: Decimal
    times: int
    step: int


def _runs(units: Mapping[datetime.date, Units], sums: Sequence[DatedSum], sign: int) -> Iterator[_Run]:
    """Dated sums, those that repeat evenly taken together, so that a long series is worth one sum."""
    rows = sorted((*units[dated_sum.date], dated_sum.amount) for dated_sum in sums)
    at = 0
    while at < len(rows):
        whole, part, amount = rows[at]
        end, step = at + 1, 0
        while end < len(rows) and rows[end][1:] == (part, amount):
            gap = rows[end][0] - rows[end - 1][0]
            if gap == 0 or (step and gap != step):
                break
            step, end = gap, end + 1
        yield _Run(whole, Decimal(part.numerator) / part.denominator, Decimal(sign * amount), end - at, step or 1)
        at = end


def _solve(runs: Sequence[_Run]) -> Decimal:
    """The rate of a unit-period at which both sides are worth the same: Newton's method, kept within bounds."""
    with localcontext() as context:
        context.prec = _DIGITS
        low, high, rate = Decimal(0), Decimal(1), Decimal("0.01")
        while _worth(runs, high)[0] > 0 and high < 10**6:
            high *= 2
        for _ in range(_MOST_STEPS):
            value, slope = _worth(runs, rate)
            low, high = (rate, high) if value > 0 else (low, rate)
            step = rate - value / slope if slope else low
            step = step if low < step < high else (low + high) / 2
            if abs(step - rate) < Decimal("1e-18"):
                break
            rate = step
        return rate


def _worth(runs: Sequence[_Run], rate: Decimal) -> tuple[Decimal, Decimal]:
    """What payments are worth beyond the advances at a rate, and how that changes with it."""
    value, slope = Decimal(0), Decimal(0)
    grown = 1 + rate
    for whole, part, amount, times, step in runs:
        simple = 1 + part * rate
        first = amount / (grown**whole * simple)
        if times == 1:
            value += first
            slope -= first * (whole / grown + part / simple)
            continue
        total, weighted = _geometric(grown**-step, times)
        value += first * total
        slope -= first * (total * (whole / grown + part / simple) + weighted * step / grown)
    return value, slope


def _geometric(ratio: Decimal, count: int) -> tuple[Decimal, Decimal]:
    """The sum of ratio^j for j from 0 to count − 1, and of j·ratio^j."""
    short = 1 - ratio
    if abs(short) < Decimal("1e-12"):
        return Decimal(count), Decimal(count * (count - 1) // 2)
    last = ratio**count
    total = (1 - last) / short
    return total, (ratio - count * last + (count - 1) * last * ratio) / (short * short)
