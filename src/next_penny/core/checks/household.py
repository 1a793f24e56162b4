"""What is wrong with a household's settings and its exchange rates."""

from collections.abc import Iterator

from next_penny.core.checks.common import unknown_currency
from next_penny.core.dates.business_days import known_countries
from next_penny.core.money import DECIMALS
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Problem


def household_problems(plan: Plan) -> Iterator[Problem]:
    if plan.household.currency not in DECIMALS:
        yield Problem(("currency",), unknown_currency(plan.household.currency), "unknown_currency")
    if plan.household.country is not None and plan.household.country not in known_countries():
        message = (
            f"Bank holidays of “{plan.household.country}” are not known: give a two-letter country code such as US, "
            "or leave it empty for weekends only."
        )
        yield Problem(("country",), message, "unknown_country")


# More of any currency is not one of another.
MOST_A_RATE = 10**9


def rate_problems(plan: Plan) -> Iterator[Problem]:
    for number, rate in enumerate(plan.rates):
        for field, code in (("from", rate.source), ("to", rate.target)):
            if code not in DECIMALS:
                yield Problem(("rates", number, field), unknown_currency(code), "unknown_currency")
        if rate.source == rate.target:
            yield Problem(("rates", number, "to"), "A rate is between two different currencies.", "same_currency")
        if not 0 < rate.rate < MOST_A_RATE:
            message = f"A rate is above zero and below {MOST_A_RATE:,}: how much of the one is one of the other?"
            yield Problem(("rates", number, "rate"), message, "range")
