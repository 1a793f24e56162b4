"""Laying changed entries over the books: take out what was recorded under an id, put in what is to be."""

from bisect import bisect_left
from collections import Counter, defaultdict
from collections.abc import Callable, Mapping, Sequence
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
    """Books being changed. What the changes do not touch stays the same object, so that what is known of it is too."""

    def __init__(self, books: Books, today: date) -> None:
        self._books = books
        self._today = today
        self._before = defaultdict(int, books.before)
        self._ahead = {entry.id: entry for entry in books.ahead}
        self._settled: dict[str, set[int]] = {}
        self._paid: dict[str, dict[int, int]] = {}
        self._spent: dict[str, Counter[int]] = {}

    def take_out(self, entry: Entry) -> None:
        self._add(entry, -1)
        self._ahead.pop(entry.id, None)
        if entry.flow is not None and entry.nominal is not None:
            settled, paid = self._of(entry.flow)
            settled.discard(entry.nominal.toordinal())
            paid.pop(entry.nominal.toordinal(), None)

    def put_in(self, entry: Entry) -> None:
        self._add(entry, 1)
        if entry.date >= self._today:
            self._ahead[entry.id] = entry
        if entry.flow is not None and entry.nominal is not None:
            settled, paid = self._of(entry.flow)
            settled.add(entry.nominal.toordinal())
            paid[entry.nominal.toordinal()] = moved(entry)

    def _of(self, flow: str) -> tuple[set[int], dict[int, int]]:
        if flow not in self._settled:
            self._settled[flow] = set(self._books.settled.get(flow, ()))
            self._paid[flow] = dict(self._books.paid.get(flow, ()))
        return self._settled[flow], self._paid[flow]

    def _add(self, entry: Entry, sign: int) -> None:
        for leg in entry.legs:
            if leg.category is not None:
                if leg.category not in self._spent:
                    self._spent[leg.category] = Counter(self._books.spent.get(leg.category, {}))
                self._spent[leg.category][entry.date.toordinal()] += sign * leg.amount
            elif entry.date < self._today:
                self._before[leg.account or ""] += sign * leg.amount

    def books(self) -> Books:
        paid = {flow: sorted(each.items()) for flow, each in self._paid.items()}
        return Books(
            self._before,
            tuple(self._ahead.values()),
            {**self._books.settled, **self._settled},
            {**self._books.paid, **paid},
            {**self._books.spent, **self._spent},
            dict(self._books.past_due),
        )


DailyChanges = Mapping[str, Sequence[tuple[int, int]]]


def overlay_daily(changes: DailyChanges, entries: Sequence[Entry]) -> DailyChanges:
    """By account, what changed on each day, as (day number, change) in order of day, with entries added to it."""
    merged: dict[str, list[tuple[int, int]]] = {}
    for entry in entries:
        day = entry.date.toordinal()
        for leg in entry.legs:
            if leg.account is None:
                continue
            days = merged.setdefault(leg.account, list(changes.get(leg.account, ())))
            place = bisect_left(days, (day,))
            if place < len(days) and days[place][0] == day:
                days[place] = (day, days[place][1] + leg.amount)
            else:
                days.insert(place, (day, leg.amount))
    return {**changes, **merged}
