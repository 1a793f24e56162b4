"""What is wrong with flows: their names, accounts, categories and parts."""

from collections.abc import Iterator

from next_penny.core.checks.common import no_account, property_problems
from next_penny.core.checks.of_flows.amounts import flow_amount_problems
from next_penny.core.checks.of_flows.dates import flow_date_problems, is_repayment
from next_penny.core.dates.calendar import LATEST
from next_penny.core.dates.sentences import full_day
from next_penny.core.money import DECIMALS, convert
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.flows import Flow, payment_id
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc, Problem

# A transfer to another currency arrives as no more than this.
_LARGEST_CONVERTED = 10**14


def flow_problems(plan: Plan) -> Iterator[Problem]:
    categories = {category.id for category in plan.categories}
    made = {payment_id(account.id): account for account, _ in plan.loans}
    made |= plan.maker_accounts
    for number, flow in enumerate(plan.flows):
        paid = made.get(flow.id)
        if paid is not None and not (flow.kind == "loan_payment" and flow.to_account == paid.id):
            message = f"The id “{flow.id}” is that of what “{paid.name}” makes of itself: choose another."
            yield Problem(("flows", number, "id"), message, "duplicate_id")
        for problem in (*_flow_accounts(plan, flow), *flow_date_problems(plan, flow), *flow_amount_problems(flow)):
            yield problem.under("flows", number)
        if flow.property is not None:
            yield from property_problems(plan, flow.property, ("flows", number, "property"))
        if flow.saves_for is not None and flow.saves_for.flow not in (None, *plan.flow_by_id):
            message = f"There is no flow “{flow.saves_for.flow}”."
            yield Problem(("flows", number, "saves_for", "flow"), message, "unknown_id")
        named: list[tuple[Loc, str | None]] = [(("category",), flow.category)]
        named += [(("splits", n, "category"), split.category) for n, split in enumerate(flow.splits)]
        named += [(("revisions", n, "category"), revision.category) for n, revision in enumerate(flow.revisions)]
        for loc, category in named:
            if category is not None and category not in categories:
                yield Problem(("flows", number, *loc), f"There is no category “{category}”.", "unknown_id")


_NEEDED_ACCOUNTS = {
    "income": {"to_account": "Say which account the money arrives on."},
    "bill": {"from_account": "Say which account pays."},
    "transfer": {
        "from_account": "Say which account the money leaves.",
        "to_account": "Say which account the money arrives on.",
    },
    "loan_payment": {"from_account": "Say which account pays.", "to_account": "Say which loan is paid."},
}


_ONE_SIDED = {
    "income": "Income names only the account that the money arrives on.",
    "bill": "A bill names only the account that pays.",
}


def _flow_accounts(plan: Plan, flow: Flow) -> Iterator[Problem]:
    if not flow.name.strip():
        yield Problem(("name",), "Give it a name.", "needed")
    needed = _NEEDED_ACCOUNTS[flow.kind]
    for field, account in (("from_account", flow.from_account), ("to_account", flow.to_account)):
        if account is None and field in needed:
            yield Problem((field,), needed[field], "needed")
        elif account is not None and field not in needed:
            yield Problem((field,), _ONE_SIDED[flow.kind], "not_used")
        elif account is not None and account not in plan.account_by_id:
            yield Problem((field,), no_account(account), "unknown_id")
    if flow.kind == "transfer" and flow.to_account is not None and flow.from_account == flow.to_account:
        yield Problem(("to_account",), "A transfer goes to another account: choose a different one.", "same_account")
    elif flow.kind == "transfer":
        yield from _transfer_rate(plan, flow)
    yield from _revised_accounts(plan, flow)
    yield from _loan_payment(plan, flow)
    for number, change in enumerate(flow.changes if is_repayment(plan, flow) else ()):
        if change.amount is not None:
            message = "What comes back is what was agreed: change that with the account."
            yield Problem(("changes", number, "amount"), message, "not_possible")
    if flow.saves_for is not None and flow.kind != "transfer":
        yield Problem(("saves_for",), "Only a transfer sets money aside.", "not_used")
    yield from _split_accounts(plan, flow)


def _split_accounts(plan: Plan, flow: Flow) -> Iterator[Problem]:
    for number, split in enumerate(flow.splits):
        loc: Loc = ("splits", number, "account")
        if (split.account is None) == (split.category is None):
            yield Problem(("splits", number), "A part goes to one category or to one account.", "needed")
        elif split.account is not None and split.account not in plan.account_by_id:
            yield Problem(loc, no_account(split.account), "unknown_id")
        elif split.account is not None and split.account in (flow.from_account, flow.to_account):
            yield Problem(loc, "A part goes to another account than the flow's own.", "same_account")
        elif split.account is not None:
            main = plan.account_by_id.get((flow.to_account if flow.kind == "income" else flow.from_account) or "")
            yield from _no_rate(plan, loc, main, plan.account_by_id[split.account])


def _loan_payment(plan: Plan, flow: Flow) -> Iterator[Problem]:
    """A loan's payment takes its dates and amounts from the loan, and there is one for each."""
    if flow.kind != "loan_payment":
        return
    loan = plan.account_by_id.get(flow.to_account or "")
    if loan is not None and loan.loan is None:
        yield Problem(("to_account",), "Choose a loan.", "not_possible")
    paying = [
        one_flow
        for one_flow in plan.flows
        if one_flow.kind == "loan_payment" and one_flow.to_account == flow.to_account
    ]
    if loan is not None and paying[0] is not flow:
        yield Problem(("to_account",), f"“{paying[0].name}” pays this loan already.", "duplicate_id")
    for number, change in enumerate(flow.changes):
        if change.amount is not None:
            message = "A loan's payment is what its terms say: add an extra to the loan instead."
            yield Problem(("changes", number, "amount"), message, "not_possible")
    for name in ("rules", "dates", "splits", "seasonal", "growth", "revisions", "count", "until"):
        if getattr(flow, name):
            yield Problem((name,), "A loan's payment takes its dates and amounts from the loan.", "not_used")


def _revised_accounts(plan: Plan, flow: Flow) -> Iterator[Problem]:
    """A revision may move a flow to another account of the same currency, which is open by then."""
    for number, revision in enumerate(flow.revisions):
        for field in ("from_account", "to_account"):
            named = getattr(revision, field)
            if named is None:
                continue
            loc: Loc = ("revisions", number, field)
            existing, account = (plan.account_by_id.get(id or "") for id in (getattr(flow, field), named))
            if account is None:
                yield Problem(loc, no_account(named), "unknown_id")
            elif existing is None:
                yield Problem(loc, _ONE_SIDED[flow.kind], "not_used")
            elif existing.currency != account.currency:
                yield Problem(loc, f"Choose an account in {existing.currency}, as it was before.", "other_currency")
            elif account.opening.date > revision.start:
                message = f"“{account.name}” opens on {full_day(account.opening.date)}: choose that day or a later one."
                yield Problem(loc, message, "not_open")
        if flow.kind == "transfer" and revision.moves:
            then = flow.on(revision.start)  # by bisection
            if then.from_account == then.to_account:
                message = "A transfer goes to another account: choose a different one."
                yield Problem(("revisions", number, "to_account"), message, "same_account")


def _transfer_rate(plan: Plan, flow: Flow) -> Iterator[Problem]:
    source, target = (plan.account_by_id.get(id or "") for id in (flow.from_account, flow.to_account))
    if not source or not target or source.currency == target.currency:
        return
    if missing := list(_no_rate(plan, ("to_account",), source, target)):
        yield from missing
        return
    amounts = [revision.base or 0 for revision in flow.revisions] + [change.amount or 0 for change in flow.changes]
    largest = max([flow.base_amount, *amounts, *(amount for _, amount in flow.seasonal)])
    if {source.currency, target.currency} <= DECIMALS.keys():
        best = plan.highest_rate(source.currency, target.currency)
        if convert(largest, best, source.currency, target.currency) > _LARGEST_CONVERTED:
            yield Problem(("amount",), "At the exchange rates given, too much to be counted would arrive.", "range")


def _no_rate(plan: Plan, loc: Loc, source: Account | None, target: Account) -> Iterator[Problem]:
    """That money cannot be moved between two accounts, since no exchange rate is known."""
    if source is None or source.currency == target.currency:
        return
    if plan.rate(source.currency, target.currency, LATEST) is None:
        message = f"There is no exchange rate from {source.currency} to {target.currency} yet: add one."
        yield Problem(loc, message, "no_rate")
