"""Loan payments recorded whole, as one expense or as money moved: found, and what they overstate.

docs/rules.md, Escrow: Recording.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import partial
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.edits.paying_by_move import NEAR_DAYS
from next_penny.core.loans.standing import Parts
from next_penny.core.mortgage.loan_books import LoanBooks, paying_legs
from next_penny.core.mortgage.splitting import Correction, Splitter, Target
from next_penny.core.mortgage.suspects import Suspects, paid_whole, plain
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry

# What is paid is at most so many times what is due, or it is something else.
_MOST_TIMES = 3


class Whole(NamedTuple):
    """A payment that was recorded whole, and how it is to be split. category: None where it was moved to the loan."""

    account: Account
    entry: Entry
    category: str | None
    parts: Parts
    corrected: Entry


@dataclass(frozen=True)
class RecordedWhole:
    """All payments of one loan that were recorded whole, in order of date, and the changes that split them."""

    found: tuple[Whole, ...]
    changes: tuple[PlanChange, ...]


def whole_targets(splitter: Splitter, suspects: Suspects) -> tuple[Target, ...]:
    """Entries that look like payments of the loan booked whole, each with the due day that it pays.

    They are booked to a category, or moved to the loan: then only if exactly a payment was moved.
    """
    books, flow = splitter.books, splitter.books.flow
    if flow is None:
        return ()
    of_flow = [entry for entry in books.payments
               if entry.flow == flow.id and entry.nominal is not None and _is_whole(books, entry)]  # fmt: skip
    seen = splitter.seen((), {entry.id: None for entry in of_flow})
    alone = Splitter(seen, books, suspects)
    targets = {entry.id: Target(entry, entry.nominal.toordinal()) for entry in of_flow if entry.nominal}
    taken = {target.nominal for target in targets.values()} | seen.books.settled.get(flow.id, {}).keys()
    open_days = {day: parts for day, parts in sorted(alone.stands.parts.items()) if day not in taken}
    days = list(open_days)
    held = {entry.id for entry in books.entries}
    names = _names_of(splitter)
    suspected = suspects.of((parts.total for parts in open_days.values()), names)
    booked = [*(entry for entry in suspected if entry.id not in held), *books.payments]
    moved = [entry for entry in books.entries if is_moved_to(books.account, entry)]
    found = [(entry, names) for entry in filter(partial(_is_whole, books), booked)]
    found += [(entry, set[str]()) for entry in moved]
    for entry, naming in sorted(found, key=lambda each: each[0].date):
        if entry.id in targets or entry.flow is not None:
            continue
        day = entry.date.toordinal()
        near = days[bisect_left(days, day - NEAR_DAYS) : bisect_right(days, day + NEAR_DAYS)]
        nominal = _due_day(entry, books.paid(entry), {due: open_days[due] for due in near}, names=naming)
        if nominal is not None:
            targets[entry.id] = Target(entry, nominal)
            days.remove(nominal)
    return tuple(sorted(targets.values(), key=lambda target: target.nominal))


def is_moved_to(loan: Account, entry: Entry) -> bool:
    """Whether an entry moves money from one account to a loan, and nothing else."""
    if len(entry.legs) != 2 or any(leg.account is None for leg in entry.legs):
        return False
    return any(leg.account == loan.id and leg.amount > 0 for leg in entry.legs)


def _is_whole(books: LoanBooks, entry: Entry) -> bool:
    """One account pays, one category has all of it."""
    if not paid_whole(entry):
        return False
    paid_from = books.plan.account_by_id.get(next(leg.account for leg in entry.legs if leg.account is not None))
    is_possible = paid_from is not None and not paid_from.is_debt and paid_from.currency == books.account.currency
    return is_possible and entry.date >= books.account.opening.date and bool(paying_legs(books, entry))


def _due_day(entry: Entry, paid: int, near: Mapping[int, Parts], names: Collection[str]) -> int | None:
    """The unsettled due day that an entry may have paid, the nearest of those that are near it."""
    day = entry.date.toordinal()
    is_named = any(name in text for name in names for text in (plain(entry.payee), plain(entry.notes)))
    fitting = [
        due for due, parts in near.items()
        if parts.principal + parts.interest > 0
        and (paid == parts.total
             or (is_named and parts.total - parts.principal < paid <= _MOST_TIMES * parts.total))
    ]  # fmt: skip
    return min(fitting, key=lambda due: (abs(due - day), due), default=None)


def _names_of(splitter: Splitter) -> set[str]:
    books, flow = splitter.books, splitter.books.flow
    assert flow is not None
    assert books.account.loan is not None
    names = {books.account.name, flow.name, flow.payee, *(lender.name for lender in books.account.loan.lenders)}
    return {plain(name) for name in names if name.strip()}


def recorded_whole(splitter: Splitter, suspects: Suspects) -> RecordedWhole:
    """What of a loan was recorded whole, split as the schedule has it."""
    targets = whole_targets(splitter, suspects)
    if not targets:
        return RecordedWhole((), ())
    correction = Correction(targets=targets)
    entries = splitter.entries_of(correction)
    found = [whole for target in targets if (whole := _whole(splitter, target, entries.get(target.entry.id)))]
    return RecordedWhole(tuple(found), splitter.changes(correction, entries))


def _whole(splitter: Splitter, target: Target, corrected: Entry | None) -> Whole | None:
    if corrected is None:
        return None
    category = next((leg.category for leg in target.entry.legs if leg.category is not None), None)
    books = splitter.books
    return Whole(books.account, target.entry, category, books.parts(corrected), corrected)


def suspect_range(moment: Moment, account: Account) -> tuple[int, int]:
    """Between which amounts (minor units) a payment of a loan may be, for whoever looks through the books."""
    parts = Splitter(moment, LoanBooks(moment.plan, account, ())).stands.parts
    dues = [each for day, each in parts.items() if day <= moment.now + NEAR_DAYS and each.total > 0]
    if not dues:
        return 0, 0
    least = min(each.total - each.principal for each in dues)
    return max(1, least), _MOST_TIMES * max(each.total for each in dues)
