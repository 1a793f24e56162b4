"""Card payments recorded as spending: found, and as they should be, so that nothing is counted twice."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from next_penny.core.books.moment import Moment
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg


@dataclass(frozen=True, slots=True)
class CountedTwice:
    """Entries that pay a card but are recorded as spending, the oldest first, and what they overstate spending by."""

    entries: tuple[Entry, ...]
    amount: int
    changes: tuple[PlanChange, ...]


def counted_twice(moment: Moment, card: Account, entries: Iterable[Entry]) -> CountedTwice:
    """Which entries name a card as their payee and yet spend in a category."""
    found_entries = tuple(entry for entry in entries if _pays(moment, card, entry))
    amount = sum(leg.amount for entry in found_entries for leg in entry.legs if leg.category is not None)
    changes = tuple(PlanChange("entry", entry.id, as_transfer(card, entry)) for entry in found_entries)
    return CountedTwice(found_entries, amount, changes)


def as_transfer(card: Account, entry: Entry) -> Entry:
    """The entry as a payment of the card: what it spent is what arrives there."""
    spent = sum(leg.amount for leg in entry.legs if leg.category is not None)
    legs = tuple(leg for leg in entry.legs if leg.category is None)
    return replace(entry, legs=(*legs, Leg(spent, account=card.id)))


def _pays(moment: Moment, card: Account, entry: Entry) -> bool:
    on = [leg.account for leg in entry.legs if leg.account is not None]
    spent = sum(leg.amount for leg in entry.legs if leg.category is not None)
    if len(on) != 1 or spent <= 0 or entry.date < card.opening.date:
        return False
    paid_from = moment.plan.account_by_id.get(on[0])
    if paid_from is None or paid_from.is_debt or paid_from.currency != card.currency:
        return False
    return any(_names(word, card.name) for word in _words(entry))


def _words(entry: Entry) -> Iterator[str]:
    yield entry.payee
    yield entry.notes


def _names(text: str, card: str) -> bool:
    said, name = " ".join(text.lower().split()), " ".join(card.lower().split())
    return bool(name) and name in said
