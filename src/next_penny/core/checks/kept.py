"""What is wrong with what is kept beside a plan: the way out of debt, statement checks, true balances, what-ifs."""

from collections.abc import Iterator

from next_penny.core.checks.common import no_account, unique_ids
from next_penny.core.dates.sentences import full_day
from next_penny.core.plan.kept.what_ifs import MOST_WHAT_IFS
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Problem


def way_out_problems(plan: Plan) -> Iterator[Problem]:
    adopted = plan.way_out
    if adopted is None:
        return
    for place, expected in enumerate(adopted.expected):
        if expected.account not in plan.account_by_id:
            yield Problem(("way_out", "expected", place, "account"), no_account(expected.account), "unknown_id")
    for place, id in enumerate(adopted.asked.debts or ()):
        if id not in plan.account_by_id:
            yield Problem(("way_out", "debts", place), no_account(id), "unknown_id")
    payer = adopted.asked.from_account
    if payer is not None and payer not in plan.account_by_id:
        yield Problem(("way_out", "from_account"), no_account(payer), "unknown_id")


def statement_check_problems(plan: Plan) -> Iterator[Problem]:
    seen: set[str] = set()
    for place, check in enumerate(plan.statement_checks):
        account = plan.account_by_id.get(check.account)
        if account is None or account.loan is None:
            message = f"There is no loan “{check.account}”."
            yield Problem(("statement_checks", place, "account"), message, "unknown_id")
        if check.id in seen:
            message = f"There is a statement of {full_day(check.statement.date)} of this loan already."
            yield Problem(("statement_checks", place, "date"), message, "duplicate_id")
        seen.add(check.id)


def reading_problems(plan: Plan) -> Iterator[Problem]:
    seen: set[str] = set()
    for place, reading in enumerate(plan.readings):
        if reading.account not in plan.account_by_id:
            yield Problem(("readings", place, "account"), no_account(reading.account), "unknown_id")
        if reading.id in seen:
            message = f"There is a true balance of {full_day(reading.date)} of this account already."
            yield Problem(("readings", place, "date"), message, "duplicate_id")
        seen.add(reading.id)


def payee_rule_problems(plan: Plan) -> Iterator[Problem]:
    """Rules for what is new name a category and, if any, an account that there are."""
    yield from unique_ids("payee_rules", (rule.id for rule in plan.payee_rules))
    for place, rule in enumerate(plan.payee_rules):
        if rule.category not in plan.category_by_id:
            message = f"There is no category “{rule.category}”."
            yield Problem(("payee_rules", place, "category"), message, "unknown_id")
        if rule.account is not None and rule.account not in plan.account_by_id:
            yield Problem(("payee_rules", place, "account"), no_account(rule.account), "unknown_id")


def what_if_problems(plan: Plan) -> Iterator[Problem]:
    if len(plan.what_ifs) > MOST_WHAT_IFS:
        message = f"These are {len(plan.what_ifs):,} what-ifs: at most {MOST_WHAT_IFS} are possible."
        yield Problem(("what_ifs",), message, "too_many")
    names: set[str] = set()
    for place, what_if in enumerate(plan.what_ifs):
        name = " ".join(what_if.name.lower().split())
        if not name:
            yield Problem(("what_ifs", place, "name"), "Give the what-if a name.", "needed")
        elif name in names:
            message = f"There is a what-if “{what_if.name}” already: choose another name."
            yield Problem(("what_ifs", place, "name"), message, "duplicate_name")
        names.add(name)
    yield from unique_ids("what_ifs", (saved_what_if.id for saved_what_if in plan.what_ifs))
