"""What an entry, recorded or expected, counts as: income, spending, saved, repaid, borrowed (docs/rules.md).

Amounts come out in minor units of the household's currency, each leg converted at its day and rounded once.
"""

from collections.abc import Callable, Collection, Iterable, Sequence
from datetime import date

from next_penny.core.plan.accounts import Account
from next_penny.core.plan.categories import CategoryKind
from next_penny.core.plan.entries import Leg, first_account
from next_penny.core.plan.plan import Plan

_LENT = ("loan", "credit_line")


def converted(plan: Plan, amount: int, account: str | None, day: date) -> int:
    """An amount of an account's currency in the household's; as it is where there is no such account."""
    existing = plan.account_by_id.get(account or "")
    return amount if existing is None else plan.converted(amount, existing.currency, plan.household.currency, day)


def kind_of(plan: Plan, leg: Leg, otherwise: CategoryKind) -> CategoryKind:
    """Whether a category's leg is income or spending; without a category it is `otherwise`."""
    category = plan.category_by_id.get(plan.merged(leg.category) or "")
    return category.kind if category is not None else otherwise


def on_categories(
    plan: Plan, legs: Sequence[Leg], day: date, kind: CategoryKind, categories: Collection[str],
    otherwise: CategoryKind | None = None,
) -> int:  # fmt: skip
    """What came in, or was spent, in some categories, as they are called now, or in all. Credits reduce spending.

    otherwise: what a leg without a category is; else its sign says so.
    """
    account = first_account(legs)
    sum = 0
    for leg in legs:
        if leg.account is not None:
            continue
        if kind_of(plan, leg, otherwise or ("income" if leg.amount < 0 else "expense")) != kind:
            continue
        if not categories or plan.merged(leg.category) in categories:
            sum += converted(plan, leg.amount, account, day)
    return -sum if kind == "income" else sum


Measured = Iterable[tuple[Account, Leg]]


def _on_accounts(plan: Plan, legs: Iterable[Leg]) -> list[tuple[Account, Leg]]:
    return [(plan.account_by_id[leg.account], leg) for leg in legs if leg.account in plan.account_by_id]


def _against(plan: Plan, day: date, counted: Measured, is_other: Callable[[Account, Account], bool],
             all: Measured) -> int:  # fmt: skip
    """The sum of legs that have one of the opposite sign on another account that `is_other`."""
    return sum(
        converted(plan, leg.amount, account.id, day)
        for account, leg in counted
        if any(other.amount * leg.amount < 0 and is_other(where, account) for where, other in all)
    )


def saved(plan: Plan, legs: Sequence[Leg], day: date, accounts: Collection[str] = ()) -> int:
    """What went onto savings, less what left them; of named accounts, from and to others that are no debt."""
    all = _on_accounts(plan, legs)
    if accounts:
        named = [(account, leg) for account, leg in all if account.id in accounts]
        return _against(plan, day, named, lambda other, own: other.id != own.id and not other.is_debt, all)
    savings = [(account, leg) for account, leg in all if account.kind == "savings"]
    return _against(plan, day, savings, lambda other, own: not other.is_debt and other.kind != "savings", all)


def repaid(plan: Plan, legs: Sequence[Leg], day: date, accounts: Collection[str] = ()) -> int:
    """What debts were repaid from accounts that are none; of named debts or all."""
    all = _on_accounts(plan, legs)
    paid = [(account, leg) for account, leg in all
            if account.is_debt and leg.amount > 0 and (not accounts or account.id in accounts)]  # fmt: skip
    return _against(plan, day, paid, lambda other, own: not other.is_debt, all)


def borrowed(plan: Plan, legs: Sequence[Leg], day: date) -> int:
    """What was borrowed on loans and lines."""
    all = _on_accounts(plan, legs)
    lent = [(account, leg) for account, leg in all if account.kind in _LENT and leg.amount < 0]
    return -_against(plan, day, lent, lambda other, own: not other.is_debt, all)
