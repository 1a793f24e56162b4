"""How a way out that was adopted goes: what was paid against what was planned, and when it now ends."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.money import whole_percent
from next_penny.core.payoff.parts.table import part_of
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import payment_id
from next_penny.core.plan.kept.way_out import ExpectedDebt, WayOut


class DebtProgress(NamedTuple):
    """One debt against its plan. original: what was owed at most, at first; percent: how much of it is paid back.

    planned, paid: payments since the plan began, as it has them by now and as they were recorded. expected: what the
    plan has owed by now. interest_planned, interest_by_day: from the plan's beginning until it is cleared, as its
    months have it, and as the books and the forecast's days do.
    """

    account: Account
    original: int
    owed: int
    expected: int
    planned: int
    paid: int
    percent: int
    interest_planned: int
    interest_by_day: int


@dataclass(frozen=True)
class Progress:
    """The plan as a whole. Months are month numbers, None where nothing ever ends it; `ahead` is negative behind."""

    adopted: WayOut
    debts: tuple[DebtProgress, ...]
    planned_debt_free: int
    debt_free: int | None

    @property
    def ahead(self) -> int:
        """How much more was paid than planned."""
        return sum(debt.paid - debt.planned for debt in self.debts)

    @property
    def months_later(self) -> int | None:
        """How many months later than planned it now ends; negative when sooner."""
        return None if self.debt_free is None else self.debt_free - self.planned_debt_free

    @property
    def percent(self) -> int:
        """How much of everything is paid back."""
        original = sum(debt.original for debt in self.debts)
        return whole_percent(original - sum(debt.owed for debt in self.debts), original)


def progress(moment: Moment) -> Progress | None:
    """How the adopted way out goes; None where there is none, or none of its debts is left in the plan."""
    adopted = moment.plan.way_out
    account_by_id = moment.plan.account_by_id
    expected = [debt for debt in adopted.expected if debt.account in account_by_id] if adopted is not None else []
    if adopted is None or not expected:
        return None
    debts = tuple(_debt(moment, adopted, account_by_id[debt.account], debt) for debt in expected)
    ends = adopted.asked.start + max(len(debt.months) for debt in expected) - 1
    return Progress(adopted, debts, ends, _debt_free(moment, adopted, [debt.account.id for debt in debts]))


def _debt_free(moment: Moment, adopted: WayOut, ids: Sequence[str]) -> int | None:
    """When it ends, from what is owed at the end of this month as things now stand."""
    this = month_number(moment.today)
    start = max(adopted.asked.start, this + 1)
    wish = adopted.asked.wish
    coming = tuple(month for month in wish.one_time if month.month >= start)
    asked = replace(adopted.asked, start=start, debts=tuple(ids), wish=replace(wish, one_time=coming), until=None)
    run = Way(moment, asked).run
    return run.debt_free if len(run) else start - 1


def _debt(moment: Moment, adopted: WayOut, account: Account, expected: ExpectedDebt) -> DebtProgress:
    start, this = adopted.asked.start, month_number(moment.today)
    done = max(0, min(this - start + _is_done(moment, account, max(start, this)), len(expected.months)))
    planned = sum(month.paid for month in expected.months[:done])
    closing = expected.months[done - 1].closing if done else expected.opening
    owed = max(0, -moment.balance_on(account, moment.now))
    part, begins = part_of(account), month_start(start)
    original = max(owed, expected.opening, part.original)
    paid = sum(payment.paid for payment in part.payments(moment) if payment.day >= begins)
    months = expected.months
    interest = sum(month.paid for month in months) + (months[-1].closing if months else 0) - expected.opening
    return DebtProgress(
        account, original, owed, closing, planned, paid, whole_percent(original - owed, original), interest,
        part.interest_between(moment, begins, month_end(start + len(months) - 1)),
    )  # fmt: skip


def _is_done(moment: Moment, account: Account, month: int) -> int:
    """Whether what is due in a month is paid, or should be: 1 or 0."""
    first, last = month_start(month), month_end(month)
    due = list(part_of(account).due_days(moment, first, last))
    settled = moment.books.settled.get(_paying_flow(moment, account), {})
    return int(moment.now > last or (bool(due) and (due[-1] in settled or due[-1] < moment.now)))


def _paying_flow(moment: Moment, account: Account) -> str:
    flow = moment.plan.loan_flow(account.id)
    return flow.id if flow is not None else payment_id(account.id)


class DebtYear(NamedTuple):
    """What was paid on a debt in a calendar year, how much of it was interest, and what was owed at its end."""

    account: Account
    year: int
    paid: int
    interest: int
    owed: int


def years_on_record(moment: Moment) -> list[DebtYear]:
    """Each year's recorded payments, debt by debt, across their lives; escrow and insurance apart."""
    debt_years = []
    for account in moment.plan.accounts:
        if not account.is_debt or account.opening.date > moment.today:
            continue
        payments = list(part_of(account).payments(moment))
        for year in range(account.opening.date.year, moment.today.year + 1):
            mine = [payment for payment in payments if date.fromordinal(payment.day).year == year]
            last = min(moment.now, date(year, 12, 31).toordinal())
            paid, interest = sum(payment.paid for payment in mine), sum(payment.interest for payment in mine)
            debt_years.append(DebtYear(account, year, paid, interest, max(0, -moment.balance_on(account, last))))
    return debt_years
