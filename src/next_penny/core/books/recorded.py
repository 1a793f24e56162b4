"""Laying changed entries over the books: take out what was recorded under an id, put in what is to be."""

from bisect import bisect_left, insort
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import date
from operator import attrgetter

from next_penny.core.books.books import Books, Posting, Receipt, moved, postings_of, receipts_of, spent_by
from next_penny.core.books.moment import Moment
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry


def apply_to_books(
    books: Books, changes: Sequence[PlanChange], recorded: Callable[[str], Entry | None], today: date
) -> Books:
    """The books seen from `today` with the entry changes laid over them; `recorded` gives an entry by id, if any."""
    draft = _Draft(books, today)
    made: dict[str, Entry | None] = {}
    for change in changes:
        if change.kind == "entry" and (change.item is None or isinstance(change.item, Entry)):
            entry = made[change.id] if change.id in made else recorded(change.id)
            if entry is not None:
                draft.take_out(entry)
            if change.item is not None:
                draft.put_in(change.item)
            made[change.id] = change.item
    return draft.books() if made else books


def with_changed(entries: Iterable[Entry], changed: Mapping[str, Entry | None]) -> tuple[Entry, ...]:
    """Entries with some put in, in the place of those with their ids, or taken out; by date."""
    recorded = {entry.id: entry for entry in entries}
    after = {**recorded, **changed}  # what is corrected keeps its place among those of its day
    return tuple(sorted((entry for entry in after.values() if entry is not None), key=lambda entry: entry.date))


_day_of = attrgetter("day")


class _Draft:
    """Books being changed. What the changes do not touch stays the same object, so that what is known of it is too."""

    def __init__(self, books: Books, today: date) -> None:
        self._books = books
        self._today = today
        self._before = defaultdict(int, books.before)
        self._ahead = {entry.id: entry for entry in books.ahead}
        self._settled: dict[str, dict[int, int]] = {}
        self._spent: dict[tuple[str, str], list[tuple[int, int]]] = {}
        self._postings: dict[str, list[Posting]] = {}
        self._receipts: dict[str, list[Receipt]] = {}

    def take_out(self, entry: Entry) -> None:
        self._add_before(entry, -1)
        for place, spent in spent_by(entry):
            self._spent_in(place).remove(spent)
        self._ahead.pop(entry.id, None)
        for account, posting in postings_of(entry):
            of_account = self._postings_on(account)
            at = bisect_left(of_account, posting.day, key=_day_of)
            while at < len(of_account) and of_account[at].day == posting.day:
                if of_account[at] == posting:
                    del of_account[at]
                    break
                at += 1
        if entry.flow is not None and entry.settles is not None:
            self._settled_of(entry.flow).pop(entry.settles.toordinal(), None)
        for account, receipt in receipts_of(entry):
            self._receipts_of(account).remove(receipt)

    def put_in(self, entry: Entry) -> None:
        self._add_before(entry, 1)
        for place, spent in spent_by(entry):
            self._spent_in(place).append(spent)
        if entry.date >= self._today:
            self._ahead[entry.id] = entry
        for account, posting in postings_of(entry):
            insort(self._postings_on(account), posting, key=_day_of)
        if entry.flow is not None and entry.settles is not None:
            self._settled_of(entry.flow)[entry.settles.toordinal()] = moved(entry)
        for account, receipt in receipts_of(entry):
            self._receipts_of(account).append(receipt)

    def _receipts_of(self, account: str) -> list[Receipt]:
        if account not in self._receipts:
            self._receipts[account] = list(self._books.receipts.get(account, ()))
        return self._receipts[account]

    def _settled_of(self, flow: str) -> dict[int, int]:
        if flow not in self._settled:
            self._settled[flow] = dict(self._books.settled.get(flow, {}))
        return self._settled[flow]

    def _postings_on(self, account: str) -> list[Posting]:
        if account not in self._postings:
            self._postings[account] = list(self._books.postings.get(account, ()))
        return self._postings[account]

    def _spent_in(self, place: tuple[str, str]) -> list[tuple[int, int]]:
        if place not in self._spent:
            self._spent[place] = list(self._books.spent.get(place, ()))
        return self._spent[place]

    def _add_before(self, entry: Entry, sign: int) -> None:
        for leg in entry.legs if entry.date < self._today else ():
            if leg.account is not None:
                self._before[leg.account] += sign * leg.amount

    def books(self) -> Books:
        return Books(
            self._before,
            tuple(self._ahead.values()),
            {**self._books.settled, **self._settled},
            {**self._books.spent, **self._spent},
            {**self._books.postings, **self._postings},
            {**self._books.receipts, **self._receipts},
        )


def daily_changes(moment: Moment, account: str) -> list[tuple[int, int]]:
    """What changed on an account on each day, recorded or assumed, as (day number, change), oldest first."""
    postings = moment.books.postings.get(account, ())
    return moment.cache.recall(("daily", account), (postings,), lambda: _by_day(postings))


def _by_day(postings: Sequence[Posting]) -> list[tuple[int, int]]:
    changes: dict[int, int] = {}
    for posting in postings:
        changes[posting.day] = changes.get(posting.day, 0) + posting.amount
    return list(changes.items())
