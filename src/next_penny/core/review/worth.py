"""What a household is worth, and what it spent in a year, in its own currency."""

from datetime import date

from next_penny.core.moment import Moment


def net_worth(moment: Moment) -> int:
    """Everything owned less everything owed today, as recorded. Raises NoRate where a rate is lacking."""
    plan, currency = moment.plan, moment.plan.household.currency
    return sum(
        plan.converted(moment.balance_on(account, moment.now), account.currency, currency, moment.today)
        for account in plan.accounts
    )


def spending_of(moment: Moment, year: int) -> int:
    """What was spent in a calendar year up to today: the sum of what is recorded in expense categories."""
    first, last = date(year, 1, 1).toordinal(), min(moment.now, date(year, 12, 31).toordinal())
    return sum(
        amount
        for category in moment.plan.categories if category.kind == "expense"
        for day, amount in moment.recorded.spent.get(category.id, {}).items() if first <= day <= last
    )  # fmt: skip
