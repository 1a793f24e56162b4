"""What was agreed and recorded of money lent."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from decimal import Decimal
from typing import NamedTuple

from next_penny.core.books.books import Receipt
from next_penny.core.books.moment import Moment
from next_penny.core.dates.landing import NOTHING_EXCEPTIONAL, land
from next_penny.core.dates.recurrence import Recurrence, recurrence_days
from next_penny.core.dates.rules import parse_rule
from next_penny.core.loans.extras import NOTHING_HAPPENED
from next_penny.core.loans.lent.accrual import Accrual
from next_penny.core.loans.schedule import Schedule, as_scheduled
from next_penny.core.loans.standing import shown_from
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.terms.lent import LentTerms
from next_penny.core.plan.terms.loans import LoanTerms

# A day number after every day of the calendar.
NEVER = 10**7


class Planned(NamedTuple):
    """One due day as agreed: how much of its amount is interest is known of a schedule alone."""

    nominal: int
    lands: int
    interest: int
    amount: int


class LentBooks:
    """What was agreed and recorded of one account of money lent, seen from a day. Days are day numbers."""

    def __init__(self, moment: Moment, account: Account, flow: Flow | None) -> None:
        # Not the moment itself: what is remembered of an account would keep all of its household alive.
        self.now, self.calendar, self.carries = moment.now, moment.calendar, moment.carries
        self.account, self.terms = account, account.lending
        self.exceptional = flow.exceptional if flow is not None else NOTHING_EXCEPTIONAL
        self.postings = [(posting.day, posting.amount) for posting in moment.books.postings.get(account.id, ())]
        self.receipts: Sequence[Receipt] = moment.books.receipts.get(account.id, ())
        self.opened = account.opening.date.toordinal()
        self.known = max(self.opened, (moment.plan.known_since(flow).toordinal() if flow is not None else 0))
        at_first = sum(amount for day, amount in self.postings if day == self.opened and amount > 0)
        lent = account.opening.balance + at_first
        self.schedule = _schedule(account, lent) if self.terms.terms is not None else None

    def owed_on(self, day: int) -> tuple[int, int]:
        """The principal owed and the interest accrued, rounded, at the end of a day."""
        walk = self.walked(day)
        if self.schedule is None:
            return walk.balance, walk.rounded
        due = zip(self.schedule.due, self.schedule.columns.interest, strict=True)
        bore = sum(interest for due_day, interest in due if due_day <= day)
        came = sum(receipt.interest for receipt in self.receipts if receipt.day <= day)
        return walk.balance, max(0, bore - came)

    def walked(self, until: int) -> Accrual:
        """Interest and balance at the end of a day, over all that was recorded by then."""
        rate = self.terms.annual_rate if self.schedule is None else Decimal(0)
        walk = Accrual(rate, self.opened, self.account.opening.balance)
        for day, principal, interest in self.by_day(until):
            walk.to(day)
            walk.record(principal, interest)
        walk.to(until)
        return walk

    def by_day(self, until: int) -> list[tuple[int, int, int]]:
        """What was recorded by a day, as (day, principal, interest received)."""
        rows = [(day, amount, 0) for day, amount in self.postings if day <= until]
        rows += [
            (receipt.day, 0, receipt.interest) for receipt in self.receipts if receipt.day <= until and receipt.interest
        ]
        return sorted(rows, key=lambda row: row[0])

    def planned(self, until: int) -> "list[Planned]":
        """What is due from the opening on and lands by a day, but for what is left out; in nominal order."""
        moved = self.exceptional.moved
        reach = max([until, *(nominal for nominal, lands in moved.items() if lands <= until)])
        if self.schedule is not None:
            columns = self.schedule.columns
            parts = zip(columns.due, columns.interest, columns.principal, columns.planned, strict=True)
            rows = {day: (interest, interest + principal + extra) for day, interest, principal, extra in parts}
        else:
            amount = self.terms.repays.amount if self.terms.repays is not None else 0
            rows = dict.fromkeys(_rule_days(self.terms, reach), (0, amount))
        landing = self.landing([day for day in rows if self.known <= day <= reach])
        return [Planned(day, lands, *rows[day]) for day, lands in landing.items() if lands <= until]

    def landing(self, nominal: Sequence[int]) -> Mapping[int, int]:
        """By nominal day, where it lands; what is left out is not among them."""
        days, lands = land(nominal, "none", self.calendar, self.exceptional, 0, NEVER)
        return dict(zip(days.tolist(), lands.tolist(), strict=True))


def _schedule(account: Account, lent: int) -> Schedule:
    """The schedule of what was lent by the end of the account's first day: that of a loan, from the other side."""
    terms: LoanTerms | None = account.lending.terms
    assert terms is not None
    owed = replace(account, opening=Opening(account.opening.date, -lent))
    return shown_from(terms, as_scheduled(terms), owed, NOTHING_HAPPENED)


def _rule_days(terms: LentTerms, until: int) -> list[int]:
    repays = terms.repays
    if repays is None:
        return []
    rules = tuple(parse_rule(rule) for rule in repays.rules)
    return recurrence_days(Recurrence(rules, start=repays.start), repays.start.toordinal(), until)
