"""The forecast along many paths at once: end-of-day balances by day and path (docs/rules.md, How sure it is)."""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from operator import itemgetter

import numpy as np
import numpy.typing as npt
from propcache.api import cached_property

from next_penny.core.accounts.generated import Act, Passed, Step
from next_penny.core.accounts.over_paths.draws import CoverOverPaths
from next_penny.core.accounts.over_paths.ledger import Column, Matrix, Moved, PathsLedger, PathsWalked
from next_penny.core.accounts.parts import acting_parts, covers_over_paths
from next_penny.core.books.moment import Moment
from next_penny.core.flows.acting import ledger_of
from next_penny.core.flows.allowances import allowance_blocks
from next_penny.core.flows.planned import Block, blocks
from next_penny.core.forecast.chances.draws import Paths
from next_penny.core.forecast.chances.habits import Habits
from next_penny.core.forecast.chances.holding import Held, held_of, hold_back
from next_penny.core.forecast.chances.varying import (
    Movement,
    VaryingFlow,
    draw_flow,
    movements,
    varying_allowance,
    varying_flow,
)
from next_penny.core.forecast.projection import start_of
from next_penny.core.plan.accounts import Account
from next_penny.core.problems import go_on

# Before the id of an allowance among things that vary: a flow may have the same.
ALLOWANCE = "allowance "


@dataclass(frozen=True, eq=False)
class Scene:
    """What many paths have in common: a moment, how far it is looked, the accounts asked about, what varies."""

    moment: Moment
    until: int
    chosen: tuple[Account, ...]
    habits: Habits
    seed: int

    @property
    def days(self) -> int:
        return self.until - self.moment.now + 1

    @cached_property
    def flows(self) -> dict[str, VaryingFlow]:
        """The flows that vary, by id."""
        varying = (varying_flow(self.moment, flow, self.habits) for flow in self.moment.plan.all_flows)
        return {varying_flow.flow.id: varying_flow for varying_flow in varying if varying_flow is not None}

    @cached_property
    def allowances(self) -> tuple[Held, ...]:
        """The allowances that vary, by themselves or by what is spent in their categories."""
        named = (varying_allowance(allowance, self.habits) for allowance in self.moment.plan.allowances)
        holdings = (held_of(self.moment, varying_allowance, self.flows) for varying_allowance in named)
        return tuple(holding for holding in holdings if holding.varies)

    @cached_property
    def reached(self) -> tuple[Account, ...]:
        """The accounts whose balances must be known: those that rules read, and those asked about."""
        read = set(self.moment.plan.accounts_read)
        return tuple(account for account in self.moment.plan.accounts if account in read or account in self.chosen)

    @property
    def is_read(self) -> bool:
        """Whether a rule reads an account that is asked about."""
        return not set(self.chosen).isdisjoint(self.moment.plan.accounts_read)

    @cached_property
    def settled_by_all(self) -> dict[str, Column]:
        """By account, what is the same in all paths: what is fixed beforehand on each day, the start included."""
        fixed = {account.id: np.zeros(self.days, dtype=np.int64) for account in self.reached}
        for account in self.reached:
            begins = start_of(self.moment, account)
            if begins.day <= self.until:
                fixed[account.id][begins.day - self.moment.now] += begins.balance
        for block in self._blocks():
            if block.account in fixed:
                np.add.at(fixed[block.account], block.day - self.moment.now, block.amount)
        for account_id, day, amount in self._recorded():
            fixed[account_id][day - self.moment.now] += amount
        return fixed

    @cached_property
    def gained_by_all(self) -> dict[str, Column]:
        """By card or line, the money in alone of the same."""
        gained = {account.id: np.zeros(self.days, dtype=np.int64) for account in self.reached if account.reads_gains}
        for block in self._blocks():
            if block.account in gained:
                np.add.at(gained[block.account], block.day - self.moment.now, np.maximum(0, block.amount))
        for account_id, day, amount in self._recorded():
            if account_id in gained:
                gained[account_id][day - self.moment.now] += max(0, amount)
        return gained

    def _blocks(self) -> Iterator[Block]:
        plan, varying = self.moment.plan, {holding.varying.allowance.id for holding in self.allowances}
        for flow in plan.all_flows:
            if flow.id not in self.flows:
                yield from blocks(self.moment, flow, self.until)
        for allowance in plan.allowances:
            if allowance.id not in varying:
                yield from allowance_blocks(self.moment, allowance, self.until)

    def _recorded(self) -> Iterator[tuple[str, int, int]]:
        """What is recorded of today and later on the accounts that must be known."""
        ids = {account.id for account in self.reached}
        for entry in self.moment.books.ahead:
            if entry.date.toordinal() <= self.until:
                for leg in entry.legs:
                    if leg.account in ids:
                        yield leg.account or "", entry.date.toordinal(), leg.amount

    @cached_property
    def is_sure(self) -> bool:
        """Whether nothing varies."""
        return not self.flows and not self.allowances

    def moved(self, paths: Paths) -> dict[str, list[Movement]]:
        """What everything that varies moves in some paths, by flow id or `allowance ID`."""
        found_varying = {}
        for varying in self.flows.values():
            go_on()
            drawn = draw_flow(self.moment, varying, self.until, self.seed, paths)
            found_varying[varying.flow.id] = [
                _until(movement, self.until) for movement in movements(self.moment, varying, drawn)
            ]
        for allowance in self.allowances:
            go_on()
            found_varying[f"{ALLOWANCE}{allowance.varying.allowance.id}"] = [
                hold_back(self.moment, allowance, self.until, self.seed, paths)
            ]
        return found_varying


def _until(movement: Movement, last: int) -> Movement:
    inside = movement.day <= last
    if inside.all():
        return movement
    return Movement(movement.account, movement.day[inside], movement.path[inside], movement.amount[inside])


def walk(scene: Scene, moved: Mapping[str, Sequence[Movement]], count: int, added: Column | int = 0) -> Matrix:
    """The end-of-day balances of the accounts asked about together: a row a day from today, a column a path.

    added: what is put on the first of them today, in all paths or in each.
    """
    ledgers = _ledgers(scene, moved, count)
    ledgers[scene.chosen[0].id].balances[0] += added
    if scene.moment.plan.accounts_read:
        _Walk(scene, ledgers).run()
    else:
        for ledger in ledgers.values():
            np.cumsum(ledger.balances, axis=0, out=ledger.balances)
    together: Matrix = ledgers[scene.chosen[0].id].balances
    for account in scene.chosen[1:]:
        together = together + ledgers[account.id].balances
    return together


def _ledgers(scene: Scene, moved: Mapping[str, Sequence[Movement]], count: int) -> dict[str, PathsLedger]:
    by_account: defaultdict[str, list[Movement]] = defaultdict(list)
    for movement in (one_movement for of_flow in moved.values() for one_movement in of_flow):
        by_account[movement.account].append(movement)
    ledgers = {}
    for account in scene.reached:
        fixed = _columns(scene.settled_by_all[account.id], by_account[account.id], scene.moment.now, count)
        gained, past = None, None
        if account.reads_gains:
            gains = [
                one_movement._replace(amount=np.maximum(0, one_movement.amount))
                for one_movement in by_account[account.id]
            ]
            gained = _columns(scene.gained_by_all[account.id], gains, scene.moment.now, count)
        if account in scene.moment.plan.accounts_read:
            past = ledger_of(scene.moment, account, ())
        ledgers[account.id] = PathsLedger(account, past, scene.moment.now, fixed, gained)
    return ledgers


def _columns(alike: Column, movements: Sequence[Movement], now: int, count: int) -> Matrix:
    columns = np.repeat(alike[:, None], count, axis=1)
    flat = columns.reshape(-1)
    for movement in movements:
        np.add.at(flat, (movement.day - now) * count + movement.path, movement.amount)
    return columns


class _Walk:
    """One walk over every day: what acts on a day acts in all paths."""

    def __init__(self, scene: Scene, ledgers: Mapping[str, PathsLedger]) -> None:
        moment = scene.moment
        self._scene, self._ledgers = scene, ledgers
        passed = Passed(moment.books.settled, moment.now, moment.carries)
        self._walked = PathsWalked(moment.plan.account_by_id, ledgers, passed)
        acting = moment.plan.accounts_read
        self._covers: list[CoverOverPaths] = [
            cover for account in acting for cover in covers_over_paths(account, self._walked)
        ]
        acts = [act for order, account in enumerate(acting) for part in acting_parts(account)
                for act in part.over_paths(account, self._walked, order).agenda(scene.until)]  # fmt: skip
        self._acts: defaultdict[int, list[Act[Moved]]] = defaultdict(list)
        for act in sorted(acts, key=itemgetter(0, 1, 2)):
            self._acts[act.day].append(act)

    def run(self) -> None:
        """Walk from today to the end."""
        for day in range(self._scene.moment.now, self._scene.until + 1):
            if day % _ASKED_EVERY == 0:
                go_on()
            for ledger in self._ledgers.values():
                ledger.pass_to(day)
            acts = self._acts.get(day, ())
            for act in acts:
                if act.step < Step.DRAW:
                    self._post(day, act.do(day))
            for cover in self._covers:
                self._post(day, cover.draw(day))
            for act in acts:
                if act.step > Step.DRAW:
                    self._post(day, act.do(day))

    def _post(self, day: int, moved: Moved | None) -> None:
        for account, amount in moved or ():
            if account in self._ledgers:
                self._ledgers[account].post(day, amount)


# Giving up what nobody waits for is asked every so many days.
_ASKED_EVERY = 64


def below(scene: Scene, balances: Matrix) -> npt.NDArray[np.int64]:
    """By how much each path is below the floor of the accounts together on each day; negative above it."""
    return np.asarray(floors(scene)[:, None] - balances, dtype=np.int64)


def floors(scene: Scene) -> Column:
    """The floors of the accounts asked about together, by day: those of the accounts that are open by then."""
    column = np.zeros(scene.days, dtype=np.int64)
    for account in scene.chosen:
        column[max(0, account.opening.date.toordinal() - scene.moment.now) :] += account.floor
    return column
