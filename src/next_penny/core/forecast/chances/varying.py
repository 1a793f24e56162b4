"""What varies in a household, and what a path draws of it."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.flows.kinds.maker import Maker, maker_of
from next_penny.core.flows.makers import expected
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.forecast.chances.draws import Paths, drawn
from next_penny.core.forecast.chances.habits import (
    ASSUMED_RATIOS,
    ENOUGH,
    Habit,
    Habits,
    Ratio,
    missing_chance,
)
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.flows import Flow

Grid = npt.NDArray[np.int64]
# What is changed on which account, and of which rows.
Posted = tuple[str, Days, npt.NDArray[np.bool_] | None]
# A product beyond this would leave 64 bits; it is reckoned in floating point.
_SAFE = 2**62


class Movement(NamedTuple):
    """What one thing moves on one account: rows of (day, path, amount), the path as a column's number."""

    account: str
    day: Days
    path: Days
    amount: Days


@dataclass(frozen=True)
class VaryingFlow:
    """One flow whose amount, day or coming is not sure. ratios, late: what is drawn from; empty where it does not vary.

    missed: how often what comes back of money lent does not come.
    """

    flow: Flow
    ratios: tuple[Ratio, ...]
    late: tuple[int, ...]
    missed: Ratio | None

    @property
    def earliest(self) -> int:
        """By how many days it may come before its day, at most."""
        return max(0, *(-days for days in (0, *self.late)))


@dataclass(frozen=True)
class VaryingAllowance:
    """One allowance; `ratios` are what is drawn from, empty where its own use does not vary."""

    allowance: Allowance
    ratios: tuple[Ratio, ...]


def varying_flow(moment: Moment, flow: Flow, habits: Habits) -> VaryingFlow | None:
    """What varies of a flow; None where nothing does."""
    plan, habit = moment.plan, habits.of_flow(flow.id)
    lent = plan.lent_by(flow)
    is_own = maker_of(moment, flow).source == "flow" and lent is None
    ratios = _unless_plain(_ratios(habit)) if flow.estimate and is_own else ()
    late = habit.late if len(habit.late) >= ENOUGH and any(habit.late) else ()
    missed = missing_chance(habit, lent.lending.sure) if lent is not None and plan.counts_on(flow) else None
    return VaryingFlow(flow, ratios, late, missed) if ratios or late or missed is not None else None


def varying_allowance(allowance: Allowance, habits: Habits) -> VaryingAllowance:
    """What varies of an allowance by itself."""
    habit = habits.of_allowance(allowance.id)
    return VaryingAllowance(allowance, _unless_plain(habit.ratios) if habit.is_known else ())


def _ratios(habit: Habit) -> tuple[Ratio, ...]:
    return habit.ratios if habit.is_known else ASSUMED_RATIOS


def _unless_plain(ratios: tuple[Ratio, ...]) -> tuple[Ratio, ...]:
    return ratios if any(ratio.part != ratio.whole for ratio in ratios) else ()


class Drawn(NamedTuple):
    """Of a flow's occurrences (rows) in each path (columns): the day it moves, its amount, and whether it comes."""

    coming: Occurrences
    day: Grid
    amount: Grid
    comes: npt.NDArray[np.bool_]


def draw_flow(moment: Moment, varying: VaryingFlow, until: int, seed: int, paths: Paths) -> Drawn:
    """What a flow's occurrences come to, and when, in each path; those that may land by a day are among them."""
    flow, now = varying.flow, moment.now
    coming = expected(moment, flow, until + varying.earliest)
    shape = (len(coming.nominal), len(paths))
    day = np.broadcast_to(np.maximum(coming.landing, now)[:, None], shape)
    if varying.late:
        set_by_hand = np.isin(coming.nominal, list(flow.exceptional.moved)) | (coming.landing < now)
        shift = np.array(varying.late)[drawn(seed, f"late {flow.id}", coming.nominal, paths, len(varying.late))]
        shift[set_by_hand] = 0
        # Never before its accounts are open, nor before today.
        opened = moment.plan.opened(moment.plan.accounts_moved[flow.id]).toordinal()
        day = np.maximum(day + shift, np.maximum(now, np.minimum(day, opened)))
    amount = np.broadcast_to(coming.amount[:, None], shape)
    if varying.ratios:
        which = drawn(seed, f"amount {flow.id}", coming.nominal, paths, len(varying.ratios))
        by_hand = [change.nominal.toordinal() for change in flow.changes if change.sets_amount]
        is_set = np.isin(coming.nominal, by_hand)[:, None]
        amount = np.where(is_set, amount, scaled(coming.amount, varying.ratios, which))
    comes = np.ones(shape, dtype=np.bool_)
    if varying.missed is not None:
        missed = drawn(seed, f"missed {flow.id}", coming.nominal, paths, varying.missed.whole) < varying.missed.part
        comes = ~missed | (coming.landing < now)[:, None]
    return Drawn(coming, day, amount, comes)


def scaled(amounts: Days, ratios: tuple[Ratio, ...], which: Grid) -> Grid:
    """Amounts (a row each) by the ratios that paths drew, each rounded once, half up."""
    parts, wholes = np.array(ratios, dtype=np.int64).T
    if 2 * int(np.abs(amounts).max(initial=0)) * int(np.abs(parts).max()) < _SAFE:
        # Every ratio of every row once, and from that what was drawn.
        products = amounts[:, None] * parts[None, :] * np.sign(wholes)
        by = np.abs(wholes)
        rounded = np.sign(products) * ((2 * np.abs(products) + by) // (2 * by))
    else:
        products_, by_ = amounts[:, None].astype(np.float64) * parts, wholes.astype(np.float64)
        rounded = np.floor(products_ / by_ + 0.5).astype(np.int64)
    return np.take_along_axis(rounded, which, axis=1)


def movements(moment: Moment, varying: VaryingFlow, drawn: Drawn) -> list[Movement]:
    """What a flow moves on each account in each path."""
    maker, (rows, count) = maker_of(moment, varying.flow), drawn.day.shape
    if not rows:
        return []
    days, comes, path = drawn.day.ravel(), drawn.comes.ravel(), np.tile(np.arange(count), rows)
    made = []
    for account, amount, mine in _postings(moment, varying, drawn, maker):
        wanted = comes if mine is None else comes & mine
        if wanted.all():
            made.append(Movement(account, days, path, amount))
        else:
            made.append(Movement(account, days[wanted], path[wanted], amount[wanted]))
    return made


def _postings(moment: Moment, varying: VaryingFlow, drawn: Drawn, maker: Maker) -> Iterator[Posted]:
    """What each occurrence changes on each account, path by path."""
    coming, count = drawn.coming, drawn.day.shape[1]
    currencies = {moment.plan.account_by_id[id].currency for id in varying.flow.account_ids}
    if varying.ratios or len(currencies) > 1:
        flat = Occurrences(np.repeat(coming.nominal, count), np.repeat(coming.landing, count), drawn.amount.ravel())
        yield from maker.postings(flat, drawn.day.ravel())
        return
    for account, amount, mine in maker.postings(coming, np.maximum(coming.landing, moment.now)):
        yield account, np.repeat(amount, count), None if mine is None else np.repeat(mine, count)


def shares(moment: Moment, varying: VaryingFlow, drawn: Drawn, categories: Sequence[str]) -> Iterator[Movement]:
    """What a flow spends in some categories in each path; `account` names the category."""
    coming, (rows, count) = drawn.coming, drawn.day.shape
    if not rows:
        return
    flat = Occurrences(np.repeat(coming.nominal, count), np.repeat(coming.landing, count), drawn.amount.ravel())
    days, path = drawn.day.ravel(), np.tile(np.arange(count), rows)
    for category, amount, mine in maker_of(moment, varying.flow).shares(flat):
        if category in categories:
            wanted = slice(None) if mine is None else mine
            yield Movement(category, days[wanted], path[wanted], amount[wanted])
