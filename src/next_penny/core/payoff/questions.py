"""Questions in reverse: what it takes to be debt-free by a month, what a sum is worth, and debt or savings."""

from dataclasses import replace
from datetime import date
from typing import NamedTuple

from next_penny.core.accounts.savings import earned
from next_penny.core.dates.calendar import month_end, month_start
from next_penny.core.forecast.low_points import LowPoint, lowest
from next_penny.core.forecast.projection import project
from next_penny.core.forecast.trials import with_changes
from next_penny.core.payoff.comparing import least
from next_penny.core.payoff.debts import Debt
from next_penny.core.payoff.outcome import Run
from next_penny.core.payoff.parts.part import furthest
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.way_out import MonthAmount
from next_penny.core.problems import refused

_TAKEN = "taken-from-savings"


def extra_for(way: Way, by: int) -> int:
    """The least monthly extra that is debt-free by a month (its number), in the order that was asked for.

    Raises PlanError where no extra is enough.
    """
    if by < way.debts.start:
        raise refused("by", "Choose the first month of the plan or a later one.", "range")
    wish = replace(way.in_order, extra_changes=())

    def is_enough(extra: int) -> bool:
        ends = way.carried_out(replace(wish, extra_monthly=extra)).debt_free
        return ends is not None and ends <= by

    # With whatever interest the first month has.
    most = 2 * sum(debt.balance for debt in way.debts.debts)
    if not is_enough(most):
        raise refused("by", "No extra is enough by then: choose a later month.", "range")
    return least(is_enough, most)


class Worth(NamedTuple):
    """What a sum paid on one debt is worth: interest saved, and how many months sooner all is paid; None where never.

    used: how much of it that debt takes; the rest goes on in the order.
    """

    debt: Debt
    used: int
    saves_interest: int | None
    saves_months: int | None
    debt_free: int | None


def worth_of(way: Way, amount: int, month: int) -> list[Worth]:
    """What a sum paid in a month is worth, debt by debt; the most saving first. Raises PlanError."""
    if month < way.debts.start:
        raise refused("month", "Choose the first month of the plan or a later one.", "range")
    wish = way.in_order
    without = way.carried_out(wish)
    worths = []
    for debt in way.debts.debts:
        paid = way.carried_out(replace(wish, aimed={debt.id: MonthAmount(month, amount)}))
        months = paid.months[debt.id]
        place = month - way.debts.start
        used = min(amount, months[place].extra) if place < len(months) else 0
        both = not paid.never and not without.never
        worths.append(Worth(
            debt, used, without.total_interest - paid.total_interest if both else None,
            len(without) - len(paid) if both else None, paid.debt_free,
        ))  # fmt: skip
    return sorted(worths, key=lambda worth: -(worth.saves_interest or 0))


class DebtOrSavings(NamedTuple):
    """Paying a sum from savings on the debts: interest saved, what it would have earned, both until they are paid off.

    lowest: of the savings account from that day on, once it is taken.
    """

    saves_interest: int | None
    yield_lost: int
    until: date
    lowest: LowPoint
    debt_free: int | None


def debt_or_savings(way: Way, account: Account, amount: int, month: int) -> DebtOrSavings:
    """Whether to pay the debt or keep the savings."""
    if month < way.debts.start:
        raise refused("month", "Choose the first month of the plan or a later one.", "range")
    wish = way.in_order
    without = way.carried_out(wish)
    paid = way.carried_out(replace(wish, one_time=(*wish.one_time, MonthAmount(month, amount))))
    ends = _end(way, without)
    day = max(way.moment.now, month_start(month))
    both = not paid.never and not without.never
    return DebtOrSavings(
        without.total_interest - paid.total_interest if both else None,
        earned(account, amount, max(0, ends - day)),
        date.fromordinal(ends),
        _lowest_without(way, account, amount, day, max(ends, day)),
        paid.debt_free,
    )


def _end(way: Way, run: Run) -> int:
    """The last day of the debt-free month; of ten years, where that never comes."""
    month = run.debt_free
    return furthest(way.moment) if month is None else month_end(month)


def _lowest_without(way: Way, account: Account, amount: int, day: int, until: int) -> LowPoint:
    """The low point of an account from a day on, had a sum left it on that day."""
    taken = Flow(_TAKEN, "Paid on debts", "bill", amount, account.id, dates=(date.fromordinal(day),))
    moment = with_changes(way.moment, [PlanChange("flow", _TAKEN, taken)])
    last = date.fromordinal(min(until, furthest(way.moment)))
    run = project(moment, last, [account.id]).runs[0]
    low_point = lowest(run, day)
    if low_point is None:
        raise refused("account", "Choose savings that are open by then.", "range")
    return low_point
