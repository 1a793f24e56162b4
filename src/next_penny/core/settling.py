"""Settling: what is due, what each line does to the lowest point, and the changes that settle it.

Settling an occurrence records an entry that names its flow and nominal date. A part payment names only the flow; the
rest stays expected as the amount of that one date. Leaving out and putting off are changes just this once.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Literal, get_args

import numpy as np

from next_penny.core.books import Books
from next_penny.core.check import MOST_HOURS, PlanError, Problem
from next_penny.core.flows.loan_payments import payment_parts
from next_penny.core.flows.occurrences import hourly_on
from next_penny.core.forecast.projection import AccountRun, Forecast, expected
from next_penny.core.loans.standing import Parts
from next_penny.core.money import convert, format_amount
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Category, Change, Entry, Flow, Leg, Plan

DueStatus = Literal["past_due", "assumed", "today", "coming"]

# Where money goes whose flow names no category, until somebody sorts it.
UNSORTED = {
    "bill": Category("unsorted", "Not sorted yet", "", "expense"),
    "income": Category("unsorted-income", "Not sorted yet", "", "income"),
}
# What a loan's payment is spent on; escrow too, where no escrow account holds it.
LOAN_INTEREST = Category("loan-interest", "Interest on loans", "Debt", "expense", "percent")
LOAN_INSURANCE = Category("mortgage-insurance", "Mortgage insurance", "Debt", "expense", "umbrella")
ESCROW_PAID = Category("escrow-paid", "Escrow", "Debt", "expense", "landmark")
_MADE_WHEN_NEEDED = (*UNSORTED.values(), LOAN_INTEREST, LOAN_INSURANCE, ESCROW_PAID)
_LOOK_AHEAD_DAYS = 366


@dataclass(frozen=True, slots=True)
class DueLine:
    """One unsettled occurrence. `moves_lowest`: how much higher the account's lowest point would be without it."""

    flow: Flow
    nominal: int
    landing: int
    amount: int
    status: DueStatus
    moves_lowest: int


def due_lines(plan: Plan, recorded: Books, forecast: Forecast, today: date) -> list[DueLine]:
    """What is past due or due within each flow's days of reminder, past due first, each by day.

    Past-due lines are listed even where the household leaves them out of its forecast. What always happens is listed
    once it is `assumed`; the `forecast`, which has that in it, tells the lowest points.
    """
    now = today.toordinal()
    lows = {run.account.id: _Lows(run) for run in forecast.runs}
    counted = plan.household.past_due == "carry"
    carrying = plan if counted else replace(plan, household=replace(plan.household, past_due="carry"))
    lines = []
    for flow in plan.all_flows:
        ahead = timedelta(days=-1 if flow.always_happens else flow.remind_days)
        coming = expected(carrying, flow, recorded, today, today + ahead)
        rows = zip(coming.nominal.tolist(), coming.landing.tolist(), coming.amount.tolist(), strict=True)
        for nominal, landing, amount in rows:
            status = _status(flow, landing, now)
            change = amount if flow.kind == "income" else -amount
            on = flow.on(date.fromordinal(nominal))
            is_ahead = landing >= now or (counted and status == "past_due")
            moves = lows[on.main_account or ""].without(max(landing, now), change) if is_ahead else 0
            lines.append(DueLine(on, nominal, landing, amount, status, moves))
    order = get_args(DueStatus)
    return sorted(lines, key=lambda line: (order.index(line.status), line.landing, line.flow.name))


def _status(flow: Flow, landing: int, now: int) -> DueStatus:
    if landing < now:
        return "assumed" if flow.always_happens else "past_due"
    return "today" if landing == now else "coming"


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
        place = int(np.searchsorted(self._days, day))
        parts = [int(self._lowest_to[place - 1])] if place > 0 else []
        if place < len(self._days):
            parts.append(int(self._lowest_from[place]) - change)
        return min(parts) - int(self._lowest_to[-1])


@dataclass(frozen=True, slots=True)
class Settlement:
    """How an occurrence was really paid; None where it was as expected. With `is_part` the rest stays expected.

    A paycheck by the hour may be given its hours in place of an amount.
    """

    id: str
    flow: str
    nominal: date
    amount: int | None = None
    day: date | None = None
    account: str | None = None
    is_part: bool = False
    hours: Decimal | None = None


def settle(plan: Plan, books: Books, settlement: Settlement, today: date) -> list[PlanChange]:
    """The changes that settle an occurrence. Raises PlanError when there is no such unsettled occurrence."""
    flow, planned, landing = _occurrence(plan, books, settlement.flow, settlement.nominal, today)
    amount = _paid_amount(flow, planned, settlement)
    # What was expected today or earlier is taken to have happened when it was expected.
    day = settlement.day or min(today, landing)
    if settlement.is_part and flow.kind == "loan_payment":
        message = "A loan's payment is settled whole: give the amount that was paid."
        raise PlanError([Problem(("part",), message, "not_possible")])
    if settlement.is_part and not 0 < amount < planned:
        currency = plan.account_by_id[flow.main_account or ""].currency
        whole = format_amount(planned, currency)
        raise PlanError([Problem(("amount",), f"A part is more than nothing and less than {whole}.", "range")])
    if amount < 0:
        raise PlanError([Problem(("amount",), "Give the amount without a sign.", "negative")])
    paid = _from_account(flow.on(settlement.nominal), settlement.account)
    entry = Entry(
        id=settlement.id,
        date=day,
        payee=flow.payee or flow.name,
        legs=tuple(planned_legs(plan, paid, amount, day, _loan_parts(plan, flow, books, settlement.nominal))),
        flow=flow.id,
        nominal=None if settlement.is_part else settlement.nominal,
        notes=f"{settlement.hours.normalize():f} hours" if settlement.hours is not None else "",
    )
    named, known = {leg.category for leg in entry.legs}, {category.id for category in plan.categories}
    made = [each for each in _MADE_WHEN_NEEDED if each.id in named - known]
    changes = [PlanChange("category", each.id, each) for each in made]
    if flow not in plan.flows:
        # A loan's payment becomes a flow of the plan's own once something is recorded of it.
        changes.append(PlanChange("flow", flow.id, flow))
    changes.append(PlanChange("entry", entry.id, entry))
    if settlement.is_part:
        rest = with_change(flow, settlement.nominal, amount=planned - amount)
        changes.append(PlanChange("flow", flow.id, rest))
    return changes


def _loan_parts(plan: Plan, flow: Flow, books: Books, nominal: date) -> Parts | None:
    """What a loan's payment is made of; None for every other flow."""
    return payment_parts(plan, flow, books).get(nominal.toordinal()) if flow.kind == "loan_payment" else None


def _paid_amount(flow: Flow, planned: int, settlement: Settlement) -> int:
    if settlement.hours is None:
        return planned if settlement.amount is None else settlement.amount
    pay = hourly_on(flow, settlement.nominal)
    if pay is None:
        raise PlanError([Problem(("hours",), "This is not paid by the hour.", "not_used")])
    if not 0 <= settlement.hours <= MOST_HOURS:
        raise PlanError([Problem(("hours",), f"Hours are from 0 to {MOST_HOURS}.", "range")])
    return pay.pay(settlement.hours)


def leave_out(plan: Plan, books: Books, flow_id: str, nominal: date, today: date) -> list[PlanChange]:
    """The change that leaves one occurrence out."""
    flow, _, _ = _occurrence(plan, books, flow_id, nominal, today)
    return [PlanChange("flow", flow.id, with_change(flow, nominal, left_out=True))]


def put_off(plan: Plan, books: Books, flow_id: str, nominal: date, to: date, today: date) -> list[PlanChange]:
    """The change that moves one occurrence to another day, today or later."""
    if to < today:
        raise PlanError([Problem(("to",), "Put it off to today or a later day.", "range")])
    flow, _, _ = _occurrence(plan, books, flow_id, nominal, today)
    return [PlanChange("flow", flow.id, with_change(flow, nominal, moved_to=to))]


def with_change(flow: Flow, nominal: date, **fields: object) -> Flow:
    """The flow with its change of one nominal date having other fields; what else was changed that once stays."""
    held = next((change for change in flow.changes if change.nominal == nominal), Change(nominal))
    others = tuple(change for change in flow.changes if change.nominal != nominal)
    changed = replace(held, **fields)  # type: ignore[arg-type]
    return replace(flow, changes=tuple(sorted((*others, changed), key=lambda change: change.nominal)))


def _occurrence(plan: Plan, books: Books, flow_id: str, nominal: date, today: date) -> tuple[Flow, int, date]:
    """An unsettled occurrence's flow, amount and landing date."""
    flow = plan.flow_by_id.get(flow_id)
    if flow is None:
        raise PlanError([Problem(("flow",), f"There is no flow “{flow_id}”.", "unknown_id")])
    carrying = replace(plan, household=replace(plan.household, past_due="carry"))
    coming = expected(carrying, flow, books, today, max(today, nominal) + timedelta(days=_LOOK_AHEAD_DAYS))
    found = np.flatnonzero(coming.nominal == nominal.toordinal())
    if not len(found):
        is_settled = nominal.toordinal() in books.settled.get(flow_id, ())
        why = "is settled already" if is_settled else "is not expected"
        raise PlanError([Problem(("nominal",), f"“{flow.name}” of {nominal} {why}.", "not_expected")])
    place = int(found[0])
    return flow, int(coming.amount[place]), date.fromordinal(int(coming.landing[place]))


def _from_account(flow: Flow, account: str | None) -> Flow:
    """The flow as paid from (or to, for income) another account, if one is given."""
    if account is None:
        return flow
    return replace(flow, to_account=account) if flow.kind == "income" else replace(flow, from_account=account)


def planned_legs(plan: Plan, flow: Flow, amount: int, day: date, loan_parts: Parts | None = None) -> Iterator[Leg]:
    """The legs of an amount as the flow would post it; parts come first, the main category takes the rest."""
    if loan_parts is not None:
        yield from _loan_legs(plan, flow, amount, loan_parts)
        return
    sign = -1 if flow.kind == "income" else 1
    main = flow.to_account if flow.kind == "income" else flow.from_account
    rest = amount
    account_parts = 0
    parts: list[Leg] = []
    for split in flow.splits:
        part = min(split.amount, rest)
        rest -= part
        if split.account is not None:
            account_parts += part
            parts.append(Leg(part, account=split.account))
        else:
            parts.append(Leg(sign * part, category=split.category))
    if flow.kind == "income":
        yield Leg(amount - account_parts, account=main)
        yield from parts
        yield Leg(-rest - account_parts, category=flow.category or UNSORTED["income"].id)
        return
    yield Leg(-amount, account=main)
    yield from parts
    if flow.kind == "bill" and rest:
        yield Leg(rest, category=flow.category or UNSORTED["bill"].id)
    elif flow.kind == "transfer":
        yield Leg(_arriving(plan, flow, rest, day), account=flow.to_account)


def _loan_legs(plan: Plan, flow: Flow, amount: int, parts: Parts) -> Iterator[Leg]:
    """A loan's payment: what is paid beyond (or short of) its parts is principal more (or less)."""
    account = plan.account_by_id[flow.to_account or ""]
    escrow = account.loan.escrow_account if account.loan is not None else None
    yield Leg(-amount, account=flow.from_account)
    if principal := parts.principal + amount - parts.total:
        yield Leg(principal, account=account.id)
    if parts.interest:
        yield Leg(parts.interest, category=flow.category or LOAN_INTEREST.id)
    if parts.escrow:
        yield Leg(parts.escrow, account=escrow) if escrow else Leg(parts.escrow, category=ESCROW_PAID.id)
    if parts.insurance:
        yield Leg(parts.insurance, category=LOAN_INSURANCE.id)


def _arriving(plan: Plan, flow: Flow, amount: int, day: date) -> int:
    source, target = (plan.account_by_id[id or ""].currency for id in (flow.from_account, flow.to_account))
    rate = plan.rate(source, target, day)
    return amount if source == target or rate is None else convert(amount, rate, source, target)
