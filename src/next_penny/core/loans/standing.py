"""A household's loan as it stands: its payment as a flow, what was paid, and the rest of its schedule from the books.

The rest goes on from what is owed on the books after the last payment that was settled; a loan joined mid-life goes on
from its opening balance. Its payments are named by their due dates.
"""

from bisect import bisect_left
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property, lru_cache
from typing import NamedTuple

from next_penny.core.books import Books
from next_penny.core.loans.level import payment_for
from next_penny.core.loans.schedule import Resume, Row, Schedule, schedule
from next_penny.core.loans.terms import LoanTerms
from next_penny.core.plan import Account, Flow, Plan


class Parts(NamedTuple):
    """What a payment is made of, minor units; `principal` includes what is paid beyond the schedule."""

    interest: int
    principal: int
    escrow: int
    insurance: int

    @property
    def total(self) -> int:
        return sum(self)


@dataclass(frozen=True, eq=False)
class Standing:
    """A loan as the books have it.

    agreed: its whole schedule from disbursement. reading: from the opening balance on. rest: from the books on; None
    when nothing is owed. joined: how many payments were due before the loan was joined; paid: by the last one settled.
    """

    account: Account
    flow: Flow | None
    agreed: Schedule
    reading: Schedule | None
    rest: Schedule | None
    owed: int
    paid: int
    joined: int

    @cached_property
    def row_by_day(self) -> dict[int, Row]:
        """Every payment to be made or settled since the loan was joined, by its due day: past ones as scheduled."""
        passed = self.paid - self.joined
        past = self.reading.rows[:passed] if self.reading else []
        return {row.due: row for row in (*past, *(self.rest.rows if self.rest else ()))}

    @cached_property
    def parts(self) -> dict[int, Parts]:
        """What is paid on every day: each payment by its due day, extras between due dates on their own."""
        early, parts = sorted(self.between.items()), {}
        for day, row in self.row_by_day.items():
            before = sum(amount for when, amount in early if row.begins <= when < row.due)
            parts[day] = Parts(row.interest, row.principal + row.extra - before, row.escrow, row.insurance)
        for day, amount in early:
            parts[day] = Parts(0, amount, 0, 0)
        return parts

    @cached_property
    def between(self) -> dict[int, int]:
        """Extras that day-count loans take between due dates, by day: past ones as scheduled."""
        sums: dict[int, int] = {}
        past = self.reading.between_until(self.paid - self.joined) if self.reading else []
        for day, amount in (*past, *(self.rest.between if self.rest else ())):
            sums[day] = sums.get(day, 0) + amount
        return sums

    @cached_property
    def shown(self) -> Schedule:
        """The schedule from the reading to what the books now lead to."""
        return self._joined(self.rest)

    @cached_property
    def shown_without_extras(self) -> Schedule:
        """The same had nothing beyond the schedule been planned from now on."""
        if self.rest is None or not self.rest.terms.extras:
            return self.shown
        rest = self.rest
        resume = Resume(rest.first_number - 1, rest.opening, rest.since, rest.level)
        return self._joined(schedule(replace(rest.terms, extras=()), resume))

    def _joined(self, rest: Schedule | None) -> Schedule:
        """What was scheduled until the last payment settled, and a rest of the loan after it."""
        if rest is None or self.reading is None or self.paid == self.joined:
            return rest or self.reading or self.agreed
        passed = self.paid - self.joined
        past = self.reading
        early = past.between_until(passed)
        return replace(
            past,
            due=[*past.due[:passed], *rest.due],
            rate=[*past.rate[:passed], *rest.rate],
            interest=[*past.interest[:passed], *rest.interest],
            principal=[*past.principal[:passed], *rest.principal],
            extra=[*past.extra[:passed], *rest.extra],
            balance=[*past.balance[:passed], *rest.balance],
            levels=[*past.levels[:passed], *rest.levels],
            insurance=[*past.insurance[:passed], *rest.insurance],
            between=[*early, *rest.between],
            notes=rest.notes,
        )

    @property
    def paid_off(self) -> date | None:
        """The date of the last payment to come; None when nothing is owed."""
        if self.rest is None and self.owed > 0:
            # Only payments that were skipped are still due.
            return self.agreed.paid_off
        return self.rest.paid_off if self.rest else None


def standing(plan: Plan, account: Account, books: Books) -> Standing:
    """One loan as it stands. Raises LoanError where its terms cannot be followed."""
    assert account.loan is not None
    flow = plan.loan_flow(account.id)
    settled = frozenset(books.settled.get(flow.id, ())) if flow else frozenset()
    owed = -(account.opening.balance + books.before.get(account.id, 0))
    owed -= sum(leg.amount for entry in books.ahead for leg in entry.legs if leg.account == account.id)
    return _standing(account, flow, settled, owed)


@lru_cache(maxsize=256)
def _standing(account: Account, flow: Flow | None, settled: frozenset[int], owed: int) -> Standing:
    terms = account.loan
    assert terms is not None
    agreed = schedule(terms)
    opened = account.opening.date.toordinal()
    joined = bisect_left(agreed.due, opened) if opened > terms.disbursed.toordinal() else 0
    reading = _read(terms, agreed, joined, -account.opening.balance)
    paid = joined
    if settled and reading is not None:
        paid += sum(day <= max(settled) for day in reading.due)
    base = reading or agreed
    passed = paid - base.first_number + 1
    since = base.due[passed - 1] if passed else base.since
    # An extra between due dates that is settled is in the books already, but counts in its period from its own day.
    early = sum(amount for day, amount in base.between if day >= since and day in settled)
    if paid == joined and owed + early == -account.opening.balance:
        rest = reading
    else:
        rest = rest_of(terms, base, passed, owed + early - _still_due(base, passed, settled, flow))
    # When an extra between due dates paid all that was owed, the interest until then is still to come.
    is_open = owed > 0 or (early > 0 and rest is not None and sum(rest.interest) > 0)
    return Standing(account, flow, agreed, reading, rest if is_open else None, owed, paid, joined)


def _still_due(base: Schedule, passed: int, settled: frozenset[int], flow: Flow | None) -> int:
    """What payments skipped before the last one settled lower the debt by: they are past due, not part of the rest."""
    gone = settled | {change.nominal.toordinal() for change in flow.changes if change.left_out} if flow else settled
    early = base.between_until(passed)
    due = sum(amount for day, amount in early if day not in gone)
    for row in base.rows[:passed]:
        if row.due not in gone:
            due += row.principal + row.extra - sum(amount for day, amount in early if row.begins <= day < row.due)
    return due


def _read(terms: LoanTerms, agreed: Schedule, joined: int, owed: int) -> Schedule | None:
    """The schedule from a reading on. Where the reading is not what was scheduled, the payment is levelled anew."""
    scheduled = agreed.balance[joined - 1] if joined else agreed.opening
    found = rest_of(terms, agreed, joined, owed)
    if found is None or owed == scheduled or terms.payment is not None or terms.payments is None:
        return found
    if not terms.interest_only <= joined < terms.payments:
        return found
    level = payment_for(terms, owed, found.rate[0], terms.payments - joined)
    return schedule(terms, Resume(joined, owed, found.since, level))


def rest_of(terms: LoanTerms, before: Schedule, passed: int, owed: int) -> Schedule | None:
    """What is left of a schedule after some of its payments, with what is owed then; None when nothing is."""
    if owed <= 0:
        return None
    number = before.first_number - 1 + passed
    since = before.due[passed - 1] if passed else before.since
    level = before.levels[min(passed, len(before.levels) - 1)]
    is_interest_only = number < terms.interest_only
    if number >= (terms.payments or terms.most_payments):
        # All that was agreed is past, and something is still owed: it is due with one payment more.
        terms = replace(terms, payments=number + 1)
    return schedule(terms, Resume(number, owed, since, 0 if is_interest_only else level))
