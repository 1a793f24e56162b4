"""Loan payments recorded as one expense: found, and what they overstate (docs/rules.md, Escrow: Recording)."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from next_penny.core.loans.standing import Parts
from next_penny.core.moment import Moment
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Account, Entry, Plan
from next_penny.core.review.loan_books import LoanBooks, paying_legs
from next_penny.core.review.splitting import Correction, Splitter, Target

# How many days before or after its due day a payment may have been recorded.
_NEAR_DAYS = 15
# What is paid is at most so many times what is due, or it is something else.
_MOST_TIMES = 3


class Whole(NamedTuple):
    """A payment that was recorded whole, and how it is to be split."""

    account: Account
    entry: Entry
    category: str
    parts: Parts
    corrected: Entry


@dataclass(frozen=True)
class RecordedWhole:
    """All payments of one loan that were recorded whole, in order of date, and the changes that split them."""

    found: tuple[Whole, ...]
    changes: tuple[PlanChange, ...]


def whole_targets(splitter: Splitter, suspects: Sequence[Entry]) -> tuple[Target, ...]:
    """Entries that look like payments of the loan booked to a category, each with the due day that it pays."""
    books, flow = splitter.books, splitter.books.flow
    if flow is None:
        return ()
    found = [entry for entry in (*suspects, *books.payments) if _is_whole(books, entry)]
    of_flow = [entry for entry in found if entry.flow == flow.id and entry.nominal is not None]
    seen = splitter.seen((), {entry.id: None for entry in of_flow})
    alone = Splitter(seen, books, suspects)
    targets = {entry.id: Target(entry, entry.nominal.toordinal()) for entry in of_flow if entry.nominal}
    taken = {target.nominal for target in targets.values()} | seen.books.settled.get(flow.id, {}).keys()
    open_days = {day: parts for day, parts in alone.stands.parts.items() if day not in taken}
    for entry in sorted(found, key=lambda entry: entry.date):
        if entry.id in targets or entry.flow is not None:
            continue
        nominal = _due_day(entry, books.paid(entry), open_days, is_named=_names(splitter, entry))
        if nominal is not None:
            targets[entry.id] = Target(entry, nominal)
            del open_days[nominal]
    return tuple(sorted(targets.values(), key=lambda target: target.nominal))


def _is_whole(books: LoanBooks, entry: Entry) -> bool:
    """One account pays, one category has all of it."""
    categories = [leg for leg in entry.legs if leg.category is not None]
    accounts = [leg for leg in entry.legs if leg.account is not None]
    if len(categories) != 1 or len(accounts) != 1 or categories[0].amount <= 0:
        return False
    paid_from = books.plan.account_by_id.get(accounts[0].account or "")
    is_possible = paid_from is not None and not paid_from.is_debt and paid_from.currency == books.account.currency
    return is_possible and entry.date >= books.account.opening.date and bool(paying_legs(books, entry))


def _due_day(entry: Entry, paid: int, open_days: dict[int, Parts], *, is_named: bool) -> int | None:
    """The unsettled due day that an entry may have paid, the nearest one."""
    day = entry.date.toordinal()
    near = [
        due for due, parts in open_days.items()
        if abs(due - day) <= _NEAR_DAYS and parts.principal + parts.interest > 0
        and (paid == parts.total
             or (is_named and parts.total - parts.principal < paid <= _MOST_TIMES * parts.total))
    ]  # fmt: skip
    return min(near, key=lambda due: (abs(due - day), due), default=None)


def _names(splitter: Splitter, entry: Entry) -> bool:
    """Whether an entry's payee or note names the loan, its flow or a lender."""
    books, flow = splitter.books, splitter.books.flow
    assert flow is not None
    assert books.account.loan is not None
    names = {books.account.name, flow.name, flow.payee, *(lender.name for lender in books.account.loan.lenders)}
    said = [_plain(entry.payee), _plain(entry.notes)]
    return any(name and any(_plain(name) in text for text in said) for name in names)


def _plain(text: str) -> str:
    return " ".join(text.lower().split())


def recorded_whole(splitter: Splitter, suspects: Sequence[Entry]) -> RecordedWhole:
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
    category = next(leg.category for leg in target.entry.legs if leg.category is not None)
    books = splitter.books
    return Whole(books.account, target.entry, category, books.parts(corrected), corrected)


def overstated_by_year(plan: Plan, found: Iterable[Whole]) -> dict[int, int]:
    """By calendar year, how much of what is recorded as spending is debt repaid or put into escrow.

    In the household's currency. Raises NoRate where a loan's cannot be converted.
    """
    years: dict[int, int] = {}
    for each in found:
        kept = sum(leg.amount for leg in each.corrected.legs if leg.account is not None and leg.amount > 0)
        year, currency = each.entry.date.year, plan.household.currency
        years[year] = years.get(year, 0) + plan.converted(kept, each.account.currency, currency, each.entry.date)
    return dict(sorted(years.items()))


def suspect_range(moment: Moment, account: Account) -> tuple[int, int]:
    """Between which amounts (minor units) a payment of a loan may be, for whoever looks through the books."""
    parts = Splitter(moment, LoanBooks(moment.plan, account, ())).stands.parts
    dues = [each for day, each in parts.items() if day <= moment.now + _NEAR_DAYS and each.total > 0]
    if not dues:
        return 0, 0
    least = min(each.total - each.principal for each in dues)
    return max(1, least), _MOST_TIMES * max(each.total for each in dues)
