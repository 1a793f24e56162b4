"""Trials: end-of-day balances alone, day by day, for whoever runs the forecast many times with something changed.

A trial takes what makers remember and adds it up by account and day; nothing is sorted, named or explained. What
depends on balances is walked anew only where a change reaches it (`acting`).
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np
import numpy.typing as npt
from propcache.api import cached_property

from next_penny.core.books.moment import Cache, Moment
from next_penny.core.flows.acting import acted
from next_penny.core.flows.allowances import allowance_blocks
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.flows.planned import Block, blocks
from next_penny.core.forecast.low_points import LowPoint
from next_penny.core.forecast.projection import start_of
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow
from next_penny.core.problems import go_on

Matrix = npt.NDArray[np.int64]


def with_changes(moment: Moment, changes: Sequence[PlanChange]) -> Moment:
    """The moment with changes of the plan laid over it, and with what always happens assumed as they have it."""
    return apply_to_moment(moment, changes, lambda id: None)


@dataclass(frozen=True, eq=False)
class Trial:
    """Every account's end-of-day balance on each day from today to `until`: a row an account, in the plan's order."""

    moment: Moment
    until: date

    @cached_property
    def place(self) -> dict[str, int]:
        """By account, its row."""
        return {account.id: row for row, account in enumerate(self.moment.plan.accounts)}

    def with_changes(self, changes: Sequence[PlanChange]) -> "Trial":
        """The same with changes of the plan: told from this one where they are of flows that move what they say alone.

        Where no rule reads their accounts, balances are; else what is fixed is, and the rules are walked anew.
        """
        go_on()
        flows = [change.item for change in changes if isinstance(change.item, Flow)]
        if len(flows) < len(changes) or len({flow.id for flow in flows}) < len(flows):
            return Trial(with_changes(self.moment, changes), self.until)
        pairs = [(self._own.plan.flow_by_id.get(flow.id), flow) for flow in flows]
        if not all(self._is_told(*pair) for pair in pairs):
            return Trial(with_changes(self.moment, changes), self.until)
        if any(self._is_read(flow) for pair in pairs for flow in pair if flow is not None):
            changed = with_changes(self.moment, changes)
            fixed = self._moved_otherwise(self.fixed, pairs, changed)
            return _FixedDerived(changed, self.until, fixed)
        return _Derived(self.moment, self.until, self._moved_otherwise(self.balances, pairs, self._own))

    def _moved_otherwise(
        self, balances: Matrix, pairs: Sequence[tuple[Flow | None, Flow]], changed: Moment
    ) -> Matrix:  # fmt: skip
        """Balances with what each first flow of a pair moves taken back, and what the second moves in its place.

        `changed` remembers what the second moves.
        """
        balances = balances.copy()
        for before, after in pairs:
            if before is not None:
                if before.id not in self._moved_before:
                    self._moved_before[before.id] = self._moved(before, self._own)
                for row, column in self._moved_before[before.id]:
                    balances[row] -= column
            for row, column in self._moved(after, changed):
                balances[row] += column
        return balances

    def _is_told(self, before: Flow | None, after: Flow) -> bool:
        """Whether a flow's change, or a new one, moves what it moves itself and nothing else."""
        if before is None:
            return self._stands_alone(after)
        begins = before.first_account_ids == after.first_account_ids
        return begins and self._stands_alone(before) and self._stands_alone(after)

    def _stands_alone(self, flow: Flow) -> bool:
        """Whether a flow moves what it says itself: no loan, no allowance, nothing that is assumed follows from it."""
        plan = self._own.plan
        return (
            flow.kind in ("income", "bill", "transfer")
            and not flow.always_happens
            and plan.paid_by(flow) is None
            and plan.lent_by(flow) is None
            and self._allowed.isdisjoint(flow.category_ids)
        )

    def moves_alone(self, flow: Flow) -> bool:
        """Whether balances without one occurrence of a flow are what they are, but for what that moves."""
        return self._stands_alone(flow) and not self._is_read(flow)

    def _is_read(self, flow: Flow) -> bool:
        """Whether a rule reads the balance of an account of a flow."""
        return not self._read.isdisjoint(flow.account_ids)

    @cached_property
    def _read(self) -> frozenset[str]:
        return frozenset(account.id for account in self.moment.plan.accounts_read)

    @cached_property
    def _own(self) -> Moment:
        """The moment with a cache of its own: what is tried is not worth remembering."""
        return replace(self.moment, cache=Cache(self.moment.cache))

    @cached_property
    def _allowed(self) -> frozenset[str]:
        return frozenset(id for allowance in self.moment.plan.allowances for id in allowance.categories)

    @cached_property
    def _moved_before(self) -> dict[str, list[tuple[int, Matrix]]]:
        return {}

    def _moved(self, flow: Flow, moment: Moment) -> list[tuple[int, Matrix]]:
        """What a flow has moved by the end of each day, by the account's row."""
        columns = []
        for block in blocks(moment, flow, self.until.toordinal()):
            if block.account in self.place and len(block.day):
                changes = np.zeros(self.balances.shape[1], dtype=np.int64)
                np.add.at(changes, block.day - self.now, block.amount)
                columns.append((self.place[block.account], np.cumsum(changes)))
        return columns

    @property
    def now(self) -> int:
        """The day number of the first column."""
        return self.moment.now

    @cached_property
    def balances(self) -> Matrix:
        """The balances; 0 before an account is open."""
        made = acted(self.moment, self.until.toordinal()).made
        changes = np.zeros_like(self.fixed)
        for movement in made:
            for id, amount in movement.legs:
                if id in self.place:
                    changes[self.place[id], movement.day - self.now] += amount
        return self.fixed + np.cumsum(changes, axis=1) if made else self.fixed

    @cached_property
    def fixed(self) -> Matrix:
        """The balances without what rules make."""
        go_on()
        days = self.until.toordinal() - self.now + 1
        changes = np.zeros((len(self.moment.plan.accounts), days), dtype=np.int64)
        for account in self.moment.plan.accounts:
            begins = start_of(self.moment, account)
            if begins.day < self.now + days:
                changes[self.place[account.id], begins.day - self.now] += begins.balance
        for block in self._blocks():
            if block.account in self.place and len(block.day):
                np.add.at(changes[self.place[block.account]], block.day - self.now, block.amount)
        for entry in self.moment.books.ahead:
            if entry.date <= self.until:
                for leg in entry.legs:
                    if leg.account is not None:
                        changes[self.place[leg.account], entry.date.toordinal() - self.now] += leg.amount
        return np.cumsum(changes, axis=1)

    def _blocks(self) -> Iterator[Block]:
        end = self.until.toordinal()
        for flow in self.moment.plan.all_flows:
            yield from blocks(self.moment, flow, end)
        for allowance in self.moment.plan.allowances:
            yield from allowance_blocks(self.moment, allowance, end)

    @cached_property
    def floors(self) -> Matrix:
        """Each account's floor; far below everything for a debt, which has none, and for what is not open yet."""
        accounts = self.moment.plan.accounts
        floors = np.array([_NO_FLOOR if account.is_debt else account.floor for account in accounts], dtype=np.int64)
        column = np.repeat(floors[:, None], self.balances.shape[1], axis=1)
        for account in accounts:
            opened = account.opening.date.toordinal() - self.now
            if opened > 0:
                column[self.place[account.id], :opened] = _NO_FLOOR
        return column

    @cached_property
    def is_short(self) -> npt.NDArray[np.bool_]:
        """On which days which accounts are below their floors."""
        short: npt.NDArray[np.bool_] = self.balances < self.floors
        return short

    def lowest(self, account: Account, first: int, last: int) -> LowPoint:
        """An account's lowest end-of-day balance from a day to another (day numbers), on its first such day."""
        part = self.balances[self.place[account.id], first - self.now : last - self.now + 1]
        at = int(part.argmin())
        return LowPoint(first + at, int(part[at]), int(part[at]) - account.floor)

    def balance_on(self, account: Account, day: int) -> int:
        """An account's end-of-day balance on a day (its number)."""
        return int(self.balances[self.place[account.id], day - self.now])

    def worth(self) -> int:
        """Everything owned less everything owed at its end, in the household's currency.

        Raises NoRate where a currency cannot be converted.
        """
        plan, currency = self.moment.plan, self.moment.plan.household.currency
        return sum(
            plan.converted(int(self.balances[self.place[account.id], -1]), account.currency, currency, self.until)
            for account in plan.accounts
        )


@dataclass(frozen=True, eq=False)
class _Derived(Trial):
    """A trial whose balances follow from another's."""

    derived: Matrix

    @cached_property
    def balances(self) -> Matrix:
        return self.derived


@dataclass(frozen=True, eq=False)
class _FixedDerived(Trial):
    """A trial of which what no rule makes follows from another's."""

    derived: Matrix

    @cached_property
    def fixed(self) -> Matrix:
        return self.derived


_NO_FLOOR = -(2**62)
