"""Entries that may be payments of a loan recorded as one expense, found by what they paid and whom they name."""

from collections import defaultdict
from collections.abc import Collection, Iterable

from propcache.api import cached_property

from next_penny.core.plan.entries import Entry


class Suspects:
    """Any entries, looked up by what left an account, or by a name in payee or note, for as many loans as wanted."""

    def __init__(self, entries: Iterable[Entry]) -> None:
        self._paid = tuple((entry, paid) for entry in entries if (paid := paid_whole(entry)))

    @cached_property
    def _by_id(self) -> dict[str, Entry]:
        return {entry.id: entry for entry, _ in self._paid}

    @cached_property
    def _by_paid(self) -> dict[int, list[Entry]]:
        found: defaultdict[int, list[Entry]] = defaultdict(list)
        for entry, paid in self._paid:
            found[paid].append(entry)
        return found

    @cached_property
    def _by_text(self) -> dict[str, tuple[str, list[Entry]]]:
        found: defaultdict[str, list[Entry]] = defaultdict(list)
        for entry, _ in self._paid:
            for text in {entry.payee, entry.notes}:
                found[text].append(entry)
        # Texts recur: each is read once.
        return {text: (plain(text), entries) for text, entries in found.items()}

    def get(self, id: str) -> Entry | None:
        """The entry of an id, if it may be one."""
        return self._by_id.get(id)

    def of(self, paid: Iterable[int], names: Collection[str]) -> list[Entry]:
        """Those that paid exactly one of some amounts, or name somebody, in order of date."""
        found = {entry.id: entry for amount in set(paid) for entry in self._by_paid.get(amount, ())}
        for text, entries in self._by_text.values():
            if any(name in text for name in names):
                found |= {entry.id: entry for entry in entries}
        return sorted(found.values(), key=lambda entry: entry.date)


def paid_whole(entry: Entry) -> int:
    """What one account paid into one category, in minor units; 0 for an entry that is not of that shape."""
    if len(entry.legs) != 2:
        return 0
    categories = [leg.amount for leg in entry.legs if leg.category is not None]
    accounts = [leg.amount for leg in entry.legs if leg.account is not None]
    if len(categories) != 1 or len(accounts) != 1 or categories[0] <= 0:
        return 0
    return max(0, -accounts[0])


def plain(text: str) -> str:
    """A text as it is compared: small letters, single spaces."""
    return " ".join(text.lower().split())
