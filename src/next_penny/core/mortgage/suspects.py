"""Entries that may be payments of a loan recorded as one expense, found by what they paid and whom they name."""

import re
from collections import defaultdict
from collections.abc import Iterable

from propcache.api import cached_property

from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan


class Suspects:
    """Any entries, looked up by what left an account, or by the loan that payee or note name."""

    def __init__(self, plan: Plan, entries: Iterable[Entry]) -> None:
        self._paid = tuple((entry, paid) for entry in entries if (paid := paid_whole(entry)))
        self._names = {account.id: _names_of(plan, account) for account, _ in plan.loans}
        self._named_by_text: dict[str, frozenset[str]] = {}

    @cached_property
    def _by_id(self) -> dict[str, Entry]:
        return {entry.id: entry for entry, _ in self._paid}

    @cached_property
    def _by_paid(self) -> dict[int, list[Entry]]:
        by_paid: defaultdict[int, list[Entry]] = defaultdict(list)
        for entry, paid in self._paid:
            by_paid[paid].append(entry)
        return by_paid

    @cached_property
    def _by_loan(self) -> dict[str, list[Entry]]:
        by_loan: defaultdict[str, list[Entry]] = defaultdict(list)
        for entry, _ in self._paid:
            for loan in self.loans_named(entry):
                by_loan[loan].append(entry)
        return by_loan

    def get(self, id: str) -> Entry | None:
        """The entry of an id, if it may be one."""
        return self._by_id.get(id)

    def of(self, loan: str, paid: Iterable[int]) -> list[Entry]:
        """Those that name a loan, or paid exactly one of some amounts and name no other; in order of date."""
        exact = (entry for amount in set(paid) for entry in self._by_paid.get(amount, ()))
        entry_by_id = {entry.id: entry for entry in exact if self.loans_named(entry) <= {loan}}
        entry_by_id |= {entry.id: entry for entry in self._by_loan.get(loan, ())}
        return sorted(entry_by_id.values(), key=lambda entry: entry.date)

    def loans_named(self, entry: Entry) -> frozenset[str]:
        """The loans that payee or note name: themselves, what pays them, or their lenders."""
        return self._loans_in(entry.payee) | self._loans_in(entry.notes)

    def _loans_in(self, text: str) -> frozenset[str]:
        """The loans that a text names, in whole words; "Car 2" names that one and not "Car". Texts recur."""
        if text not in self._named_by_text:
            words = plain(text)
            lengths = {
                loan: max((len(name) for name in names if _is_in(name, words)), default=0)
                for loan, names in self._names.items()
            }
            longest = max(lengths.values(), default=0)
            named = (loan for loan, length in lengths.items() if length == longest > 0)
            self._named_by_text[text] = frozenset(named)
        return self._named_by_text[text]


def _names_of(plan: Plan, account: Account) -> set[str]:
    """What a loan is called, who pays it and who lends it, as texts are compared."""
    flow = plan.loan_flow(account.id)
    names = {account.name, *(lender.name for lender in account.loan_terms.lenders)}
    names |= {flow.name, flow.payee} if flow is not None else set()
    return {plain(name) for name in names if name.strip()}


def _is_in(name: str, text: str) -> bool:
    return name in text and re.search(rf"(?<!\w){re.escape(name)}(?!\w)", text) is not None


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
