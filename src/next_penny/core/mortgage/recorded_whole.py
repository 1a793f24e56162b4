"""Loan payments recorded whole, as one expense or as money moved: found, and what they overstate.

docs/rules.md, Escrow: Recording.
"""

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from functools import partial
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.edits.paying_by_move import NEAR_DAYS
from next_penny.core.loans.standing import Parts
from next_penny.core.mortgage.loan_books import LoanBooks, paying_legs
from next_penny.core.mortgage.splitting import Correction, Splitter, Target
from next_penny.core.mortgage.suspects import Suspects, paid_whole
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, first_account

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

    wholes: tuple[Whole, ...]
    changes: tuple[PlanChange, ...]


def whole_targets(splitter: Splitter, suspects: Suspects, elsewhere: Collection[str] = ()) -> tuple[Target, ...]:
    """Entries that look like payments of the loan booked whole, each with the due day that it pays.

    They are booked to a category, or moved to the loan: then only if exactly a payment was moved. `elsewhere` are the
    ids of those that another loan's due days have already.
    """
    books, flow = splitter.books, splitter.books.flow
    if flow is None:
        return ()
    of_flow = [entry for entry in books.payments
               if entry.flow == flow.id and entry.nominal is not None and _is_whole(books, entry)]  # fmt: skip
    without = {entry.id: None for entry in of_flow}
    alone = Splitter(splitter.seen((), without), books, suspects) if without else splitter
    targets = {entry.id: Target(entry, entry.nominal.toordinal()) for entry in of_flow if entry.nominal}
    taken = {target.nominal for target in targets.values()} | alone.moment.books.settled.get(flow.id, {}).keys()
    open_days = {day: parts for day, parts in sorted(alone.loan_standing.parts.items()) if day not in taken}
    of_loan = {entry.id for entry in books.entries}
    suspected = suspects.of(books.account.id, (parts.total for parts in open_days.values()))
    booked = [*(entry for entry in suspected if entry.id not in of_loan and entry.id not in elsewhere), *books.payments]
    moved = [entry for entry in books.entries if is_moved_to(books.account, entry)]
    unpaired = [entry for entry in (*filter(partial(_is_whole, books), booked), *moved)
                if entry.id not in targets and entry.flow is None]  # fmt: skip
    moved_ids = {entry.id for entry in moved}
    named = {entry.id for entry in unpaired if books.account.id in suspects.loans_named(entry)} - moved_ids
    # Who paid exactly what was due is taken before who paid about as much, and who names the loan first of these.
    for fits, candidates in ((_is_exactly, named), (_is_exactly, None), (_is_about, named)):
        for entry in sorted(unpaired, key=lambda entry: entry.date):
            if entry.id in targets or (candidates is not None and entry.id not in candidates):
                continue
            nominal = _due_day(entry, open_days, partial(fits, books.paid(entry)))
            if nominal is not None:
                targets[entry.id] = Target(entry, nominal)
                del open_days[nominal]
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
    paid_from = books.plan.account_by_id.get(first_account(entry.legs))
    is_possible = paid_from is not None and not paid_from.is_debt and paid_from.currency == books.account.currency
    return is_possible and entry.date >= books.account.opening.date and bool(paying_legs(books, entry))


def _is_exactly(paid: int, due: Parts) -> bool:
    return paid == due.total


def _is_about(paid: int, due: Parts) -> bool:
    """More than interest and what goes beside it, and no more than a few times the whole."""
    return due.total - due.principal < paid <= _MOST_TIMES * due.total


def _due_day(entry: Entry, open_days: Mapping[int, Parts], fits: Callable[[Parts], bool]) -> int | None:
    """The unsettled due day that an entry may have paid, the nearest of those that are near it."""
    day = entry.date.toordinal()
    near = (due for due in range(day - NEAR_DAYS, day + NEAR_DAYS + 1) if due in open_days)
    fitting = [due for due in near if (parts := open_days[due]).principal + parts.interest > 0 and fits(parts)]
    return min(fitting, key=lambda due: (abs(due - day), due), default=None)


def recorded_whole(splitter: Splitter, suspects: Suspects, elsewhere: Collection[str] = ()) -> RecordedWhole:
    """What of a loan was recorded whole, split as the schedule has it; `elsewhere` as in `whole_targets`."""
    targets = whole_targets(splitter, suspects, elsewhere)
    if not targets:
        return RecordedWhole((), ())
    correction = Correction(targets=targets)
    entries = splitter.entries_of(correction)
    wholes = [whole for target in targets if (whole := _whole(splitter, target, entries.get(target.entry.id)))]
    return RecordedWhole(tuple(wholes), splitter.changes(correction, entries))


def _whole(splitter: Splitter, target: Target, corrected: Entry | None) -> Whole | None:
    if corrected is None:
        return None
    category = next((leg.category for leg in target.entry.legs if leg.category is not None), None)
    books = splitter.books
    return Whole(books.account, target.entry, category, books.parts(corrected), corrected)


def suspect_range(moment: Moment, account: Account) -> tuple[int, int]:
    """Between which amounts (minor units) a payment of a loan may be, for whoever looks through the books."""
    parts = Splitter(moment, LoanBooks(moment.plan, account, ())).loan_standing.parts
    dues = [one_parts for day, one_parts in parts.items() if day <= moment.now + NEAR_DAYS and one_parts.total > 0]
    if not dues:
        return 0, 0
    least = min(due.total - due.principal for due in dues)
    return max(1, least), _MOST_TIMES * max(due.total for due in dues)
