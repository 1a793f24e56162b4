"""The debts of a household as a plan of paying them off sees them, at the beginning of a month."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number, month_start
from next_penny.core.forecast.projection import Forecast, project
from next_penny.core.forecast.trials import with_changes
from next_penny.core.payoff.debts import MONTHS_A_YEAR, Debt
from next_penny.core.payoff.parts.part import MOST_YEARS_AHEAD
from next_penny.core.payoff.parts.table import part_of
from next_penny.core.payoff.wording import NOTHING_OWED, left_out_note
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.problems import PlanError, Problem, refused

_NEVER = date.max.toordinal()
_NOT_CHOSEN = "is not chosen"


class LeftOut(NamedTuple):
    """A debt of the household that is not in a plan, and why; whether it would be, were it named."""

    account: Account
    reason: str
    can_join: bool


@dataclass(frozen=True)
class Debts:
    """What is to be paid off from a month on. left_out: the household's other debts, each with the reason."""

    start: int
    currency: str
    accounts: tuple[Account, ...]
    debts: tuple[Debt, ...]
    left_out: tuple[LeftOut, ...]

    def notes(self) -> Iterator[str]:
        """What is left out unasked."""
        for omission in self.left_out:
            if omission.reason != _NOT_CHOSEN:
                yield left_out_note(omission.account.name, omission.reason)

    @property
    def ids(self) -> frozenset[str]:
        return frozenset(account.id for account in self.accounts)


def debts_of(moment: Moment, start: int, named: Sequence[str] | None = None) -> Debts:
    """The debts that are named, or all that are owed; a card that is paid in full is then left out.

    Raises PlanError for a name that is not a debt's, debts in several currencies, or a start before this month.
    """
    if start < month_number(moment.today):
        raise refused("start", "Begin this month or later.", "range")
    if start > month_number(moment.today) + MONTHS_A_YEAR * MOST_YEARS_AHEAD:
        raise refused("start", f"Begin within the next {MOST_YEARS_AHEAD} years.", "range")
    chosen = _chosen(moment, named)
    currency = chosen[0].currency if chosen else moment.plan.household.currency
    accounts, debts, left_out = list[Account](), list[Debt](), list[LeftOut]()
    for account in chosen:
        reason = _left_out(account, currency, is_named=named is not None)
        debt = None if reason else part_of(account).debt(moment, owed_before(moment, account, start), start)
        if debt is None or debt.balance <= 0:
            can_join = reason is not None and _left_out(account, currency, is_named=True) is None
            left_out.append(LeftOut(account, reason or NOTHING_OWED, can_join))
        else:
            accounts.append(account)
            debts.append(debt)
    left_out += [
        LeftOut(one_account, _NOT_CHOSEN, _left_out(one_account, currency, is_named=True) is None)
        for one_account in moment.plan.accounts if one_account.is_debt and one_account not in chosen
    ]  # fmt: skip
    return Debts(start, currency, tuple(accounts), tuple(debts), tuple(left_out))


def _chosen(moment: Moment, named: Sequence[str] | None) -> list[Account]:
    if named is None:
        here = moment.plan.household.currency
        owed = [account for account in moment.plan.accounts if account.is_debt]
        return sorted(owed, key=lambda account: account.currency != here)
    account_by_id, problems = moment.plan.account_by_id, list[Problem]()
    currency = next((account_by_id[id].currency for id in named if id in account_by_id), "")
    for place, id in enumerate(named):
        if id not in account_by_id or not account_by_id[id].is_debt:
            problems.append(Problem(("debts", place), "Choose a loan, a card or a line.", "unknown_id"))
        elif account_by_id[id].currency != currency:
            message = f"Debts that are paid off together share a currency: choose those in {currency}."
            problems.append(Problem(("debts", place), message, "other_currency"))
    if problems:
        raise PlanError(problems)
    return [account_by_id[id] for id in dict.fromkeys(named)]


def _left_out(account: Account, currency: str, *, is_named: bool) -> str | None:
    """Why a debt is not planned."""
    if account.currency != currency:
        return f"is in {account.currency}"
    part = part_of(account)
    return part.cannot_join or (None if is_named else part.left_out)


def owed_before(moment: Moment, account: Account, month: int) -> int:
    """What is owed at the end of the day before a month, recorded or forecast; of one that begins in it, at first."""
    day, opened = month_start(month) - 1, account.opening.date.toordinal()
    if opened > day:
        return -account.opening.balance if opened <= month_end(month) else 0
    if day >= moment.now:
        return -_forecast_until(moment, day).run_of[account.id].levels[-1][1]
    return -moment.balance_on(account, day)


def _forecast_until(moment: Moment, day: int) -> Forecast:
    return moment.keep(f"forecast until {day}", lambda: project(moment, date.fromordinal(day)))


def owed_by_month(moment: Moment, debts: Debts, most: int) -> list[tuple[int, list[int]]]:
    """What was owed on each debt at the end of so many months before the first, as far as it is recorded."""
    last = min(debts.start, month_number(moment.today)) - 1
    opened = min((month_number(account.opening.date) for account in debts.accounts), default=last + 1)
    return [
        (month, [max(0, -moment.balance_on(account, month_end(month))) for account in debts.accounts])
        for month in range(max(opened, last - most + 1), last + 1)
    ]


def without_extras(moment: Moment, debts: Debts) -> Moment:
    """The household as it would be if, from the first month on, nothing but minimums were planned for these debts."""
    cut = ((account, part_of(account).minimums_only(month_start(debts.start))) for account in debts.accounts)
    changes = [PlanChange("account", after.id, after) for before, after in cut if after != before]
    return with_changes(moment, changes) if changes else moment


def payment_days(moment: Moment, debts: Debts, until: int) -> list[int]:
    """The day of each month, from the first on, on which its extra is paid: the earliest on which a debt is due.

    A month in which none is due has its first day; never before today.
    """
    months = range(debts.start, month_number(date.fromordinal(until)) + 1)
    days = dict.fromkeys(months, _NEVER)
    for account in debts.accounts:
        for due in part_of(account).due_days(moment, month_start(debts.start), until):
            month = month_number(date.fromordinal(due))
            days[month] = min(days[month], due)
    due_days = (day if day < _NEVER else month_start(month) for month, day in days.items())
    return [day for day in (max(moment.now, due) for due in due_days) if day <= until]


class LastDueDays:
    """The last day of any month on which each of some debts is due, as a day number; 0 where it is not."""

    def __init__(self, accounts: Iterable[Account]) -> None:
        self._part_by_id = {account.id: part_of(account) for account in accounts}
        self._days: dict[tuple[str, int], int] = {}

    def __call__(self, id: str, month: int) -> int:
        if (id, month) not in self._days:
            last_due = self._part_by_id[id].last_due_days(month)
            self._days |= {(id, other): day for other, day in last_due.items()}
        return self._days[id, month]
