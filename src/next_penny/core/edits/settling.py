"""Settling: what is due, what each line does to the lowest point, and the changes that settle it.

Settling an occurrence records an entry that names its flow and nominal date. A part payment is marked as one; the rest
stays expected as the amount of that one date. Leaving out and putting off are changes just this once.
"""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Literal, NamedTuple, get_args

import numpy as np

from next_penny.core.accounts.cards import due_day
from next_penny.core.accounts.parts import changed_one_off
from next_penny.core.books.moment import Moment
from next_penny.core.checks.of_flows.amounts import MOST_HOURS
from next_penny.core.dates.calendar import LATEST
from next_penny.core.dates.sentences import full_day
from next_penny.core.flows.amounts import hourly_on
from next_penny.core.flows.kinds.calendar_flow import changed_just_once
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import Occurrence, expected, occurrence, past_due
from next_penny.core.flows.occurrences import Occurrences
from next_penny.core.forecast.projection import AccountRun, year_ahead
from next_penny.core.money import LARGEST_AMOUNT, format_amount
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow, payment_id
from next_penny.core.plan.kept.statements import PaidSplit
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import categories_for
from next_penny.core.problems import PlanError, refused

DueStatus = Literal["past_due", "assumed", "today", "coming"]


@dataclass(frozen=True, slots=True)
class DueLine:
    """One unsettled occurrence. `moves_lowest`: how much higher the account's lowest point would be without it.

    comes_back: it is money lent that comes back, onto the account that the flow goes to.
    """

    flow: Flow
    nominal: int
    landing: int
    amount: int
    status: DueStatus
    moves_lowest: int
    may_be_paid_in_parts: bool
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
    lows = {run.account.id: _Lows(run) for run in year_ahead(moment).runs}
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
    for account in moment.plan.accounts:
        if account.card is None or (paid := moment.plan.flow_by_id.get(payment_id(account.id))) is None:
            continue
        # What a card had left out while it paid itself says nothing of one that is paid by hand.
        if paid.main_account is None:
            continue
        for change in account.card.changes:
            due = date.fromordinal(due_day(account.card, change.closing.toordinal()))
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


def _line(moment: Moment, flow: Flow, rows: Occurrences, at: int, lows: "dict[str, _Lows]") -> DueLine:
    nominal, landing, amount = (int(column[at]) for column in rows)
    status: DueStatus = _ORDER[int(_order(flow, rows, moment.now)[at])]
    comes_back = moment.plan.lent_by(flow) is not None
    change = amount if flow.kind == "income" or comes_back else -amount
    on = flow.on(date.fromordinal(nominal))
    account = (on.to_account if comes_back else on.main_account) or ""
    is_ahead = landing >= moment.now or (moment.carries and status == "past_due")
    moves = lows[account].without(max(landing, moment.now), change) if is_ahead else 0
    return DueLine(on, nominal, landing, amount, status, moves, maker_of(moment, flow).may_be_paid_in_parts,
                   comes_back)  # fmt: skip


class _Lows:
    """Answers what one account's lowest point would be without one movement, from running minima."""

    def __init__(self, run: AccountRun) -> None:
        self._days = run.days
        self._lowest_to = np.minimum.accumulate(run.balances)
        self._lowest_from = np.minimum.accumulate(run.balances[::-1])[::-1]

    def without(self, day: int, change: int) -> int:
        """How much higher (or lower, if negative) the lowest point is without a change on a day."""
        if not len(self._days):
            return 0
        at = int(np.searchsorted(self._days, day))
        parts = [int(self._lowest_to[at - 1])] if at > 0 else []
        if at < len(self._days):
            parts.append(int(self._lowest_from[at]) - change)
        return min(parts) - int(self._lowest_to[-1])


@dataclass(frozen=True, slots=True)
class Settlement:
    """How an occurrence was really paid; None where it was as expected. With `is_part` the rest stays expected.

    A paycheck by the hour may be given its hours in place of an amount; a loan's payment, how it was split.
    """

    id: str
    flow: str
    nominal: date
    amount: int | None = None
    day: date | None = None
    account: str | None = None
    is_part: bool = False
    hours: Decimal | None = None
    split: PaidSplit | None = None


def settle(moment: Moment, settlement: Settlement) -> list[PlanChange]:
    """The changes that settle an occurrence. Raises PlanError when there is no such unsettled occurrence."""
    recorded = moment.as_recorded
    flow, due = _occurrence(recorded, settlement.flow, settlement.nominal)
    maker = maker_of(recorded, flow)
    amount = _paid_amount(flow, due.amount, settlement)
    # What was expected today or earlier is taken to have happened when it was expected.
    day = settlement.day or min(moment.today, due.lands)
    _check_settlement(recorded.plan, settlement, amount, due.amount, flow, maker.may_be_paid_in_parts)
    entry = Entry(
        id=settlement.id,
        date=day,
        payee=maker.payee(settlement.nominal),
        legs=tuple(maker.legs(settlement.nominal, amount, day, settlement.account, settlement.split)),
        flow=flow.id,
        nominal=settlement.nominal,
        # What comes back of money lent settles its days by the sums.
        part=settlement.is_part or maker.settles_itself,
        notes=f"{settlement.hours.normalize():f} hours" if settlement.hours is not None else "",
    )
    changes = [*categories_for(recorded.plan, entry.legs), *_kept(recorded.plan, flow)]
    changes.append(PlanChange("entry", entry.id, entry))
    if settlement.is_part:
        rest = changed_just_once(flow, settlement.nominal, amount=due.amount - amount)
        changes.append(PlanChange("flow", flow.id, rest))
    return changes


def _kept(plan: Plan, flow: Flow) -> list[PlanChange]:
    """A flow that an account makes of itself becomes one of the plan's own once something is recorded of it."""
    is_made = flow.id in plan.maker_accounts or plan.lent_by(flow) is not None
    is_own = is_made or any(planned.id == flow.id for planned in plan.flows)
    return [] if is_own else [PlanChange("flow", flow.id, flow)]


def _check_settlement(
    plan: Plan, settlement: Settlement, amount: int, planned: int, flow: Flow, may_be_paid_in_parts: bool
) -> None:
    if settlement.account is not None and settlement.account not in plan.account_by_id:
        raise refused("account", f"There is no account “{settlement.account}”.", "unknown_id")
    if settlement.is_part and not may_be_paid_in_parts:
        raise refused("part", "This is settled whole: give the amount that was paid.", "not_possible")
    currency = plan.account_by_id[flow.main_account or ""].currency
    if settlement.is_part and not 0 < amount < planned:
        whole = format_amount(planned, currency)
        raise refused("amount", f"A part is more than nothing and less than {whole}.", "range")
    if amount < 0:
        raise refused("amount", "Give the amount without a sign.", "negative")
    if amount > LARGEST_AMOUNT:
        most = format_amount(LARGEST_AMOUNT, currency)
        raise refused("amount", f"The amount is too large: at most {most}.", "range")


def _paid_amount(flow: Flow, planned: int, settlement: Settlement) -> int:
    if settlement.hours is None:
        return planned if settlement.amount is None else settlement.amount
    pay = hourly_on(flow, settlement.nominal)
    if pay is None:
        raise refused("hours", "This is not paid by the hour.", "not_used")
    if not 0 <= settlement.hours <= MOST_HOURS:
        raise refused("hours", f"Hours are from 0 to {MOST_HOURS}.", "range")
    return pay.pay(settlement.hours)


def leave_out(moment: Moment, flow_id: str, nominal: date) -> list[PlanChange]:
    """The change that leaves one occurrence out."""
    flow, _ = _occurrence(moment.as_recorded, flow_id, nominal)
    return [_once(moment.plan, flow, nominal, left_out=True)]


def put_off(moment: Moment, flow_id: str, nominal: date, to: date) -> list[PlanChange]:
    """The change that moves one occurrence to another day, today or later."""
    if to < moment.today:
        raise refused("to", "Put it off to today or a later day.", "range")
    flow, _ = _occurrence(moment.as_recorded, flow_id, nominal)
    try:
        return [_once(moment.plan, flow, nominal, moved_to=to)]
    except PlanError as error:  # the day that is refused is the one put off to
        raise PlanError([replace(problem, loc=("to",)) for problem in error.problems]) from error


def _once(plan: Plan, flow: Flow, nominal: date, **fields: object) -> PlanChange:
    """One date of a flow having other fields; of a flow that an account makes of itself, the account has them."""
    account = plan.maker_accounts.get(flow.id)
    if account is None:
        return PlanChange("flow", flow.id, changed_just_once(flow, nominal, **fields))
    return PlanChange("account", account.id, changed_one_off(account, flow.id, nominal, fields))


def _occurrence(recorded: Moment, flow_id: str, nominal: date) -> tuple[Flow, Occurrence]:
    """An unsettled occurrence and its flow."""
    flow = recorded.plan.flow_by_id.get(flow_id)
    if flow is None:
        raise refused("flow", f"There is no flow “{flow_id}”.", "unknown_id")
    due = occurrence(recorded, flow, nominal)
    if due is None:
        is_settled = nominal.toordinal() in recorded.books.settled.get(flow_id, ())
        why = "is settled already" if is_settled else "is not expected"
        raise refused("nominal", f"“{flow.name}” of {full_day(nominal)} {why}.", "not_expected")
    return flow, due
