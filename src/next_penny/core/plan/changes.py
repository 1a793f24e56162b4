"""What-ifs: a list of changes laid over a plan. Unsaved edits and everything that asks "what if" go through here."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.account_statements import AccountStatement
from next_penny.core.plan.kept.bank_lines import BankAccount, BankLine, PayeeRule, TableShape
from next_penny.core.plan.kept.connections import NoticePattern, NoticeTaken
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.kept.readings import BalanceReading
from next_penny.core.plan.kept.statements import StatementCheck
from next_penny.core.plan.kept.way_out import WayOut
from next_penny.core.plan.kept.what_ifs import SavedWhatIf
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate

Item = (
    Household | Account | Category | Flow | Allowance | Entry
    | WayOut | StatementCheck | SavedWhatIf | Goal | BalanceReading | AccountStatement | Rate
    | PayeeRule | BankLine | BankAccount | TableShape | NoticePattern | NoticeTaken
)  # fmt: skip
Kind = Literal["household", "account", "category", "flow", "allowance", "entry", "goal", "rate", "payee_rule"]
# What is beside the plan: the lines of banks, their accounts, the shapes of their tables, and what of messages is read.
Beside = Literal["bank_line", "bank_account", "table_shape", "notice_pattern", "notice_taken"]


@dataclass(frozen=True, slots=True)
class PlanChange:
    """Put an item into the plan, in the place of the one with the same id if there is one; None takes it out."""

    kind: Kind | Beside | Literal["way_out", "statement_check", "what_if", "reading", "statement"]
    id: str
    item: Item | None


def apply(plan: Plan, changes: Sequence[PlanChange]) -> Plan:
    """The plan with the changes laid over it; the plan itself stays as it is."""
    for change in changes:
        match change:
            case PlanChange("household", _, Household() as household):
                plan = replace(plan, household=household)
            case PlanChange("way_out", _, WayOut() | None as adopted):
                plan = replace(plan, way_out=adopted)
            case PlanChange(kind, id, item) if kind in _LISTS:
                name = _LISTS[kind]
                lists: dict[str, Any] = {name: _with(getattr(plan, name), id, item)}
                plan = replace(plan, **lists)
    return plan


# By kind, the list of the plan that its items are in; entries are in the books.
_LISTS = {
    "account": "accounts", "category": "categories", "flow": "flows", "allowance": "allowances", "rate": "rates",
    "statement_check": "statement_checks", "what_if": "what_ifs", "goal": "goals", "reading": "readings",
    "statement": "statements", "payee_rule": "payee_rules",
}  # fmt: skip


def _with(items: tuple[Any, ...], id: str, item: Any) -> tuple[Any, ...]:
    if item is None:
        return tuple(present for present in items if present.id != id)
    if any(present.id == id for present in items):
        return tuple(item if present.id == id else present for present in items)
    return (*items, item)
