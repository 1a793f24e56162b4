"""A loan's terms as data, its due dates, and how its interest counts days (docs/rules.md, Loans).

Amounts are integers of minor units, owed amounts positive; rates are exact decimals in percent a year.
"""

import builtins
import datetime
from bisect import bisect_left, bisect_right
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import ClassVar, Literal

from propcache.api import cached_property

from next_penny.core.dates.calendar import LAST_DUE, add_months, clipped_day, month_number
from next_penny.core.dates.day_counts import InterestMethod
from next_penny.core.plan.flows import Flow, payment_id
from next_penny.core.plan.terms.part import ids

PaymentRounding = Literal["half_up", "up"]
AfterRateChange = Literal["relevel", "keep_payment"]
ExtraEffect = Literal["shorten", "recast"]

PAYMENTS_PER_YEAR = (1, 2, 4, 12, 24, 26, 52)
# A loan that is not paid off within this many years is taken never to be.
LONGEST_YEARS = 100


@dataclass(frozen=True, slots=True)
class RateChange:
    """Another rate from the first period that begins on or after a date."""

    start: datetime.date
    annual_rate: Decimal


@dataclass(frozen=True, slots=True)
class DatedAmount:
    """An amount that holds from the first due date on or after a date."""

    start: datetime.date
    amount: int


@dataclass(frozen=True, slots=True)
class Extra:
    """Principal paid beyond the schedule: on one date, or with every k-th payment, or yearly in a month.

    `every` counts from the first due date on or after `start`; both repeating shapes hold until `until`.
    """

    amount: int
    date: datetime.date | None = None
    every: int | None = None
    yearly_in: int | None = None
    start: datetime.date | None = None
    until: datetime.date | None = None


@dataclass(frozen=True, slots=True)
class Fee:
    """A cost of borrowing, paid in cash at disbursement or financed: added to the principal."""

    name: str
    amount: int
    financed: bool = False


@dataclass(frozen=True, slots=True)
class Insurance:
    """Mortgage insurance in each payment until the scheduled balance is down to a share (percent) of a value."""

    amount: int
    until_share: Decimal
    original_value: int


@dataclass(frozen=True, slots=True)
class Lender:
    """Who is paid from the first due date on or after a date, and what it charges with each payment beside its parts.

    The lender before the first of them is the payee of the loan's payments.
    """

    start: datetime.date
    name: str
    address: str = ""
    fee: int = 0


@dataclass(frozen=True)
class YearBefore:
    """What was paid on a loan in a calendar year before the household began here, for its tax returns; minor units."""

    year: int
    interest: int = 0
    property_tax: int = 0


def usual_disbursal(first_payment: datetime.date, payments_per_year: int) -> datetime.date:
    """The day on which a loan was paid out where nobody says so: one payment before the first."""
    if payments_per_year in (26, 52):
        return first_payment - datetime.timedelta(days=364 // payments_per_year)
    if payments_per_year == 24:
        return first_payment - datetime.timedelta(days=15)
    return add_months(first_payment, -12 // payments_per_year)


@dataclass(frozen=True)
class LoanTerms:
    """What was agreed. Give `payments`, `payment` or both; `payment` is principal and interest, minor units.

    counted_from: for what is left of a loan, the due date from which its due dates are counted: those of a loan due on
    the 31st stay the last of each month when its next one is on 28 February. insured_payments: likewise, how many of
    its payments still carry insurance. property: the account of what the loan is secured by.
    """

    acts: ClassVar[bool] = False
    reads_gains: ClassVar[bool] = False

    principal: int
    annual_rate: Decimal
    disbursed: datetime.date
    first_payment: datetime.date
    payments: int | None = None
    payments_per_year: int = 12
    interest: InterestMethod = "equal_periods"
    balloon: int = 0
    payment: int | None = None
    accelerated: bool = False
    payment_rounding: PaymentRounding = "half_up"
    interest_only: int = 0
    negative_amortization: bool = False
    rate_changes: tuple[RateChange, ...] = ()
    after_rate_change: AfterRateChange = "relevel"
    extras: tuple[Extra, ...] = ()
    extra_effect: ExtraEffect = "shorten"
    fees: tuple[Fee, ...] = ()
    escrow: tuple[DatedAmount, ...] = ()
    insurance: Insurance | None = None
    payment_changes: tuple[DatedAmount, ...] = ()
    from_account: str | None = None
    escrow_account: str | None = None
    lenders: tuple[Lender, ...] = ()
    property: str | None = None
    years_before: tuple[YearBefore, ...] = ()
    counted_from: datetime.date | None = None
    insured_payments: int | None = None

    @cached_property
    def amount_financed(self) -> int:
        """What is owed at disbursement: the principal with the fees added to it."""
        return self.principal + sum(fee.amount for fee in self.fees if fee.financed)

    @cached_property
    def most_payments(self) -> int:
        """More payments than any loan of these terms may take."""
        return LONGEST_YEARS * self.payments_per_year

    @cached_property
    def rates(self) -> tuple[tuple[int, Decimal], ...]:
        """(day number from which a period must begin, rate), the first one for all time."""
        changes = sorted(self.rate_changes, key=lambda change: change.start)
        return ((0, self.annual_rate), *((change.start.toordinal(), change.annual_rate) for change in changes))

    def lender_on(self, due: int) -> Lender | None:
        """Who is paid on a due day (its number), if the loan has moved by then."""
        if not self.lenders:
            return None
        moved = [lender for lender in self.lenders if lender.start.toordinal() <= due]
        return max(moved, key=lambda lender: lender.start) if moved else None

    def due_days_until(self, last: int) -> tuple[int, ...]:
        """The day numbers of the due dates up to a day."""
        days = self.due_days(self.most_payments)
        return days[: bisect_right(days, last)]

    def due_days(self, count: int) -> tuple[int, ...]:
        """The day numbers of the first `count` due dates."""
        if self.counted_from is None:
            return due_days(self.first_payment, self.payments_per_year, count)
        before = (self.first_payment.year - self.counted_from.year + 1) * self.payments_per_year + 2
        days = due_days(self.counted_from, self.payments_per_year, before + count)
        skipped = bisect_left(days, self.first_payment.toordinal())
        return days[skipped : skipped + count]

    @builtins.property
    def named_accounts(self) -> tuple[str, ...]:
        """What pays it, what holds its escrow, and what it is secured by."""
        return ids(self.from_account, self.escrow_account, self.property)

    @builtins.property
    def read_accounts(self) -> tuple[str, ...]:
        """None: what is paid follows from its terms and what was recorded."""
        return ()

    def flows(self, id: str, name: str) -> tuple[Flow, ...]:
        """Its payment, if something pays it; its dates and amounts are the loan's own."""
        if not self.from_account:
            return ()
        return (Flow(payment_id(id), f"Payment, {name}", "loan_payment", 0, self.from_account, id),)


@lru_cache(maxsize=256)
def due_days(first: datetime.date, payments_per_year: int, count: int) -> tuple[int, ...]:
    """The first `count` due dates as day numbers, as far as the calendar goes; days that a month lacks are its last."""
    if payments_per_year in (26, 52):
        step, start = 364 // payments_per_year, first.toordinal()
        return tuple(range(start, min(start + step * count, LAST_DUE.toordinal() + 1), step))
    month, day = month_number(first), first.day
    months_left = month_number(LAST_DUE) - month
    if payments_per_year == 24:
        # The second of a month's two may fall into the month after it.
        return tuple(_half_months(month, day, min(count, 2 * months_left)))
    stride = 12 // payments_per_year
    return tuple(clipped_day(month + stride * number, day) for number in range(min(count, months_left // stride + 1)))


def _half_months(month: int, day: int, count: int) -> Iterator[int]:
    """A day of each month and the day 15 days after it; after the 16th, that is a day of the next month."""
    days = ((0, day), (0, day + 15)) if day <= 16 else ((0, day), (1, day - 15))
    for number in range(count):
        later, on = days[number % 2]
        yield clipped_day(month + number // 2 + later, on)
