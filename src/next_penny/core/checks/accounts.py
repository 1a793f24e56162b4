"""What is wrong with accounts and with the loans on them."""

from collections.abc import Iterator
from datetime import date

from next_penny.core.accounts.parts import part_problems
from next_penny.core.checks.common import no_account, property_problems, unknown_currency
from next_penny.core.checks.lent import lent_problems
from next_penny.core.checks.of_flows.dates import rule_problem
from next_penny.core.dates.sentences import full_day
from next_penny.core.loans.check import contradictions, shape_problems
from next_penny.core.money import DECIMALS, format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.problems import Loc, Problem


def account_problems(plan: Plan) -> Iterator[Problem]:
    for number, account in enumerate(plan.accounts):
        loc: Loc = ("accounts", number)
        if not account.name.strip():
            yield Problem((*loc, "name"), "Give the account a name.", "needed")
        if account.currency not in DECIMALS:
            yield Problem((*loc, "currency"), unknown_currency(account.currency), "unknown_currency")
        elif account.cushion < account.floor:
            floor, cushion = (format_amount(amount, account.currency) for amount in (account.floor, account.cushion))
            yield Problem(
                (*loc, "cushion"), f"The cushion ({cushion}) is below the floor ({floor}): make it {floor} or more.",
                "cushion_below_floor",
            )  # fmt: skip

        if account.closed is not None and account.closed < account.opening.date:
            message = f"It closes before it begins on {full_day(account.opening.date)}: choose a later day."
            yield Problem((*loc, "closed"), message, "range")
        yield from _loan_account(plan, number, account)
        for problem in lent_problems(plan, account):
            yield problem.under(*loc, "lent")
        for problem in part_problems(plan, account, rule_problem):
            yield problem.under(*loc)


def _loan_account(plan: Plan, number: int, account: Account) -> Iterator[Problem]:
    loc: Loc = ("accounts", number, "loan")
    if account.loan is None:
        if account.kind == "loan":
            yield Problem(loc, "Give the loan's terms.", "needed")
        return
    if account.kind != "loan":
        yield Problem(loc, "Only an account of the kind loan has a loan's terms.", "not_used")
    if account.currency not in DECIMALS:
        return
    problems = shape_problems(account.loan)
    # A loan that its payments do not pay off goes on, and says so: that is no error of the plan.
    for field, message, kind in problems or contradictions(account.loan, account.currency):
        yield Problem((*loc, *field), message, kind)
    yield from _years_before(loc, account.loan, account.opening.date)
    if account.opening.date < account.loan.disbursed:
        message = f"The loan is paid out on {full_day(account.loan.disbursed)}: what is owed is known from that day on."
        yield Problem(("accounts", number, "opening", "date"), message, "range")
    if account.opening.balance > 0:
        yield Problem(("accounts", number, "opening", "balance"), "What is owed is a negative balance.", "range")
    if (owned := account.loan.property) is not None:
        yield from property_problems(plan, owned, (*loc, "property"))
    for name in ("from_account", "escrow_account"):
        id = getattr(account.loan, name)
        named = plan.account_by_id.get(id or "")
        if id is not None and named is None:
            yield Problem((*loc, name), no_account(id), "unknown_id")
        elif named is not None and (named.is_debt or named.currency != account.currency):
            message = f"Choose an account in {account.currency} that is not a debt."
            yield Problem((*loc, name), message, "other_currency")


def _years_before(loc: Loc, terms: LoanTerms, opened: date) -> Iterator[Problem]:
    for at, before in enumerate(terms.years_before):
        if before.year > opened.year:
            message = f"What is paid from {opened} on is recorded here."
            yield Problem((*loc, "years_before", at, "year"), message, "range")
