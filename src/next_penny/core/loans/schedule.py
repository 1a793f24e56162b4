"""The amortization schedule: every payment's interest, principal and balance, to the minor unit (docs/rules.md, Loans).

Rows are kept as parallel columns of integers, with days as day numbers, and are computed in one pass.
"""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal
from fractions import Fraction
from functools import cached_property, lru_cache
from typing import NamedTuple

from next_penny.core.loans.level import payment_for
from next_penny.core.loans.terms import Extra, LoanTerms, days_by_year, year_fraction


class LoanError(ValueError):
    """Terms that no schedule can follow: the field that it is about, and why in a sentence."""

    def __init__(self, field: str, message: str, kind: str = "loan") -> None:
        super().__init__(message)
        self.field, self.message, self.kind = field, message, kind


class Row(NamedTuple):
    """One payment. `payment` is interest and scheduled principal; `balance` is after it and after the extra.

    `begins` is the day from which its interest runs, `due` the day it is paid; both day numbers.
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


class Resume(NamedTuple):
    """Going on with a loan after some of its payments: how many were due, what is owed, since when, at what payment."""

    paid: int
    balance: int
    since: int
    payment: int


@dataclass(frozen=True, eq=False)
class Schedule:
    """All payments of a loan. `level` is its first level payment; columns are parallel, one item per payment."""

    terms: LoanTerms
    level: int
    opening: int
    since: int
    first_number: int
    due: Sequence[int]
    rate: Sequence[Decimal]
    interest: Sequence[int]
    principal: Sequence[int]
    extra: Sequence[int]
    balance: Sequence[int]
    # The payment in force with each, which the last one may fall short of.
    levels: Sequence[int]
    insurance: Sequence[int] = field(default=())
    # Extras of day-count loans that were paid between due dates: (day number, amount).
    between: Sequence[tuple[int, int]] = field(default=())
    notes: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.due)

    @cached_property
    def escrow(self) -> list[int]:
        """What each payment carries for the escrow account."""
        parts = sorted((part.start.toordinal(), part.amount) for part in self.terms.escrow)
        if not parts:
            return [0] * len(self.due)
        starts = [start for start, _ in parts]
        amounts = [0, *(amount for _, amount in parts)]
        return [amounts[bisect_right(starts, day)] for day in self.due]

    @cached_property
    def rows(self) -> list[Row]:
        begins = [self.since, *self.due[:-1]]
        numbers = range(self.first_number, self.first_number + len(self.due))
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
    def paid_off(self) -> date:
        return date.fromordinal(self.due[-1])

    def between_until(self, passed: int) -> list[tuple[int, int]]:
        """The extras between due dates that came before the last of the first `passed` payments was due."""
        return [each for each in self.between if each[0] < self.due[passed - 1]] if passed else []

    def balance_on(self, day: int) -> int:
        """What is owed at the end of a day, interest since the last due date apart."""
        place = bisect_right(self.due, day)
        held = self.balance[place - 1] if place else self.opening
        since = self.due[place - 1] if place else self.since
        return max(0, held - sum(amount for when, amount in self.between if since < when <= day))


@lru_cache(maxsize=512)
def schedule(terms: LoanTerms, resume: Resume | None = None) -> Schedule:
    """The schedule of a loan, or of the rest of one. Raises LoanError where the terms cannot be followed."""
    walk = _Walk(terms, resume)
    walk.run()
    found = walk.finish()
    return replace(found, insurance=_insurance(terms, found, resume)) if terms.insurance else found


def without_extras(terms: LoanTerms) -> Schedule:
    """The same loan with nothing paid beyond its schedule."""
    return schedule(replace(terms, extras=())) if terms.extras else schedule(terms)


@lru_cache(maxsize=512)
def regular_payments(terms: LoanTerms) -> int:
    """How many payments the terms take without extras: as agreed, or as many as the payment given needs."""
    if terms.payments is not None:
        return terms.payments
    plain = replace(terms, extras=(), rate_changes=(), payment_changes=(), insurance=None)
    return len(schedule(plain))


class _Walk:
    """One pass over the due dates."""

    def __init__(self, terms: LoanTerms, resume: Resume | None) -> None:
        self.terms = terms
        self.first = resume.paid if resume else 0
        self.balance = self.opening = resume.balance if resume else terms.amount_financed
        self.since = resume.since if resume else terms.disbursed.toordinal()
        self.count = terms.payments if terms.payments is not None else self._count_by_payment()
        keeps = terms.after_rate_change == "keep_payment" and bool(terms.rate_changes) and not terms.balloon
        self.flexes = terms.payments is None or keeps
        self.days = terms.due_days(self.count if not self.flexes else max(self.count, self.first + 1))
        self.extras = _ExtraPlan(terms, self.first)
        self.level = self.first_level = resume.payment if resume else 0
        self.is_levelled = self.level > 0
        self.is_recast = terms.extra_effect == "recast"
        self.is_rate_new = False
        self.annual, self.numerator, self.denominator = terms.annual_rate, 0, 1
        self.rates = list(terms.rates)
        self.payment_changes = sorted(
            (each.start.toordinal(), each.amount)
            for each in terms.payment_changes
            if resume is None or each.start.toordinal() > resume.since
        )
        self.due: list[int] = []
        self.rate: list[Decimal] = []
        self.interest: list[int] = []
        self.principal: list[int] = []
        self.extra: list[int] = []
        self.balances: list[int] = []
        self.levels: list[int] = []
        self.between: list[tuple[int, int]] = []

    def _count_by_payment(self) -> int:
        """With a payment and no term: the term is what it takes; a long walk that stops when nothing is owed."""
        is_plain = not (self.terms.extras or self.terms.rate_changes or self.terms.payment_changes)
        return self.terms.most_payments if is_plain else regular_payments(self.terms)

    def run(self) -> None:
        terms, place, begin = self.terms, self.first, self.since
        is_equal = terms.interest == "equal_periods"
        while self.balance > 0 or not self.due:
            if place >= len(self.days):
                self._reach_further(place)
            due = self.days[place]
            self._set_terms_from(place, begin, due)
            early = 0
            if is_equal:
                interest = (2 * self.balance * self.numerator + self.denominator) // (2 * self.denominator)
            else:
                interest, early = self._accrued(place, begin, due)
            is_last = place + 1 >= self.count and not self.flexes
            principal = self._principal(place, is_last, interest)
            balance = self.balance - principal
            extra = min(balance, self.extras.with_payment(place, begin, due, is_equal)) if self.extras.any else 0
            self.balance = balance = balance - extra
            extra += early
            self.due.append(due)
            self.rate.append(self.annual)
            self.interest.append(interest)
            self.principal.append(principal)
            self.extra.append(extra)
            self.balances.append(balance)
            self.levels.append(self.level)
            place, begin = place + 1, due
            if extra and self.is_recast and terms.interest_only <= place < self.count and balance > 0:
                self.level = payment_for(terms, balance, self.annual, self.count - place)
            if place > terms.most_payments:
                raise LoanError("payment", "This loan would not be paid off in 100 years: raise the payment.", "never")

    def _set_terms_from(self, place: int, begin: int, due: int) -> None:
        """A new rate, the end of the interest-only start, or a new payment: what holds from this period on."""
        before = self.annual
        while self.rates and self.rates[0][0] <= begin:
            self.annual = self.rates.pop(0)[1]
            ratio = Fraction(self.annual) / (100 * self.terms.payments_per_year)
            self.numerator, self.denominator = ratio.numerator, ratio.denominator
            # What a rest of a loan begins with is the payment in force, whatever rate came before.
            self.is_rate_new = self.is_levelled and place > self.first and self.annual != before
        if place < self.terms.interest_only:
            self.is_rate_new = False
        elif not self.is_levelled or (place == self.terms.interest_only and place > self.first):
            self.level, self.is_levelled = self._first_payment(place), True
        elif self.is_rate_new and self.terms.after_rate_change == "relevel":
            self.level = payment_for(self.terms, self.balance, self.annual, max(1, self.count - place))
        self.is_rate_new = False
        self.first_level = self.first_level or self.level
        while self.payment_changes and self.payment_changes[0][0] <= due:
            self.level = self.payment_changes.pop(0)[1]

    def _first_payment(self, place: int) -> int:
        """The payment as given, or levelled over what is left of the term."""
        if self.terms.payment is not None:
            return self.terms.payment
        return payment_for(self.terms, self.balance, self.annual, max(1, self.count - place))

    def _reach_further(self, place: int) -> None:
        self.days = self.terms.due_days(min(self.terms.most_payments + 1, max(120, place * 2)))

    def _accrued(self, place: int, begin: int, due: int) -> tuple[int, int]:
        """A day-count period's interest, rounded once, and the extras paid within it, which reduce the balance."""
        method, day, weighted, early = self.terms.interest, begin, Fraction(), 0
        for when, amount in self.extras.between(place, begin, due):
            weighted += self.balance * _fraction(method, day, when)
            paid = min(self.balance, amount)
            self.between.append((when, paid))
            self.balance -= paid
            early, day = early + paid, when
        exact = (weighted + self.balance * _fraction(method, day, due)) * self.annual_fraction()
        return (2 * exact.numerator + exact.denominator) // (2 * exact.denominator), early

    def annual_fraction(self) -> Fraction:
        """The rate in force as a share of one."""
        return Fraction(self.numerator * self.terms.payments_per_year, self.denominator)

    def _principal(self, place: int, is_last: bool, interest: int) -> int:
        terms, balance, level = self.terms, self.balance, self.level
        if is_last:
            return balance
        if place < terms.interest_only:
            return 0
        if level >= balance + interest:
            return balance
        if level < interest and not terms.negative_amortization:
            short = interest - level
            raise LoanError(
                "payment",
                f"The payment does not cover interest: payment {place + 1} bears {plain_amount(interest)} of interest, "
                f"{plain_amount(short)} more than the payment of {plain_amount(level)}. "
                "Raise it, or allow negative amortization.",
                "payment_below_interest",
            )
        return level - interest

    def finish(self) -> Schedule:
        return Schedule(
            terms=self.terms,
            level=self.first_level or self.level or (self.interest[0] + self.principal[0]),
            opening=self.opening,
            since=self.since,
            first_number=self.first + 1,
            due=self.due,
            rate=self.rate,
            interest=self.interest,
            principal=self.principal,
            extra=self.extra,
            balance=self.balances,
            levels=self.levels,
            insurance=[0] * len(self.due),
            between=self.between,
            notes=self.extras.notes(self.due[-1]),
        )


def plain_amount(amount: int) -> str:
    """Minor units without a currency, which terms do not know."""
    return f"{amount // 100:,}.{amount % 100:02}"


@lru_cache(maxsize=4096)
def _fraction(method: str, start: int, end: int) -> Fraction:
    return year_fraction(method, start, end)  # type: ignore[arg-type]


class _ExtraPlan:
    """Which extras fall when."""

    def __init__(self, terms: LoanTerms, first: int) -> None:
        self._terms = terms
        self.any = bool(terms.extras)
        self._once = sorted((e.date.toordinal(), e.amount) for e in terms.extras if e.date is not None)
        self._repeating = [_Repeating(terms, extra) for extra in terms.extras if extra.date is None]

    def between(self, place: int, begin: int, due: int) -> tuple[tuple[int, int], ...]:
        """Extras dated within a period, before its due date: (day number, amount)."""
        if not self._once:
            return ()
        return tuple(
            (day, amount) for day, amount in self._once if begin < day < due or (place == 0 and day == begin < due)
        )

    def with_payment(self, place: int, begin: int, due: int, is_equal: bool) -> int:
        """What is paid beyond a payment on its due date."""
        once = 0
        if self._once:
            first = begin if is_equal else due - 1
            once = sum(
                amount for day, amount in self._once
                if first < day <= due or (is_equal and place == 0 and day == begin)
            )  # fmt: skip
        return once + sum(each.amount(place, begin, due) for each in self._repeating)

    def notes(self, last: int) -> tuple[str, ...]:
        """What is said of extras that come after the loan is paid off."""
        late = [date.fromordinal(day) for day, _ in self._once if day > last]
        late += [extra.start for extra in self._terms.extras if extra.start and extra.start.toordinal() > last]
        paid_off = date.fromordinal(last)
        return tuple(
            f"The extra of {day} comes after the loan is paid off on {paid_off}: it has no effect." for day in late
        )


class _Repeating:
    """An extra with every k-th payment, or yearly in a month at the first due date in it."""

    def __init__(self, terms: LoanTerms, extra: Extra) -> None:
        self._extra = extra
        self._start = extra.start.toordinal() if extra.start else 0
        self._until = extra.until.toordinal() if extra.until else None
        self._counted = 0
        if extra.every and extra.every > 1 and self._start:
            days = terms.due_days(terms.most_payments)
            self._counted = next((n for n, day in enumerate(days) if day >= self._start), 0)

    def amount(self, place: int, begin: int, due: int) -> int:
        extra = self._extra
        if due < self._start or (self._until is not None and due > self._until):
            return 0
        if extra.every is not None:
            return extra.amount if (place - self._counted) % extra.every == 0 else 0
        day, before = date.fromordinal(due), date.fromordinal(begin)
        is_first = (before.year, before.month) != (day.year, day.month) or place == 0
        return extra.amount if day.month == extra.yearly_in and is_first else 0


def _insurance(terms: LoanTerms, found: Schedule, resume: Resume | None) -> list[int]:
    """Insurance in each payment until the balance that was scheduled, extras apart, is down to the share."""
    assert terms.insurance is not None
    plain = schedule(replace(terms, extras=(), insurance=None), resume) if terms.extras else found
    limit = Fraction(terms.insurance.until_share) * terms.insurance.original_value / 100
    before = [plain.opening, *plain.balance]
    charged = next((place for place, balance in enumerate(before) if balance <= limit), len(before))
    return [terms.insurance.amount if place < charged else 0 for place in range(len(found.due))]


@dataclass(frozen=True, slots=True)
class Year:
    """What a calendar year's payments were made of; `interest_accrued` allots each period's interest by days."""

    year: int
    interest_paid: int
    interest_accrued: int
    principal: int
    extra: int
    escrow: int


def by_year(found: Schedule) -> list[Year]:
    """A schedule by calendar year."""
    sums: dict[int, list[int]] = {}
    for row in found.rows:
        year = sums.setdefault(date.fromordinal(row.due).year, [0] * 5)
        for column, amount in enumerate((row.interest, None, row.principal, row.extra, row.escrow)):
            year[column] += amount or 0
        for accrued_in, part in accrued_by_year(row.begins, row.due, row.interest):
            sums.setdefault(accrued_in, [0] * 5)[1] += part
    return [Year(year, *columns) for year, columns in sorted(sums.items())]


def accrued_by_year(begin: int, due: int, interest: int) -> list[tuple[int, int]]:
    """A period's interest allotted to calendar years by days, rounded as it accumulates so that the parts sum to it."""
    total, passed, given, parts = due - begin, 0, 0, []
    for year, days in days_by_year(begin, due):
        passed += days
        upto = (2 * interest * passed + total) // (2 * total)
        parts.append((year, upto - given))
        given = upto
    return parts or [(date.fromordinal(due).year, interest)]
