"""A debt that has no terms yet: it is paid by hand, and no plan can pay it off."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from next_penny.core.books.moment import Moment
from next_penny.core.payoff.debts import Debt
from next_penny.core.payoff.outcome import DebtMonth
from next_penny.core.payoff.parts.card import interest_recorded_and_ahead, recorded_payments
from next_penny.core.payoff.parts.part import Payment
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.kept.way_out import Replaced

_NO_TERMS = "has no terms yet"


@dataclass(frozen=True, slots=True)
class BarePart:
    """A debt of which only what is owed is known: see `DebtPart`."""

    account: Account
    cannot_join: str = _NO_TERMS
    left_out: str = _NO_TERMS
    original: int = 0

    def debt(self, moment: Moment, owed: int, start: int) -> Debt:
        raise TypeError(f"{self.account.id} has no terms to be paid off by")

    def minimums_only(self, first: int) -> Account:
        return self.account

    def due_days(self, moment: Moment, first: int, last: int) -> Iterator[int]:
        return iter(())

    def last_due_days(self, month: int) -> Mapping[int, int]:
        return {month: 0}

    def planned(self, moment: Moment, months: Sequence[DebtMonth], start: int) -> Account:
        return self.account

    def replaced(self, cut: Account, planned: Account) -> Replaced | None:
        return None

    def with_replaced(self, replaced: Replaced, first: int) -> Account:
        return self.account

    def payments(self, moment: Moment) -> Iterator[Payment]:
        return recorded_payments(moment, self.account)

    def interest_between(self, moment: Moment, first: int, last: int) -> int:
        return interest_recorded_and_ahead(moment, self.account, first, last)

    def above_minimum(self, first: int, last: int, least: DebtMonth) -> int:
        return 0

    def paid_as_now(self, month: DebtMonth, above: int) -> int:
        return 0
