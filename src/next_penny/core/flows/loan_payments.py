"""A loan's payments as occurrences: their dates and amounts come from the schedule, not from rules of the flow."""

from collections.abc import Iterator, Mapping

import numpy as np

from next_penny.core.books import Books
from next_penny.core.dates.business_days import BusinessCalendar, Days
from next_penny.core.dates.recurrence import WEEKDAYS
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.loans.standing import Parts, standing
from next_penny.core.loans.terms import LoanTerms
from next_penny.core.plan import Flow, Plan


def payment_parts(plan: Plan, flow: Flow, books: Books) -> Mapping[int, Parts]:
    """Every payment of a loan's flow since it was joined, by day number."""
    account = plan.account_by_id[flow.to_account or ""]
    return standing(plan, account, books).parts if account.loan is not None else {}


def loan_occurrences(
    plan: Plan, flow: Flow, books: Books, calendar: BusinessCalendar, first: int, last: int
) -> Occurrences:
    """The payments that land from `first` to `last`, what was left out apart."""
    parts = payment_parts(plan, flow, books)
    changes = {change.nominal.toordinal(): change for change in flow.changes}
    days = sorted(day for day in parts if day not in changes or not changes[day].left_out)
    nominal = np.array(days, dtype=np.int64)
    landing = calendar.roll(nominal, flow.roll).copy()
    for place, day in enumerate(days):
        if day in changes and (moved := changes[day].moved_to) is not None:
            landing[place] = moved.toordinal()
    amount = np.array([parts[day].total for day in days], dtype=np.int64)
    inside = (first <= landing) & (landing <= last)
    return Occurrences(nominal[inside], landing[inside], amount[inside])


def loan_postings(plan: Plan, flow: Flow, books: Books, found: Occurrences) -> Iterator[tuple[str, Days]]:
    """What payments change on each account: interest and insurance are spent, principal lowers what is owed."""
    parts = payment_parts(plan, flow, books)
    account = plan.account_by_id[flow.to_account or ""]
    rows = [parts[day] for day in found.nominal.tolist()]
    if flow.from_account is not None:
        yield flow.from_account, -found.amount
    yield account.id, np.array([row.principal for row in rows], dtype=np.int64)
    if account.loan is not None and account.loan.escrow_account is not None:
        # Until the escrow account is open, its part is in its opening balance.
        opened = plan.account_by_id[account.loan.escrow_account].opening.date.toordinal()
        escrow = np.array([row.escrow for row in rows], dtype=np.int64)
        yield account.loan.escrow_account, np.where(found.landing >= opened, escrow, 0)


def due_rule(terms: LoanTerms) -> str:
    """A loan's due dates as an RFC 5545 rule, to be said in words."""
    first, per_year = terms.first_payment, terms.payments_per_year
    if per_year in (26, 52):
        return f"FREQ=WEEKLY;INTERVAL={52 // per_year};BYDAY={WEEKDAYS[first.weekday()]}"
    if per_year == 24:
        other = first.day + 15 if first.day <= 16 else first.day - 15
        return f"FREQ=MONTHLY;BYMONTHDAY={min(first.day, other)},{max(first.day, other)}"
    months = 12 // per_year
    interval = f";INTERVAL={months}" if months > 1 else ""
    return f"FREQ=MONTHLY{interval};BYMONTHDAY={first.day}"
