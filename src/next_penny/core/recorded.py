"""Laying changed entries over the books: take out what was recorded under an id, put in what is to be."""

from collections import Counter, defaultdict
from collections.abc import Callable, Sequence
from datetime import date

from next_penny.core.books import Books
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Entry


def overlay_books(
    books: Books, changes: Sequence[PlanChange], recorded: Callable[[str], Entry | None], today: date
) -> Books:
    """The books seen from `today` with the entry changes laid over them; `recorded` gives an entry by id, if any."""
    for change in changes:
        if change.kind == "entry" and (change.item is None or isinstance(change.item, Entry)):
            held = recorded(change.id)
            books = _replaced(books, held, change.item, today)
    return books


def _replaced(books: Books, old: Entry | None, new: Entry | None, today: date) -> Books:
    before = defaultdict(int, books.before)
    settled = {flow: set(days) for flow, days in books.settled.items()}
    spent = defaultdict(Counter, {category: Counter(days) for category, days in books.spent.items()})
    ahead = tuple(entry for entry in books.ahead if old is None or entry.id != old.id)
    for entry, sign in ((old, -1), (new, 1)):
        if entry is None:
            continue
        for leg in entry.legs:
            if leg.category is not None:
                spent[leg.category][entry.date.toordinal()] += sign * leg.amount
        if entry.date < today:
            for leg in entry.legs:
                if leg.account is not None:
                    before[leg.account] += sign * leg.amount
        elif sign > 0:
            ahead = (*ahead, entry)
        if entry.flow is not None and entry.nominal is not None:
            days = settled.setdefault(entry.flow, set())
            (days.add if sign > 0 else days.discard)(entry.nominal.toordinal())
    return Books(before, ahead, settled, spent)
