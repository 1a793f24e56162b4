"""What the plan needs of recorded money: balances before today, movements from today on, and what is settled.

The store reads this with a few sums, however long the history; a plan document gives it from its entries.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import NamedTuple

from next_penny.core.plan.entries import Entry, first_account
from next_penny.core.plan.flows import repayment_id
from next_penny.core.plan.starter import LENT_INTEREST


class Posting(NamedTuple):
    """One entry's change on an account; `nominal` (a day number) where it settles an occurrence of `flow`."""

    day: int
    amount: int
    flow: str | None
    nominal: int | None


class Receipt(NamedTuple):
    """What came of money lent beside its principal: the interest in it, and the whole, of which due day if it says."""

    day: int
    interest: int
    amount: int
    nominal: int | None


@dataclass(frozen=True, slots=True)
class Books:
    """Recorded money as a forecast sees it from one day.

    before: change recorded on each account before that day. ahead: entries dated that day or later.
    settled: by flow, the nominal day numbers of the occurrences that an entry settles, and what each moved.
    spent: by category and the account whose currency it is in, what was recorded there, as (day number, amount) leg by
    leg in no order: positive for money out, refunds reduce it.
    postings: by account, what was recorded on it, in order of day.
    receipts: by account of money lent, what was received that its postings do not tell.
    """

    before: Mapping[str, int] = field(default_factory=dict)
    ahead: tuple[Entry, ...] = ()
    settled: Mapping[str, Mapping[int, int]] = field(default_factory=dict)
    spent: Mapping[tuple[str, str], Sequence[tuple[int, int]]] = field(default_factory=dict)
    postings: Mapping[str, Sequence[Posting]] = field(default_factory=dict)
    receipts: Mapping[str, Sequence[Receipt]] = field(default_factory=dict)

    def recorded_on(self, account: str, day: date) -> int:
        """What entries dated `day`, that is today or later, change on an account."""
        return sum(
            leg.amount for entry in self.ahead if entry.date == day for leg in entry.legs if leg.account == account
        )


NO_BOOKS = Books()


def books_from_entries(entries: Iterable[Entry], today: date) -> Books:
    """The books of a plain list of entries, seen from `today`."""
    before: defaultdict[str, int] = defaultdict(int)
    ahead: list[Entry] = []
    settled: defaultdict[str, dict[int, int]] = defaultdict(dict)
    spent: defaultdict[tuple[str, str], list[tuple[int, int]]] = defaultdict(list)
    posted: defaultdict[str, list[Posting]] = defaultdict(list)
    received: defaultdict[str, list[Receipt]] = defaultdict(list)
    for entry in entries:
        for place, leg in spent_by(entry):
            spent[place].append(leg)
        for account, posting in postings_of(entry):
            posted[account].append(posting)
            if entry.date < today:
                before[account] += posting.amount
        if entry.flow is not None and entry.settles is not None:
            settled[entry.flow][entry.settles.toordinal()] = moved(entry)
        if entry.date >= today:
            ahead.append(entry)
        for account, receipt in receipts_of(entry):
            received[account].append(receipt)
    in_order = {account: sorted(postings, key=lambda posting: posting.day) for account, postings in posted.items()}
    return Books(before, tuple(ahead), settled, spent, in_order, received)


def postings_of(entry: Entry) -> Iterable[tuple[str, Posting]]:
    """By account, what an entry changes there."""
    nominal = entry.settles.toordinal() if entry.settles is not None else None
    for leg in entry.legs:
        if leg.account is not None:
            yield leg.account, Posting(entry.date.toordinal(), leg.amount, entry.flow, nominal)


def spent_by(entry: Entry) -> Iterable[tuple[tuple[str, str], tuple[int, int]]]:
    """By category and the account whose currency it is in (the entry's first), the day and what was recorded there."""
    account = first_account(entry.legs)
    for leg in entry.legs:
        if leg.category is not None:
            yield (leg.category, account), (entry.date.toordinal(), leg.amount)


def receipts_of(entry: Entry) -> Iterable[tuple[str, Receipt]]:
    """By account of money lent, what an entry received of it that no leg there tells: its interest, its due day.

    Where it names no repayment, the interest is of the account that gives.
    """
    interest = -sum(leg.amount for leg in entry.legs if leg.category == LENT_INTEREST.id)
    owing = entry.flow.removesuffix(_REPAYMENT) if entry.flow and entry.flow.endswith(_REPAYMENT) else None
    if owing is None and not interest:
        return
    given = next((leg.account for leg in entry.legs if leg.account is not None and leg.amount <= 0), None)
    account = owing if owing is not None else given
    if account is not None:
        day, nominal = entry.date.toordinal(), entry.nominal.toordinal() if entry.nominal else None
        yield account, Receipt(day, interest, interest - entry.on(account), nominal)


_REPAYMENT = repayment_id("")


def moved(entry: Entry) -> int:
    """How much money an entry is about: what left accounts, or, if none did, what arrived on them."""
    amounts = [leg.amount for leg in entry.legs if leg.account is not None]
    return -sum(amount for amount in amounts if amount < 0) or sum(amounts)
