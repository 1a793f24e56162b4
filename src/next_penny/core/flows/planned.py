"""What a flow with dates of its own is expected to move: its unsettled occurrences, and blocks of them by account.

What cards, lines and savings make of themselves has no dates of its own: `flows/makers.py` tells both.
"""

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.flows.kinds.calendar_flow import Mask
from next_penny.core.flows.kinds.maker import Maker, maker_of
from next_penny.core.flows.occurrences import NO_OCCURRENCES, Occurrences
from next_penny.core.flows.owed_back import Planned, basis_of, bounded, owing_account
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import Flow


def expected(moment: Moment, flow: Flow, until: int) -> Occurrences:
    """A flow's unsettled occurrences that land by a day, past due ones among them if the household carries these."""
    return _expected(moment, maker_of(moment, flow), owing_account(moment, flow), until)


def _expected(moment: Moment, maker: Maker, owing: Account | None, until: int) -> Occurrences:
    if owing is None:
        return _planned(moment, maker, until)
    return bounded(moment, maker.flow, owing, until, lambda flow, account: _moving(moment, flow, account, until))


def past_due(moment: Moment, flow: Flow) -> Occurrences:
    """What landed before today and is not settled, whether or not the household carries it on."""
    if moment.carries and owing_account(moment, flow) is not None:
        rows = expected(moment, flow, moment.now)
        return rows.where(rows.landing < moment.now)
    return _late(moment, maker_of(moment, flow))


def _planned(moment: Moment, maker: Maker, until: int) -> Occurrences:
    coming = moment.cache.recall(
        ("coming", maker.flow.id, until), maker.basis, lambda: _unsettled(moment, maker, moment.now, until)
    )
    late = _late(moment, maker) if moment.carries else NO_OCCURRENCES
    if not len(late.nominal):
        return coming
    both = Occurrences(*(np.concatenate(columns) for columns in zip(late, coming, strict=True)))
    order = np.argsort(both.nominal, kind="stable")
    return Occurrences(*(column[order] for column in both))


def _late(moment: Moment, maker: Maker) -> Occurrences:
    if maker.opened >= moment.today:
        return NO_OCCURRENCES
    return moment.cache.recall(
        ("past due", maker.flow.id), maker.basis,
        lambda: _unsettled(moment, maker, maker.opened.toordinal(), moment.now - 1),
    )  # fmt: skip


def _moving(moment: Moment, flow: Flow, account: str, until: int) -> Planned:
    """What a flow would change on an account by a day."""
    maker = maker_of(moment, flow)
    coming = _planned(moment, maker, until)
    changes = np.zeros(len(coming.amount), dtype=np.int64)
    for moved, amount, mine in maker.postings(coming, np.maximum(coming.landing, moment.now)):
        if moved == account:
            changes += amount if mine is None else np.where(mine, amount, 0)
    return Planned(coming, changes, (maker.basis, maker.posted_by, moment.carries))


def _unsettled(moment: Moment, maker: Maker, first: int, last: int) -> Occurrences:
    landed = maker.occurrences(first, last)
    settled = moment.books.settled.get(maker.flow.id)
    if not settled or not len(landed.nominal) or maker.settles_itself:
        return landed
    return landed.where(np.array([day not in settled for day in landed.nominal.tolist()]))


class Block(NamedTuple):
    """Columns of what one maker moves on one account: on which day, for which nominal day, how much.

    late: for what depends on balances, its place among all of that, by which it stands at the end of its day.
    """

    account: str
    day: Days
    nominal: Days
    amount: Days
    is_past_due: bool
    late: Days | None = None


def blocks(moment: Moment, flow: Flow, until: int) -> tuple[Block, ...]:
    """What a flow is expected to move by a day, remembered while nothing changes that it follows from."""
    return blocks_of(moment, maker_of(moment, flow), until)


def blocks_of(moment: Moment, maker: Maker, until: int) -> tuple[Block, ...]:
    """What a maker of a moment is expected to move by a day, remembered while nothing changes that it follows from."""
    flow = maker.flow
    owing = owing_account(moment, flow)
    bound = (
        ()
        if owing is None
        else basis_of(moment, flow, owing, lambda one_flow, id: _moving(moment, one_flow, id, moment.now))
    )
    basis = (maker.basis, maker.posted_by, moment.carries, bound)
    return moment.cache.recall(
        ("blocks", flow.id, until), basis,
        lambda: tuple(_blocks(maker, _expected(moment, maker, owing, until), moment.now)),
    )  # fmt: skip


def _blocks(maker: Maker, coming: Occurrences, now: int) -> Iterator[Block]:
    if not len(coming.landing):
        return
    days, groups = coming.landing, list[tuple[Mask | None, bool]]([(None, False)])
    if days.min() < now:
        past, days = days < now, np.maximum(days, now)
        groups = [(past, True), (~past, False)]
    for account, amount, mine in maker.postings(coming, days):
        for rows, is_past_due in groups:
            wanted = rows if mine is None else mine if rows is None else rows & mine
            if wanted is None:
                yield Block(account, days, coming.nominal, amount, is_past_due)
            elif wanted.any():
                yield Block(account, days[wanted], coming.nominal[wanted], amount[wanted], is_past_due)
