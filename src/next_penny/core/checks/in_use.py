"""Why something cannot be taken out of a plan: what uses it."""

from next_penny.core.plan.plan import Plan


def why_in_use(plan: Plan, kind: str, id: str) -> str | None:
    """Why an account or category cannot be taken out: what uses it; None when nothing of the plan does."""
    if kind == "account":
        users = [flow.name for flow in plan.flows if id in flow.account_ids]
        users += [account.name for account in plan.accounts if id in account.named_accounts]
        users += [allowance.name for allowance in plan.allowances if allowance.account == id]
        users += [flow.name for flow in plan.flows if flow.property == id]
        users += [goal.name for goal in plan.goals if id in goal.accounts]
        users += (
            ["its statement checks"]
            if any(statement_check.account == id for statement_check in plan.statement_checks)
            else []
        )
        users += ["its true balances"] if any(reading.account == id for reading in plan.readings) else []
        users += ["its statements"] if any(statement.account == id for statement in plan.statements) else []
        users += [f"{rule.contains}: its rule" for rule in plan.payee_rules if rule.account == id]
        users += ["the way out of debt"] if plan.way_out is not None and id in plan.way_out.account_ids else []
    elif kind == "category":
        users = [flow.name for flow in plan.flows if id in flow.category_ids]
        users += [allowance.name for allowance in plan.allowances if id in allowance.categories]
        users += [goal.name for goal in plan.goals if id in goal.categories]
        users += [category.name for category in plan.categories if category.merged_into == id]
        users += [f"{rule.contains}: its rule" for rule in plan.payee_rules if rule.category == id]
    else:
        users = [flow.name for flow in plan.flows if flow.id != id and flow.saves_for and flow.saves_for.flow == id]
    if not users:
        return None
    named = ", ".join(f"“{name}”" for name in users[:3]) + (f" and {len(users) - 3} more" if len(users) > 3 else "")
    return f"This {kind} is used by {named}: move or delete {'it' if len(users) == 1 else 'these'} first."
