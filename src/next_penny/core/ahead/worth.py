"""What a household is worth, and what it spent in a year, in its own currency."""

from collections.abc import Iterable
from datetime import date
from typing import NamedTuple

from next_penny.core.ahead.stretch import Stretch
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number
from next_penny.core.plan.accounts import AccountKind
from next_penny.core.plan.entries import Entry

_MONTHS_AHEAD = 60


def net_worth(moment: Moment) -> int:
    """Everything owned less everything owed today, as recorded. Raises NoRate where a rate is lacking."""
    plan, currency = moment.plan, moment.plan.household.currency
    return sum(
        plan.converted(moment.balance_on(account, moment.now), account.currency, currency, moment.today)
        for account in plan.accounts
    )


def spending_of(moment: Moment, entries: Iterable[Entry]) -> int:
    """What entries spent in expense categories, each at the rate of its day. Raises NoRate where one is lacking."""
    plan, currency = moment.plan, moment.plan.household.currency
    expense = {category.id for category in plan.categories if category.kind == "expense"}
    spent = 0
    for entry in entries:
        amount = sum([leg.amount for leg in entry.legs if leg.category in expense])
        if amount:
            own = next((plan.account_by_id[leg.account].currency for leg in entry.legs if leg.account), currency)
            spent += plan.converted(amount, own, currency, entry.date)
    return spent


class KindWorth(NamedTuple):
    """What the accounts of one kind are worth together at each of the days asked for; debts are negative."""

    kind: AccountKind
    balances: tuple[int, ...]


class Worth(NamedTuple):
    """Net worth at month ends: day numbers, each kind, and all together, in the household's currency.

    On today it is what is recorded; `expected_today` is what today's and past-due items would still change.
    """

    days: tuple[int, ...]
    kinds: tuple[KindWorth, ...]
    owned: tuple[int, ...]
    owed: tuple[int, ...]
    expected_today: int

    @property
    def together(self) -> tuple[int, ...]:
        """What is owned less what is owed."""
        return tuple(owned - owed for owned, owed in zip(self.owned, self.owed, strict=True))


def whole_span(moment: Moment) -> tuple[date, date]:
    """From the day on which the first account was begun, or today, to five years ahead."""
    begun = [account.opening.date for account in moment.plan.accounts]
    return min([moment.today, *begun]), date.fromordinal(month_end(month_number(moment.today) + _MONTHS_AHEAD))


def worth_over(moment: Moment, first: date, last: date) -> Worth:
    """By kind of account, at the end of each month from a day to a day, today among them, and on the last day.

    Each balance at the newest rate by its day. An account counts as owned where its balance is above nothing, else as
    owed. Raises NoRate where a rate is lacking.
    """
    days, here = _days(moment, first, last), moment.plan.household.currency
    by_kind: dict[AccountKind, list[int]] = {}
    owned, owed, expected_today = [0] * len(days), [0] * len(days), 0
    over = Stretch(moment, moment.plan.accounts, first.toordinal(), last.toordinal(), ())
    for account in over.accounts:
        column = over.balances(account)
        sums = by_kind.setdefault(account.kind, [0] * len(days))
        for at, day in enumerate(days):
            balance = forecast = int(column[day - first.toordinal() + 1])
            if day == moment.now:
                balance = moment.balance_on(account, day)
                expected_today += moment.plan.converted(forecast - balance, account.currency, here, moment.today)
            worth = moment.plan.converted(balance, account.currency, here, date.fromordinal(day))
            sums[at] += worth
            owned[at] += max(worth, 0)
            owed[at] += max(-worth, 0)
    kinds = tuple(KindWorth(kind, tuple(sums)) for kind, sums in by_kind.items())
    return Worth(tuple(days), kinds, tuple(owned), tuple(owed), expected_today)


def _days(moment: Moment, first: date, last: date) -> list[int]:
    months = range(month_number(first), month_number(last) + 1)
    within = {month_end(month) for month in months} | {moment.now, last.toordinal()}
    return sorted(day for day in within if first.toordinal() <= day <= last.toordinal())
