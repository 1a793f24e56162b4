"""What is wrong with money lent: terms that nothing can follow, or that say two things at once."""

from collections.abc import Iterator

from next_penny.core.checks.common import TOO_LARGE, no_account
from next_penny.core.checks.of_flows.dates import rule_problem
from next_penny.core.dates.sentences import full_day
from next_penny.core.loans.check import contradictions, shape_problems
from next_penny.core.money import DECIMALS, LARGEST_AMOUNT
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.lent import LentTerms, Repays
from next_penny.core.problems import Loc, Problem

_HIGHEST_RATE = 100


def lent_problems(plan: Plan, account: Account) -> Iterator[Problem]:
    """What is wrong with how an account of money lent comes back, below its field `lent`."""
    lent = account.lent
    if lent is None:
        return
    if account.kind != "owed_to_us":
        yield Problem((), "Only an account of what is owed to you says how it comes back.", "not_used")
    if not lent.to.strip():
        yield Problem(("to",), "Say to whom it is lent.", "needed")
    yield from _into(plan, account, lent)
    if lent.terms is not None and lent.repays is not None:
        message = "It comes back by a schedule, or by an amount on certain days: choose one."
        yield Problem(("repays",), message, "contradiction")
    if not 0 <= lent.annual_rate <= _HIGHEST_RATE:
        yield Problem(("annual_rate",), f"A rate is from 0 to {_HIGHEST_RATE} percent a year.", "range")
    elif lent.annual_rate and lent.terms is not None:
        yield Problem(("annual_rate",), "The schedule has its own rate: leave this one 0.", "contradiction")
    if lent.repays is not None:
        for problem in _repays(lent.repays):
            yield problem.under("repays")
    if lent.terms is not None and account.currency in DECIMALS:
        problems = shape_problems(lent.terms) or contradictions(lent.terms, account.currency)
        for field, message, kind in problems:
            yield Problem(("terms", *field), message, kind)
        if account.opening.date < lent.terms.disbursed:
            message = f"It was lent on {full_day(lent.terms.disbursed)}: what is owed is known from that day on."
            yield Problem(("terms", "disbursed"), message, "range")


def _into(plan: Plan, account: Account, lent: LentTerms) -> Iterator[Problem]:
    loc: Loc = ("into_account",)
    if lent.into_account is None:
        if lent.terms is not None or lent.repays is not None:
            yield Problem(loc, "Say into which account it comes back.", "needed")
        return
    into = plan.account_by_id.get(lent.into_account)
    if into is None:
        yield Problem(loc, no_account(lent.into_account), "unknown_id")
    elif into.id == account.id or into.kind in ("owed_to_us", "asset", "loan"):
        yield Problem(loc, "It comes back into an account that holds money: choose another.", "not_possible")
    elif into.currency != account.currency:
        message = f"It comes back in {account.currency}: choose an account in that currency."
        yield Problem(loc, message, "other_currency")


def _repays(repays: Repays) -> Iterator[Problem]:
    if repays.amount <= 0:
        yield Problem(("amount",), "Say how much comes each time: more than nothing.", "range")
    elif repays.amount > LARGEST_AMOUNT:
        yield Problem(("amount",), TOO_LARGE, "range")
    for number, rule in enumerate(repays.rules):
        reason = rule_problem(rule, repays.start)
        if reason is not None:
            yield Problem(("rules", number), reason, "rule")
