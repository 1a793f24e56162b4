"""The makers of movements, one per flow, and what is expected of them (docs/architecture.md, Makers).

Whoever asks what a flow moves, how it is recorded or why it is so asks its maker, never what kind it is.
"""

from collections.abc import Iterator
from datetime import date
from typing import Literal, NamedTuple, Protocol

import numpy as np

from next_penny.core.accounts.generated import MadeSource
from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.dates.calendar import LATEST, widening
from next_penny.core.flows.calendar_flow import CalendarFlow, MadeFlow, Mask
from next_penny.core.flows.lent_repayment import LentRepayment
from next_penny.core.flows.loan_payment import LoanPayment
from next_penny.core.flows.occurrences import NO_OCCURRENCES, Occurrences
from next_penny.core.flows.owed_back import Planned, basis_of, bounded, owing_account
from next_penny.core.loans.standing import Parts
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.statements import PaidSplit

Source = Literal["flow", "loan", "allowance", "recorded", MadeSource]


class Teller(Protocol):
    """Tells why an occurrence is what it is."""

    @property
    def usual(self) -> str | None: ...
    def why(self, nominal: int, is_past_due: bool) -> str: ...


class Maker(Protocol):
    """What every maker of a flow's movements answers; see `CalendarFlow` for what each answer means."""

    flow: Flow
    opened: date

    @property
    def source(self) -> str: ...
    @property
    def may_be_paid_in_parts(self) -> bool: ...
    @property
    def settles_itself(self) -> bool: ...
    @property
    def basis(self) -> tuple[object, ...]: ...
    @property
    def posted_by(self) -> tuple[object, ...]: ...
    def occurrences(self, first: int, last: int) -> Occurrences: ...
    def nominal_days(self, first: int, last: int) -> list[int]: ...
    def amount_of(self, nominal: int) -> int: ...
    def postings(self, coming: Occurrences, days: Days) -> Iterator[tuple[str, Days, Mask | None]]: ...
    def shares(self, coming: Occurrences) -> Iterator[tuple[str, Days, Mask | None]]: ...
    def split(self, nominal: date) -> Parts | None: ...
    def legs(
        self, nominal: date, amount: int, day: date, account: str | None, split: PaidSplit | None = None
    ) -> Iterator[Leg]: ...
    def payee(self, nominal: date) -> str: ...
    def rhythm(self) -> str: ...
    def teller(self) -> Teller: ...


def maker_of(moment: Moment, flow: Flow) -> Maker:
    """What makes a flow's movements."""
    if flow.id in moment.plan.maker_accounts:
        return MadeFlow(moment, flow)
    loan = moment.plan.paid_by(flow)
    if loan is not None:
        return LoanPayment(moment, flow, loan)
    lent = moment.plan.lent_by(flow)
    return CalendarFlow(moment, flow) if lent is None else LentRepayment(moment, flow, lent)


def expected(moment: Moment, flow: Flow, until: int) -> Occurrences:
    """A flow's unsettled occurrences that land by a day, past due ones among them if the household carries these."""
    owing = owing_account(moment, flow)
    if owing is None:
        return _planned(moment, flow, until)
    return bounded(moment, flow, owing, until, lambda one_flow, account: _moving(moment, one_flow, account, until))


def past_due(moment: Moment, flow: Flow) -> Occurrences:
    """What landed before today and is not settled, whether or not the household carries it on."""
    if moment.carries and owing_account(moment, flow) is not None:
        rows = expected(moment, flow, moment.now)
        return rows.where(rows.landing < moment.now)
    return _late(moment, flow)


def _planned(moment: Moment, flow: Flow, until: int) -> Occurrences:
    maker = maker_of(moment, flow)
    coming = moment.cache.recall(
        ("coming", flow.id, until), maker.basis, lambda: _unsettled(moment, maker, moment.now, until)
    )
    late = _late(moment, flow) if moment.carries else NO_OCCURRENCES
    if not len(late.nominal):
        return coming
    both = Occurrences(*(np.concatenate(columns) for columns in zip(late, coming, strict=True)))
    order = np.argsort(both.nominal, kind="stable")
    return Occurrences(*(column[order] for column in both))


def _late(moment: Moment, flow: Flow) -> Occurrences:
    maker = maker_of(moment, flow)
    if maker.opened >= moment.today:
        return NO_OCCURRENCES
    return moment.cache.recall(
        ("past due", flow.id), maker.basis, lambda: _unsettled(moment, maker, maker.opened.toordinal(), moment.now - 1)
    )


def _moving(moment: Moment, flow: Flow, account: str, until: int) -> Planned:
    """What a flow would change on an account by a day."""
    maker, coming = maker_of(moment, flow), _planned(moment, flow, until)
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
    return landed.where(~np.isin(landed.nominal, list(settled)))


class Occurrence(NamedTuple):
    """One occurrence."""

    nominal: date
    lands: date
    amount: int


def next_occurrences(moment: Moment, flow: Flow, after: date, count: int) -> list[Occurrence]:
    """The next unsettled occurrences that land after a day (today or later), by the day they land."""
    rows: list[tuple[int, int, int]] = []
    for last in widening(moment.now, LATEST.toordinal()):
        coming = expected(moment, flow, last)
        later = coming.where(coming.landing > after.toordinal())
        rows = sorted(zip(later.landing.tolist(), later.nominal.tolist(), later.amount.tolist(), strict=True))[:count]
        if len(rows) == count:
            break
    return [Occurrence(date.fromordinal(nominal), date.fromordinal(lands), amount) for lands, nominal, amount in rows]


def occurrence(moment: Moment, flow: Flow, nominal: date) -> Occurrence | None:
    """The unsettled occurrence of a nominal date, past due or to come; None where there is none."""
    occurrence = named(past_due(moment, flow), nominal)
    if occurrence is not None:
        return occurrence
    for last in widening(max(moment.now, nominal.toordinal()), LATEST.toordinal()):
        occurrence = named(expected(moment, flow, last), nominal)
        # No roll reaches beyond the first stretch that is looked at.
        if occurrence is not None or nominal.toordinal() not in flow.exceptional.moved:
            return occurrence
    return None


def named(rows: Occurrences, nominal: date) -> Occurrence | None:
    """Of some occurrences, that of a nominal date."""
    at = np.flatnonzero(rows.nominal == nominal.toordinal())
    return Occurrence(nominal, date.fromordinal(int(rows.landing[at[0]])), int(rows.amount[at[0]])) if len(at) else None


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
    maker = maker_of(moment, flow)
    owing = owing_account(moment, flow)
    bound = (
        ()
        if owing is None
        else basis_of(moment, flow, owing, lambda one_flow, id: _moving(moment, one_flow, id, moment.now))
    )
    basis = (maker.basis, maker.posted_by, moment.carries, bound)
    return moment.cache.recall(
        ("blocks", flow.id, until), basis, lambda: tuple(_blocks(maker, expected(moment, flow, until), moment.now))
    )


def _blocks(maker: Maker, coming: Occurrences, now: int) -> Iterator[Block]:
    if not len(coming.landing):
        return
    past = coming.landing < now
    days = np.maximum(coming.landing, now)
    groups: list[tuple[Mask | None, bool]] = [(None, False)] if not past.any() else [(past, True), (~past, False)]
    for account, amount, mine in maker.postings(coming, days):
        for rows, is_past_due in groups:
            wanted = rows if mine is None else mine if rows is None else rows & mine
            if wanted is None:
                yield Block(account, days, coming.nominal, amount, is_past_due)
            elif wanted.any():
                yield Block(account, days[wanted], coming.nominal[wanted], amount[wanted], is_past_due)
