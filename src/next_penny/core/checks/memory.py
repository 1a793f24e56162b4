"""What is wrong with a memory of what was expected, as a document has it.

It may name flows, categories and accounts that are no more: it is of the past.
"""

from collections.abc import Iterator

from next_penny.core.checks.common import no_account
from next_penny.core.dates.sentences import full_day
from next_penny.core.plan.memory import Expected, Key, Memory
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Problem


def memory_problems(plan: Plan, memory: Memory) -> Iterator[Problem]:
    """Each row once, its legs balanced, a period no longer than a month."""
    seen: set[Key] = set()
    for number, row in enumerate(memory.rows):
        if row.key in seen:
            message = f"What was expected of “{row.source}” for {full_day(row.nominal)} is there twice."
            yield Problem(("expected", number, "nominal"), message, "duplicate_id")
        seen.add(row.key)
        if row.is_allowance and not 0 <= (row.lands - row.nominal).days <= 31:
            message = "A period of an allowance ends within a month after it begins."
            yield Problem(("expected", number, "lands"), message, "range")
        if not _is_balanced(plan, row):
            yield Problem(
                ("expected", number, "legs"), "The legs move money on an account, and sum to zero.", "unbalanced"
            )
    yield from bank_line_problems(plan, memory)


def bank_line_problems(plan: Plan, memory: Memory) -> Iterator[Problem]:
    """Lines of a bank are of accounts that there are."""
    for number, line in enumerate(memory.bank_lines):
        if line.account not in plan.account_by_id:
            yield Problem(("bank_lines", number, "account"), no_account(line.account), "unknown_id")


def _is_balanced(plan: Plan, row: Expected) -> bool:
    accounts = [plan.account_by_id.get(leg.account) for leg in row.legs if leg.account is not None]
    if row.legs and not accounts:
        return False
    currencies = {account.currency if account is not None else None for account in accounts}
    return len(currencies) != 1 or None in currencies or sum(leg.amount for leg in row.legs) == 0
