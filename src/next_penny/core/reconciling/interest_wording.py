"""The check of a bank's interest, in sentences."""

from collections.abc import Sequence

from next_penny.core.dates.sentences import full_day, joined
from next_penny.core.money import format_amount
from next_penny.core.plan.terms.savings import SavingsTerms
from next_penny.core.reconciling.interest import Counted, Otherwise, Statement

_BASES = {"365": "a year of 365 days", "actual": "the days of the year", "360": "a year of 360 days"}


def way_of_counting(terms: SavingsTerms) -> str:
    """A way of counting in words."""
    compounding = "interest on interest each day" if terms.compounding == "daily" else "no interest on interest"
    earn = "money earns from its day on" if terms.movements_earn == "same_day" else "money earns from the next day on"
    rounding = "rounded when it is credited" if terms.rounding == "at_credit" else "rounded each day"
    return f"{_BASES[terms.basis]}, {compounding}, {earn}, {rounding}"


def verdict(statement: Statement, counts: Sequence[Counted], currency: str) -> str:
    """Which way of counting gives what the bank paid, or the nearest and by how much it is off."""
    paid = format_amount(statement.credited, currency)
    exact = [count for count in counts if count.difference == 0]
    nearest = counts[0]
    if not exact:
        off, gives = format_amount(abs(nearest.difference), currency), format_amount(nearest.interest, currency)
        way = way_of_counting(nearest.terms)
        if abs(nearest.difference) == 1:
            return f"{paid} is {off} off: rounding. Counted by {way} it is {gives}."
        more = "more" if nearest.difference > 0 else "less"
        return f"No way of counting gives {paid}: the bank paid {off} {more} than the nearest, {gives}, by {way}."
    if len(exact) == len(counts):
        return f"{paid} is right, however it is counted."
    others = f" {_others(exact)}" if len(exact) > 1 else ""
    return f"{paid} is right, counted by {way_of_counting(exact[0].terms)}.{others}"


def _others(exact: Sequence[Counted]) -> str:
    """What makes no difference to the sum, where several ways give it."""
    names = {
        "basis": "the days of the year", "compounding": "interest on interest",
        "movements_earn": "from which day money earns", "rounding": "when it is rounded",
    }  # fmt: skip
    open_ones = [words for field, words in names.items() if len({getattr(count.terms, field) for count in exact}) > 1]
    return f"{joined(open_ones).capitalize()} cannot be told from this sum alone."


def explanation(alternative: Otherwise, currency: str) -> str:
    """What else would explain it."""
    amount = format_amount(abs(alternative.movement.amount), currency)
    day = full_day(alternative.movement.date)
    what = "deposit" if alternative.movement.amount > 0 else "withdrawal"
    if alternative.is_missing:
        return f"A {what} of about {amount} on {day} that is missing here would explain it."
    return f"The {what} of {amount} on {day}, counted a day later, would explain it."
