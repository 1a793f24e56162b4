"""Low points, stretches of shallow water, and the least money that keeps an account at its floor."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

import numpy as np

from next_penny.core.dates.calendar import month_number
from next_penny.core.forecast.events import EventTable
from next_penny.core.forecast.projection import AccountRun, Forecast

Threshold = Literal["floor", "cushion"]


@dataclass(frozen=True, slots=True)
class LowPoint:
    """The lowest end-of-day balance of a stretch, on its first such day. Headroom is balance less floor."""

    day: int
    balance: int
    headroom: int


@dataclass(frozen=True, slots=True)
class Stretch:
    """Unbroken days below a threshold, and by how much at the deepest."""

    below: Threshold
    first: int
    last: int
    deepest: int
    balance: int
    short_by: int


@dataclass(frozen=True, slots=True)
class TopUp:
    day: int
    amount: int


def lowest(run: AccountRun, first: int | None = None, last: int | None = None) -> LowPoint | None:
    """The low point of a run, or of part of it; None where the account is not open in that time."""
    if first is None and len(run.days) and (last is None or int(run.days[-1]) <= last):
        at = int(run.balances.argmin())  # the first of equal ones
        balance = int(run.balances[at])
        return LowPoint(int(run.days[at]), balance, balance - run.account.floor)
    levels = [level for level in run.levels if last is None or level[0] <= last]
    if first is not None:
        before = [level for level in levels if level[0] <= first][-1:]
        levels = [(max(first, day), balance) for day, balance in before] + [lv for lv in levels if lv[0] > first]
    if not levels:
        return None
    day, balance = min(levels, key=lambda level: (level[1], level[0]))
    return LowPoint(day, balance, balance - run.account.floor)


def short_by(run: AccountRun, until: int) -> int:
    """By how much the lowest point is below the floor, if it is; a debt is below nothing."""
    low = lowest(run, last=until)
    return max(0, -low.headroom) if low is not None and not run.account.is_debt else 0


def stretches(run: AccountRun, until: int) -> list[Stretch]:
    """Every stretch below the floor, and below the cushion where that is higher, in order of first day."""
    if run.account.is_debt:
        return []  # a debt is below nothing
    if not len(run.balances) or int(run.balances.min()) >= max(run.account.floor, run.account.cushion):
        return []  # most accounts, most of the time
    stretches = list(_below(run.levels, "floor", run.account.floor, until))
    if run.account.cushion > run.account.floor:
        stretches += _below(run.levels, "cushion", run.account.cushion, until)
    return sorted(stretches, key=lambda stretch: (stretch.first, stretch.below))


def _below(levels: Sequence[tuple[int, int]], name: Threshold, threshold: int, until: int) -> Iterator[Stretch]:
    under: list[tuple[int, int]] = []
    for day, balance in (*levels, (until + 1, threshold)):
        if balance < threshold:
            under.append((day, balance))
        elif under:
            deepest, lowest_balance = min(under, key=lambda level: (level[1], level[0]))
            yield Stretch(name, under[0][0], day - 1, deepest, lowest_balance, threshold - lowest_balance)
            under = []


def top_ups(run: AccountRun) -> list[TopUp]:
    """The least money, as late as possible, that keeps every day's end at or above the floor."""
    if run.account.is_debt:
        return []
    if not len(run.balances) or int(run.balances.min()) >= run.account.floor:
        return []
    added = 0
    needed = []
    for day, balance in run.levels:
        short = run.account.floor - balance - added
        if short > 0:
            needed.append(TopUp(day, short))
            added += short
    return needed


def by_month(needed: Sequence[TopUp]) -> list[tuple[int, int]]:
    """Top-ups added up by month (its number), in order."""
    sums: dict[int, int] = {}
    for top_up in needed:
        month = month_number(date.fromordinal(top_up.day))
        sums[month] = sums.get(month, 0) + top_up.amount
    return sorted(sums.items())


def available(run: AccountRun) -> tuple[list[int], list[int]]:
    """On a card or line: the days on which its balance changes, and what may then be spent; negative over its limit."""
    steps = run.steps
    return [day for day, _ in steps], [run.account.available(balance) or 0 for _, balance in steps]


def headrooms(forecast: Forecast, events: EventTable) -> list[int]:
    """Beside each event, the balance after it above its account's floor."""
    floors = np.array([forecast.run_of[account].account.floor for account in events.accounts], dtype=np.int64)
    rooms: list[int] = (events.columns.balance - floors[events.columns.account]).tolist()
    return rooms
