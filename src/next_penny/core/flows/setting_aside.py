"""Setting money aside: a yearly or irregular bill smoothed over the months, or a goal saved for from each paycheck.

The money goes to savings in equal amounts, the last one taking what is left to the cent, so that all of it is there on
its day; for a bill that repeats it goes on for the next time, and comes back on the bill's own dates.
"""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import NamedTuple

from next_penny.core.books import Books
from next_penny.core.check import PlanError, Problem
from next_penny.core.dates.business_days import business_calendar
from next_penny.core.dates.calendar import LATEST, add_months
from next_penny.core.flows.occurrences import amount_on, landings, nominal_days, occurrences, rules_on
from next_penny.core.forecast.projection import expected
from next_penny.core.plan import Change, Flow, Growth, Plan, Revision, SavingGoal

_LOOK_AHEAD_YEARS = 12


@dataclass(frozen=True, slots=True)
class Wish:
    """What is to be there, and how it is put by: on a day of each month, or with each paycheck of an income flow.

    `flow` names a bill; else `name`, `amount` and `by` say what, how much and until when. `id` names the transfer.
    """

    id: str
    from_account: str
    to_account: str
    flow: str | None = None
    name: str = ""
    amount: int = 0
    by: date | None = None
    month_day: int = 1
    with_income: str | None = None


@dataclass(frozen=True, slots=True)
class Proposal:
    """The flows that do it: each time `level`, `times` times, the last time `last`, so that `amount` is there `by`."""

    flows: tuple[Flow, ...]
    name: str
    amount: int
    by: date
    level: int
    times: int
    last: int


def propose(plan: Plan, wish: Wish, books: Books, today: date) -> Proposal:
    """The transfers that fulfil a wish. Raises PlanError where no money can be put by in time."""
    _check_accounts(plan, wish)
    bill = _bill(plan, wish)
    dues = _dues(plan, bill, books, today) if bill is not None else []
    if bill is not None and not dues:
        raise PlanError([Problem(("flow",), f"“{bill.name}” does not come again.", "not_expected")])
    name = bill.name if bill is not None else wish.name.strip()
    amount, by = (dues[0].amount, dues[0].lands) if dues else (wish.amount, wish.by)
    if not name:
        raise PlanError([Problem(("name",), "Say what it is for.", "needed")])
    if amount <= 0:
        raise PlanError([Problem(("amount",), "Say how much is to be there.", "needed")])
    if by is None or by <= today:
        raise PlanError([Problem(("by",), "Choose a day after today.", "range")])
    transfer = _transfer(plan, wish, name, books, today)
    # What goes to a bill is there the day before it; a goal of one's own is reached on its day.
    days = _nominal_until(plan, transfer, today, by - timedelta(days=1) if bill is not None else by)
    if not days and len(dues) > 1:
        # Too late for the next time: it begins with the time after that.
        dues = dues[1:]
        amount, by = dues[0].amount, dues[0].lands
        days = _nominal_until(plan, transfer, today, by - timedelta(days=1))
    if not days:
        when = "paycheck" if wish.with_income else "transfer"
        raise PlanError([Problem(("by",), f"No {when} comes before then: choose a later day.", "too_soon")])
    level = -(-amount // len(days))
    times = -(-amount // level)
    last = amount - level * (times - 1)
    changes = (Change(days[times - 1], last),) if last != level else ()
    goal = SavingGoal(name, amount, by, bill.id if bill is not None else None)
    transfer = replace(transfer, amount=level, changes=changes, saves_for=goal)
    if bill is None or len(dues) < 2:
        flows = [replace(transfer, until=days[times - 1])]
    else:
        following = _nominal_until(plan, transfer, by, dues[1].lands - timedelta(days=1))
        each = -(-dues[1].amount // max(1, len(following)))
        skipped = tuple(Change(day, left_out=True) for day in days[times:])
        revised = () if each == level else (Revision(by, each),)
        flows = [replace(transfer, changes=(*changes, *skipped), revisions=revised)]
    if bill is not None:
        flows.append(_back(plan, bill, wish, goal, dues[0].nominal))
    return Proposal(tuple(flows), name, amount, by, level, times, last)


def savings(plan: Plan) -> list[tuple[Flow, SavingGoal, tuple[str, ...]]]:
    """Every transfer that puts money by, what for, and the ids of all flows that put it by or bring it back."""
    found = []
    for flow in plan.flows:
        goal = flow.saves_for
        if goal is None:
            continue
        bill = plan.flow_by_id.get(goal.flow or "")
        if bill is not None and flow.to_account in bill.account_ids:
            continue  # it brings the money back to where the bill is paid from
        serving = tuple(each.id for each in plan.flows if each is flow or (bill is not None and each.saves_for == goal))
        found.append((flow, goal, serving))
    return found


def _check_accounts(plan: Plan, wish: Wish) -> None:
    for field in ("from_account", "to_account"):
        if getattr(wish, field) not in plan.account_by_id:
            raise PlanError([Problem((field,), "Choose an account.", "needed")])
    source, target = (plan.account_by_id[id] for id in (wish.from_account, wish.to_account))
    if source.id == target.id:
        raise PlanError([Problem(("to_account",), "Set it aside on another account.", "same_account")])
    if source.currency != target.currency:
        raise PlanError([Problem(("to_account",), f"Choose an account in {source.currency}.", "other_currency")])


def _bill(plan: Plan, wish: Wish) -> Flow | None:
    if wish.flow is None:
        return None
    bill = plan.flow_by_id.get(wish.flow)
    if bill is None or bill.kind != "bill":
        raise PlanError([Problem(("flow",), "Choose a bill.", "unknown_id")])
    return bill


class _Due(NamedTuple):
    nominal: date
    lands: date
    amount: int


def _dues(plan: Plan, bill: Flow, books: Books, today: date) -> list[_Due]:
    """The next three occurrences of a bill after today."""
    until = min(add_months(today, 12 * _LOOK_AHEAD_YEARS), LATEST)
    coming = expected(plan, bill, books, today, until)
    rows = sorted(zip(coming.landing.tolist(), coming.nominal.tolist(), coming.amount.tolist(), strict=True))
    after = [_Due(date.fromordinal(n), date.fromordinal(lands), a) for lands, n, a in rows if lands > today.toordinal()]
    return after[:3]


def _transfer(plan: Plan, wish: Wish, name: str, books: Books, today: date) -> Flow:
    """The transfer without its amount, from tomorrow or the next paycheck on."""
    base = Flow(wish.id, f"Set aside: {name}", "transfer", 0, wish.from_account, wish.to_account, remind_days=0)
    if wish.with_income is None:
        rule = f"FREQ=MONTHLY;BYMONTHDAY={wish.month_day}"
        return replace(base, rules=(rule,), start=today + timedelta(days=1))
    income = plan.flow_by_id.get(wish.with_income)
    if income is None or income.kind != "income":
        raise PlanError([Problem(("with_income",), "Choose an income.", "unknown_id")])
    coming = expected(plan, income, books, today, add_months(today, 24))
    following = [nominal for nominal in coming.nominal.tolist() if nominal > today.toordinal()]
    if not following:
        raise PlanError([Problem(("with_income",), f"“{income.name}” does not come again.", "not_expected")])
    start = date.fromordinal(min(following))
    return replace(
        base,
        rules=rules_on(income, start),
        dates=tuple(day for day in income.dates if day >= start),
        exceptions=income.exceptions,
        roll=income.roll,
        start=start,
        until=income.until,
    )


def _nominal_until(plan: Plan, transfer: Flow, after: date, ready: date) -> list[date]:
    """The nominal dates of the transfer that land after a day and by another."""
    calendar = business_calendar(plan.household.country)
    schedule = transfer.schedule(transfer.start or after)
    found = landings(schedule, calendar, transfer.roll, after.toordinal() - 20, ready.toordinal() + 20)
    inside = (n for n, lands in found if after.toordinal() < lands <= ready.toordinal())
    return [date.fromordinal(nominal) for nominal in inside]


def _back(plan: Plan, bill: Flow, wish: Wish, goal: SavingGoal, first: date) -> Flow:
    """The transfer that brings the money back on the bill's dates, from its next one on."""
    revised = [revision.start for revision in bill.revisions if revision.base is not None and revision.start <= first]
    growth = bill.growth and Growth(bill.growth.percent, max([bill.growth.start, *revised]))
    days = nominal_days(bill, plan.flow_opened(bill), first.toordinal(), LATEST.toordinal()) if bill.count else []
    opened, calendar = plan.flow_opened(bill), business_calendar(plan.household.country)
    own = amount_on(bill, first)
    if bill.follows:
        found = occurrences(bill, opened, calendar, first.toordinal(), first.toordinal() + 40)
        own = int(found.amount[0]) if len(found.amount) else own
    return replace(
        bill,
        id=f"{wish.id}-back",
        name=f"Back for {bill.name}",
        kind="transfer",
        amount=own,
        from_account=wish.to_account,
        to_account=bill.on(first).from_account,
        category=None,
        payee="",
        rules=rules_on(bill, first),
        dates=tuple(day for day in bill.dates if day >= first),
        start=first,
        until=date.fromordinal(days[-1]) if days else bill.until,
        count=None,
        growth=growth,
        revisions=tuple(replace(each, category=None) for each in bill.revisions if each.start > first),
        changes=tuple(change for change in bill.changes if change.nominal >= first),
        splits=(),
        estimate=False,
        follows=0,
        subscription=False,
        always_happens=False,
        notes="",
        saves_for=goal,
    )
