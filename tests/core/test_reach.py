"""How far ahead what a change does is looked at: to its third date, and no further than it must."""

from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import pytest
from households import TODAY
from seen import seen

from next_penny.core.ahead.effects import reach
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Change, Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan

RENT = Flow("rent", "Rent", "bill", 900_00, "a", rules=("FREQ=MONTHLY;BYMONTHDAY=10",), start=date(2027, 3, 10))
EAT = Allowance("eat", "Eating", 90_00, "a", categories=("food",))


@pytest.mark.parametrize(
    ("kind", "item", "day"),
    [
        ("allowance", replace(EAT, limit=1), TODAY + timedelta(days=92)), ("allowance", EAT, TODAY + timedelta(days=92)),
        ("flow", RENT, TODAY), ("flow", replace(RENT, amount=1), date(2027, 5, 10)),
        ("flow", replace(RENT, until=date(2027, 4, 10)), date(2027, 7, 10)),
        ("flow", replace(RENT, changes=(Change(date(2027, 8, 10), amount=1),)), date(2027, 8, 10)),
        ("flow", replace(RENT, changes=(Change(date(2027, 8, 10), moved_to=date(2027, 8, 12)),)), date(2027, 8, 12)),
        ("category", Category("food", "Meals"), TODAY),
        ("entry", Entry("e", date(2027, 3, 17), "P", (Leg(-1, "a"), Leg(1, category="food"))), date(2027, 3, 17)),
        ("entry", Entry("e", date(2027, 2, 17), "P", (Leg(-1, "a"), Leg(1, category="food"))), TODAY),
    ],
)  # fmt: skip
def test_a_change_is_looked_at_until_its_third_date(kind: str, item: Any, day: date) -> None:
    account = Account("a", "A", "checking", "USD", Opening(date(2027, 3, 1), 0))
    plan = Plan(Household(), (account,), (Category("food", "Food"),), (RENT,), (EAT,))
    before, changes = seen(plan, (), TODAY), [PlanChange(kind, item.id, item)]  # type: ignore[arg-type]
    after = apply_to_moment(before, changes, lambda _: None)
    assert reach(before, after, changes) == day
