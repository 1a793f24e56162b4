"""Which part a debt is."""

from next_penny.core.payoff.parts.bare import BarePart
from next_penny.core.payoff.parts.card import CardPart
from next_penny.core.payoff.parts.loan import LoanPart
from next_penny.core.payoff.parts.part import DebtPart
from next_penny.core.plan.accounts import Account


def part_of(account: Account) -> DebtPart:
    """What an account that is owed is to the way out."""
    if account.loan is not None:
        return LoanPart(account, account.loan)
    return CardPart(account, account.card) if account.card is not None else BarePart(account)
