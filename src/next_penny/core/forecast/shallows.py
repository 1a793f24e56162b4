"""What takes an account down to a low stretch: the flows that leave it after its last high before the deepest day."""

from typing import NamedTuple

from next_penny.core.forecast.events import Event
from next_penny.core.forecast.low_points import Stretch, stretches
from next_penny.core.forecast.projection import AccountRun, Forecast

# How far back a high explains a low: less than a month, so that a monthly bill counts once.
_WITHIN_DAYS = 27
_MOST_CAUSES = 3


class Cause(NamedTuple):
    """What left the account under one name, positive."""

    name: str
    amount: int


class Shallow(NamedTuple):
    """A stretch below a threshold, and what leads to it, the most money first."""

    stretch: Stretch
    causes: tuple[Cause, ...]


def shallows(forecast: Forecast, account: str, most: int) -> list[Shallow]:
    """The first stretches of an account below its floor or cushion, with their causes."""
    run = forecast.run_of[account]
    found_stretches = stretches(run, forecast.until.toordinal())[:most]
    if not found_stretches:
        return []
    leaving = [event for event in forecast.events if event.account == account and event.amount < 0]
    return [Shallow(stretch, _causes(run, stretch, leaving)) for stretch in found_stretches]


def _causes(run: AccountRun, stretch: Stretch, leaving: list[Event]) -> tuple[Cause, ...]:
    before = [level for level in run.levels if stretch.deepest - _WITHIN_DAYS <= level[0] < stretch.deepest]
    # Of equal highs the last; without one, all of the time before it counts.
    high = max(before, key=lambda level: (level[1], level[0]))[0] if before else stretch.deepest - _WITHIN_DAYS
    sums: dict[str, int] = {}
    for event in leaving:
        if high < event.day <= stretch.deepest:
            sums[event.name] = sums.get(event.name, 0) - event.amount
    largest = sorted(sums.items(), key=lambda cause: (-cause[1], cause[0]))[:_MOST_CAUSES]
    return tuple(Cause(name, amount) for name, amount in largest)
