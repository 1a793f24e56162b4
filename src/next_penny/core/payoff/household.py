"""The debts of a household as a plan of paying them off sees them, at the beginning of a month."""

from bisect import bisect_left
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from typing import NamedTuple

from next_penny.core.accounts.cards import due_day, dues_between
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_end, month_number, month_start
from next_penny.core.forecast.projection import Forecast, project
from next_penny.core.forecast.trials import with_changes
from next_penny.core.loans.extras import History, extras_until
from next_penny.core.loans.standing import Standing, standing
from next_penny.core.loans.walked import Resume
from next_penny.core.payoff.debts import MONTHS_A_YEAR, Debt, LoanDebt, Minimum, PlainDebt
from next_penny.core.payoff.wording import NOTHING_OWED, left_out_note
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.problems import PlanError, Problem, refused

# How far ahead the forecast is looked at for what it bears.
MOST_YEARS_AHEAD = 10
# Due dates of loans are listed so many months at a time.
_LOANS_LOOKED_AT = 30 * MONTHS_A_YEAR
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
        debt = None if reason else _debt(moment, account, start)
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
    if account.loan is None and account.card is None:
        return "has no terms yet"
    if account.card is not None and account.card.pays == "statement" and not is_named:
        return "is paid in full every month"
    return None


def _debt(moment: Moment, account: Account, start: int) -> Debt | None:
    owed = owed_before(moment, account, start)
    if account.card is not None:
        least = account.card.minimum
        # Without a percentage, or anything on top of it, the minimum is a fixed amount.
        percent = least.percent if least.percent or least.plus_interest else None
        minimum = Minimum(least.floor, percent, least.plus_interest)
        return PlainDebt(account.id, account.name, owed, Decimal(0), minimum, account.card.rates)
    return _loan_debt(standing(moment, account), owed, start)


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


def _loan_debt(standing: Standing, owed: int, start: int) -> LoanDebt:
    """A loan from where its schedule stands, without what is planned beyond it."""
    shown, first, settled = standing.shown, month_start(start), standing.history.settled
    place = bisect_left(shown.due, first)
    while place < len(shown) and shown.due[place] in settled and settled[shown.due[place]].day < first:
        place += 1  # it was paid early
    since = shown.due[place - 1] if place else shown.since
    # What moved since the last due date, or from the opening day on, is in what is owed, and counts with the next.
    begin = since if place else since - 1
    moved = [moved_day for moved_day in (*shown.moved, *shown.between) if begin < moved_day.day < first]
    paid = shown.first_number - 1 + place
    level = shown.levels[min(place, len(shown) - 1)] if paid and paid >= standing.terms.interest_only else None
    resume = Resume(paid, owed + sum(moved_day.amount for moved_day in moved), since, level)
    terms = replace(standing.terms, extras=())
    return LoanDebt(
        standing.account.id, standing.account.name, owed, terms, resume, History(by_hand=tuple(sorted(moved)))
    )


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
    cut = ((account, minimums_only(account, month_start(debts.start))) for account in debts.accounts)
    changes = [PlanChange("account", after.id, after) for before, after in cut if after != before]
    return with_changes(moment, changes) if changes else moment


def minimums_only(account: Account, first: int) -> Account:
    """A debt without what is planned beyond its minimum from a day on."""
    if account.loan is not None:
        before = extras_until(account.loan.extras, date.fromordinal(first) - timedelta(days=1))
        return replace(account, loan=replace(account.loan, extras=before))
    if account.card is not None:
        statement_changes = tuple(
            change if due_day(account.card, change.closing.toordinal()) < first else replace(change, amount=None)
            for change in account.card.changes
        )
        changes = tuple(change for change in statement_changes if not change.is_nothing)
        return replace(account, card=replace(account.card, changes=changes))
    return account


def payment_days(moment: Moment, debts: Debts, until: int) -> list[int]:
    """The day of each month, from the first on, on which its extra is paid: the earliest on which a debt is due.

    A month in which none is due has its first day; never before today.
    """
    months = range(debts.start, month_number(date.fromordinal(until)) + 1)
    days = dict.fromkeys(months, _NEVER)
    for account in debts.accounts:
        for due in due_days(moment, account, month_start(debts.start), until):
            month = month_number(date.fromordinal(due))
            days[month] = min(days[month], due)
    found_days = (day if day < _NEVER else month_start(month) for month, day in days.items())
    return [day for day in (max(moment.now, each) for each in found_days) if day <= until]


def due_days(moment: Moment, account: Account, first: int, last: int) -> Iterator[int]:
    """The days of a stretch on which a debt is due."""
    if account.loan is not None:
        yield from (day for day in standing(moment, account).shown.due if first <= day <= last)
    if account.card is not None:
        yield from (due for _, due in dues_between(account.card, first, last))


class LastDueDays:
    """The last day of any month on which each of some debts is due, as a day number; 0 where it is not."""

    def __init__(self, accounts: Iterable[Account]) -> None:
        self._accounts = {account.id: account for account in accounts}
        self._days: dict[tuple[str, int], int] = {}
        self._loans_until = 0

    def __call__(self, id: str, month: int) -> int:
        account = self._accounts[id]
        if account.loan is not None and month > self._loans_until:
            self._look_at_loans(month + _LOANS_LOOKED_AT)
        if account.card is not None and (id, month) not in self._days:
            dues = [due for _, due in dues_between(account.card, month_start(month), month_end(month))]
            self._days[id, month] = max(dues, default=0)
        return self._days.get((id, month), 0)

    def _look_at_loans(self, until: int) -> None:
        self._loans_until = until
        for account in self._accounts.values():
            if account.loan is not None:
                for day in account.loan.due_days_until(month_end(until)):
                    self._days[account.id, month_number(date.fromordinal(day))] = day


def furthest(moment: Moment) -> int:
    """The last day of the forecast that says what can be spared."""
    month = month_number(add_months(moment.today, 12 * MOST_YEARS_AHEAD))
    return month_end(month)
