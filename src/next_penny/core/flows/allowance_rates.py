"""What is spent of an allowance in another currency than its own (docs/rules.md, Allowances)."""

from datetime import date

import numpy as np

from next_penny.core.books.moment import Moment
from next_penny.core.dates.business_days import Days
from next_penny.core.dates.sentences import joined
from next_penny.core.flows.amounts import amounts_between
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan


def flows_in(moment: Moment, allowance: Allowance) -> list[Flow]:
    """The flows that spend in an allowance's categories."""
    by_category = moment.plan.flows_by_category
    named = {flow.id: flow for category in allowance.categories for flow in by_category.get(category, ())}
    return list(named.values())


def in_its_currency(plan: Plan, allowance: Allowance, account: str, days: Days, amounts: Days) -> Days:
    """Amounts on an account as the allowance's currency has them, each at the rate of its day; 0 where there is none.

    What is not counted for that stays held back, and is told by `rate_note`.
    """
    have, want = (plan.account_by_id[id].currency for id in (account, allowance.account))
    if have != want and plan.rate(have, want, date.max) is None:
        return np.zeros_like(amounts)
    return amounts_between(plan, account, allowance.account, amounts, days)


def rate_note(moment: Moment, allowance: Allowance) -> str | None:
    """That what is spent in some currencies is not counted, where they have no rate; None where all is counted."""
    plan, named = moment.plan, set(allowance.categories)
    spent_on = {account for (category, account), legs in moment.books.spent.items() if legs and category in named}
    spent_on |= {flow.main_account or "" for flow in flows_in(moment, allowance)}
    own = plan.account_by_id[allowance.account].currency
    currencies = {plan.account_by_id[id].currency for id in spent_on if id in plan.account_by_id} - {own}
    unknown = sorted(currency for currency in currencies if plan.rate(currency, own, date.max) is None)
    if not unknown:
        return None
    return f"What is spent in {joined(unknown)} is not counted: there is no exchange rate to {own}."
