"""A way out that is adopted: its payments become the expected ones, and can be dropped again."""

from collections.abc import Iterable, Iterator

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_start
from next_penny.core.payoff.parts.table import part_of
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.way_out import ExpectedDebt, ExpectedMonth, Replaced, WayOut
from next_penny.core.problems import refused

# So many months of a plan become expected: what an account may hold is bounded, and nobody plans further.
_MOST_MONTHS = 480


def adoption(way: Way) -> list[PlanChange]:
    """The changes that make a way out the expected one, from its first month on. Raises PlanError where none is owed.

    One that was adopted before it is dropped from then on.
    """
    moment, run = way.moment, way.run
    if not run.debts:
        raise refused("debts", "Nothing is owed that could be paid off.", "range")
    first = max(moment.now, month_start(run.start))
    accounts = {dropped_one.id: dropped_one for dropped_one in dropped(moment, first)}
    replaced = list[Replaced]()
    for account in way.debts.accounts:
        before = accounts.get(account.id, account)
        cut = part_of(before).minimums_only(first)
        planned = part_of(cut).planned(moment, run.months[account.id][:_MOST_MONTHS], run.start)
        gone = part_of(before).replaced(cut, planned)
        accounts[account.id] = planned
        replaced += [gone] if gone is not None else []
    expected = tuple(
        ExpectedDebt(id, months[0].opening, tuple(ExpectedMonth(month.paid, month.closing) for month in months))
        for id, months in run.months.items()
    )
    adopted = WayOut(way.asked, moment.today, expected, tuple(replaced))
    return [*_changed(moment, accounts.values()), PlanChange("way_out", "", adopted)]


def drop(moment: Moment) -> list[PlanChange]:
    """The changes that take the adopted way out back from today on: what it replaced is expected again."""
    if moment.plan.way_out is None:
        return []
    return [*_changed(moment, dropped(moment, moment.now)), PlanChange("way_out", "", None)]


def _changed(moment: Moment, accounts: Iterable[Account]) -> Iterator[PlanChange]:
    for account in accounts:
        if account != moment.plan.account_by_id[account.id]:
            yield PlanChange("account", account.id, account)


def dropped(moment: Moment, first: int) -> Iterator[Account]:
    """The debts of the adopted way out as they are without it from a day on, with what it replaced."""
    adopted = moment.plan.way_out
    if adopted is None:
        return
    first = max(first, month_start(adopted.asked.start))
    replaced = {replaced_one.account: replaced_one for replaced_one in adopted.replaced}
    for expected in adopted.expected:
        account = moment.plan.account_by_id.get(expected.account)
        if account is not None:
            cut = part_of(account).minimums_only(first)
            yield part_of(cut).with_replaced(replaced.get(account.id, Replaced("")), first)
