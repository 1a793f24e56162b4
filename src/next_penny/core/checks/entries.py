"""What is wrong with an entry: legs that name nothing known, or that do not sum to zero."""

from collections import defaultdict

from next_penny.core.checks.common import TOO_LARGE, no_account
from next_penny.core.money import DECIMALS, LARGEST_AMOUNT, format_amount
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Problem


def check_entry(plan: Plan, entry: Entry) -> list[Problem]:
    """The problems of one recorded entry: legs that name nothing known, or that do not sum to zero."""
    problems: list[Problem] = []
    categories = plan.category_by_id
    sums: defaultdict[str | None, int] = defaultdict(int)
    for number, leg in enumerate(entry.legs):
        if (leg.account is None) == (leg.category is None):
            problems.append(Problem(("legs", number), "A leg is on one account or on one category.", "needed"))
        elif leg.account is not None and leg.account not in plan.account_by_id:
            problems.append(Problem(("legs", number, "account"), no_account(leg.account), "unknown_id"))
        elif leg.category is not None and leg.category not in categories:
            problems.append(
                Problem(("legs", number, "category"), f"There is no category “{leg.category}”.", "unknown_id")
            )
        if abs(leg.amount) > LARGEST_AMOUNT:
            problems.append(Problem(("legs", number, "amount"), TOO_LARGE, "range"))
        account = plan.account_by_id.get(leg.account or "")
        sums[account.currency if account else None] += leg.amount
    if entry.flow is not None and entry.flow not in plan.flow_by_id:
        problems.append(Problem(("flow",), f"There is no flow “{entry.flow}”.", "unknown_id"))
    if entry.part and (entry.flow is None or entry.nominal is None):
        problems.append(Problem(("part",), "A part is of an occurrence: name its flow and its nominal date.", "needed"))
    if not any(leg.account for leg in entry.legs):
        problems.append(Problem(("legs",), "An entry moves money on at least one account.", "needed"))
    currencies = {currency for currency in sums if currency is not None}
    if len(currencies) <= 1 and (left := sum(sums.values())):
        currency = next(iter(currencies), plan.household.currency)
        # An unknown currency is a problem of its own, and has no way of being written.
        over = f"; they leave {format_amount(left, currency)} over" if currency in DECIMALS else ""
        problems.append(Problem(("legs",), f"The legs must sum to zero{over}.", "unbalanced"))
    return problems
