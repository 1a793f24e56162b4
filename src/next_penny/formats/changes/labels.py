"""What changes that were asked for are called afterwards: in the history, and beside undo."""

from collections.abc import Iterator, Sequence

from next_penny.core.dates.sentences import full_day
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
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
from next_penny.formats.changes.request import ChangeRequest

_VERBS = {"add": "Added", "remove": "Deleted", "spent": "Recorded", "received": "Recorded", "moved": "Recorded",
          "once": "Changed just this once"}  # fmt: skip


def label_of(before: Plan, changes: Sequence[PlanChange], requests: Sequence[ChangeRequest]) -> str:
    """A sentence without its full stop on what was asked for; of several the first, and how many more."""
    if not changes:
        return "Changed nothing"
    # What was needed beside it, such as a category, is not what was asked for.
    change = next((plan_change for plan_change in changes if plan_change.kind == requests[0].kind), changes[0])
    is_new_loan = requests[0].op == "borrowed" and change.id not in before.account_by_id
    verb = "Added" if is_new_loan else _VERBS.get(requests[0].op, "Changed")
    label = f"{verb} {_what(before, change)}"
    if len(requests) == 1 and (details := " ".join(_details(before, change, requests[0]))):
        label += f": {details}"
    others = {(request.kind, request.id) for request in requests} - {(requests[0].kind, requests[0].id)}
    totals_in = _other_currency(before, changes)
    if totals_in is None or requests[0].kind == "household":
        return with_others(label, len(others))
    # The first account's currency becomes the household's.
    return with_others(f"{label}, totals are in {totals_in}", len(others) - 1)


def _other_currency(before: Plan, changes: Sequence[PlanChange]) -> str | None:
    """The currency that becomes the household's; None where it stays."""
    households = [change.item for change in changes if isinstance(change.item, Household)]
    return next((item.currency for item in households if item.currency != before.household.currency), None)


def with_others(label: str, others: int) -> str:
    """What was done, and how much more with it."""
    return label if others == 0 else f"{label} and {others} more"


def _details(before: Plan, change: PlanChange, request: ChangeRequest) -> Iterator[str]:
    """The sum that was set or recorded, since when or for which date, and what else one date was set to."""
    value = request.value or {}
    item = change.item
    if isinstance(item, Entry):
        sums = [leg.amount for leg in item.legs if leg.account is not None]
        currencies = {before.account_by_id[leg.account].currency for leg in item.legs
                      if leg.account in before.account_by_id}  # fmt: skip
        if sums and len(currencies) == 1:
            yield f"{format_amount(max(map(abs, sums)), currencies.pop())} on {full_day(item.date)}"
        return
    amount = value.get("limit" if request.kind == "allowance" else "amount")
    account = before.account_by_id.get(_account_of(item) or "")
    if type(amount) is int and account is not None:
        yield format_amount(amount, account.currency)
    if request.start is not None:
        yield f"from {full_day(request.start)}"
    if request.nominal is not None:
        yield f"on {full_day(request.nominal)}"
        if value.get("left_out"):
            yield "is left out"
        moved = item.change_by_nominal.get(request.nominal.toordinal()) if isinstance(item, Flow) else None
        if moved is not None and moved.moved_to is not None and "moved_to" in value:
            yield f"is moved to {full_day(moved.moved_to)}"


def _account_of(item: object) -> str | None:
    match item:
        case Flow():
            return item.main_account
        case Allowance():
            return item.account
    return None


def _what(before: Plan, change: PlanChange) -> str:
    match change.item:
        case Household():
            return "the household's settings"
        case Entry() as entry:
            return f"the entry “{entry.payee}”" if entry.payee else "an entry"
        case None:
            lists: dict[str, Sequence[Account | Category | Flow | Allowance | Goal]] = {
                "account": before.accounts, "category": before.categories, "flow": before.flows,
                "allowance": before.allowances, "goal": before.goals,
            }  # fmt: skip
            names = {existing.id: existing.name for existing in lists.get(change.kind, ())}
            return f"“{names[change.id]}”" if change.id in names else f"the {change.kind}"
        case WayOut():
            return "the way out of debt"
        case StatementCheck():
            return "a statement check"
        case SavedWhatIf():
            return "a what-if"
        case BalanceReading():
            return "a true balance"
        case AccountStatement():
            return "a statement"
        case PayeeRule() as rule:
            return f"the rule for “{rule.contains}”"
        case Rate() as rate:
            return f"the rate of {rate.source} in {rate.target} on {full_day(rate.date)}"
        case BankLine() | BankAccount() | TableShape() | NoticePattern() | NoticeTaken():
            return "what came from a bank"
        case item:
            return f"“{item.name}”"
