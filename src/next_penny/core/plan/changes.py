"""What-ifs: a list of changes laid over a plan. Unsaved edits and everything that asks "what if" go through here."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal, TypeVar

from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.kept.readings import BalanceReading
from next_penny.core.plan.kept.statements import StatementCheck
from next_penny.core.plan.kept.way_out import WayOut
from next_penny.core.plan.kept.what_ifs import SavedWhatIf
from next_penny.core.plan.plan import Plan

Item = (
    Household | Account | Category | Flow | Allowance | Entry
    | WayOut | StatementCheck | SavedWhatIf | Goal | BalanceReading
)  # fmt: skip
Kind = Literal["household", "account", "category", "flow", "allowance", "entry", "goal"]


@dataclass(frozen=True, slots=True)
class PlanChange:
    """Put an item into the plan, in the place of the one with the same id if there is one; None takes it out."""

    kind: Kind | Literal["way_out", "statement_check", "what_if", "reading"]
    id: str
    item: Item | None


def apply(plan: Plan, changes: Sequence[PlanChange]) -> Plan:
    """The plan with the changes laid over it; the plan itself stays as it is."""
    for change in changes:
        match change:
            case PlanChange("household", _, Household() as household):
                plan = replace(plan, household=household)
            case PlanChange("account", id, Account() | None as item):
                plan = replace(plan, accounts=_with(plan.accounts, id, item))
            case PlanChange("category", id, Category() | None as item):
                plan = replace(plan, categories=_with(plan.categories, id, item))
            case PlanChange("allowance", id, Allowance() | None as item):
                plan = replace(plan, allowances=_with(plan.allowances, id, item))
            case PlanChange("flow", id, Flow() | None as item):
                plan = replace(plan, flows=_with(plan.flows, id, item))
            case PlanChange("way_out", _, WayOut() | None as adopted):
                plan = replace(plan, way_out=adopted)
            case PlanChange("statement_check", id, StatementCheck() | None as checked):
                plan = replace(plan, statement_checks=_with(plan.statement_checks, id, checked))
            case PlanChange("what_if", id, SavedWhatIf() | None as kept):
                plan = replace(plan, what_ifs=_with(plan.what_ifs, id, kept))
            case PlanChange("goal", id, Goal() | None as goal):
                plan = replace(plan, goals=_with(plan.goals, id, goal))
            case PlanChange("reading", id, BalanceReading() | None as reading):
                plan = replace(plan, readings=_with(plan.readings, id, reading))
    return plan


_Kept = TypeVar("_Kept", Account, Category, Flow, Allowance, StatementCheck, SavedWhatIf, Goal, BalanceReading)


def _with(items: tuple[_Kept, ...], id: str, item: _Kept | None) -> tuple[_Kept, ...]:
    if item is None:
        return tuple(held for held in items if held.id != id)
    if any(held.id == id for held in items):
        return tuple(item if held.id == id else held for held in items)
    return items + (item,)  # noqa: RUF005 - mypy cannot unpack a constrained type
