"""The annual percentage rate by the actuarial method of US Regulation Z (12 CFR 1026), Appendix J.

The general equation of Appendix J (b)(8) is solved in decimals of 50 digits. Paragraphs are named where each rule is
applied: (b)(4) chooses the unit-period, (b)(5) counts unit-periods between dates, fractions at simple interest.
"""

import datetime
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal, localcontext
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise
from typing import Literal, NamedTuple

from next_penny.core.dates.calendar import add_months, month_length, month_number
from next_penny.core.loan_terms import LoanTerms
from next_penny.core.loans.schedule import LoanError, without_extras

UnitKind = Literal["day", "week", "half month", "month"]
_DAYS: dict[UnitKind, Fraction] = {
    "day": Fraction(1), "week": Fraction(7), "half month": Fraction(365, 24), "month": Fraction(365, 12),
}  # fmt: skip
_SHOWN = Decimal("0.001")
_DIGITS = 50
_MOST_STEPS = 200
_HIGHEST = 1_000_000
# Whole unit-periods, and the fraction of one that is left.
_Units = tuple[int, Fraction]


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
    told = without_extras(terms)
    in_cash = sum(fee.amount for fee in terms.fees if not fee.financed)
    advance = DatedSum(terms.disbursed, terms.principal - in_cash)
    payments = [
        DatedSum(datetime.date.fromordinal(due), interest + principal + insurance)
        for due, interest, principal, insurance in zip(
            told.due, told.interest, told.principal, told.insurance, strict=True
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
    units = {**_unit_periods(begin, [a.date for a in advances], unit), begin: (0, Fraction())}
    paid = _unit_periods(begin, [p.date for p in payments], unit)
    rate = _solve([*_runs(units, advances, -1), *_runs(paid, payments, 1)])
    if Fraction(rate) * unit.per_year * 100 > _HIGHEST:
        raise LoanError("payments", f"The rate would be above {_HIGHEST:,} percent: check the amounts.", "range")
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


def _units(begin: datetime.date, end: datetime.date, unit: UnitPeriod) -> _Units:
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


def _unit_periods(
    begin: datetime.date, dates: Sequence[datetime.date], unit: UnitPeriod
) -> dict[datetime.date, _Units]:
    """By date, the unit-periods from the first advance. After a series' odd first period its intervals are regular.

    A series is of one day of the month, (b)(3): its 29th, 30th and 31st fall on the last day of a shorter month. Its
    first date is measured from the advance, every later one from that.
    """
    distinct = sorted(set(dates))
    if unit.kind in ("day", "week"):
        return {date: _units(begin, date, unit) for date in distinct}
    if unit.kind == "half month":
        return _half_months(begin, distinct, unit)
    units: dict[datetime.date, _Units] = {}
    for series in _series(distinct):
        first, measured = series[0], _units(begin, series[0], unit)
        for date in series:
            steps, rest = divmod(month_number(date) - month_number(first), unit.times)
            units[date] = (measured[0] + steps, measured[1]) if not rest else _units(begin, date, unit)
    return units


def _half_months(begin: datetime.date, dates: Sequence[datetime.date], unit: UnitPeriod) -> dict[datetime.date, _Units]:
    """Dates half a month apart are one unit-period apart."""
    units: dict[datetime.date, _Units] = {}
    before: datetime.date | None = None
    for date in dates:
        if before is not None and 13 <= (date - before).days <= 16:
            whole, part = units[before]
            units[date] = (whole + 1, part)
        else:
            units[date] = _units(begin, date, unit)
        before = date
    return units


def _series(dates: Sequence[datetime.date]) -> list[list[datetime.date]]:
    """Dates in order, told apart by the day of the month that all of a series have, or would have."""
    series: list[list[datetime.date]] = []
    days: list[range] = []
    for date in dates:
        length = month_length(month_number(date))
        possible = range(date.day, 32) if date.day == length else range(date.day, date.day + 1)
        for number, known in enumerate(days):
            common = range(max(known.start, possible.start), min(known.stop, possible.stop))
            if common:
                series[number].append(date)
                days[number] = common
                break
        else:
            series.append([date])
            days.append(possible)
    return series


def _divided(days: int, length: int) -> _Units:
    return days // length, _part(days % length, length)


@lru_cache(maxsize=4096)
def _part(days: int, length: int) -> Fraction:
    return Fraction(days, length)


def _whole_months(begin: datetime.date, end: datetime.date) -> int:
    """How many whole months fit when measured back from the later date."""
    months = month_number(end) - month_number(begin)
    return months if add_months(end, -months) >= begin else months - 1


class _Run(NamedTuple):
    """Equal amounts, so many of them: the first after `whole` unit-periods and a part, then every `step` of them."""

    whole: int
    part: Decimal
    amount: Decimal
    times: int
    step: int


def _runs(units: Mapping[datetime.date, _Units], sums: Sequence[DatedSum], sign: int) -> Iterator[_Run]:
    """Dated sums, those that repeat evenly taken together, so that a long series is worth one sum."""
    rows = sorted((*units[each.date], each.amount) for each in sums)
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
