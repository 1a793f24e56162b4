"""One pass over a loan's due dates: interest first, then principal, to the minor unit (docs/rules.md, Loans).

A loan as agreed must be one that its payments pay off: what cannot be is refused. A household's loan goes on whatever
was recorded: interest that a payment does not cover joins the balance, and what is never paid off is said to be so.
"""

from collections.abc import Iterator
from decimal import Decimal
from fractions import Fraction
from functools import lru_cache
from typing import NamedTuple

from next_penny.core.dates.day_counts import InterestMethod, year_fraction
from next_penny.core.loans.extras import History, Moved, Movements, PlannedExtras
from next_penny.core.loans.level import payment_for
from next_penny.core.loans.walked import Columns, Findings, LoanError, Resume, Shortfall, Skipped
from next_penny.core.money import LARGEST_SUM, rounded_quotient
from next_penny.core.plan.terms.loans import LONGEST_YEARS, LoanTerms
from next_penny.core.problems import go_on


class Walk:
    """A loan's due dates in order; `run` fills `columns` and `findings`."""

    def __init__(self, terms: LoanTerms, resume: Resume | None, history: History, count: int, *, strict: bool) -> None:
        self.terms, self.history, self.strict = terms, history, strict
        self.number = resume.paid if resume else 0
        self.balance = resume.balance if resume else terms.amount_financed
        self.levels = _Levels(terms, resume, count)
        self.rates = _Rates(terms)
        self.extras = PlannedExtras(terms)
        self.movements = Movements(history)
        self.limit = max(terms.most_payments, count)
        self.columns, self.findings = Columns(), Findings()

    def run(self, since: int) -> None:
        """Walk on from a day."""
        go_on()
        begin, unpaid, days = since, 0, self.terms.due_days(max(120, self.number + 1))
        while self.balance > 0 or unpaid or self.movements or not self.columns.due:
            if self.number >= len(days):
                days = self.terms.due_days(min(self.limit + 1, 2 * self.number))
            if self.number >= len(days) or self.number > self.limit or self.balance > LARGEST_SUM:
                self._never_ends()
                return
            unpaid = self.step(begin, days[self.number], unpaid)
            begin = days[self.number - 1]

    def step(self, begin: int, due: int, unpaid: int = 0) -> int:
        """Pay what is due next, after a period from `begin`. Returns the interest that stays due after it."""
        left = self._period(begin, due, unpaid)
        self.number += 1
        return left

    def pay_beyond(self, amount: int) -> None:
        """Pay principal beyond the last payment, on its day."""
        self.balance -= amount
        if self.terms.extra_effect == "recast":
            self.levels.recast(self.number, self.balance, self.rates.annual)

    def _never_ends(self) -> None:
        if self.strict:
            message = f"This loan would not be paid off in {LONGEST_YEARS} years: raise the payment."
            raise LoanError("payment", message, "never")
        self.findings.never_ends = self.balance > 0

    def _period(self, begin: int, due: int, unpaid: int) -> int:
        """One period and its payment. Returns the interest that stays due after it."""
        is_first = not self.columns.due
        is_changed = self.rates.begin(begin)
        self.levels.begin(self.number, is_changed and not is_first, self.balance, self.rates.annual, due)
        interest, early = self._interest(begin, due, is_first)
        by_hand = self._by_hand(due) + early.by_hand
        skipped = self._payment(begin, due, interest, is_first)
        if due in self.history.skipped:
            self.findings.skipped[due] = skipped._replace(interest=interest + unpaid)
            self._note(due, Skipped(0, 0, by_hand + early.planned), 0, 0)
            return unpaid + interest
        self.balance -= skipped.principal + skipped.extra
        extra = skipped.extra + early.planned + by_hand + self._beyond(due, skipped)
        self._note(due, Skipped(interest + unpaid, skipped.principal, extra), unpaid, skipped.extra)
        return 0

    def _note(self, due: int, paid: Skipped, carried: int, planned: int) -> None:
        columns = self.columns
        columns.due.append(due)
        columns.rate.append(self.rates.annual)
        columns.interest.append(paid.interest)
        columns.principal.append(paid.principal)
        columns.extra.append(paid.extra)
        columns.balance.append(self.balance)
        columns.levels.append(self.levels.now)
        columns.carried.append(carried)
        columns.planned.append(planned)
        if paid.extra and self.terms.extra_effect == "recast":
            self.levels.recast(self.number + 1, self.balance, self.rates.annual)

    def _interest(self, begin: int, due: int, is_first: bool) -> tuple[int, "_Early"]:
        """A period's interest, rounded once, and what moved within it and so bore less of it."""
        rates = self.rates
        if self.terms.interest == "equal_periods":
            return rounded_quotient(max(0, self.balance) * rates.numerator, rates.denominator), _Early(0, 0)
        weighted, day, planned, by_hand = Fraction(), begin, 0, 0
        for moved, extra in self._within(begin, due, is_first):
            weighted += max(0, self.balance) * _fraction(self.terms.interest, day, moved.day)
            if extra is not None:
                amount = min(max(0, self.balance), extra.amount)
                self.findings.between.append(Moved(moved.day, amount))
                planned += amount
                by_hand += self._beyond(moved.day, Skipped(0, 0, amount))
            else:
                amount = moved.amount
                by_hand += amount
            self.balance, day = self.balance - amount, moved.day
        exact = (weighted + max(0, self.balance) * _fraction(self.terms.interest, day, due)) * rates.yearly
        return rounded_quotient(exact.numerator, exact.denominator), _Early(planned, by_hand)

    def _within(self, begin: int, due: int, is_first: bool) -> Iterator[tuple[Moved, Moved | None]]:
        """What moves between two due dates of a day-count loan, in order; planned extras, as such, too."""
        planned = [moved_day for moved_day in self.extras.between(begin, due, is_first=is_first)
                   if moved_day.day not in self.history.skipped]  # fmt: skip
        for extra in planned:
            yield from (
                (Moved(max(begin, moved_day.day), moved_day.amount), None)
                for moved_day in self.movements.take(extra.day - 1)
            )
            yield extra, extra
        yield from (
            (Moved(max(begin, moved_day.day), moved_day.amount), None) for moved_day in self.movements.take(due - 1)
        )

    def _by_hand(self, due: int) -> int:
        """What moved by hand up to a due date and counts with it."""
        amount = sum(moved.amount for moved in self.movements.take(due))
        self.balance -= amount
        return amount

    def _payment(self, begin: int, due: int, interest: int, is_first: bool) -> Skipped:
        """What the schedule says of a payment: scheduled principal, and the extra planned with it."""
        principal = self._principal(due, interest)
        extra = self.extras.with_payment(
            self.number, begin, due, counts_all=self.terms.interest == "equal_periods", is_first=is_first
        )
        return Skipped(interest, principal, min(max(0, self.balance - principal), extra))

    def _principal(self, due: int, interest: int) -> int:
        owed, level = max(0, self.balance), self.levels.now
        if self.levels.is_last(self.number):
            return owed
        if self.number < self.terms.interest_only:
            return 0
        if level >= owed + interest:
            return owed
        if level < interest:
            self._falls_short(interest, level)
        return level - interest

    def _falls_short(self, interest: int, level: int) -> None:
        if self.terms.negative_amortization:
            return
        if self.strict:
            raise LoanError(
                "payment",
                f"The payment does not cover interest: payment {self.number + 1} bears {{0}} of interest, "
                "{1} more than the payment of {2}. Raise it, or allow negative amortization.",
                "payment_below_interest",
                (interest, interest - level, level),
            )
        self.findings.shortfall = self.findings.shortfall or Shortfall(self.number + 1, interest)

    def _beyond(self, due: int, skipped: Skipped) -> int:
        """By how much a recorded payment lowered the debt beyond what was told; it counts from the day it was made."""
        paid = self.history.settled.get(due)
        beyond = paid.principal - skipped.principal - skipped.extra if paid is not None else 0
        if not beyond or paid is None:
            return 0
        if paid.day > due:
            self.movements.add(Moved(paid.day, beyond))
            return 0
        self.balance -= beyond
        return beyond


class _Early(NamedTuple):
    """What of a period's principal moved before its due date."""

    planned: int
    by_hand: int


class _Rates:
    """The rate in force, period by period: percent a year, a period's as a quotient, and a year's as a share of one."""

    def __init__(self, terms: LoanTerms) -> None:
        self._steps = list(terms.rates)
        self._per_year = terms.payments_per_year
        self.annual, self.numerator, self.denominator, self.yearly = terms.annual_rate, 0, 1, Fraction()

    def begin(self, begin: int) -> bool:
        """Let the rate of a period that begins on a day be in force. Returns whether it is another than before."""
        before = self.annual
        while self._steps and self._steps[0][0] <= begin:
            self.annual = self._steps.pop(0)[1]
            self.yearly = Fraction(self.annual) / 100
            period = self.yearly / self._per_year
            self.numerator, self.denominator = period.numerator, period.denominator
        return self.annual != before


def _keeps(terms: LoanTerms) -> bool:
    return terms.after_rate_change == "keep_payment" and not terms.balloon


def has_moved_its_end(terms: LoanTerms, since: int) -> bool:
    """Whether a kept payment has met another rate by a day (its number), so that the n-th payment is not the last."""
    begun = terms.disbursed.toordinal()
    return _keeps(terms) and any(rate != terms.annual_rate for start, rate in terms.rates if begun < start <= since)


class _Levels:
    """The payment in force, and which payment is the last."""

    def __init__(self, terms: LoanTerms, resume: Resume | None, count: int) -> None:
        self._terms, self._count = terms, count
        self._resumed_at = resume.paid if resume else 0
        given = resume.payment if resume else None
        self.now = self.first = given or 0
        self._is_levelled = given is not None
        # With a payment and no number of payments, or once a kept payment meets another rate, the end moves.
        self._moves = terms.payments is None
        self._changes = sorted(
            (payment_change.start.toordinal(), payment_change.amount)
            for payment_change in terms.payment_changes
            if resume is None or payment_change.start.toordinal() > resume.since
        )
        if resume is not None:
            self._moves = self._moves or has_moved_its_end(terms, resume.since)

    def begin(self, number: int, is_rate_new: bool, balance: int, annual: Decimal, due: int) -> None:
        """What holds from payment `number` on: levelled at first, anew at another rate, or as set from its due date."""
        terms = self._terms
        if is_rate_new and _keeps(self._terms):
            self._moves = True
        if number >= terms.interest_only:
            ends_interest_only = number == terms.interest_only and number > self._resumed_at
            if not self._is_levelled or ends_interest_only:
                self.now = terms.payment if terms.payment is not None else self._levelled(number, balance, annual)
                self._is_levelled = True
            elif is_rate_new and terms.after_rate_change == "relevel":
                self.now = self._levelled(number, balance, annual)
        self.first = self.first or self.now
        while self._changes and self._changes[0][0] <= due:
            self.now = self._changes.pop(0)[1]

    def recast(self, number: int, balance: int, annual: Decimal) -> None:
        """Level anew from payment `number` on, after an extra."""
        if self._terms.interest_only <= number < self._count and balance > 0:
            self.now = self._levelled(number, balance, annual)

    def is_last(self, number: int) -> bool:
        """Whether payment `number` clears the loan; what is still owed after the last is due with one more."""
        return not self._moves and number + 1 >= self._count

    def _levelled(self, number: int, balance: int, annual: Decimal) -> int:
        return payment_for(self._terms, max(0, balance), annual, max(1, self._count - number))


@lru_cache(maxsize=4096)
def _fraction(method: InterestMethod, start: int, end: int) -> Fraction:
    return year_fraction(method, start, end)
