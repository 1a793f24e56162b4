"""What depends on a balance, told in a sentence from the facts that its movement carries; each without a full stop."""

from datetime import date
from decimal import Decimal

from next_penny.core.accounts.generated import Facts
from next_penny.core.dates.sentences import short_day
from next_penny.core.money import format_amount, percent_text, rounded_quotient
from next_penny.core.plan.accounts import Account

_HOW = {"statement": "in full", "minimum": "its minimum", "fixed": "a fixed amount", "set": "as set just this once"}


def minimum_told(account: Account, owed: int, interest: int) -> str:
    """How a statement's minimum comes about."""
    assert account.card is not None
    asked = account.card.minimum
    wording = f"{percent_text(asked.percent)} of {_money(account, owed)}"
    if asked.plus_interest:
        wording += f" and {_money(account, interest)} interest"
    return f"{wording}, at least {_money(account, asked.floor)}, and never more than is owed."


def payment_sentence(account: Account, facts: Facts) -> str:
    """Why a card is paid what it is."""
    wording = f"Statement of {_day(facts.first)} over {_money(account, facts.base)}, {_HOW[facts.how]}"
    return f"{wording}, less {_money(account, facts.paid)} that came in since" if facts.paid else wording


def charge_sentence(account: Account, facts: Facts) -> str:
    """Why a card is charged what it is."""
    assert account.card is not None
    if facts.how:
        return f"Interest of the cycle that closes on {_day(facts.last)}, as set just this once"
    days = facts.last - facts.first + 1
    owed = _money(account, rounded_quotient(facts.base, days))
    in_force = dict.fromkeys(span.annual_rate for span in account.card.rates_between(facts.first, facts.last))
    rates = " and ".join(percent_text(rate) for rate in in_force)
    return f"{_days(facts)}: {owed} owed on average, at {rates} a year"


def credit_sentence(account: Account, facts: Facts) -> str:
    """Why savings are credited with what they are."""
    if facts.how:
        return f"Interest for {date.fromordinal(facts.first):%B}, as set just this once"
    terms = account.savings
    assert terms is not None
    average = _money(account, rounded_quotient(facts.base, facts.last - facts.first + 1))
    rate = f"a yield of {percent_text(terms.apy)}" if terms.apy is not None else percent_text(terms.rate or Decimal(0))
    return f"{_days(facts)}: {average} on average, at {rate} a year"


def draw_sentence(account: Account, facts: Facts) -> str:
    """Why a line lends what it does."""
    return f"“{account.name}” lends the {_money(account, facts.base)} that is missing to the floor, if it can"


def sweep_sentence(account: Account, facts: Facts) -> str:
    """Why a sweep moves what it does."""
    bound = "less than" if facts.how == "below" else "more than"
    return f"Kept between two amounts: the day would end with {bound} {_money(account, facts.base)}"


def _days(facts: Facts) -> str:
    days = facts.last - facts.first + 1
    return f"{days} days from {_day(facts.first)} to {_day(facts.last)}"


def _day(day: int) -> str:
    return short_day(date.fromordinal(day))


def _money(account: Account, amount: int) -> str:
    return format_amount(amount, account.currency)
