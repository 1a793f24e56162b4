"""The currency that a sentence names beside its amount: by its code, or by the sign that an amount in it has."""

import re

from next_penny.core.money import DECIMALS, currency_sign, currency_words
from next_penny.core.plan.plan import Plan
from next_penny.core.saying.phrases import NotUnderstood

# A code as codes are written, before or after an amount.
_CODE = re.compile(r"(?<!\S)([A-Z]{3})\s?(?=\d)|(?<=\d)\s?([A-Z]{3})(?!\w)")


def taken_out(text: str, plan: Plan) -> tuple[str, str | None]:
    """A sentence without the currency beside its amount, and that currency; None where none of the household's is.

    Raises NotUnderstood for the code of another. A bare sign is the household's own: in Canada “$12” is of its
    dollars, whatever else is held.
    """
    home = plan.household.currency
    own = currency_sign(home)
    bare = own[-1:] if not own.isalnum() else ""
    if bare and len(own) > 1:
        text = re.sub(rf"(?<!\S)(?:{re.escape(own)}|{re.escape(bare)})\s?(?=\d)", "", text)
    ours = {account.currency for account in plan.accounts} | {home}
    for before, after in _CODE.findall(text):
        if (code := before or after) in DECIMALS and code not in ours:
            raise NotUnderstood(code)
    for currency in sorted(ours):
        signs = {currency, currency_sign(currency)} - {own, bare}
        names = "|".join(re.escape(sign) for sign in sorted(signs, key=len, reverse=True))
        mark = rf"(?<!\S)(?:{names})\s?(?=[\d.,])|(?<=\d)\s?(?:{names})(?!\w)"
        rest, count = re.subn(mark, " ", text, count=1, flags=re.IGNORECASE) if names else (text, 0)
        if count:
            return rest, currency
    return _without_words(text, home, ours)


def _without_words(text: str, home: str, ours: set[str]) -> tuple[str, str | None]:
    """A sentence without “dollars” after its amount; a word that several currencies share is the household's own."""
    for currency in (home, *sorted(ours - {home})):
        words = "|".join(map(re.escape, sorted(currency_words(currency), key=len, reverse=True)))
        rest, count = re.subn(rf"(?<=\d)\s(?:{words})(?!\w)", "", text, count=1, flags=re.IGNORECASE)
        if count:
            return rest, None if currency == home else currency
    return text, None
