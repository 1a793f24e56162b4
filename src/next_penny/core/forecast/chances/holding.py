"""What allowances hold back along many paths: a drawn use, or the limit, less what is used and still to come."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from next_penny.core.accounts.over_paths.ledger import Column, quotients
from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.flows.allowance_rates import flows_in, in_its_currency
from next_penny.core.flows.allowances import LONGEST_PERIOD, AllowancePeriod, Span, first_held_back, periods, spans
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import expected
from next_penny.core.forecast.chances.draws import Paths, drawn
from next_penny.core.forecast.chances.varying import (
    Grid,
    Movement,
    VaryingAllowance,
    VaryingFlow,
    draw_flow,
    scaled,
    shares,
)


class Held(NamedTuple):
    """An allowance with the flows that spend in its categories and vary; only with one of both it varies at all."""

    varying: VaryingAllowance
    flows: tuple[VaryingFlow, ...]

    @property
    def varies(self) -> bool:
        return bool(self.varying.ratios or self.flows)


def held_of(moment: Moment, varying: VaryingAllowance, flows: dict[str, VaryingFlow]) -> Held:
    """What an allowance's holding back depends on."""
    spending = (flows.get(flow.id) for flow in flows_in(moment, varying.allowance))
    return Held(varying, tuple(flow for flow in spending if flow is not None))


def hold_back(moment: Moment, holding: Held, until: int, seed: int, paths: Paths) -> Movement:
    """What the forecast takes for an allowance until a day in each path."""
    allowance = holding.varying.allowance
    ahead = list(periods(moment, allowance, until))
    limits = drawn_limits(moment, holding, ahead, seed, paths)
    committed = _committed(moment, holding, ahead, until, seed, paths)
    carried = np.full(len(paths), _carried_in(moment, holding, ahead), dtype=np.int64)
    parts: list[tuple[Days, Grid]] = []
    for at, period in enumerate(ahead):
        use = np.maximum(limits[at], period.used) if holding.varying.ratios else limits[at] + carried
        left = use - period.used - committed[at]
        carried = np.minimum(0, left) if allowance.carry == "forward" else carried
        parts.append(_spread(allowance.timing, period, np.maximum(0, left), moment.now))
    days = np.concatenate([day for day, _ in parts]) if parts else np.empty(0, dtype=np.int64)
    amounts = np.concatenate([part for _, part in parts]) if parts else np.empty((0, len(paths)), dtype=np.int64)
    inside = days <= until
    rows = int(inside.sum())
    return Movement(
        allowance.account, np.repeat(days[inside], len(paths)), np.tile(np.arange(len(paths)), rows),
        -amounts[inside].ravel(),
    )  # fmt: skip


def _own_spans(moment: Moment, holding: Held, ahead: Sequence[AllowancePeriod]) -> list[Span]:
    if not ahead:
        return []
    span_by_first = {
        span.first: span for span in spans(moment, holding.varying.allowance, ahead[0].first, ahead[-1].last)
    }
    return [span_by_first[period.first] for period in ahead]


def drawn_limits(moment: Moment, holding: Held, ahead: Sequence[AllowancePeriod], seed: int, paths: Paths) -> Grid:
    """Each period's limit without what was carried into it, or the use that a path drew in its place."""
    own = _own_spans(moment, holding, ahead)
    limits = np.array([span.limit for span in own], dtype=np.int64)
    if not holding.varying.ratios:
        return np.broadcast_to(limits[:, None], (len(own), len(paths)))
    firsts, ratios = np.array([span.first for span in own], dtype=np.int64), holding.varying.ratios
    which = drawn(seed, f"allowance {holding.varying.allowance.id}", firsts, paths, len(ratios))
    return scaled(limits, ratios, which)


def _carried_in(moment: Moment, holding: Held, ahead: Sequence[AllowancePeriod]) -> int:
    """What is carried into the first period."""
    own = _own_spans(moment, holding, ahead[:1])
    return ahead[0].limit - own[0].limit if own else 0


def _committed(
    moment: Moment, holding: Held, ahead: Sequence[AllowancePeriod], until: int, seed: int, paths: Paths
) -> Grid:
    """What is still to come in each period and path: as the forecast has it, but for the flows that vary."""
    committed = np.repeat(np.array([period.committed for period in ahead], dtype=np.int64)[:, None], len(paths), axis=1)
    if not holding.flows or not ahead:
        return committed
    begins = np.array([max(period.first, moment.now) for period in ahead], dtype=np.int64)
    plan, allowance = moment.plan, holding.varying.allowance
    for varying in holding.flows:
        paid_from = varying.flow.main_account or ""
        coming = expected(moment, varying.flow, until + LONGEST_PERIOD)
        days = np.maximum(coming.landing, moment.now)
        for category, part, mine in maker_of(moment, varying.flow).shares(coming):
            if category in allowance.categories:
                wanted = slice(None) if mine is None else mine
                planned = in_its_currency(plan, allowance, paid_from, days[wanted], part[wanted])
                _take(committed, begins, ahead[-1].last, days[wanted], None, -planned)
        drawn = draw_flow(moment, varying, until + LONGEST_PERIOD, seed, paths)
        for share in shares(moment, varying, drawn, allowance.categories):
            amounts = in_its_currency(plan, allowance, paid_from, share.day, share.amount)
            _take(committed, begins, ahead[-1].last, share.day, share.path, amounts)
    return committed


def _take(committed: Grid, begins: Days, last: int, days: Days, path: Days | None, amounts: Days) -> None:
    """Add amounts to the periods that their days lie in, in one path each or in all."""
    at = np.searchsorted(begins, days, side="right") - 1
    inside = (at >= 0) & (days <= last)
    if path is None:
        sums = np.zeros(len(begins), dtype=np.int64)
        np.add.at(sums, at[inside], amounts[inside])
        committed += sums[:, None]
    else:
        np.add.at(committed, (at[inside], path[inside]), amounts[inside])


def _spread(timing: str, period: AllowancePeriod, held_back: Column, now: int) -> tuple[Days, Grid]:
    """On which days a period's held-back amount is taken, and how much on each; see `held_back_days`."""
    if timing == "at_end":
        return np.array([period.last]), held_back[None, :]
    first = first_held_back(period, now)
    count = period.last - first + 1
    upto = quotients(held_back[None, :] * np.arange(count + 1)[:, None], count)
    return np.arange(first, period.last + 1), np.diff(upto, axis=0)
