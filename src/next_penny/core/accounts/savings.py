"""Savings interest: a yield or rate counted by the bank's convention, credited monthly (docs/rules.md, Savings).

The nominal rate behind an annual percentage yield is that of Regulation DD, Appendix A, solved for the rate.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from datetime import date
from decimal import Decimal, localcontext
from fractions import Fraction
from functools import lru_cache
from typing import Generic

from next_penny.core.accounts.generated import Act, Facts, Generated, Made, Passed, Step, Walked
from next_penny.core.accounts.ledger import Ledger, Span
from next_penny.core.dates.calendar import LAST_YEAR, month_number, month_start
from next_penny.core.money import LARGEST_AMOUNT, round_half_up
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import interest_id
from next_penny.core.plan.terms.savings import SavingsTerms

# Digits carried while interest compounds, and a half with the last of them that may be wrong: far beyond what a cent
# can show.
_DIGITS = 60
_HALF = Decimal(f"0.5{'0' * 38}1")
_LONGEST_MONTH = 31


class _Growth:
    """What a unit earns in a day, (1 + APY)^(1/n) − 1 or the rate ÷ n, and what it grows to when that compounds."""

    def __init__(self, apy: Decimal | None, rate: Decimal | None, days_a_year: int) -> None:
        with localcontext() as context:
            context.prec = _DIGITS
            if apy is not None:
                self.daily = ((1 + apy / 100).ln() / days_a_year).exp() - 1
            else:
                self.daily = (rate or Decimal(0)) / 100 / days_a_year
        self._after: dict[int, Decimal] = {}

    def after(self, days: int) -> Decimal:
        """What a unit is after so many days."""
        grown = self._after.get(days)
        if grown is None:
            with localcontext() as context:
                context.prec = _DIGITS
                grown = (1 + self.daily) ** days
            if days <= _LONGEST_MONTH:
                self._after[days] = grown
        return grown


_growth = lru_cache(maxsize=4096)(_Growth)


def _rounded(amount: Decimal) -> int:
    """Half up; what is a half but for the last digits carried counts as one."""
    return int(amount + _HALF)


def _days_a_year(terms: SavingsTerms, day: int) -> int:
    if terms.basis == "actual":
        year = date.fromordinal(day).year
        return date(year + 1, 1, 1).toordinal() - date(year, 1, 1).toordinal()
    return int(terms.basis)


def plain_terms(account: Account) -> SavingsTerms | None:
    """How an account earns, without what was set of single months; None where it earns nothing."""
    return None if account.savings is None else replace(account.savings, changes=())


def earned(account: Account, amount: int, days: int) -> int:
    """What a sum earns in so many days, at today's yield, compounded daily (docs/rules.md, Savings); minor units."""
    terms = account.savings
    if terms is None:
        return 0
    with localcontext() as context:
        context.prec = _DIGITS
        if terms.apy is not None:
            growth = (1 + terms.apy / 100) ** (Decimal(days) / 365)
        else:
            growth = (1 + (terms.rate or Decimal(0)) / 36500) ** days
        return round_half_up(Fraction(amount) * Fraction(growth - 1))


def interest_over(terms: SavingsTerms, spans: Sequence[Span]) -> int:
    """The interest credited at the end of days with these balances, whatever years they lie in, in minor units."""
    pieces = [piece for span in spans for piece in _within_years(span)] if terms.basis == "actual" else spans
    with localcontext() as context:
        context.prec = _DIGITS
        if terms.rounding == "daily":
            return _rounded_daily(terms, pieces)
        if terms.compounding == "none":
            return _simple(terms, pieces)
        accrued, growth_on = Decimal(0), _growths(terms)
        for first, last, balance in pieces:
            base = balance if balance > 0 else 0
            accrued = (base + accrued) * growth_on(first).after(last - first + 1) - base
        return _rounded(accrued)


def daily_interest(terms: SavingsTerms, spans: Sequence[Span]) -> Iterator[tuple[int, int, Decimal]]:
    """Day by day, its number, the balance that earns (never below zero) and what it earns, in minor units, unrounded.

    Rounded only where the bank rounds each day.
    """
    accrued = Decimal(0)
    with localcontext() as context:
        context.prec = _DIGITS
        for span in spans:
            base = max(0, span.balance)
            for day in range(span.first, span.last + 1):
                earning = base + (accrued if terms.compounding == "daily" else 0)
                interest = earning * factor_on(terms, day)
                if terms.rounding == "daily":
                    interest = Decimal(_rounded(interest))
                accrued += interest
                yield day, base, interest


def _within_years(span: Span) -> Iterator[Span]:
    """A span in pieces of calendar years."""
    first = span.first
    while date.fromordinal(first).year < date.fromordinal(span.last).year:
        ends = date(date.fromordinal(first).year, 12, 31).toordinal()
        yield Span(first, ends, span.balance)
        first = ends + 1
    yield Span(first, span.last, span.balance)


def factor_on(terms: SavingsTerms, day: int) -> Decimal:
    """What a unit earns on a day."""
    return _growths(terms)(day).daily


def _growths(terms: SavingsTerms) -> Callable[[int], _Growth]:
    """How a unit grows, asked by day; the same on every day unless the year's own days count."""
    if terms.basis == "actual":
        return lambda day: _growth(terms.apy, terms.rate, _days_a_year(terms, day))
    always = _growth(terms.apy, terms.rate, int(terms.basis))
    return lambda _: always


def _simple(terms: SavingsTerms, pieces: Sequence[Span]) -> int:
    """Without compounding, rounded at the end; of a rate exactly."""
    exact, by_yield = Fraction(0), Decimal(0)
    for span in pieces:
        earning = max(0, span.balance) * (span.last - span.first + 1)
        if terms.apy is None:
            exact += Fraction(terms.rate or 0) * earning / (100 * _days_a_year(terms, span.first))
        else:
            by_yield += earning * factor_on(terms, span.first)
    if terms.apy is None:
        return (2 * exact.numerator + exact.denominator) // (2 * exact.denominator)
    return _rounded(by_yield)


def _rounded_daily(terms: SavingsTerms, pieces: Sequence[Span]) -> int:
    accrued = 0
    for span in pieces:
        base, factor = max(0, span.balance), factor_on(terms, span.first)
        if terms.compounding == "none":
            accrued += (span.last - span.first + 1) * _rounded(base * factor)
            continue
        for _ in range(span.first, span.last + 1):
            accrued += _rounded((base + accrued) * factor)
    return accrued


def earning_spans(terms: SavingsTerms, ledger: Ledger, first: int, last: int) -> list[Span]:
    """The balances that earn from a day to another: each day's end, or its start where money earns the next day."""
    if terms.movements_earn == "same_day":
        return ledger.spans(first, last)
    return ledger.spans(first - 1, last - 1, later=1)


def first_open_month(terms: SavingsTerms, now: int) -> int:
    """The first month (its number) whose credit is still to come, seen from a day: an earlier one may be put off."""
    put_off = [change.month for change in terms.changes if change.moved_to is not None]
    return min([month_number(date.fromordinal(now)), *put_off])


class SavingsDays(Generic[Made]):
    """On which days savings are credited with their interest; how much is made by whoever walks them."""

    def __init__(self, account: Account, passed: Passed, order: int) -> None:
        assert account.savings is not None
        self.account, self.terms, self.opened = account, account.savings, account.opening.date.toordinal()
        self._order, self._passed = order, passed

    def _credit(self, month: int, day: int) -> Made | None:
        """Credit a month's interest on a day."""
        raise NotImplementedError

    def agenda(self, until: int) -> Iterator[Act[Made]]:
        """Every credit by a day; one of a month that is over counts only where it was put off until now."""
        settled, now = self._passed.of(interest_id(self.account.id)), self._passed.now
        begins = month_number(date.fromordinal(max(now, self.opened)))
        put_off = [month for month in sorted(self.terms.change_by_month) if month < begins]
        last = min(month_number(date.fromordinal(until)), LAST_YEAR * 12 - 1)
        for month in (*put_off, *range(begins, last + 1)):
            ends, change = month_start(month + 1) - 1, self.terms.change_by_month.get(month)
            lands = change.moved_to.toordinal() if change is not None and change.moved_to is not None else ends
            is_over = ends in settled or (change is not None and change.left_out) or ends < self.opened
            if not is_over and now <= lands <= until:
                yield Act(lands, Step.CREDIT, self._order, lambda day, month=month: self._credit(month, day))  # type: ignore[misc]


class Savings(SavingsDays[Generated]):
    """One savings account in the walk."""

    def __init__(self, account: Account, walked: Walked, order: int) -> None:
        super().__init__(account, walked.passed, order)
        self.ledger = walked.ledgers[account.id]

    def _credit(self, month: int, day: int) -> Generated | None:
        first, last = max(self.ledger.opened, month_start(month)), month_start(month + 1) - 1
        change = self.terms.change_by_month.get(month)
        if change is not None and change.amount is not None:
            amount, facts = change.amount, Facts(first, last, how="set")
        else:
            spans = earning_spans(self.terms, self.ledger, first, last)
            earning = sum(balance * (end - begin + 1) for begin, end, balance in spans if balance > 0)
            # What grows beyond all that can be counted stays at the largest amount.
            amount = min(LARGEST_AMOUNT, interest_over(self.terms, spans))
            facts = Facts(first, last, earning)
        if amount == 0:
            return None
        flow = interest_id(self.account.id)
        return Generated(day, "savings_interest", self.account.id, flow, last, ((self.account.id, amount),), facts)
