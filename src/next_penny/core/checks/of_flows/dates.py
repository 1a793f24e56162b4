"""What is wrong with the dates of flows: rules that give none, ends before starts, two of one day."""

from collections import Counter
from collections.abc import Iterator, Sequence
from datetime import date
from functools import lru_cache

from next_penny.core.dates.calendar import LATEST, widening
from next_penny.core.dates.recurrence import rule_days
from next_penny.core.dates.rules import RuleError, parse_rule
from next_penny.core.dates.sentences import rule_sentence
from next_penny.core.plan.flows import Flow, repayment_id
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc, Problem


def is_repayment(plan: Plan, flow: Flow) -> bool:
    """Whether a flow is the one by which money lent comes back: its dates and amounts are that account's."""
    account = plan.account_by_id.get(flow.from_account or "")
    return account is not None and account.kind == "owed_to_us" and flow.id == repayment_id(account.id)


def flow_date_problems(plan: Plan, flow: Flow) -> Iterator[Problem]:
    if not flow.rules and not flow.dates and flow.kind != "loan_payment" and not is_repayment(plan, flow):
        yield Problem(("rules",), "Say when it happens: how it repeats, or on which dates.", "needed")
    if flow.until is not None and flow.start is not None and flow.until < flow.start:
        yield Problem(
            ("until",), "It ends before it starts: choose a later end or an earlier start.", "end_before_start"
        )
        return
    if flow.until is not None and flow.count is not None:
        yield Problem(("count",), "It ends on a date or after a number of times, not both.", "two_ends")
    known = [account for account in flow.first_account_ids if account in plan.account_by_id]
    start = flow.start or (plan.opened(known) if known else None)
    rule_sets: list[tuple[Loc, Sequence[str], date | None]] = [((), flow.rules, start)]
    rule_sets += [(("revisions", n), revision.rules or (), revision.start) for n, revision in enumerate(flow.revisions)]
    for loc, rules, begin in rule_sets:
        for number, text in enumerate(rules):
            message = rule_problem(text, begin, flow.until if not loc else None)
            if message:
                yield Problem((*loc, "rules", number), message, "rule")
    for name, nominals in (
        ("changes", [change.nominal for change in flow.changes]),
        ("revisions", [revision.start for revision in flow.revisions]),
    ):
        for day, times in Counter(nominals).items():
            if times > 1:
                yield Problem((name,), f"There are two {name} for {day}: one date has one.", "duplicate_date")


@lru_cache(maxsize=1024)  # asked again for every flow at each change, most of them untouched
def rule_problem(text: str, start: date | None, until: date | None = None) -> str | None:
    """Why a rule cannot be used: it cannot be read, or it gives no date from `start` on; None when it can."""
    try:
        rule = parse_rule(text)
    except RuleError as error:
        return str(error)
    if start is None:
        return None
    first, last = start.toordinal(), min(until or LATEST, LATEST).toordinal()
    for end_of_look in widening(first, last):
        if rule_days(rule, start, first, end_of_look):
            return None
    end = " before its end" if until is not None or rule.until is not None else ""
    return f"“{rule_sentence(rule, start)}” never gives a date{end}: choose a day that exists."
