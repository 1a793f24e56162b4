"""What is wrong with a plan, each problem a sentence at the field that it is about.

Shapes (types, unknown fields) are checked where documents are read; this checks what the fields mean together.
"""

from collections.abc import Iterable, Iterator

from next_penny.core.checks.accounts import account_problems
from next_penny.core.checks.allowances import allowance_problems
from next_penny.core.checks.common import unique_ids
from next_penny.core.checks.goals import goal_problems
from next_penny.core.checks.household import household_problems, rate_problems
from next_penny.core.checks.kept import (
    payee_rule_problems,
    reading_problems,
    statement_check_problems,
    way_out_problems,
    what_if_problems,
)
from next_penny.core.checks.of_flows.flows import flow_problems
from next_penny.core.checks.statements import statement_problems
from next_penny.core.plan.allowances import MOST_ALLOWANCES
from next_penny.core.plan.flows import MOST_REVISIONS, MOST_RULES
from next_penny.core.plan.kept.bank_lines import MOST_PAYEE_RULES
from next_penny.core.plan.kept.goals import MOST_GOALS
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import MOST_RATES
from next_penny.core.problems import Loc, Problem


def check(plan: Plan) -> list[Problem]:
    """All problems of a plan, in document order; an empty list means that it can be projected."""
    too_many = [*_too_many(plan)]
    if too_many:
        return too_many  # what else is wrong with so much would take long to find
    return [*household_problems(plan), *_lists(plan), *_merged(plan),
            *account_problems(plan), *flow_problems(plan), *allowance_problems(plan), *rate_problems(plan),
            *way_out_problems(plan), *statement_check_problems(plan), *what_if_problems(plan),
            *goal_problems(plan), *reading_problems(plan), *statement_problems(plan),
            *payee_rule_problems(plan)]  # fmt: skip


def _too_many(plan: Plan) -> Iterator[Problem]:
    """Limits within which everything asked of a plan is answered at once."""
    counts: list[tuple[Loc, int, int, str]] = [
        (("allowances",), len(plan.allowances), MOST_ALLOWANCES, "allowances"),
        (("rates",), len(plan.rates), MOST_RATES, "exchange rates"),
        (("goals",), len(plan.goals), MOST_GOALS, "goals"),
        (("payee_rules",), len(plan.payee_rules), MOST_PAYEE_RULES, "rules for payees"),
    ]
    for number, allowance in enumerate(plan.allowances):
        counts.append((("allowances", number, "revisions"), len(allowance.revisions), MOST_REVISIONS, "revisions"))
    for number, flow in enumerate(plan.flows):
        loc: Loc = ("flows", number)
        counts.append(((*loc, "revisions"), len(flow.revisions), MOST_REVISIONS, "revisions of one flow"))
        counts.append(((*loc, "changes"), len(flow.changes), MOST_REVISIONS, "changes of one flow"))
        counts.append(((*loc, "rules"), len(flow.rules), MOST_RULES, "rules of one flow"))
        for at, revision in enumerate(flow.revisions):
            rules = len(revision.rules or ())
            counts.append(((*loc, "revisions", at, "rules"), rules, MOST_RULES, "rules of one flow"))
    for where, count, most, what in counts:
        if count > most:
            yield Problem(where, f"These are {count:,} {what}: at most {most:,} are possible.", "too_many")


def _merged(plan: Plan) -> Iterator[Problem]:
    """What is merged is merged into another category of its kind, which is itself."""
    for number, category in enumerate(plan.categories):
        into = plan.category_by_id.get(category.merged_into or "")
        is_right = into is not None and into.kind == category.kind and into.merged_into is None
        if category.merged_into is not None and not is_right:
            message = f"“{category.name}” cannot be merged into “{category.merged_into}”: name another of its kind."
            yield Problem(("categories", number, "merged_into"), message, "unknown_id")


def _lists(plan: Plan) -> Iterator[Problem]:
    lists: dict[str, Iterable[str]] = {
        "accounts": (account.id for account in plan.accounts),
        "categories": (category.id for category in plan.categories),
        "flows": (flow.id for flow in plan.flows),
        "allowances": (allowance.id for allowance in plan.allowances),
        "goals": (goal.id for goal in plan.goals),
    }
    for name, ids in lists.items():
        yield from unique_ids(name, ids)
