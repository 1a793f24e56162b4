"""Payments split anew, as the loan's schedule has them: each from what the books say was owed before it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.loans.standing import Parts, Standing, standing
from next_penny.core.mortgage.loan_books import LoanBooks, split_legs
from next_penny.core.mortgage.suspects import Suspects
from next_penny.core.plan.changes import PlanChange, apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.starter import categories_for
from next_penny.core.problems import go_on


class Target(NamedTuple):
    """A recorded payment to be split anew, as the one due on a nominal day (its number)."""

    entry: Entry
    nominal: int


@dataclass(frozen=True)
class Correction:
    """What would put books right: changes of the plan, entries as they are to be, and payments to split anew."""

    plan_changes: tuple[PlanChange, ...] = ()
    entries: Mapping[str, Entry | None] = field(default_factory=dict)
    targets: tuple[Target, ...] = ()

    def and_then(self, other: "Correction") -> "Correction":
        """Both at once."""
        ids = {target.entry.id for target in self.targets}
        more = tuple(target for target in other.targets if target.entry.id not in ids)
        changes = (*self.plan_changes, *other.plan_changes)
        return Correction(changes, {**self.entries, **other.entries}, (*self.targets, *more))


class Splitter:
    """Works corrections of one loan's books out at a moment."""

    def __init__(self, moment: Moment, books: LoanBooks, suspects: Suspects | None = None) -> None:
        self.moment, self.books = moment.as_recorded, books
        self._entry_by_id, self._suspects = {entry.id: entry for entry in books.entries}, suspects

    def _entry(self, id: str) -> Entry | None:
        return self._entry_by_id.get(id) or (self._suspects.get(id) if self._suspects is not None else None)

    @property
    def loan_standing(self) -> Standing:
        """The loan as the books have it."""
        return standing(self.moment, self.books.account)

    def told(self, entry: Entry) -> Parts | None:
        """How the schedule splits a payment that is recorded for a due day, from what was owed before it."""
        nominal = entry.nominal.toordinal() if entry.nominal is not None else 0
        parts = self.loan_standing.parts.get(nominal)
        if parts is None:
            return None
        paid = self.books.parts(entry)
        return parts._replace(principal=paid.total - parts.total + parts.principal)

    def seen(self, plan_changes: Sequence[PlanChange], entries: Mapping[str, Entry | None]) -> Moment:
        """The moment with some of the plan and some entries changed."""
        changes = [PlanChange("entry", id, entry) for id, entry in entries.items()]
        books = apply_to_books(self.moment.recorded, changes, self._entry, self.moment.today)
        return self.moment.replaced(apply(self.moment.plan, plan_changes), books)

    def entries_of(self, correction: Correction) -> dict[str, Entry | None]:
        """The entries as they are to be, each payment split from what the books owe with those before it split too.

        What a payment is told follows from the books before it alone. So all are split at once, by the books without
        them, and again by the books with them, until nothing changes any more: each time one more is right at least.
        """
        fixed = dict(correction.entries)
        plan = apply(self.moment.plan, correction.plan_changes)
        account, flow = plan.account_by_id[self.books.account.id], self.books.flow
        if flow is None:
            return fixed  # what nothing pays by plan has no due payments
        targets = sorted(correction.targets, key=lambda target: target.nominal)
        seen = self.seen(correction.plan_changes, {**fixed, **{target.entry.id: None for target in targets}})
        current_standing, split = standing(seen, account), dict[str, Entry]()
        for _ in range(len(targets) + 1):
            go_on()
            before, split = split, self._split(targets, current_standing, flow)
            if split == before or (seen.carries and self._are_as_told(targets, current_standing)):
                break
            changes = [PlanChange("entry", id, entry) for id, entry in split.items()]
            books = apply_to_books(seen.recorded, changes, lambda id: None, seen.today)
            current_standing = standing(seen.replaced(seen.plan, books), account)
        return {**fixed, **split}

    def _split(self, targets: Sequence[Target], loan_standing: Standing, flow: Flow) -> dict[str, Entry]:
        """Payments split as a loan stands, by id."""
        target_parts = [
            (target, parts) for target in targets if (parts := loan_standing.parts.get(target.nominal)) is not None
        ]
        return {
            target.entry.id: replace(
                target.entry, legs=split_legs(self.books, target.entry, parts), flow=flow.id,
                nominal=date.fromordinal(target.nominal),
            )
            for target, parts in target_parts
        }  # fmt: skip

    def _are_as_told(self, targets: Sequence[Target], loan_standing: Standing) -> bool:
        """Whether all are paid exactly as told: that changes nothing of what is told for later (docs/rules.md)."""
        target_parts = ((target, loan_standing.parts.get(target.nominal)) for target in targets)
        return all(parts is None or self.books.paid(target.entry) == parts.total for target, parts in target_parts)

    def changes(self, correction: Correction, fixed: Mapping[str, Entry | None]) -> tuple[PlanChange, ...]:
        """The changes that put it right: the plan's, categories that are needed, and the entries as they are to be."""
        plan, flow = self.moment.plan, self.books.flow
        named = any(entry is not None and flow is not None and entry.flow == flow.id for entry in fixed.values())
        changes = [PlanChange("flow", flow.id, flow)] if flow is not None and named and flow not in plan.flows else []
        legs = [leg for entry in fixed.values() if entry is not None for leg in entry.legs]
        put = (PlanChange("entry", id, entry) for id, entry in fixed.items())
        return (*correction.plan_changes, *categories_for(plan, legs), *changes, *put)
