"""The amortization schedule: every payment's interest, principal and balance, to the minor unit (docs/rules.md, Loans).

Rows are kept as parallel columns of integers, with days as day numbers, and are computed in one pass.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from fractions import Fraction
from functools import lru_cache
from typing import NamedTuple

from propcache.api import cached_property

from next_penny.core.loans.extras import NOTHING_HAPPENED, History, Moved, PlannedExtras
from next_penny.core.loans.walk import Walk
from next_penny.core.loans.walked import Columns, Findings, LoanError, Resume
from next_penny.core.plan.terms.loans import LoanTerms


class Row(NamedTuple):
    """One payment. `payment` is interest and scheduled principal; `balance` is after it and after the extra.

    `begins` is the day from which its interest runs, `due` the day it is paid; both day numbers. `extra` is all that
    lowered the debt beside it, in the household also by hand, and negative where more was borrowed.
    """

    number: int
    begins: int
    due: int
    annual_rate: Decimal
    payment: int
    interest: int
    principal: int
    extra: int
    escrow: int
    insurance: int
    balance: int


@dataclass(frozen=True, eq=False)
class Schedule:
    """All payments of a loan, or those from a place on. `level` is the first level payment.

    moved: principal that moved by hand and counted, as (day number, amount). insured: how many payments of the whole
    loan carry insurance.
    """

    terms: LoanTerms
    level: int
    opening: int
    since: int
    first_number: int
    columns: Columns
    findings: Findings
    moved: Sequence[Moved] = ()
    insured: int = 0

    def __len__(self) -> int:
        return len(self.columns.due)

    @property
    def due(self) -> Sequence[int]:
        return self.columns.due

    @property
    def rate(self) -> Sequence[Decimal]:
        return self.columns.rate

    @property
    def interest(self) -> Sequence[int]:
        return self.columns.interest

    @property
    def principal(self) -> Sequence[int]:
        return self.columns.principal

    @property
    def extra(self) -> Sequence[int]:
        return self.columns.extra

    @property
    def balance(self) -> Sequence[int]:
        return self.columns.balance

    @property
    def levels(self) -> Sequence[int]:
        return self.columns.levels

    @property
    def between(self) -> Sequence[Moved]:
        """Extras of day-count loans that were paid between due dates."""
        return self.findings.between

    @cached_property
    def escrow(self) -> list[int]:
        """What each payment carries for the escrow account."""
        parts = sorted((part.start.toordinal(), part.amount) for part in self.terms.escrow)
        if not parts:
            return [0] * len(self)
        starts = [start for start, _ in parts]
        amounts = [0, *(amount for _, amount in parts)]
        return [amounts[bisect_right(starts, day)] for day in self.due]

    @cached_property
    def insurance(self) -> list[int]:
        """What each payment carries of mortgage insurance."""
        insurance = self.terms.insurance
        if insurance is None:
            return [0] * len(self)
        charged = min(len(self), max(0, self.insured - self.first_number + 1))
        return [insurance.amount] * charged + [0] * (len(self) - charged)

    @cached_property
    def rows(self) -> list[Row]:
        begins = [self.since, *self.due[:-1]]
        numbers = range(self.first_number, self.first_number + len(self))
        columns = (self.due, self.rate, self.interest, self.principal, self.extra, self.escrow, self.insurance)
        return [
            Row(number, begin, due, rate, interest + principal, interest, principal, extra, escrow, insurance, balance)
            for number, begin, due, rate, interest, principal, extra, escrow, insurance, balance in zip(
                numbers, begins, *columns, self.balance, strict=True
            )
        ]

    @property
    def total_interest(self) -> int:
        return sum(self.interest)

    @property
    def ends(self) -> date | None:
        """The day of the last payment; None for a loan that is never paid off."""
        return None if self.findings.never_ends else self.paid_off

    @cached_property
    def paid_off(self) -> date:
        """The day of the last payment that is told."""
        parts = zip(self.due, self.interest, self.principal, self.extra, strict=True)
        paying = [due for due, *amounts in parts if any(amounts)]
        return date.fromordinal(paying[-1] if paying else self.due[-1])

    @property
    def notes(self) -> list[str]:
        """What of the terms has no effect."""
        return list(PlannedExtras(self.terms).notes(self.due[-1]))

    def from_payment(self, index: int) -> "Schedule | None":
        """What is left after the first `index` payments of it; None where that is nothing."""
        if index >= len(self):
            return None
        if index == 0:
            return self
        since, columns = self.due[index - 1], self.columns
        left = Columns(*(getattr(columns, name)[index:] for name in Columns.__slots__))
        return replace(
            self,
            level=self.levels[index],
            opening=self.balance[index - 1],
            since=since,
            first_number=self.first_number + index,
            columns=left,
            findings=replace(self.findings, between=[moved for moved in self.between if moved.day >= since]),
            moved=[moved_day for moved_day in self.moved if moved_day.day > since],
        )

    def balance_on(self, day: int) -> int:
        """What is owed at the end of a day, interest since the last due date apart."""
        paid = bisect_right(self.due, day)
        owed = self.balance[paid - 1] if paid else self.opening
        since = self.due[paid - 1] if paid else self.since
        return max(0, owed - sum(moved.amount for moved in self.between if since < moved.day <= day))


@lru_cache(maxsize=512)
def schedule(terms: LoanTerms) -> Schedule:
    """The schedule of a loan. Raises LoanError where the terms cannot be followed."""
    return _walked(terms, None, NOTHING_HAPPENED, strict=True)


def household_schedule(terms: LoanTerms, resume: Resume | None, history: History) -> Schedule:
    """The schedule of a household's loan with what happened to it: never refused, whatever was recorded."""
    return _walked(terms, resume, history, strict=False)


def _walked(terms: LoanTerms, resume: Resume | None, history: History, *, strict: bool) -> Schedule:
    since = resume.since if resume else terms.disbursed.toordinal()
    walk = Walk(terms, resume, history, payments_counted(terms), strict=strict)
    opening, first_number = walk.balance, walk.number + 1
    walk.run(since)
    columns = walk.columns
    if not columns.due:
        raise LoanError("first_payment", "No payment is due as far as the calendar goes.", "range")
    level = walk.levels.first or walk.levels.now or (columns.interest[0] + columns.principal[0])
    insured = insured_payments(terms) if terms.insurance else 0
    return Schedule(
        terms, level, opening, since, first_number, columns, walk.findings, tuple(walk.movements.counted), insured
    )


def without_extras(terms: LoanTerms) -> Schedule:
    """The same loan with nothing paid beyond its schedule."""
    return schedule(replace(terms, extras=())) if terms.extras else schedule(terms)


def as_scheduled(terms: LoanTerms) -> Schedule:
    """A household's loan as its terms have it, had all been paid as scheduled; never refused."""
    try:
        return schedule(terms)
    except LoanError:
        return household_schedule(terms, None, NOTHING_HAPPENED)


@lru_cache(maxsize=512)
def insured_payments(terms: LoanTerms) -> int:
    """How many payments carry insurance: until the balance scheduled without extras is down to the share.

    The payment that brings it there still carries it, and no payment by hand changes it.
    """
    assert terms.insurance is not None
    if terms.insured_payments is not None:
        return terms.insured_payments
    plain = as_scheduled(replace(terms, extras=(), insurance=None))
    limit = Fraction(terms.insurance.until_share) * terms.insurance.original_value / 100
    before = [plain.opening, *plain.balance]
    return next((number for number, balance in enumerate(before) if balance <= limit), len(before))


@lru_cache(maxsize=512)
def regular_payments(terms: LoanTerms) -> int:
    """How many payments the terms take without extras: as agreed, or as many as the payment given needs."""
    if terms.payments is not None:
        return terms.payments
    plain = replace(terms, extras=(), rate_changes=(), payment_changes=(), insurance=None)
    return len(as_scheduled(plain))


def payments_counted(terms: LoanTerms) -> int:
    """The number of the payment that clears a loan whatever rounding left; a high one where there is no such number."""
    if terms.payments is not None:
        return terms.payments
    # With a payment and no number of them: a long walk that stops when nothing is owed.
    is_plain = not (terms.extras or terms.rate_changes or terms.payment_changes)
    return terms.most_payments if is_plain else regular_payments(terms)


def payments_until(schedule: Schedule, day: int) -> int:
    """How many payments are due before a day."""
    return bisect_left(schedule.due, day)
