"""The tideline: the end-of-day balance of chosen accounts together, recorded up to today and expected after it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from heapq import merge

from next_penny.core.dates.calendar import month_number
from next_penny.core.forecast.low_points import LowPoint
from next_penny.core.forecast.projection import Forecast
from next_penny.core.money import convert
from next_penny.core.plan import Account, Plan

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


def tideline(plan: Plan, forecast: Forecast, recorded: Mapping[str, Sequence[Level]]) -> Tideline:
    """Add up the forecast's accounts.

    `recorded` holds each account's recorded end-of-day levels up to today, as `recorded_levels` gives them.
    """
    accounts = [run.account for run in forecast.runs]
    currencies = {account.currency for account in accounts}
    currency = currencies.pop() if len(currencies) == 1 else plan.household.currency
    today = forecast.today.toordinal()
    ink = _together(plan, currency, [(account, recorded.get(account.id, ())) for account in accounts])
    pencil = _together(plan, currency, [(run.account, run.levels) for run in forecast.runs])
    if accounts and all(account.loan is not None for account in accounts):
        # Debts have no floor: the band below the picture lies below the deepest of them.
        deepest = min((balance for _, balance in (*ink, *pencil)), default=0)
        return Tideline(currency, deepest, deepest, ink, pencil, ())
    floor, cushion = (
        sum(_converted(plan, account, getattr(account, bound), currency, today) for account in accounts)
        for bound in ("floor", "cushion")
    )
    return Tideline(currency, floor, cushion, ink, pencil, _monthly_lows(pencil, forecast.until.toordinal(), floor))


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


def _converted(plan: Plan, account: Account, amount: int, currency: str, day: int) -> int:
    if account.currency == currency:
        return amount
    rate = plan.rate(account.currency, currency, date.fromordinal(day))
    return convert(amount, rate, account.currency, currency) if rate is not None else 0


def _together(plan: Plan, currency: str, runs: Sequence[tuple[Account, Sequence[Level]]]) -> tuple[Level, ...]:
    """The sum of several accounts' levels, at every day on which one of them changes."""
    held = [0] * len(runs)
    total = 0
    levels: list[Level] = []
    by_day = merge(*([(day, place, balance) for day, balance in run] for place, (_, run) in enumerate(runs)))
    for day, place, balance in by_day:
        here = _converted(plan, runs[place][0], balance, currency, day)
        total += here - held[place]
        held[place] = here
        if levels and levels[-1][0] == day:
            levels[-1] = (day, total)
        else:
            levels.append((day, total))
    return tuple(levels)


def _monthly_lows(levels: Sequence[Level], until: int, floor: int) -> tuple[LowPoint, ...]:
    """The low point of each calendar month from the first level's day to `until`."""
    lows: dict[int, Level] = {}
    for place, (day, balance) in enumerate(levels):
        end = levels[place + 1][0] - 1 if place + 1 < len(levels) else until
        for month in range(month_number(date.fromordinal(day)), month_number(date.fromordinal(max(end, day))) + 1):
            start = max(day, date(month // 12, month % 12 + 1, 1).toordinal())
            if month not in lows or balance < lows[month][1]:
                lows[month] = (start, balance)
    return tuple(LowPoint(day, balance, balance - floor) for _, (day, balance) in sorted(lows.items()))
