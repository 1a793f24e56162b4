"""A way out that is adopted: its payments become the expected ones, and can be dropped again."""

from collections.abc import Iterable, Iterator
from dataclasses import replace
from datetime import date, timedelta
from itertools import groupby

from next_penny.core.accounts.cards import due_day, dues_between
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.loans.extras import extras_from, extras_until
from next_penny.core.loans.standing import Standing, standing
from next_penny.core.payoff.household import minimums_only
from next_penny.core.payoff.outcome import DebtMonth
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.way_out import ExpectedDebt, ExpectedMonth, Replaced, WayOut
from next_penny.core.plan.terms.cards import CardTerms, StatementChange
from next_penny.core.plan.terms.loans import Extra, LoanTerms
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
        cut = minimums_only(before, first)
        accounts[account.id] = _planned(moment, cut, run.months[account.id][:_MOST_MONTHS], run.start)
        replaced += _replaced(before, cut, accounts[account.id])
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
            yield _with_replaced(minimums_only(account, first), replaced.get(account.id, Replaced("")), first)


def _with_replaced(account: Account, replaced: Replaced, first: int) -> Account:
    if account.loan is not None:
        extras = _joined(account.loan, replaced.extras, date.fromordinal(first))
        return replace(account, loan=replace(account.loan, extras=extras))
    if account.card is not None:
        back_changes = {change.closing: change for change in replaced.changes if _is_due(account.card, change, first)}
        changes = {**{change.closing: change for change in account.card.changes}, **back_changes}
        return replace(account, card=replace(account.card, changes=tuple(changes[day] for day in sorted(changes))))
    return account


def _joined(terms: LoanTerms, replaced: Iterable[Extra], first: date) -> tuple[Extra, ...]:
    """A loan's extras with those that were replaced from a day on; one that was cut there is whole again."""
    extras = list(terms.extras)
    for extra in replaced:
        (before,) = extras_until([extra], first - timedelta(days=1)) or (None,)
        if before in extras:
            extras[extras.index(before)] = extra
        else:
            extras += extras_from(replace(terms, extras=(extra,)), first)
    return tuple(extras)


def _is_due(card: CardTerms, change: StatementChange, first: int) -> bool:
    return due_day(card, change.closing.toordinal()) >= first


def _planned(moment: Moment, account: Account, months: list[DebtMonth], start: int) -> Account:
    """An account with what a plan pays on it."""
    if account.card is not None:
        return replace(account, card=_with_amounts(moment, account.card, months, start))
    assert account.loan is not None
    made = tuple(_extras(moment, standing(moment, account), months, start))
    return replace(account, loan=replace(account.loan, extras=(*account.loan.extras, *made)))


def _extras(moment: Moment, standing: Standing, months: list[DebtMonth], start: int) -> Iterator[Extra]:
    """Paid with a month's last payment; equal ones in a row are one extra, where there is one payment a month."""
    due = {}
    for day in standing.terms.due_days_until(month_end(start + len(months) - 1)):
        if day >= max(month_start(start), moment.now) and day not in standing.history.settled:
            due[month_number(date.fromordinal(day))] = date.fromordinal(day)
    paid = [(start + place, month.extra) for place, month in enumerate(months) if start + place in due]
    if standing.terms.payments_per_year != 12:
        yield from (Extra(amount, date=due[month]) for month, amount in paid if amount)
        return
    for amount, same in groupby(paid, key=lambda paid_one: paid_one[1]):
        days = [due[month] for month, _ in same]
        if amount:
            yield Extra(amount, every=1, start=days[0], until=days[-1])


def _with_amounts(moment: Moment, card: CardTerms, months: list[DebtMonth], start: int) -> CardTerms:
    """The statement that is due in a month is paid what the plan has for it; two that are, the last one."""
    last_due: dict[int, int] = {}
    for closing, due in dues_between(card, max(month_start(start), moment.now), month_end(start + len(months) - 1)):
        last_due[month_number(date.fromordinal(due))] = closing
    changes = dict(card.change_by_closing)
    for month, closing in last_due.items():
        change = changes.get(closing, StatementChange(date.fromordinal(closing)))
        changes[closing] = replace(change, amount=months[month - start].paid, left_out=False)
    return replace(card, changes=tuple(change for _, change in sorted(changes.items())))


def _replaced(before: Account, cut: Account, planned: Account) -> Iterator[Replaced]:
    """What of an account makes room for a plan: what it is cut by, and a statement of its own that the plan pays."""
    if before.loan is not None and cut.loan is not None and before.loan.extras != cut.loan.extras:
        yield Replaced(before.id, extras=before.loan.extras)
    if before.card is not None and planned.card is not None:
        gone = tuple(change for change in before.card.changes if change not in planned.card.changes)
        if gone:
            yield Replaced(before.id, changes=gone)
