"""Limits typed in a table: an allowance a line, of the category that is offered under its name."""

from datetime import date
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up

from effort import examples
from next_penny.core.checks.plan import check
from next_penny.core.edits.limits_table import LimitLine, read_limits, without_limit
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import apply
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError

BEGIN = date(2027, 3, 1)
ACCOUNT = Account("a", "A", "checking", "USD", Opening(date(2027, 1, 1), 500_00))
NAMES = ("Food", "Fun", "Tools", "Pay")
SHARES = {"week": 1, "two_weeks": 1, "month": 1, "quarter": 3, "year": 12}
typed = st.sampled_from(["Food", "food ", "FUN", "Tools", "Pay", "Pets", ""])
lines = st.lists(
    st.builds(LimitLine, typed, st.integers(-1, 20) | st.integers(1, 900_00), st.sampled_from(sorted(SHARES))),
    min_size=1, max_size=4,
)  # fmt: skip


@given(lines, st.sets(st.sampled_from(NAMES)), st.sets(st.sampled_from(NAMES[:3])))
@settings(max_examples=examples(300))
def test_each_line_is_an_allowance_of_what_is_offered_or_is_refused_at_its_place(
    lines: list[LimitLine], retired: set[str], limited: set[str]
) -> None:
    kinds = {name: "income" if name == "Pay" else "expense" for name in NAMES}
    plan = Plan(
        accounts=(ACCOUNT,),
        categories=tuple(Category(name, name, kind=kinds[name], retired=name in retired) for name in NAMES),  # type: ignore[arg-type]
        allowances=tuple(
            Allowance(f"of {name}", name, 1, "a", "month", categories=(name,)) for name in sorted(limited - retired)
        ),
    )
    offered = {name.lower(): name for name in NAMES if name not in retired}
    wrong, seen = set(), set()
    for place, line in enumerate(lines):
        name = line.category.strip().lower()
        if not name or name in seen or offered.get(name) == "Pay" or offered.get(name) in limited:
            wrong.add(("lines", place, "category"))
        if half_up(Fraction(line.limit, SHARES[line.every])) <= 0:
            wrong.add(("lines", place, "limit"))
        seen.add(name)
    ids = iter(range(100))
    if wrong:
        with pytest.raises(PlanError) as refused:
            read_limits(plan, lines, ACCOUNT, BEGIN, lambda: "")
        assert {problem.loc for problem in refused.value.problems} == wrong
        return
    table = read_limits(plan, lines, ACCOUNT, BEGIN, lambda: f"new {next(ids)}")
    after = apply(plan, table.changes)
    assert check(after) == []
    for line, allowance in zip(lines, table.allowances, strict=True):
        (category,) = (after.category_by_id[id] for id in allowance.categories)
        assert category.id == offered.get(line.category.strip().lower(), category.id)
        assert (category.name.lower(), category.retired) == (line.category.strip().lower(), False)
        assert allowance.limit == half_up(Fraction(line.limit, SHARES[line.every]))
        assert allowance.period == (line.every if SHARES[line.every] == 1 else "month")
        assert category.name not in without_limit(after)
