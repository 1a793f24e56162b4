"""The annual percentage rate by the actuarial method of US Regulation Z (12 CFR 1026), Appendix J.

The general equation of Appendix J (b)(8) is solved in decimals of 30 digits. Paragraphs are named where each rule is
applied: (b)(4) chooses the unit-period, (b)(5) counts unit-periods between dates, fractions at simple interest.
"""

import datetime
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal, localcontext
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise
from typing import Literal, NamedTuple

from next_penny.core.dates.calendar import add_months, month_number
from next_penny.core.loans.schedule import LoanError, without_extras
from next_penny.core.loans.terms import LoanTerms

UnitKind = Literal["day", "week", "half month", "month"]
_DAYS: dict[UnitKind, Fraction] = {
    "day": Fraction(1), "week": Fraction(7), "half month": Fraction(365, 24), "month": Fraction(365, 12),
}  # fmt: skip
_SHOWN = Decimal("0.001")
_DIGITS = 30
_MOST_STEPS = 200


class UnitPeriod(NamedTuple):
    """A unit-period: so many days, weeks or months, or half a month."""

    kind: UnitKind
    times: int

    @property
    def length(self) -> Fraction:
        """About how many days it has, to tell the smaller of two."""
        return _DAYS[self.kind] * self.times

    @property
    def per_year(self) -> Fraction:
        whole = {"day": 365, "week": 52, "half month": 24, "month": 12}[self.kind]
        return Fraction(whole, self.times)

    def __str__(self) -> str:
        if self.kind == "half month":
            return "half month"
        if (self.kind, self.times) == ("month", 12):
            return "1 year"
        return f"{self.times} {self.kind}{'' if self.times == 1 else 's'}"


class DatedSum(NamedTuple):
    date: datetime.date
    amount: int


@dataclass(frozen=True, slots=True)
class AnnualPercentageRate:
    """In percent, rounded to 0.001; with the unit-period by which it was found."""

    apr: Decimal
    unit_period: UnitPeriod


@lru_cache(maxsize=256)
def loan_apr(terms: LoanTerms) -> AnnualPercentageRate:
    """The rate of a loan as agreed, without extras. Fees and mortgage insurance are costs of it, escrow is not."""
    found = without_extras(terms)
    in_cash = sum(fee.amount for fee in terms.fees if not fee.financed)
    advance = DatedSum(terms.disbursed, terms.principal - in_cash)
    payments = [
        DatedSum(datetime.date.fromordinal(due), interest + principal + insurance)
        for due, interest, principal, insurance in zip(
            found.due, found.interest, found.principal, found.insurance, strict=True
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
    rate = _solve([(*_units(begin, a.date, unit), a.amount) for a in advances],
                  [(*_units(begin, p.date, unit), p.amount) for p in payments])  # fmt: skip
    with localcontext() as context:
        context.prec = _DIGITS
        per_year = Decimal(unit.per_year.numerator) / unit.per_year.denominator
        return AnnualPercentageRate((rate * per_year * 100).quantize(_SHOWN, ROUND_HALF_UP), unit)


def unit_period(advances: Sequence[DatedSum], payments: Sequence[DatedSum]) -> UnitPeriod:
    """The unit-period of a transaction, (b)(4): its most frequent common period, the smaller of two as frequent."""
    given, paid = (sorted({each.date for each in list_}) for list_ in (advances, payments))
    if len(given) == 1 and len(paid) == 1:
        return _term(given[0], paid[0])
    first = [(given[0], paid[0])] if paid[0] > given[0] else []
    periods = [_period(*pair) for pair in (*pairwise(given), *first, *pairwise(paid))]
    common = {period: times for period, times in Counter(periods).items() if times > 1}
    if common:
        return _at_most_a_year(min(common, key=lambda period: (-common[period], period.length)))
    average = sum((period.length for period in periods), Fraction()) / len(periods)
    return min(_standard_intervals(), key=lambda period: (abs(period.length - average), period.length))


def _standard_intervals() -> Iterable[UnitPeriod]:
    yield UnitPeriod("day", 1)
    yield from (UnitPeriod("week", count) for count in range(1, 53))
    yield UnitPeriod("half month", 1)
    yield from (UnitPeriod("month", count) for count in range(1, 13))


def _term(begin: datetime.date, end: datetime.date) -> UnitPeriod:
    """One advance and one payment, (b)(5)(vi) and (vii): the term itself, up to a year."""
    period = _period(begin, end)
    if period.kind == "month":
        return _at_most_a_year(period)
    days = (end - begin).days
    return UnitPeriod("month", 12) if days > 365 else UnitPeriod("day", max(1, days))


def _at_most_a_year(period: UnitPeriod) -> UnitPeriod:
    return UnitPeriod("month", 12) if period.length > 366 else period


def _period(begin: datetime.date, end: datetime.date) -> UnitPeriod:
    """What the time between two dates is: whole months, half a month, whole weeks, or days."""
    months, days = month_number(end) - month_number(begin), (end - begin).days
    if months and (add_months(begin, months) == end or add_months(end, -months) == begin):
        return UnitPeriod("month", months)
    if days in (13, 15, 16):
        return UnitPeriod("half month", 1)
    return UnitPeriod("week", days // 7) if days % 7 == 0 else UnitPeriod("day", days)


def _units(begin: datetime.date, end: datetime.date, unit: UnitPeriod) -> tuple[int, Fraction]:
    """Whole unit-periods between two dates and the fraction of one that is left, (b)(5)."""
    if unit.kind in ("day", "week"):
        return _divided((end - begin).days, 7 * unit.times if unit.kind == "week" else unit.times)
    months = _whole_months(begin, end)
    rest = (add_months(end, -months) - begin).days
    if unit == ("month", 12):
        years = months // 12
        left = (add_months(end, -12 * years) - begin).days
        return years, Fraction(months % 12, 12) if rest == 0 else Fraction(left, 365)
    if unit.kind == "half month":
        return _divided(30 * months + rest, 15)
    return _divided(30 * months + rest, 30 * unit.times)


def _divided(days: int, length: int) -> tuple[int, Fraction]:
    return days // length, Fraction(days % length, length)


def _whole_months(begin: datetime.date, end: datetime.date) -> int:
    """How many whole months fit when measured back from the later date."""
    months = month_number(end) - month_number(begin)
    return months if add_months(end, -months) >= begin else months - 1


_Term = tuple[int, Fraction, int]


def _solve(advances: Sequence[_Term], payments: Sequence[_Term]) -> Decimal:
    """The rate of a unit-period at which both sides are worth the same: Newton's method, kept within bounds."""
    with localcontext() as context:
        context.prec = _DIGITS
        terms = [(t, Decimal(f.numerator) / f.denominator, Decimal(-amount)) for t, f, amount in advances]
        terms += [(t, Decimal(f.numerator) / f.denominator, Decimal(amount)) for t, f, amount in payments]
        terms.sort(key=lambda term: term[0])
        low, high, rate = Decimal(0), Decimal(1), Decimal("0.01")
        while _worth(terms, high)[0] > 0 and high < 10**6:
            high *= 2
        for _ in range(_MOST_STEPS):
            value, slope = _worth(terms, rate)
            low, high = (rate, high) if value > 0 else (low, rate)
            step = rate - value / slope if slope else low
            step = step if low < step < high else (low + high) / 2
            if abs(step - rate) < Decimal("1e-18"):
                break
            rate = step
        return rate


def _worth(terms: Sequence[tuple[int, Decimal, Decimal]], rate: Decimal) -> tuple[Decimal, Decimal]:
    """What payments are worth beyond the advances at a rate, and how that changes with it."""
    value, slope = Decimal(0), Decimal(0)
    grown = 1 + rate
    power, at = Decimal(1), 0
    for whole, part, amount in terms:
        if whole > at:
            power *= grown ** (whole - at)
            at = whole
        simple = 1 + part * rate
        worth = amount / (power * simple)
        value += worth
        slope -= worth * (whole / grown + part / simple)
    return value, slope
