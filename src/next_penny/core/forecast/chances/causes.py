"""What makes the lowest balance ahead uncertain, thing by thing (docs/rules.md, How sure it is)."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from next_penny.core.accounts.over_paths.ledger import Column, Matrix
from next_penny.core.forecast.chances.varying import Movement
from next_penny.core.forecast.chances.walking import ALLOWANCE, Scene


class Cause(NamedTuple):
    """One thing that varies, and its share of the whole; the shares sum to 1. Statistics, so a float."""

    id: str
    is_allowance: bool
    share: float


class Covariances:
    """What each thing moved by the day of each path's lowest balance, chunk by chunk of the paths.

    A thing's deviation on a day is measured from its mean over the paths on that day: measured from the forecast, a
    habit of using less than planned would count as uncertainty wherever the lowest day is not the same in all paths.
    """

    def __init__(self, scene: Scene) -> None:
        self._scene = scene
        self._lowest: list[Column] = []
        self._moved: defaultdict[str, list[Column]] = defaultdict(list)
        self._sums: dict[str, Column] = {}

    def take(self, moved: Mapping[str, Sequence[Movement]], balances: Matrix) -> None:
        """Note, of some paths, what each thing moved up to their lowest days."""
        lowest, now = balances.argmin(axis=0), self._scene.moment.now
        self._lowest.append(lowest)
        chosen = {account.id for account in self._scene.chosen}
        for id, movements in moved.items():
            if id.startswith(ALLOWANCE) and not self._varies_itself(id):
                continue
            by_then = np.zeros(balances.shape[1], dtype=np.int64)
            by_day = self._sums.setdefault(id, np.zeros(self._scene.days, dtype=np.int64))
            for movement in (one_movement for one_movement in movements if one_movement.account in chosen):
                days = movement.day - now
                counts = days <= lowest[movement.path]
                np.add.at(by_then, movement.path[counts], movement.amount[counts])
                np.add.at(by_day, days, movement.amount)
            self._moved[id].append(by_then)

    def _varies_itself(self, id: str) -> bool:
        return any(f"{ALLOWANCE}{allowance.varying.allowance.id}" == id and allowance.varying.ratios
                   for allowance in self._scene.allowances)  # fmt: skip

    def causes(self, balances: Column) -> tuple[Cause, ...]:
        """The shares, the largest first; none where the lowest balance (one a path) does not vary."""
        if not self._moved or (balances == balances[0]).all():
            return ()
        days, centred = np.concatenate(self._lowest), balances - balances.mean()
        spreads = {}
        for id, parts in self._moved.items():
            mean = np.cumsum(self._sums[id]) / len(balances)
            spreads[id] = float(np.mean((np.concatenate(parts) - mean[days]) * centred))
        whole = sum(spreads.values())
        if whole <= 0:
            return ()
        causes = [Cause(id.removeprefix(ALLOWANCE), id.startswith(ALLOWANCE), part / whole)
                  for id, part in spreads.items()]  # fmt: skip
        return tuple(sorted(causes, key=lambda cause: -cause.share))
