"""The categories that a new household may start from, and those that recording makes when it needs them."""

from collections.abc import Iterable

from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.flows import CARD_INTEREST_ID, SAVINGS_INTEREST_ID
from next_penny.core.plan.plan import Plan

_ROWS = """
wages|Wages|Money in|income|hand-coins
other-income|Other income|Money in|income|coins
housing|Housing|Home|expense|house
utilities|Heat, power and water|Home|expense|plug
phone|Phone and internet|Home|expense|phone
household|House and garden|Home|expense|sofa
groceries|Groceries|Living|expense|basket
transport|Getting about|Living|expense|car
health|Health|Living|expense|heart
clothing|Clothing|Living|expense|shirt
children|Children|Living|expense|child
insurance|Insurance|Living|expense|umbrella
leisure|Leisure|Pleasure|expense|cup
gifts|Gifts|Pleasure|expense|gift
interest|Interest and fees|Money matters|expense|percent
"""

STARTER_CATEGORIES = tuple(
    Category(id, name, group, "income" if kind == "income" else "expense", icon)
    for id, name, group, kind, icon in (row.split("|") for row in _ROWS.split("\n") if row)
)

# Where money goes whose flow names no category, until somebody sorts it.
UNSORTED_SPENDING = Category("unsorted", "Not sorted yet", "", "expense")
UNSORTED_INCOME = Category("unsorted-income", "Not sorted yet", "", "income")
# What a loan's payment is spent on; escrow too, where no escrow account holds it.
LOAN_INTEREST = Category("loan-interest", "Interest on loans", "Debt", "expense", "percent")
LOAN_INSURANCE = Category("mortgage-insurance", "Mortgage insurance", "Debt", "expense", "umbrella")
ESCROW_PAID = Category("escrow-paid", "Escrow", "Debt", "expense", "landmark")
CARD_INTEREST = Category(CARD_INTEREST_ID, "Interest on cards", "Debt", "expense", "percent")
SAVINGS_INTEREST = Category(SAVINGS_INTEREST_ID, "Interest earned", "Money in", "income", "coins")
# What money lent earns, and what somebody gave back beyond it.
LENT_INTEREST = Category("lent-interest", "Interest on money lent", "Money in", "income", "coins")
GIFTS_RECEIVED = Category("gifts-received", "Gifts received", "Money in", "income", "gift")
VALUE_CHANGED = Category("value-changed", "Change in value", "Owned", "expense", "house")
LENDER_FEES = Category("lender-fees", "Fees of lenders", "Debt", "expense", "landmark")
LOAN_FEES = Category("loan-fees", "Costs of loans", "Debt", "expense", "landmark")
# Where a difference to the bank goes that nobody can explain.
ADJUSTMENTS = Category("adjustments", "Differences to the bank", "Money matters", "expense", "percent")

MADE_WHEN_NEEDED = {
    category.id: category
    for category in (
        *(UNSORTED_SPENDING, UNSORTED_INCOME, LOAN_INTEREST, LOAN_INSURANCE, ESCROW_PAID, LOAN_FEES),
        *(LENDER_FEES, ADJUSTMENTS, LENT_INTEREST, GIFTS_RECEIVED),
        *(CARD_INTEREST, SAVINGS_INTEREST, VALUE_CHANGED),
    )
}


def categories_for(plan: Plan, legs: Iterable[Leg]) -> list[PlanChange]:
    """The categories that an entry's legs need and the plan does not have yet."""
    named = {leg.category: None for leg in legs if leg.category not in plan.category_by_id}
    needed = (MADE_WHEN_NEEDED[category] for category in named if category in MADE_WHEN_NEEDED)
    return [PlanChange("category", category.id, category) for category in needed]
