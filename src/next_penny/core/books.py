"""What the plan needs of recorded money: balances before today, movements from today on, and what is settled.

The store reads this with a few sums, however long the history; a plan document gives it from its entries.
"""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass, field
from datetime import date

from next_penny.core.plan import Entry


@dataclass(frozen=True, slots=True)
class Books:
    """Recorded money as a forecast sees it from one day.

    before: change recorded on each account before that day. ahead: entries dated that day or later.
    settled: by flow, the nominal day numbers of the occurrences that an entry settles.
    spent: by category and day number, what was recorded there: positive for money out, refunds reduce it.
    paid: by flow, the latest settled occurrences, as (nominal day number, amount), in order.
    """

    before: Mapping[str, int] = field(default_factory=dict)
    ahead: tuple[Entry, ...] = ()
    settled: Mapping[str, Set[int]] = field(default_factory=dict)
    paid: Mapping[str, Sequence[tuple[int, int]]] = field(default_factory=dict)
    spent: Mapping[str, Mapping[int, int]] = field(default_factory=dict)
    # What projections found past due, by flow, with what they found it from; see `projection`.
    past_due: dict[str, tuple[tuple[object, ...], object]] = field(default_factory=dict, compare=False, repr=False)

    def recorded_on(self, account: str, day: date) -> int:
        """What entries dated `day`, that is today or later, change on an account."""
        return sum(
            leg.amount for entry in self.ahead if entry.date == day for leg in entry.legs if leg.account == account
        )


def books_from_entries(entries: Iterable[Entry], today: date) -> Books:
    """The books of a plain list of entries, seen from `today`."""
    before: defaultdict[str, int] = defaultdict(int)
    ahead: list[Entry] = []
    settled: defaultdict[str, set[int]] = defaultdict(set)
    spent: defaultdict[str, Counter[int]] = defaultdict(Counter)
    paid: defaultdict[str, list[tuple[int, int]]] = defaultdict(list)
    for entry in entries:
        for leg in entry.legs:
            if leg.category is not None:
                spent[leg.category][entry.date.toordinal()] += leg.amount
        if entry.flow is not None and entry.nominal is not None:
            settled[entry.flow].add(entry.nominal.toordinal())
            paid[entry.flow].append((entry.nominal.toordinal(), moved(entry)))
        if entry.date >= today:
            ahead.append(entry)
            continue
        for leg in entry.legs:
            if leg.account is not None:
                before[leg.account] += leg.amount
    return Books(before, tuple(ahead), settled, {flow: sorted(each) for flow, each in paid.items()}, spent)


def moved(entry: Entry) -> int:
    """How much money an entry is about: what left accounts, or, if none did, what arrived on them."""
    amounts = [leg.amount for leg in entry.legs if leg.account is not None]
    return -sum(amount for amount in amounts if amount < 0) or sum(amounts)
