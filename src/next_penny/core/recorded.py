"""Laying changed entries over the books: take out what was recorded under an id, put in what is to be."""

from collections import Counter, defaultdict
from collections.abc import Callable, Sequence
from datetime import date

from next_penny.core.books import Books, moved
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Entry


def overlay_books(
    books: Books, changes: Sequence[PlanChange], recorded: Callable[[str], Entry | None], today: date
) -> Books:
    """The books seen from `today` with the entry changes laid over them; `recorded` gives an entry by id, if any."""
    draft = _Draft(books, today)
    made: dict[str, Entry | None] = {}
    for change in changes:
        if change.kind == "entry" and (change.item is None or isinstance(change.item, Entry)):
            held = made[change.id] if change.id in made else recorded(change.id)
            if held is not None:
                draft.take_out(held)
            if change.item is not None:
                draft.put_in(change.item)
            made[change.id] = change.item
    return draft.books() if made else books


class _Draft:
    """Books being changed: a copy of what they hold, made once."""

    def __init__(self, books: Books, today: date) -> None:
        self._today = today
        self._before = defaultdict(int, books.before)
        self._ahead = {entry.id: entry for entry in books.ahead}
        self._settled = {flow: set(days) for flow, days in books.settled.items()}
        self._paid = {flow: dict(each) for flow, each in books.paid.items()}
        self._spent = defaultdict(Counter, {category: Counter(days) for category, days in books.spent.items()})

    def take_out(self, entry: Entry) -> None:
        self._add(entry, -1)
        self._ahead.pop(entry.id, None)
        if entry.flow is not None and entry.nominal is not None:
            self._settled.get(entry.flow, set()).discard(entry.nominal.toordinal())
            self._paid.get(entry.flow, {}).pop(entry.nominal.toordinal(), None)

    def put_in(self, entry: Entry) -> None:
        self._add(entry, 1)
        if entry.date >= self._today:
            self._ahead[entry.id] = entry
        if entry.flow is not None and entry.nominal is not None:
            self._settled.setdefault(entry.flow, set()).add(entry.nominal.toordinal())
            self._paid.setdefault(entry.flow, {})[entry.nominal.toordinal()] = moved(entry)

    def _add(self, entry: Entry, sign: int) -> None:
        for leg in entry.legs:
            if leg.category is not None:
                self._spent[leg.category][entry.date.toordinal()] += sign * leg.amount
            elif entry.date < self._today:
                self._before[leg.account or ""] += sign * leg.amount

    def books(self) -> Books:
        paid = {flow: sorted(each.items()) for flow, each in self._paid.items()}
        return Books(self._before, tuple(self._ahead.values()), self._settled, paid, self._spent)
