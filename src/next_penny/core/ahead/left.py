"""What is left of a month or of a payday's stretch (docs/rules.md, Months and figures)."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from next_penny.core.ahead.stretch import Stretch


class Left(NamedTuple):
    """Of a stretch of days (numbers): what comes in, and what goes out (positive) and what that leaves.

    Recorded and expected together; what is put by on savings goes out, what allowances may still spend too. What
    accounts begin with is in neither.
    """

    first: int
    last: int
    income: int
    out: int

    @property
    def left(self) -> int:
        """Below zero where more goes out than comes in."""
        return self.income - self.out


def left_of(over: Stretch) -> Left:
    """What is left of a stretch for its accounts together."""
    nets = list(_nets(over))
    return Left(
        over.first, over.last, sum(net for net in nets if net > 0), -sum(net for net in nets if net < 0)
    )  # fmt: skip


def last_payday(over: Stretch) -> int | None:
    """The last day of a stretch, up to today, on which an income came that is at least half of its largest."""
    flows, now = over.moment.plan.flow_by_id, over.moment.now
    incomes = {id for id, flow in flows.items() if flow.kind == "income"}
    came = [
        (entry.date.toordinal(), sum(leg.amount for leg in over.legs_here(entry)))
        for entry in over.recorded() if entry.flow in incomes
    ]  # fmt: skip
    if over.forecast is not None:
        came += [(event.day, event.amount) for event in over.forecast.events
                 if event.flow in incomes and event.day >= over.first]  # fmt: skip
    most = max((amount for day, amount in came if day <= now), default=0)
    return max((day for day, amount in came if day <= now and 0 < most <= amount * 2), default=None)


def _nets(over: Stretch) -> Iterator[int]:
    """What each entry and occurrence changes: on the accounts that are no savings, if it touches one of them."""
    saving = {account.id for account in over.accounts if account.kind == "savings"}
    if len(saving) == len(over.accounts):
        saving = set()
    for entry in over.recorded():
        yield _net([(leg.account or "", leg.amount) for leg in over.legs_here(entry)], saving)
    for occurrence in over.occurrences():
        yield _net(occurrence.legs, saving)


def _net(legs: Sequence[tuple[str, int]], saving: set[str]) -> int:
    at_hand = [amount for account, amount in legs if account not in saving]
    return sum(at_hand) if at_hand else sum(amount for _, amount in legs)
