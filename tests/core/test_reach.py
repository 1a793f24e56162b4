"""How far ahead what a change does is looked at: to its third date, and no further than it must."""

from dataclasses import replace
from datetime import date, timedelta
from typing import Any

import pytest
from households import TODAY
from seen import seen

from next_penny.core.ahead.effects import reach, stretch_effects
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.forecast.projection import Forecast, project
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


def test_stretches_that_become_one_are_held_against_the_deepest_of_them() -> None:
    account = Account("a", "A", "checking", "USD", Opening(TODAY, 0))

    def forecast(*moved: tuple[int, int]) -> Forecast:
        flows = tuple(
            Flow(f"f{day}", "F", "bill" if amount < 0 else "income", abs(amount), *("a", None)[:: 1 if amount < 0 else -1],
                 dates=(TODAY + timedelta(days=day),))
            for day, amount in moved
        )  # fmt: skip
        return project(seen(Plan(Household(), (account,), flows=flows), (), TODAY), TODAY + timedelta(days=20))

    def effects(*moved: tuple[int, int]) -> list[tuple[str, int, int]]:
        before = forecast((1, -5_00), (2, 5_00), (4, -9_00), (6, 9_00))
        return [(each.what, each.short_before, each.short_after) for each in stretch_effects(before, forecast(*moved))]

    # Below its floor from the first day to the sixth, and no deeper than it was on the fourth.
    assert effects((1, -5_00), (4, -4_00), (6, 9_00)) == []
    assert effects((1, -5_00), (4, -4_01), (6, 9_01)) == [("deepens", 9_00, 9_01)]
    assert effects((1, -5_00), (4, -3_00), (6, 8_00)) == [("eases", 9_00, 8_00)]
    assert effects((8, -1_00)) == [("goes", 5_00, 0), ("goes", 9_00, 0), ("comes", 0, 1_00)]
