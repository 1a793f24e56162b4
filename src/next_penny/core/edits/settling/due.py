"""What is due: lines to settle, what each does to the lowest point, and what was left out lately."""

from contextlib import suppress
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal, NamedTuple, get_args

import numpy as np

from next_penny.core.accounts.cards import due_day
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import LATEST
from next_penny.core.edits.settling.settle import leave_out
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import expected, past_due
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.forecast.projection import AccountRun, in_a_year, year_ahead
from next_penny.core.forecast.trials import Trial
from next_penny.core.loans.walked import LoanError
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow, payment_id
from next_penny.core.plan.rates import NoRate
from next_penny.core.problems import PlanError

DueStatus = Literal["past_due", "assumed", "today", "coming"]


@dataclass(frozen=True, slots=True)
class DueLine:
    """One unsettled occurrence.

    moves_lowest: how much higher the account's lowest point over the coming year would be were it left out, minor
    units; of what follows by rules (a debt's payment), were its money still there. None on a debt, which has no such
    point. comes_back: it is money lent that comes back, onto the account that the flow goes to.
    """

    flow: Flow
    nominal: int
    landing: int
    amount: int
    status: DueStatus
    moves_lowest: int | None
    may_be_paid_in_parts: bool
    may_be_foreign: bool
    comes_back: bool

    @property
    def account(self) -> str:
        """The account on which one looks for it."""
        return (self.flow.to_account if self.comes_back else self.flow.main_account) or ""


class LeftOut(NamedTuple):
    """One occurrence that was left out: its flow and nominal date, and what it would have moved."""

    flow: Flow
    nominal: date
    amount: int


class DuePage(NamedTuple):
    """Some of the lines that are due, and how many there are in all."""

    lines: list[DueLine]
    in_all: int


def due_lines(moment: Moment, first: int = 0, most: int | None = None) -> DuePage:
    """What is past due or due within each flow's days of reminder, past due first, each by day; a page of it.

    Past-due lines are listed even where the household leaves them out of its forecast. What always happens is listed
    once it is `assumed`; the forecast, which has that in it, tells the lowest points.
    """
    # What nobody counts on is not asked about each day: its own page tells what is late.
    flows = tuple(
        flow for flow in (*moment.plan.all_flows, *moment.plan.generated_flows) if moment.plan.counts_on(flow)
    )
    recorded = moment.as_recorded
    due = [_due(recorded, flow) for flow in flows]
    orders = [_order(flow, rows, moment.now) for flow, rows in zip(flows, due, strict=True)]
    names = {name: rank for rank, name in enumerate(sorted({flow.name for flow in flows}))}
    lengths = [len(rows.nominal) for rows in due]
    if not sum(lengths):
        return DuePage([], 0)
    owner = np.repeat(np.arange(len(flows)), lengths)
    rank = np.array([names[flow.name] for flow in flows])[owner]
    landing = np.concatenate([rows.landing for rows in due])
    order = np.lexsort((rank, landing, np.concatenate(orders)))
    page = order[first : None if most is None else first + most]
    starts = np.cumsum([0, *lengths])
    lows = _Lows(moment)
    lines = [
        _line(moment, flows[flow], due[flow], int(row - starts[flow]), lows)
        for flow, row in zip(owner[page].tolist(), page.tolist(), strict=True)
    ]
    return DuePage(lines, len(order))


# Who leaves something out by mistake notices within a year, and among the last few.
_LEFT_OUT_DAYS, _MOST_LEFT_OUT = 366, 20


def left_out_lately(moment: Moment) -> list[LeftOut]:
    """What was left out of the last year, and of the days that flows remind of: the newest first."""
    settled = [
        LeftOut(flow, day, maker_of(moment, flow).amount_of(day.toordinal()))
        for flow in moment.plan.all_flows
        for day in (change.nominal for change in flow.changes if change.left_out)
        if -_LEFT_OUT_DAYS <= (day - moment.today).days <= flow.remind_days
    ]
    for account, terms in moment.plan.cards:
        paid = moment.plan.flow_by_id[payment_id(account.id)]
        # What a card had left out while it paid itself says nothing of one that is paid by hand.
        if paid.main_account is None:
            continue
        for change in terms.changes:
            due = date.fromordinal(due_day(terms, change.closing.toordinal()))
            if change.left_out and -_LEFT_OUT_DAYS <= (due - moment.today).days <= paid.remind_days:
                settled.append(LeftOut(paid, due, 0))
    return sorted(settled, key=lambda omission: omission.nominal, reverse=True)[:_MOST_LEFT_OUT]


def _due(recorded: Moment, flow: Flow) -> Occurrences:
    until = recorded.today + timedelta(days=-1 if flow.always_happens else flow.remind_days)
    late = past_due(recorded, flow)
    if until < recorded.today:
        return late
    coming = expected(recorded, flow, min(until, LATEST).toordinal())
    coming = coming.where(coming.landing >= recorded.now)
    return Occurrences(*(np.concatenate(columns) for columns in zip(late, coming, strict=True)))


_ORDER = get_args(DueStatus)


def _order(flow: Flow, rows: Occurrences, now: int) -> "np.typing.NDArray[np.int64]":
    late = _ORDER.index("assumed" if flow.always_happens else "past_due")
    today, coming = _ORDER.index("today"), _ORDER.index("coming")
    return np.where(rows.landing < now, late, np.where(rows.landing == now, today, coming))


def _line(moment: Moment, flow: Flow, rows: Occurrences, at: int, lows: "_Lows") -> DueLine:
    nominal, landing, amount = (int(column[at]) for column in rows)
    status: DueStatus = _ORDER[int(_order(flow, rows, moment.now)[at])]
    comes_back = moment.plan.lent_by(flow) is not None
    is_ahead = landing >= moment.now or (moment.carries and status == "past_due")
    on = flow.on(date.fromordinal(nominal))
    moves = lows.moved(on, date.fromordinal(nominal), max(landing, moment.now) if is_ahead else None, amount)
    maker = maker_of(moment, flow)
    return DueLine(on, nominal, landing, amount, status, moves, maker.may_be_paid_in_parts, maker.may_be_foreign,
                   comes_back)  # fmt: skip


class _Lows:
    """Answers what accounts' lowest points over a year would be without one occurrence."""

    def __init__(self, moment: Moment) -> None:
        self._moment = moment
        self._trial = Trial(moment, in_a_year(moment))
        self._now = {run.account.id: _Low(run) for run in year_ahead(moment).runs}
        self._planned = {flow.id for flow in moment.plan.flows}
        self._read = {account.id for account in moment.plan.accounts_read}

    def moved(self, flow: Flow, nominal: date, day: int | None, amount: int) -> int | None:
        """How much higher the lowest point is without an amount on a day (None: it is not ahead); None on a debt."""
        comes_in = flow.kind == "income" or self._moment.plan.lent_by(flow) is not None
        account = self._moment.plan.account_by_id.get((flow.to_account if comes_in else flow.main_account) or "")
        if account is None or account.is_debt:
            return None
        now = self._now[account.id]
        if day is None or now.lowest is None:
            return 0
        is_planned = flow.kind in ("income", "bill", "transfer") and flow.id in self._planned
        if not flow.splits and (self._trial.moves_alone(flow) or not (is_planned or account.id in self._read)):
            return now.without(day, amount if comes_in else -amount) - now.lowest
        # What follows from it is found by trying: an allowance holds back more, a sweep moves less. A debt whose
        # payment is left out asks for more later; that is not what the payment does, so its money is given back.
        with suppress(PlanError, LoanError, NoRate):
            if is_planned:
                changes = leave_out(self._moment, flow.id, nominal)
            else:
                changes = [_opposite(flow, account, day, amount, comes_in=comes_in)]
            left_out = self._trial.with_changes(changes)
            opened = max(0, account.opening.date.toordinal() - left_out.now)
            return int(left_out.balances[left_out.place[account.id], opened:].min()) - now.lowest
        return None


def _opposite(flow: Flow, account: Account, day: int, amount: int, *, comes_in: bool) -> PlanChange:
    """What moves back what an occurrence moves on an account."""
    on = date.fromordinal(day)
    back = Flow(f"{flow.id} back", flow.name, "bill" if comes_in else "income", amount, dates=(on,), start=on,
                from_account=account.id if comes_in else None, to_account=None if comes_in else account.id)  # fmt: skip
    return PlanChange("flow", back.id, back)


class _Low:
    """One account's lowest end-of-day balance, also without one movement, from running minima."""

    def __init__(self, run: AccountRun) -> None:
        self._days = run.days
        self._lowest_to = np.minimum.accumulate(run.balances)
        self._lowest_from = np.minimum.accumulate(run.balances[::-1])[::-1]

    @property
    def lowest(self) -> int | None:
        """The lowest balance; None where the account is not open within the year."""
        return int(self._lowest_to[-1]) if len(self._days) else None

    def without(self, day: int, change: int) -> int:
        """The lowest balance without a change on a day and all days after."""
        at = int(np.searchsorted(self._days, day))
        parts = [int(self._lowest_to[at - 1])] if at > 0 else []
        if at < len(self._days):
            parts.append(int(self._lowest_from[at]) - change)
        return min(parts)
