"""Debts as a plan of paying them off sees them: what is owed, what it costs, and the least that is paid each month.

Amounts are positive integers of minor units, months are month numbers (docs/rules.md, Paying off several debts).
"""

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from fractions import Fraction
from typing import Protocol

from propcache.api import cached_property

from next_penny.core.dates.calendar import month_end, month_number
from next_penny.core.loans.extras import NOTHING_HAPPENED, History
from next_penny.core.loans.schedule import payments_counted
from next_penny.core.loans.steps import LoanSteps, StepPaid
from next_penny.core.loans.walked import Resume
from next_penny.core.money import rounded_quotient
from next_penny.core.plan.terms.cards import RateStep
from next_penny.core.plan.terms.loans import LoanTerms

MONTHS_A_YEAR = 12


@dataclass(frozen=True, slots=True)
class Minimum:
    """The least of a month: a fixed amount, or a percentage of what is owed, with that month's interest or without.

    percent: None for a fixed one, whose amount `floor` is.
    """

    floor: int
    percent: Decimal | None = None
    plus_interest: bool = False


class MonthsOfDebt(Protocol):
    """A debt under way, month by month; `begin` opens a month, `pay` pays beyond its minimum.

    numbers: each month's opening balance, interest and minimum, one after another; a long plan has many thousands of
    them, so they are kept flat. opening, minimum: of the month that is open. balance: what is still owed of it.
    unneeded: what of a fixed minimum the month did not need. freed: what is free each month once it is cleared.
    takes_extra: whether anything can be paid beyond the minimum in this month. falling_rate: the rate in force, the
    highest first.
    """

    numbers: list[int]
    opening: int
    minimum: int
    balance: int
    unneeded: int
    freed: int
    takes_extra: bool
    falling_rate: Decimal

    def begin(self, month: int) -> None: ...

    def pay(self, amount: int) -> None: ...


class Debt(Protocol):
    """Something to pay off."""

    @property
    def id(self) -> str: ...

    @property
    def name(self) -> str: ...

    @property
    def balance(self) -> int:
        """What is owed at the beginning."""
        ...

    def begun(self) -> MonthsOfDebt:
        """The debt at its beginning."""
        ...

    @property
    def rate_months(self) -> Sequence[tuple[int, Decimal]]:
        """The rates in percent a year by month from which they hold, in order; the first one for all time before."""
        ...


@dataclass(frozen=True)
class PlainDebt:
    """A debt with a rate and a minimum: interest is reckoned by the month."""

    id: str
    name: str
    balance: int
    annual_rate: Decimal
    minimum: Minimum
    rate_changes: tuple[RateStep, ...] = ()

    @cached_property
    def rate_months(self) -> tuple[tuple[int, Decimal], ...]:
        """The rates by month from which they hold, in order."""
        in_order = sorted(self.rate_changes, key=lambda step: step.start)
        steps = {month_number(step.start): step.annual_rate for step in in_order}
        return ((0, self.annual_rate), *steps.items())

    def begun(self) -> "PlainMonths":
        return PlainMonths(self)


def monthly_share(annual_rate: Decimal) -> Fraction:
    """The share of what is owed that a month's interest takes."""
    return Fraction(annual_rate) / (100 * MONTHS_A_YEAR)


def rates_from(debt: Debt, month: int, count: int) -> list[Decimal]:
    """The rates in force in so many months from one on."""
    starts = [since for since, _ in debt.rate_months]
    return [
        debt.rate_months[max(0, bisect_right(starts, month_of_rate) - 1)][1]
        for month_of_rate in range(month, month + count)
    ]


def _share_of(minimum: Minimum) -> tuple[int, int, bool] | None:
    """A percentage as a quotient, and whether interest comes on top; None for a fixed amount."""
    if minimum.percent is None:
        return None
    share = Fraction(minimum.percent) / 100
    return share.numerator, share.denominator, minimum.plus_interest


class PlainMonths:
    """A plain debt, month by month."""

    def __init__(self, debt: PlainDebt) -> None:
        self.balance, self.takes_extra = debt.balance, True
        self.numbers: list[int] = []
        self.opening = self.minimum = self.unneeded = 0
        self.freed = self._floor = debt.minimum.floor
        self._steps = list(reversed(debt.rate_months))
        self.falling_rate, self._monthly = Decimal(), (0, 1)
        self._share = _share_of(debt.minimum)

    def begin(self, month: int) -> None:
        if self._steps and self._steps[-1][0] <= month:
            self._change_rate(month)
        opening = self.opening = self.balance
        numerator, denominator = self._monthly
        interest = (2 * opening * numerator + denominator) // (2 * denominator)
        owed, asked = opening + interest, self._floor
        if self._share is not None:
            percent, scale, plus_interest = self._share
            share = rounded_quotient(percent * opening, scale)
            asked = max(asked, share + interest if plus_interest else share)
            self.freed = asked if asked < owed else owed
        elif asked > owed:
            self.unneeded = asked - owed
        minimum = self.minimum = asked if asked < owed else owed
        self.balance = owed - minimum
        self.numbers += (opening, interest, minimum)

    def _change_rate(self, month: int) -> None:
        while self._steps and self._steps[-1][0] <= month:
            rate = self._steps.pop()[1]
            share = monthly_share(rate)
            self.falling_rate, self._monthly = -rate, (share.numerator, share.denominator)

    def pay(self, amount: int) -> None:
        self.balance -= amount


@dataclass(frozen=True)
class LoanDebt:
    """A loan with its own schedule: a month is the sum of its due dates, escrow, insurance and fees apart.

    resume, history: where its schedule stands at the beginning.
    """

    id: str
    name: str
    balance: int
    terms: LoanTerms
    resume: Resume | None = None
    history: History = NOTHING_HAPPENED

    def begun(self) -> "LoanMonths | LevelMonths":
        return LevelMonths(self) if self._is_level else LoanMonths(self)

    @cached_property
    def _is_level(self) -> bool:
        """Whether all that is to come is one payment a month at one rate: such a loan needs no walk."""
        terms, resume = self.terms, self.resume
        return (
            resume is not None
            and resume.payment is not None
            and (terms.interest, terms.payments_per_year, terms.extra_effect) == ("equal_periods", 12, "shorten")
            and resume.paid >= terms.interest_only
            and not (self.history.by_hand or (terms.rate_changes and terms.after_rate_change == "keep_payment"))
            and all(day <= resume.since for day, _ in terms.rates)
            and all(change.start.toordinal() <= resume.since for change in terms.payment_changes)
            and resume.payment > self.balance * monthly_share(terms.rates[-1][1]) + 1
            and resume.paid < len(terms.due_days(terms.most_payments))
        )

    @cached_property
    def rate_months(self) -> tuple[tuple[int, Decimal], ...]:
        """A rate counts from the first period that begins by its date."""
        (_, first), *steps = self.terms.rates
        return ((0, first), *((month_number(date.fromordinal(day)), rate) for day, rate in steps))


class LevelMonths(PlainMonths):
    """A loan of which nothing changes any more, month by month: the same as its walk, many times faster."""

    def __init__(self, debt: LoanDebt) -> None:
        terms, resume = debt.terms, debt.resume
        assert resume is not None
        assert resume.payment is not None
        super().__init__(PlainDebt(debt.id, debt.name, debt.balance, terms.rates[-1][1], Minimum(resume.payment)))
        self._first = month_number(date.fromordinal(terms.due_days(resume.paid + 1)[-1]))
        left = None if terms.payments is None else max(1, payments_counted(terms) - resume.paid)
        self._last = None if left is None else self._first + left - 1

    def begin(self, month: int) -> None:
        self.takes_extra = month >= self._first
        if not self.takes_extra:
            self.opening, self.minimum = self.balance, 0
            self.numbers += (self.balance, 0, 0)
            return
        super().begin(month)
        if month == self._last and self.balance:
            # The last payment clears the loan whatever rounding left.
            self.minimum += self.balance
            self.numbers[-1], self.balance = self.minimum, 0


class LoanMonths:
    """A loan, month by month. What is paid beyond its payments is paid with the month's last one."""

    def __init__(self, debt: LoanDebt) -> None:
        self._steps = LoanSteps(debt.terms, debt.resume, debt.history)
        self._a_year = debt.terms.payments_per_year
        self.balance = debt.balance
        self.numbers: list[int] = []
        self.opening = self.minimum = self.unneeded = self.freed = 0
        self.falling_rate, self.takes_extra = Decimal(), True

    def begin(self, month: int) -> None:
        self.opening, self.minimum, self.unneeded, self.takes_extra = self.balance, 0, 0, False
        all_interest = 0
        for payment in self._due_by(month_end(month)):
            all_interest += payment.interest
            self.minimum += payment.interest + payment.principal
            self.balance -= payment.principal
            self.falling_rate = -payment.annual_rate
            self.unneeded = max(0, payment.level - payment.interest - payment.principal) if self.balance <= 0 else 0
            self.freed = rounded_quotient(payment.level * self._a_year, MONTHS_A_YEAR)
            self.takes_extra = True
        self.numbers += (self.opening, all_interest, self.minimum)

    def _due_by(self, day: int) -> Iterator[StepPaid]:
        while self.balance > 0 and (payment := self._steps.next_by(day)) is not None:
            yield payment

    def pay(self, amount: int) -> None:
        if amount:
            self._steps.pay(amount)
            self.balance -= amount
