"""A household's loan as its books have it: what was paid, what is still to come, and whether it ever ends.

Its schedule is walked from its opening balance over everything that was recorded since, so every interest and every
level payment is reckoned from what the books say was owed then (docs/rules.md, Loans).
"""

from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from typing import NamedTuple

from propcache.api import cached_property

from next_penny.core.books.books import Books
from next_penny.core.books.moment import Moment
from next_penny.core.dates.landing import lands_on
from next_penny.core.loans.extras import History, Moved, Paid, extras_until
from next_penny.core.loans.level import payment_for
from next_penny.core.loans.schedule import Row, Schedule, as_scheduled, household_schedule
from next_penny.core.loans.walked import Resume
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.terms.loans import LoanTerms


class Parts(NamedTuple):
    """What a payment is made of, minor units; `principal` includes what is paid beyond the schedule.

    fee: what the lender charges with each payment beside it.
    """

    interest: int
    principal: int
    escrow: int
    insurance: int
    fee: int = 0

    @property
    def total(self) -> int:
        return sum(self)


@dataclass(frozen=True, eq=False)
class Standing:
    """A loan as the books have it.

    agreed: its whole schedule from disbursement. shown: from its opening balance on, past payments as they were told,
    with what was paid beyond them as extra. passed: how many of its payments are behind: by the last one settled.
    owed: the books' balance at the end of today; nothing before it is paid out.
    """

    account: Account
    flow: Flow | None
    agreed: Schedule
    shown: Schedule
    history: History
    passed: int
    owed: int
    is_paid_out: bool = True

    @property
    def terms(self) -> LoanTerms:
        """As agreed."""
        return self.agreed.terms

    @cached_property
    def rest(self) -> Schedule | None:
        """What is still to come; None when nothing is."""
        left = self.shown.from_payment(self.passed)
        if left is None:
            return None
        # An extra between due dates that is settled on its own day is not still to come.
        extras = (moved_day for moved_day in left.between if moved_day.day not in self.history.settled)
        if not any((*left.interest, *left.principal, *left.columns.planned, *extras)):
            return None
        if self.flow is None and self.owed <= 0:
            return None  # what nobody pays, and is not owed, is over
        return left

    @cached_property
    def row_by_day(self) -> dict[int, Row]:
        """Every payment since the loan was joined, by its due day."""
        return {row.due: row for row in self.shown.rows}

    @cached_property
    def parts(self) -> dict[int, Parts]:
        """What is to be paid on every day, by due day; extras between due dates on their own.

        A payment that was skipped is what it would have been. What moved by hand is not among them.
        """
        parts: dict[int, Parts] = {}
        for moved in self.shown.between:
            parts[moved.day] = Parts(0, parts.get(moved.day, Parts(0, 0, 0, 0)).principal + moved.amount, 0, 0)
        planned = self._planned_extras
        for row in self.shown.rows:
            skipped = self.shown.findings.skipped.get(row.due)
            interest, principal = row.interest, row.principal + planned[row.due]
            if skipped is not None:
                interest, principal = skipped.interest, skipped.principal + skipped.extra
            if interest or principal or row.due in self.history.settled:
                lender = self.terms.lender_on(row.due)
                fee = lender.fee if lender is not None else 0
                parts[row.due] = Parts(interest, principal, row.escrow, row.insurance, fee)
        return parts

    def open_days(self, before: int) -> list[int]:
        """The due days before a day on which something is still to be paid."""
        done = self.history.settled.keys() | self.history.skipped
        return sorted(day for day in self.parts if day < before and day not in done)

    def arrears(self, today: date) -> int:
        """Interest and principal of the payments past due, escrow and insurance apart."""
        parts = [self.parts[day] for day in self.open_days(today.toordinal())]
        return sum(part.interest + part.principal for part in parts)

    @cached_property
    def _planned_extras(self) -> dict[int, int]:
        return dict(zip(self.shown.due, self.shown.columns.planned, strict=True))

    @cached_property
    def shown_without_extras(self) -> Schedule:
        """The same had nothing beyond the schedule been planned from now on."""
        if self.rest is None or not self.terms.extras:
            return self.shown
        past = extras_until(self.terms.extras, date.fromordinal(self.rest.since))
        return self.with_terms(replace(self.terms, extras=past))

    def with_terms(self, terms: LoanTerms) -> Schedule:
        """The schedule that the same books would lead to on other terms."""
        return shown_from(terms, as_scheduled(terms), self.account, self.history)

    @property
    def ends(self) -> date | None:
        """The day of the last payment to come; None when nothing is owed, or where it is never paid off."""
        return self.rest.ends if self.rest is not None else None

    @property
    def paid_down(self) -> int:
        """How much less is owed than was financed; nothing before it is paid out."""
        return self.terms.amount_financed - self.owed if self.is_paid_out else 0

    @property
    def never_ends(self) -> bool:
        """Whether what is owed is never paid off."""
        return self.shown.findings.never_ends


def standing(moment: Moment, account: Account) -> Standing:
    """One loan as it stands."""
    assert account.loan is not None
    flow = moment.plan.loan_flow(account.id)
    books = moment.books
    skipped = _skipped(moment, account, flow)
    settled = books.settled.get(flow.id) if flow is not None else None
    basis = (account, flow, settled, books.postings.get(account.id), skipped, moment.today)
    return moment.cache.recall(
        ("standing", account.id), basis, lambda: _standing(moment, account, flow, frozenset(skipped))
    )


def standings(moment: Moment) -> list[Standing]:
    """Every loan of the household as it stands."""
    return [standing(moment, account) for account in moment.plan.accounts if account.loan is not None]


def _standing(moment: Moment, account: Account, flow: Flow | None, skipped: frozenset[int]) -> Standing:
    assert account.loan is not None
    agreed = as_scheduled(account.loan)
    history = _history(moment.books, account, flow, skipped, account.loan)
    shown = shown_from(account.loan, agreed, account, history)
    passed = bisect_left(shown.due, max(history.settled) + 1) if history.settled else 0
    while passed < len(shown) and shown.due[passed] in shown.findings.skipped and shown.due[passed] < moment.now:
        passed += 1
    posted = moment.books.postings.get(account.id, ())
    owed = -account.opening.balance - sum(posting.amount for posting in posted if posting.day <= moment.now)
    is_paid_out = account.opening.date <= moment.today
    return Standing(account, flow, agreed, shown, history, passed, owed if is_paid_out else 0, is_paid_out)


def shown_from(terms: LoanTerms, agreed: Schedule, account: Account, history: History) -> Schedule:
    """The schedule from a loan's opening balance on. Off its schedule, it is levelled over the remaining payments."""
    owed, opened = -account.opening.balance, account.opening.date.toordinal()
    if opened == terms.disbursed.toordinal():
        # What was borrowed by an entry of the day of disbursement is the loan's beginning.
        advanced = [moved for moved in history.by_hand if moved.day == opened and moved.amount < 0]
        owed -= sum(moved.amount for moved in advanced)
        history = replace(history, by_hand=tuple(moved for moved in history.by_hand if moved not in advanced))
    days = terms.due_days(terms.most_payments)
    joined = bisect_left(days, opened) if opened > terms.disbursed.toordinal() else 0
    scheduled = agreed.opening if joined == 0 else agreed.balance[joined - 1] if joined <= len(agreed) else 0
    if joined == 0 and owed == scheduled:
        return household_schedule(terms, None, history)
    since = days[joined - 1] if joined else agreed.since
    level: int | None = agreed.levels[min(joined, len(agreed) - 1)]
    if joined < terms.interest_only:
        level = None
    elif owed != scheduled and terms.payment is None and terms.payments is not None and joined < terms.payments:
        rate = agreed.rate[min(joined, len(agreed) - 1)]
        level = payment_for(terms, max(0, owed), rate, terms.payments - joined)
    return household_schedule(terms, Resume(joined, owed, since, level), history)


def _skipped(moment: Moment, account: Account, flow: Flow | None) -> tuple[int, ...]:
    """The due days whose payment is not made: left out, past due and not carried, or from before it was known."""
    if flow is None or account.loan is None:
        return ()
    exceptional = flow.exceptional
    ignored: set[int] = set()
    is_carried = moment.carries or flow.always_happens
    expected_from = moment.plan.known_since(flow) if is_carried else moment.today
    if expected_from > account.opening.date:
        settled = moment.books.settled.get(flow.id, {})
        last = max(moment.now, expected_from.toordinal())
        extras = [day for day in _extra_days(account.loan) if day <= last]
        for number in (*account.loan.due_days_until(last), *extras):
            lands = lands_on(date.fromordinal(number), flow.roll, moment.calendar, exceptional)
            if number not in settled and account.opening.date <= lands < expected_from:
                ignored.add(number)
    return tuple(sorted(exceptional.left_out | ignored))


def _history(books: Books, account: Account, flow: Flow | None, skipped: frozenset[int], terms: LoanTerms) -> History:
    """What was recorded on a loan's account, told apart: its payments, and principal moved by hand."""
    nominal = {*terms.due_days(terms.most_payments), *_extra_days(terms)}
    settled: dict[int, Paid] = {}
    by_hand: list[Moved] = []
    for posting in books.postings.get(account.id, ()):
        if flow is not None and posting.flow == flow.id and posting.nominal in nominal:
            before = settled.get(posting.nominal)
            settled[posting.nominal] = Paid(posting.day, posting.amount + (before.principal if before else 0))
        else:
            by_hand.append(Moved(posting.day, posting.amount))
    for day in books.settled.get(flow.id, ()) if flow is not None else ():
        # Paid with nothing of it principal.
        if day not in settled and day in nominal:
            settled[day] = Paid(day, 0)
    return History(settled, skipped - settled.keys(), tuple(sorted(by_hand)))


def _extra_days(terms: LoanTerms) -> Iterator[int]:
    """The days of extras that day-count loans may take between due dates: occurrences of their own."""
    if terms.interest != "equal_periods":
        yield from (extra.date.toordinal() for extra in terms.extras if extra.date is not None)
