"""What a form begins with where the household has not said anything yet."""

from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

from babel import Locale, UnknownLocaleError

from next_penny.core.dates.calendar import add_months
from next_penny.core.plan import Account, Plan

_ASIDE_MONTHS = 6
_LATEST_MONTH_DAY = 28


def default_account(accounts: Sequence[Account]) -> list[str]:
    """The account whose days people ask about first: the first checking account, or failing that the first."""
    ordered = sorted(accounts, key=lambda account: account.kind != "checking")
    return [account.id for account in ordered[:1]]


class Beginnings(NamedTuple):
    """Where forms begin: accounts are ids, None where there is none.

    aside_*: setting money aside, from an account to another by a day, on a day of the month. first_payment: that of a
    loan paid out today. allowance_from: the begin of the period that today is in.
    """

    account: str | None
    aside_to: str | None
    aside_by: date
    month_day: int
    first_payment: date
    allowance_from: date


def beginnings(plan: Plan, today: date) -> Beginnings:
    """What forms of a household begin with today."""
    account = next(iter(default_account(plan.accounts)), None)
    others = [each for each in plan.accounts if each.id != account and not each.is_debt]
    savings = sorted(others, key=lambda each: each.kind != "savings")
    return Beginnings(
        account=account,
        aside_to=savings[0].id if savings else None,
        aside_by=add_months(today, _ASIDE_MONTHS),
        month_day=min(_LATEST_MONTH_DAY, today.day),
        first_payment=add_months(today, 1),
        allowance_from=today.replace(day=1),
    )


def week_starts_on(country: str | None) -> int:
    """The weekday on which weeks begin in a country (Unicode CLDR), Sunday 0; Monday where none is said."""
    try:
        first = Locale.parse(f"und_{country}").first_week_day if country else 0
    except (UnknownLocaleError, ValueError):
        first = 0
    return (first + 1) % 7


def put_off_to(lands: date, today: date) -> date:
    """To which day something is put off if nothing else is said: a week from then, or from today."""
    return max(lands, today) + timedelta(days=7)
