"""Payments split anew, as the loan's schedule has them: each from what the books say was owed before it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import NamedTuple

from next_penny.core.loans.standing import Parts, Standing, standing
from next_penny.core.moment import Moment
from next_penny.core.overlay import PlanChange, overlay
from next_penny.core.plan import Entry
from next_penny.core.recorded import overlay_books
from next_penny.core.review.loan_books import LoanBooks, split_legs
from next_penny.core.starter import categories_for


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

    def __init__(self, moment: Moment, books: LoanBooks, suspects: Sequence[Entry] = ()) -> None:
        self.moment, self.books = moment.as_recorded, books
        self._held = {entry.id: entry for entry in (*books.entries, *suspects)}

    @property
    def stands(self) -> Standing:
        """The loan as the books have it."""
        return standing(self.moment, self.books.account)

    def told(self, entry: Entry) -> Parts | None:
        """How the schedule splits a payment that is recorded for a due day, from what was owed before it."""
        nominal = entry.nominal.toordinal() if entry.nominal is not None else 0
        parts = self.stands.parts.get(nominal)
        if parts is None:
            return None
        paid = self.books.parts(entry)
        return parts._replace(principal=paid.total - parts.total + parts.principal)

    def seen(self, plan_changes: Sequence[PlanChange], entries: Mapping[str, Entry | None]) -> Moment:
        """The moment with some of the plan and some entries changed."""
        changes = [PlanChange("entry", id, entry) for id, entry in entries.items()]
        books = overlay_books(self.moment.recorded, changes, self._held.get, self.moment.today)
        return self.moment.replaced(overlay(self.moment.plan, plan_changes), books)

    def entries_of(self, correction: Correction) -> dict[str, Entry | None]:
        """The entries as they are to be, payments split one after the other, each from the books that these make."""
        fixed = dict(correction.entries)
        targets = sorted(correction.targets, key=lambda target: target.nominal)
        plan = overlay(self.moment.plan, correction.plan_changes)
        account, flow = plan.account_by_id[self.books.account.id], self.books.flow
        if flow is None:
            return fixed  # what nothing pays by plan has no due payments
        for at, target in enumerate(targets):
            later: dict[str, Entry | None] = {each.entry.id: None for each in targets[at:]}
            seen = self.seen(correction.plan_changes, {**fixed, **later})
            parts = standing(seen, account).parts.get(target.nominal)
            if parts is not None:
                legs = split_legs(self.books, target.entry, parts)
                nominal = date.fromordinal(target.nominal)
                fixed[target.entry.id] = replace(target.entry, legs=legs, flow=flow.id, nominal=nominal)
        return fixed

    def changes(self, correction: Correction, fixed: Mapping[str, Entry | None]) -> tuple[PlanChange, ...]:
        """The changes that put it right: the plan's, categories that are needed, and the entries as they are to be."""
        plan, flow = self.moment.plan, self.books.flow
        named = any(entry is not None and flow is not None and entry.flow == flow.id for entry in fixed.values())
        kept = [PlanChange("flow", flow.id, flow)] if flow is not None and named and flow not in plan.flows else []
        legs = [leg for entry in fixed.values() if entry is not None for leg in entry.legs]
        put = (PlanChange("entry", id, entry) for id, entry in fixed.items())
        return (*correction.plan_changes, *categories_for(plan, legs), *kept, *put)
