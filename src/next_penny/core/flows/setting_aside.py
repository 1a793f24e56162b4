"""Setting money aside: a yearly or irregular bill smoothed over the months, or a goal saved for from each paycheck.

The money goes to savings in equal amounts, the last one taking what is left to the cent, so that all of it is there on
its day; for a bill that repeats it goes on for the next time, and comes back on the bill's own dates.
"""

from dataclasses import dataclass, replace
from datetime import date, timedelta

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import LATEST, add_months, whole_years
from next_penny.core.flows.amounts import amount_on, rules_on
from next_penny.core.flows.makers import Occurrence, next_occurrences, occurrence
from next_penny.core.flows.occurrences import lands_by, nominal_days
from next_penny.core.plan.flows import Change, Flow, Growth, Revision, SavingGoal
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import refused


@dataclass(frozen=True, slots=True)
class SavingWish:
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


def propose(moment: Moment, wish: SavingWish) -> Proposal:
    """The transfers that fulfil a wish. Raises PlanError where no money can be put by in time."""
    _check_accounts(moment.plan, wish)
    bill = _bill(moment.plan, wish)
    dues = next_occurrences(moment, bill, moment.today, 3) if bill is not None else []
    if bill is not None and not dues:
        raise refused("flow", f"“{bill.name}” does not come again.", "not_expected")
    name = bill.name if bill is not None else wish.name.strip()
    transfer = _transfer(moment, wish, name)
    if bill is None:
        goal = _wished(moment, wish, name)
        days = _nominal_until(moment, transfer, moment.today, goal.by)
    else:
        goal, days, dues = _for_bill(moment, transfer, bill, dues)
    if not days:
        when = "paycheck" if wish.with_income else "transfer"
        raise refused("by", f"No {when} comes before then: choose a later day.", "too_soon")
    level = -(-goal.amount // len(days))
    times = -(-goal.amount // level)
    last = goal.amount - level * (times - 1)
    changes = (Change(days[times - 1], last),) if last != level else ()
    transfer = replace(transfer, amount=level, changes=changes, saves_for=goal)
    if bill is None:
        flows = [replace(transfer, until=days[times - 1])]
    else:
        flows = [_going_on(moment, transfer, days, times, dues), _back(moment, bill, wish, goal, dues[0].nominal)]
    return Proposal(tuple(flows), name, goal.amount, goal.by, level, times, last)


def _wished(moment: Moment, wish: SavingWish, name: str) -> SavingGoal:
    """A goal of the household's own."""
    if not name:
        raise refused("name", "Say what it is for.", "needed")
    if wish.amount <= 0:
        raise refused("amount", "Say how much is to be there.", "needed")
    if wish.by is None or wish.by <= moment.today:
        raise refused("by", "Choose a day after today.", "range")
    return SavingGoal(name, wish.amount, wish.by)


def _for_bill(
    moment: Moment, transfer: Flow, bill: Flow, dues: list[Occurrence]
) -> tuple[SavingGoal, list[date], list[Occurrence]]:
    """What is put by for a bill, there the day before it; too late for the next time, for the time after that."""
    for number, due in enumerate(dues[:2]):
        if due.amount <= 0:
            raise refused("flow", f"“{bill.name}” costs nothing the next time.", "range")
        days = _nominal_until(moment, transfer, moment.today, due.lands - timedelta(days=1))
        if days or number == len(dues[:2]) - 1:
            return SavingGoal(bill.name, due.amount, due.lands, bill.id), days, dues[number:]
    raise AssertionError("a bill that does not come again was refused before")


def _going_on(moment: Moment, transfer: Flow, days: list[date], times: int, dues: list[Occurrence]) -> Flow:
    """The transfer with what the bill's following time needs, where there is one."""
    if len(dues) < 2:
        return replace(transfer, until=days[times - 1])
    following = _nominal_until(moment, transfer, dues[0].lands, dues[1].lands - timedelta(days=1))
    later = -(-dues[1].amount // max(1, len(following)))
    skipped = tuple(Change(day, left_out=True) for day in days[times:])
    revised = () if later == transfer.amount else (Revision(dues[0].lands, later),)
    return replace(transfer, changes=(*transfer.changes, *skipped), revisions=revised)


def savings(plan: Plan) -> list[tuple[Flow, SavingGoal, tuple[str, ...]]]:
    """Every transfer that puts money by, what for, and the ids of all flows that put it by or bring it back."""
    saving = []
    for flow in plan.flows:
        goal = flow.saves_for
        if goal is None:
            continue
        bill = plan.flow_by_id.get(goal.flow or "")
        if bill is not None and flow.to_account in bill.account_ids:
            continue  # it brings the money back to where the bill is paid from
        serving = tuple(
            other.id for other in plan.flows if other is flow or (bill is not None and other.saves_for == goal)
        )
        saving.append((flow, goal, serving))
    return saving


def _check_accounts(plan: Plan, wish: SavingWish) -> None:
    for field in ("from_account", "to_account"):
        if getattr(wish, field) not in plan.account_by_id:
            raise refused(field, "Choose an account.", "needed")
    source, target = (plan.account_by_id[id] for id in (wish.from_account, wish.to_account))
    if source.id == target.id:
        raise refused("to_account", "Set it aside on another account.", "same_account")
    if source.currency != target.currency:
        raise refused("to_account", f"Choose an account in {source.currency}.", "other_currency")


def _bill(plan: Plan, wish: SavingWish) -> Flow | None:
    if wish.flow is None:
        return None
    bill = plan.flow_by_id.get(wish.flow)
    if bill is None or bill.kind != "bill":
        raise refused("flow", "Choose a bill.", "unknown_id")
    currency = plan.currency_of(bill)
    if plan.account_by_id[wish.from_account].currency != currency:
        message = f"“{bill.name}” is in {currency}: choose accounts in {currency}."
        raise refused("from_account", message, "other_currency")
    return bill


def _transfer(moment: Moment, wish: SavingWish, name: str) -> Flow:
    """The transfer without its amount, from tomorrow or the next paycheck on."""
    base = Flow(wish.id, f"Set aside: {name}", "transfer", 0, wish.from_account, wish.to_account, remind_days=0)
    if wish.with_income is None:
        rule = f"FREQ=MONTHLY;BYMONTHDAY={wish.month_day}"
        return replace(base, rules=(rule,), start=moment.today + timedelta(days=1))
    income = moment.plan.flow_by_id.get(wish.with_income)
    if income is None or income.kind != "income":
        raise refused("with_income", "Choose an income.", "unknown_id")
    following = [paycheck.nominal for paycheck in next_occurrences(moment, income, moment.today, 3)]
    coming = [nominal for nominal in following if nominal > moment.today]
    if not coming:
        raise refused("with_income", f"“{income.name}” does not come again.", "not_expected")
    start = min(coming)
    return replace(
        base,
        rules=rules_on(income, start),
        dates=tuple(day for day in income.dates if day >= start),
        exceptions=income.exceptions,
        roll=income.roll,
        start=start,
        until=income.until,
    )


def _nominal_until(moment: Moment, transfer: Flow, after: date, ready: date) -> list[date]:
    """The nominal dates of the transfer that land after a day and by another."""
    return lands_by(transfer.schedule(transfer.start or after), moment.calendar, transfer.roll, after, ready)


def _back(moment: Moment, bill: Flow, wish: SavingWish, goal: SavingGoal, first: date) -> Flow:
    """The transfer that brings the money back on the bill's dates, from its next one on."""
    plan = moment.plan
    revised = [revision.start for revision in bill.revisions if revision.base is not None and revision.start <= first]
    growth = bill.growth
    if growth is not None and revised:
        # The anniversary from which the amount in force grows.
        passed = max(0, whole_years(growth.start, max(revised)))
        growth = Growth(growth.percent, add_months(growth.start, 12 * passed))
    days = nominal_days(bill, plan.flow_opened(bill), first.toordinal(), LATEST.toordinal()) if bill.count else []
    own = amount_on(bill, first)
    if bill.follows and (coming := occurrence(moment, bill, first)) is not None:
        own = coming.amount
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
        revisions=tuple(replace(revision, category=None) for revision in bill.revisions if revision.start > first),
        changes=tuple(change for change in bill.changes if change.nominal >= first),
        splits=(),
        estimate=False,
        follows=0,
        subscription=False,
        always_happens=False,
        notes="",
        saves_for=goal,
    )
