"""What a household is worth, and what it spent in a year, in its own currency."""

from collections.abc import Iterable
from datetime import date

from next_penny.core.moment import Moment
from next_penny.core.plan import Entry


def net_worth(moment: Moment) -> int:
    """Everything owned less everything owed today, as recorded. Raises NoRate where a rate is lacking."""
    plan, currency = moment.plan, moment.plan.household.currency
    return sum(
        plan.converted(moment.balance_on(account, moment.now), account.currency, currency, moment.today)
        for account in plan.accounts
    )


def year_of(year: int, today: date) -> tuple[date, date]:
    """The days of a calendar year, up to today."""
    return date(year, 1, 1), min(today, date(year, 12, 31))


def spending_of(moment: Moment, entries: Iterable[Entry]) -> int:
    """What entries spent in expense categories, each at the rate of its day. Raises NoRate where one is lacking."""
    plan, currency = moment.plan, moment.plan.household.currency
    expense = {category.id for category in plan.categories if category.kind == "expense"}
    spent = 0
    for entry in entries:
        own = next((plan.account_by_id[leg.account].currency for leg in entry.legs if leg.account), currency)
        amount = sum(leg.amount for leg in entry.legs if leg.category in expense)
        spent += plan.converted(amount, own, currency, entry.date)
    return spent
