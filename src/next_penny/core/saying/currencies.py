"""The currency that a sentence names beside its amount: by its code, or by the sign that an amount in it has."""

import re

from next_penny.core.money import currency_sign
from next_penny.core.plan.plan import Plan


def taken_out(text: str, plan: Plan) -> tuple[str, str | None]:
    """A sentence without the currency beside its amount, and that currency; None where none of the household's is.

    The sign of the household's own currency stays: it may be that of an account's in any other.
    """
    held = {each.currency for each in plan.accounts} | {plan.household.currency}
    for currency in sorted(held):
        signs = {currency, *({currency_sign(currency)} if currency != plan.household.currency else ())}
        names = "|".join(re.escape(each) for each in sorted(signs))
        mark = rf"(?<![^\s])(?:{names})\s?(?=[\d.,])|(?<=\d)\s?(?:{names})(?!\w)"
        rest, count = re.subn(mark, " ", text, count=1, flags=re.IGNORECASE)
        if count:
            return rest, currency
    return text, None
