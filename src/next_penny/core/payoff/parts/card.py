"""A card or credit line in the way out: the plan says what each statement is paid."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from next_penny.core.accounts.cards import due_day, dues_between
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.flows.acting import acted
from next_penny.core.payoff.debts import Minimum, PlainDebt
from next_penny.core.payoff.outcome import DebtMonth
from next_penny.core.payoff.parts.part import Payment, furthest
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import interest_id
from next_penny.core.plan.kept.way_out import Replaced
from next_penny.core.plan.terms.cards import CardTerms, StatementChange


def recorded_payments(moment: Moment, account: Account) -> Iterator[Payment]:
    """What was paid on a debt by its register until today, and the interest that was charged."""
    charge = interest_id(account.id)
    for posting in moment.books.postings.get(account.id, ()):
        if posting.day <= moment.now and (posting.amount > 0 or posting.flow == charge):
            interest = -posting.amount if posting.flow == charge else 0
            yield Payment(posting.day, max(0, posting.amount), interest)


def interest_recorded_and_ahead(moment: Moment, account: Account, first: int, last: int) -> int:
    """A debt's interest in some days, as it was charged and will be; ten years ahead at most."""
    last, charge = min(last, furthest(moment)), interest_id(account.id)
    recorded = -sum(posting.amount for posting in moment.books.postings.get(account.id, ())
                    if posting.flow == charge and first <= posting.day <= moment.now)  # fmt: skip
    coming = acted(moment, last).by_flow.get(charge, ()) if last >= moment.now else ()
    return recorded + sum(made.amount for made in coming if made.day >= first)


@dataclass(frozen=True, slots=True)
class CardPart:
    """A card or line with its terms: see `DebtPart`."""

    account: Account
    terms: CardTerms
    cannot_join: None = None
    original: int = 0

    @property
    def left_out(self) -> str | None:
        return "is paid in full every month" if self.terms.pays == "statement" else None

    def debt(self, moment: Moment, owed: int, start: int) -> PlainDebt:
        least = self.terms.minimum
        # Without a percentage, or anything on top of it, the minimum is a fixed amount.
        percent = least.percent if least.percent or least.plus_interest else None
        minimum = Minimum(least.floor, percent, least.plus_interest)
        return PlainDebt(self.account.id, self.account.name, owed, Decimal(0), minimum, self.terms.rates)

    def minimums_only(self, first: int) -> Account:
        changes = (
            change if self._is_due_before(change, first) else replace(change, amount=None)
            for change in self.terms.changes
        )
        return self._with(change for change in changes if not change.is_nothing)

    def due_days(self, moment: Moment, first: int, last: int) -> Iterator[int]:
        return (due for _, due in dues_between(self.terms, first, last))

    def last_due_days(self, month: int) -> Mapping[int, int]:
        dues = [due for _, due in dues_between(self.terms, month_start(month), month_end(month))]
        return {month: max(dues, default=0)}

    def planned(self, moment: Moment, months: Sequence[DebtMonth], start: int) -> Account:
        """The statement that is due in a month is paid what the plan has for it; two that are, the last one."""
        last_due: dict[int, int] = {}
        last = month_end(start + len(months) - 1)
        for closing, due in dues_between(self.terms, max(month_start(start), moment.now), last):
            last_due[month_number(date.fromordinal(due))] = closing
        changes = dict(self.terms.change_by_closing)
        for month, closing in last_due.items():
            change = changes.get(closing, StatementChange(date.fromordinal(closing)))
            changes[closing] = replace(change, amount=months[month - start].paid, left_out=False)
        return self._with(change for _, change in sorted(changes.items()))

    def replaced(self, cut: Account, planned: Account) -> Replaced | None:
        remaining = planned.card.changes if planned.card is not None else ()
        gone = tuple(change for change in self.terms.changes if change not in remaining)
        return Replaced(self.account.id, changes=gone) if gone else None

    def with_replaced(self, replaced: Replaced, first: int) -> Account:
        back = (change for change in replaced.changes if not self._is_due_before(change, first))
        changes = {change.closing: change for change in (*self.terms.changes, *back)}
        return self._with(changes[day] for day in sorted(changes))

    def payments(self, moment: Moment) -> Iterator[Payment]:
        return recorded_payments(moment, self.account)

    def interest_between(self, moment: Moment, first: int, last: int) -> int:
        return interest_recorded_and_ahead(moment, self.account, first, last)

    def above_minimum(self, first: int, last: int, least: DebtMonth) -> int:
        if self.terms.pays != "fixed":
            return 0
        return max(0, min(self.terms.fixed_amount or 0, least.opening + least.interest) - least.minimum)

    def paid_as_now(self, month: DebtMonth, above: int) -> int:
        """By its minimum it is paid less as that shrinks; a fixed amount stays."""
        fixed = min(self.terms.fixed_amount or 0, month.opening + month.interest) if self.terms.pays == "fixed" else 0
        return max(month.minimum, fixed)

    def _is_due_before(self, change: StatementChange, first: int) -> bool:
        return due_day(self.terms, change.closing.toordinal()) < first

    def _with(self, changes: Iterable[StatementChange]) -> Account:
        return replace(self.account, card=replace(self.terms, changes=tuple(changes)))
