"""How sure it is: bands, chances, what would make it safe, and what makes it uncertain (docs/rules.md)."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
import numpy.typing as npt

from next_penny.core.accounts.over_paths.ledger import Column, Matrix
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_number, month_start
from next_penny.core.forecast.chances.causes import Cause, Covariances
from next_penny.core.forecast.chances.habits import Habits
from next_penny.core.forecast.chances.telling import Thing, notes_of, things_of
from next_penny.core.forecast.chances.walking import Scene, below, floors, walk
from next_penny.core.forecast.trials import Trial
from next_penny.core.money import rounded_quotient
from next_penny.core.plan.accounts import Account

MOST_PATHS, MOST_PATH_DAYS = 10_000, 4_000_000
# So many path-days are walked at once: what is held of them stays small.
_AT_ONCE = 750_000
_SURE_PERCENT = 95


@dataclass(frozen=True, slots=True)
class MonthChance:
    """A month (its number), and in how many paths it has a day below the floor."""

    month: int
    below: int


@dataclass(frozen=True, slots=True)
class Chance:
    """How sure the balance of some accounts together is from today to a day. Amounts are minor units.

    bands: by day from today, the 10th, 50th and 90th percentile of the end-of-day balance (three rows). below: in how
    many of `paths` there is a day below the floor; None where debts are among the accounts, which have none.
    goes_badly: the 10th percentile of the lowest balance. safe_with: what, added today, leaves at most one path in
    twenty below; None where nothing tried does, or where there is no floor. things: all that varies on these accounts.
    is_known: whether any of it is remembered often enough; else a band would be a guess.
    """

    paths: int
    bands: npt.NDArray[np.int64]
    below: int | None
    months: tuple[MonthChance, ...]
    goes_badly: int
    floor: int
    safe_with: int | None
    causes: tuple[Cause, ...]
    things: tuple[Thing, ...]
    notes: tuple[str, ...]

    @property
    def is_known(self) -> bool:
        return not self.things or any(not thing.is_assumed for thing in self.things)


def chance(
    moment: Moment, chosen: Sequence[Account], until: date, habits: Habits, *, paths: int = 2000, seed: int = 1
) -> Chance:
    """Run the forecast along so many paths (fewer where there are too many days) and say how sure it is.

    The accounts are of one currency.
    """
    scene = Scene(moment, until.toordinal(), tuple(chosen), habits, seed)
    count = 1 if scene.is_sure else max(1, min(paths, MOST_PATHS, MOST_PATH_DAYS // scene.days))
    has_floor = not any(account.is_debt for account in chosen)
    paths_found = _Found(scene, count)
    short = paths_found.deepest > 0
    lows = np.sort(paths_found.lowest)
    things = tuple(things_of(scene))
    return Chance(
        count, _bands(paths_found.balances), int(short.sum()) if has_floor else None,
        tuple(_months(scene, paths_found.balances)) if has_floor else (), int(lows[_rank(count, 10)]),
        int(floors(scene)[-1]), _safe_with(scene, paths_found) if has_floor else None, paths_found.causes(), things,
        tuple(notes_of(scene, things, count, min(paths, MOST_PATHS))),
    )  # fmt: skip


class _Found:
    """The balances of all paths, each path's lowest day, and what was off by then."""

    def __init__(self, scene: Scene, count: int) -> None:
        self.scene, self.count = scene, count
        self.balances: Matrix = np.empty((scene.days, count), dtype=np.int64)
        self._covariances = Covariances(scene)
        for numbers in _chunks(scene, np.arange(count)):
            self.balances[:, numbers] = self._balances(numbers)
        self.lowest: Column = self.balances.min(axis=0)
        self.deepest: Column = below(scene, self.balances).max(axis=0)

    def _balances(self, numbers: Column) -> Matrix:
        if self.scene.is_sure:
            return _as_forecast(self.scene)
        moved = self.scene.moved(numbers)
        column = walk(self.scene, moved, len(numbers))
        self._covariances.take(moved, column)
        return column

    def causes(self) -> tuple[Cause, ...]:
        """What makes the lowest balance uncertain, the largest first."""
        return self._covariances.causes(self.lowest)


def _as_forecast(scene: Scene) -> Matrix:
    """One path: the forecast, to the minor unit."""
    trial = Trial(scene.moment, date.fromordinal(scene.until))
    rows = [trial.balances[trial.place[account.id]] for account in scene.chosen]
    return np.asarray(np.sum(rows, axis=0), dtype=np.int64)[:, None]


def _chunks(scene: Scene, numbers: Column) -> Iterator[Column]:
    size = max(1, _AT_ONCE // scene.days)
    for begin in range(0, len(numbers), size):
        yield numbers[begin : begin + size]


def _rank(count: int, percent: int) -> int:
    """The place of a percentile among so many sorted numbers, by nearest rank."""
    return max(0, -(-count * percent // 100) - 1)


def _bands(balances: Matrix) -> npt.NDArray[np.int64]:
    ranks = [_rank(balances.shape[1], percent) for percent in (10, 50, 90)]
    return np.asarray(np.partition(balances, ranks, axis=1)[:, ranks].T, dtype=np.int64)


def _months(scene: Scene, balances: Matrix) -> Iterator[MonthChance]:
    short = below(scene, balances) > 0
    now = scene.moment.now
    first, last = (month_number(date.fromordinal(day)) for day in (now, scene.until))
    for month in range(first, last + 1):
        begin, end = max(now, month_start(month)) - now, month_start(month + 1) - now
        yield MonthChance(month, int(short[begin:end].any(axis=0).sum()))


def _safe_with(scene: Scene, paths_found: _Found) -> int | None:
    """The least sum that, added today, leaves at most one path in twenty with a day below the floor."""
    deepest = np.sort(np.maximum(0, paths_found.deepest))
    guess = int(deepest[_rank(paths_found.count, _SURE_PERCENT)])
    if guess == 0 or not scene.is_read:
        return guess
    is_enough = _is_enough(scene, paths_found)
    most = 2 * int(deepest[-1])
    return _least(is_enough, guess, most)


def _is_enough(scene: Scene, paths_found: _Found) -> Callable[[int], bool]:
    """Whether a sum is enough: only paths that are short without it are walked again, until one sum is found."""
    short = np.flatnonzero(paths_found.deepest > 0)
    allowed = paths_found.count - (_rank(paths_found.count, _SURE_PERCENT) + 1)
    drawn = [(numbers, scene.moved(numbers)) for numbers in _chunks(scene, short)]

    def is_enough(added: int) -> bool:
        still = 0
        for numbers, moved in drawn:
            still += int((below(scene, walk(scene, moved, len(numbers), added)) > 0).any(axis=0).sum())
        return still <= allowed

    return is_enough


def _least(is_enough: Callable[[int], bool], guess: int, most: int) -> int | None:
    """The least sum up to `most` that is enough, looked for near a guess first; None where none is."""
    short, step = 0, 1
    if is_enough(guess):
        enough = guess
        while enough - step > 0 and is_enough(enough - step):
            enough, step = enough - step, step * 8
        short = max(0, enough - step)
    else:
        short = guess
        while True:
            enough = min(most, short + step)
            if is_enough(enough):
                break
            if enough == most:
                return None
            short, step = enough, step * 8
    while enough - short > 1:
        middle = (enough + short) // 2
        short, enough = (short, middle) if is_enough(middle) else (middle, enough)
    return enough


def odds(count: int, paths: int) -> str:
    """A share of the paths as people say it: `1 in 8`, `7 in 10`."""
    if not count or count == paths:
        return "always" if count else "never"
    if count * 1000 < paths:
        return "less than 1 in 1000"
    if count * 20 > paths * 19:
        return "more than 19 in 20"
    if 5 * count < 2 * paths:
        return f"1 in {rounded_quotient(paths, count)}"
    tenths = rounded_quotient(10 * count, paths)
    return "1 in 2" if tenths == 5 else f"{tenths} in 10" if tenths < 10 else "9 in 10"


def share_of(count: int, paths: int) -> str:
    """A share of the paths as a decimal with four digits at most."""
    tenths = rounded_quotient(10_000 * count, paths)
    return f"{tenths // 10_000}.{tenths % 10_000:04d}".rstrip("0").rstrip(".") if tenths else "0"
