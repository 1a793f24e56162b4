"""What depends on a balance, told in a sentence from the facts that its movement carries."""

from datetime import date
from decimal import Decimal

from next_penny.core.balances.making import Facts
from next_penny.core.dates.sentences import short_day
from next_penny.core.money import format_amount, percent_text, rounded_quotient
from next_penny.core.plan import Account

_HOW = {"statement": "in full", "minimum": "its minimum", "fixed": "a fixed amount", "set": "as set just this once"}


def made_sentence(account: Account, source: str, facts: Facts) -> str:
    """Why a movement that a rule made is what it is, without a full stop."""
    match source:
        case "card_payment":
            return _payment(account, facts)
        case "card_interest":
            return _interest(account, facts)
        case "savings_interest":
            return _credit(account, facts)
        case "line_draw":
            return f"“{account.name}” lends the {_money(account, facts.base)} that is missing to the floor, if it can"
        case _:
            bound = "less than" if facts.how == "below" else "more than"
            return f"Kept between two amounts: the day would end with {bound} {_money(account, facts.base)}"


def minimum_told(account: Account, owed: int, interest: int) -> str:
    """How a statement's minimum comes about."""
    assert account.card is not None
    asked = account.card.minimum
    told = f"{percent_text(asked.percent)} of {_money(account, owed)}"
    if asked.plus_interest:
        told += f" and {_money(account, interest)} interest"
    return f"{told}, at least {_money(account, asked.floor)}, and never more than is owed."


def _payment(account: Account, facts: Facts) -> str:
    told = f"Statement of {_day(facts.first)} over {_money(account, facts.base)}, {_HOW[facts.how]}"
    return f"{told}, less {_money(account, facts.paid)} that came in since" if facts.paid else told


def _interest(account: Account, facts: Facts) -> str:
    if facts.how:
        return f"Interest of the cycle that closes on {_day(facts.last)}, as set just this once"
    days = facts.last - facts.first + 1
    owed = _money(account, rounded_quotient(facts.base, days))
    rates = " and ".join(percent_text(rate) for rate in facts.rates)
    return f"{_days(facts)}: {owed} owed on average, at {rates} a year"


def _credit(account: Account, facts: Facts) -> str:
    if facts.how:
        return f"Interest for {date.fromordinal(facts.first):%B}, as set just this once"
    terms = account.savings
    assert terms is not None
    held = _money(account, rounded_quotient(facts.base, facts.last - facts.first + 1))
    rate = f"a yield of {percent_text(terms.apy)}" if terms.apy is not None else percent_text(terms.rate or Decimal(0))
    return f"{_days(facts)}: {held} on average, at {rate} a year"


def _days(facts: Facts) -> str:
    days = facts.last - facts.first + 1
    return f"{days} days from {_day(facts.first)} to {_day(facts.last)}"


def _day(day: int) -> str:
    return short_day(date.fromordinal(day))


def _money(account: Account, amount: int) -> str:
    return format_amount(amount, account.currency)
