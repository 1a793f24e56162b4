"""The tideline: the end-of-day balance of chosen accounts together, recorded up to today and expected after it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from heapq import merge

import numpy as np

from next_penny.core.dates.calendar import month_number, month_start
from next_penny.core.forecast.low_points import LowPoint
from next_penny.core.forecast.projection import Forecast
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.plan import Plan

Level = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Tideline:
    """Levels are (day number, end-of-day balance) where it changes, in the accounts' currency or the household's.

    `ink` ends with today's recorded balance, `pencil` begins with what today is expected to end on.
    `lows` are each month's low point ahead.
    """

    currency: str
    floor: int
    cushion: int
    ink: tuple[Level, ...]
    pencil: tuple[Level, ...]
    lows: tuple[LowPoint, ...]


def tideline(forecast: Forecast, chosen: Sequence[str], recorded: Mapping[str, Sequence[Level]]) -> Tideline:
    """Add up some of the forecast's accounts. Raises NoRate where one of them cannot be converted.

    `recorded` holds each account's recorded end-of-day levels up to today, as `recorded_levels` gives them.
    """
    plan, runs = forecast.moment.plan, [run for run in forecast.runs if run.account.id in chosen]
    accounts = [run.account for run in runs]
    currencies = {account.currency for account in accounts}
    currency = currencies.pop() if len(currencies) == 1 else plan.household.currency
    ink = _together(plan, currency, [(account, recorded.get(account.id, ())) for account in accounts])
    pencil = _together(plan, currency, [(run.account, run.levels) for run in runs])
    if any(account.is_debt for account in accounts):
        # A debt has no floor, nor has what it is added to: the band below the picture lies below the deepest point.
        deepest = min((balance for _, balance in (*ink, *pencil)), default=0)
        return Tideline(currency, deepest, deepest, ink, pencil, ())
    floor, cushion = (
        sum(plan.converted(getattr(account, bound), account.currency, currency, forecast.today) for account in accounts)
        for bound in ("floor", "cushion")
    )
    return Tideline(currency, floor, cushion, ink, pencil, _monthly_lows(pencil, forecast.until.toordinal(), floor))


def lowest_ahead(line: Tideline) -> LowPoint | None:
    """The lowest of the months' low points, the first of those alike."""
    return min(line.lows, key=lambda low: (low.balance, low.day), default=None)


def recorded_levels(account: Account, changes: Sequence[Level], first: int, today: int) -> list[Level]:
    """An account's recorded end-of-day balances from day `first` to `today`, from its changes by day, oldest first."""
    opened = account.opening.date.toordinal()
    if opened > today:
        return []
    begin = max(first, opened)
    balance = account.opening.balance + sum(change for day, change in changes if day <= begin)
    levels = [(begin, balance)]
    for day, change in changes:
        if begin < day <= today:
            balance += change
            levels.append((day, balance))
    return levels if levels[-1][0] == today else [*levels, (today, balance)]


def _together(plan: Plan, currency: str, runs: Sequence[tuple[Account, Sequence[Level]]]) -> tuple[Level, ...]:
    """The sum of several accounts' levels, at every day on which one of them changes."""
    if len(runs) == 1 and runs[0][0].currency == currency:
        return tuple(runs[0][1])
    balances = [0] * len(runs)
    total = 0
    levels: list[Level] = []
    by_day = merge(*([(day, number, balance) for day, balance in run] for number, (_, run) in enumerate(runs)))
    for day, number, balance in by_day:
        own = runs[number][0].currency
        here = balance if own == currency else plan.converted(balance, own, currency, date.fromordinal(day))
        total += here - balances[number]
        balances[number] = here
        if levels and levels[-1][0] == day:
            levels[-1] = (day, total)
        else:
            levels.append((day, total))
    return tuple(levels)


def _monthly_lows(levels: Sequence[Level], until: int, floor: int) -> tuple[LowPoint, ...]:
    """The low point of each calendar month from the first level's day to `until`."""
    if not levels:
        return ()
    days, balances = np.array(levels, dtype=np.int64).T
    first, last = (month_number(date.fromordinal(day)) for day in (levels[0][0], max(until, levels[-1][0])))
    starts = [month_start(month) for month in range(first, last + 2)]
    places = np.searchsorted(days, starts).tolist()
    lows = []
    for start, place, after in zip(starts, places, places[1:], strict=False):
        found_levels: list[Level] = []
        if place and (place == after or levels[place][0] > start):
            found_levels.append((start, levels[place - 1][1]))  # what is held from the month before
        if place < after:
            found_levels.append(levels[place + int(balances[place:after].argmin())])
        day, balance = min(found_levels, key=lambda level: (level[1], level[0]))
        lows.append(LowPoint(day, balance, balance - floor))
    return tuple(lows)
