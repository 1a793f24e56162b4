"""What a review asks of all that is recorded, for a request: of the file, and of the what-if that it names."""

import datetime
from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence

from next_penny.api.ahead.forecast import chosen_accounts
from next_penny.api.http.session import Session
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.memory import Expected, Key


class Recorded:
    """What is recorded and remembered, with the entries of the what-if that a request names."""

    def __init__(self, home: Session) -> None:
        self._home, self._reading = home, home.reading

    def dated(self, first: datetime.date, last: datetime.date) -> Sequence[Entry]:
        entries = self._home.recorded(self._reading.dated(first, last))
        return [entry for entry in entries if first <= entry.date <= last]

    def paid_for(
        self, first: datetime.date, last: datetime.date, of: Collection[str] | None = None
    ) -> Mapping[Key, Sequence[Entry]]:  # fmt: skip
        recorded = self._home.recorded(self._reading.paid_for(first, last, of))
        paid: defaultdict[Key, list[Entry]] = defaultdict(list)
        for entry in recorded:
            if entry.flow is not None and entry.nominal is not None and first <= entry.nominal <= last:
                paid[Key(entry.flow, entry.nominal)].append(entry)
        return paid

    def expected_until(self) -> datetime.date | None:
        return self._reading.expected_until()

    def expected_between(
        self, first: datetime.date, last: datetime.date, of: Collection[str] | None = None
    ) -> Sequence[Expected]:
        return self._reading.expected_between(first, last, of)

    def expected_keys(self, first: datetime.date, last: datetime.date) -> frozenset[Key]:
        return self._reading.expected_keys(first, last)


def named_accounts(home: Session, accounts: str | None) -> list[Account] | None:
    """The accounts that a query names; None means all."""
    chosen = chosen_accounts(home.plan, accounts)
    return None if chosen is None else [home.plan.account_by_id[id] for id in chosen]
