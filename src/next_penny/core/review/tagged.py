"""Everything tagged in a calendar year, tag by tag, as a tax return wants it."""

from collections.abc import Iterable
from typing import NamedTuple

from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan


class TaggedEntry(NamedTuple):
    """An entry and what it comes to: what it spent less what it brought in, in its account's currency and at home."""

    entry: Entry
    amount: int
    currency: str
    at_home: int


class TagSum(NamedTuple):
    """A tag with its entries, oldest first; `total` is in the household's currency."""

    tag: str
    entries: list[TaggedEntry]

    @property
    def total(self) -> int:
        """All of them, each at the rate of its day."""
        return sum(entry.at_home for entry in self.entries)


def tag_sums(plan: Plan, entries: Iterable[Entry]) -> list[TagSum]:
    """Entries by tag, in the order of the alphabet; tags that differ only in capitals are one. Raises NoRate."""
    sum_by_tag: dict[str, TagSum] = {}
    for entry in sorted(entries, key=lambda one_entry: (one_entry.date, one_entry.id)):
        tagged_entry = _told(plan, entry)
        for key, tag in {tag.casefold(): tag for tag in reversed(entry.tags)}.items():
            sum_by_tag.setdefault(key, TagSum(tag, [])).entries.append(tagged_entry)
    return [sum_by_tag[key] for key in sorted(sum_by_tag)]


def _told(plan: Plan, entry: Entry) -> TaggedEntry:
    here = plan.household.currency
    first = next((leg for leg in entry.legs if leg.account), None)
    currency = plan.account_by_id[first.account or ""].currency if first is not None else here
    for_something = [leg.amount for leg in entry.legs if leg.category]
    amount = sum(for_something) if for_something else -first.amount if first is not None else 0
    return TaggedEntry(entry, amount, currency, plan.converted(amount, currency, here, entry.date))
