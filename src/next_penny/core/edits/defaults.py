"""What a form begins with where the household has not said anything yet."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache
from typing import get_args

from babel import Locale, UnknownLocaleError

from next_penny.core.dates.calendar import add_months
from next_penny.core.dates.writing import DateOrder, Notation, Writing
from next_penny.core.money import DECIMALS, rounded_quotient
from next_penny.core.plan.accounts import Account, AccountKind
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import CardPays

_ASIDE_MONTHS = 6
_LATEST_MONTH_DAY = 28


def default_account(accounts: Sequence[Account]) -> list[str]:
    """The account whose days people ask about first: the first open checking account, or failing that the first."""
    ordered = sorted(accounts, key=lambda account: (account.closed is not None, account.kind != "checking"))
    return [account.id for account in ordered[:1]]


def may_hold_back(account: Account) -> bool:
    """Whether an allowance is offered to be paid from an account: by card, but from nothing that cannot be spent."""
    return account.kind not in ("loan", "asset", "escrow", "owed_to_us")


@dataclass(frozen=True, slots=True)
class Beginnings:
    """Where forms begin: accounts are ids, None where there is none; `account` holds money that can be paid from.

    may_pay: whether there is an account to pay from at all, by card too; before that there is nothing to plan with.
    aside_*: setting money aside, from an account to another by a day, on a day of the month. first_payment: that of a
    loan paid out today. allowance_from: the begin of the period that today is in.
    """

    account: str | None
    may_pay: bool
    aside_to: str | None
    aside_by: date
    month_day: int
    first_payment: date
    allowance_from: date


@dataclass(frozen=True, slots=True)
class AccountOffer:
    """What an account of a kind can be said to have: interest, terms of a card, being kept between two amounts.

    is_owed: what is typed as its balance is owed, and it has no floor. is_lent: it says how it is paid back.
    may_be_spent: its money may count as the household's to spend. pays: what of a card is usually paid.
    """

    kind: AccountKind
    has_card: bool
    may_earn: bool
    may_sweep: bool
    may_be_spent: bool
    is_owed: bool
    is_lent: bool
    pays: CardPays


def account_offers() -> list[AccountOffer]:
    """Every kind of account but loans, which have a form of their own."""
    cards, kinds = ("credit_card", "credit_line"), get_args(AccountKind)
    return [
        AccountOffer(
            kind,
            has_card=kind in cards,
            may_earn=kind in ("savings", "checking", "escrow"),
            may_sweep=kind == "checking",
            may_be_spent=kind not in (*cards, "asset", "owed_to_us"),
            is_owed=kind in cards,
            is_lent=kind == "owed_to_us",
            pays="minimum" if kind == "credit_line" else "statement",
        )
        for kind in kinds
        if kind != "loan"
    ]


@dataclass(frozen=True, slots=True)
class UsualTerms:
    """Terms that forms begin with, to be changed: the minimum of a card and when it is due, and a loan to try."""

    card_percent: str
    card_least: int
    card_days_after: int
    loan_principal: int
    loan_rate: str
    loan_payments: int


def usual_terms(currency: str) -> UsualTerms:
    """Amounts of a size that people have in a currency: where it has no decimals, a hundred times as many units."""
    unit = _usual_unit(currency)
    return UsualTerms("2", 25 * unit, 25, 20_000 * unit, "6.5", 60)


def furthest_extra(payment: int, currency: str) -> int:
    """How far an extra beside a loan's payment is dragged: to about the payment, and at least to 500."""
    hundred = 100 * _usual_unit(currency)
    return max(5 * hundred, rounded_quotient(payment, hundred) * hundred)


def _usual_unit(currency: str) -> int:
    return int(10 ** max(2, DECIMALS[currency]))


def paying_account(plan: Plan, today: date) -> Account | None:
    """The account that what is written without one is paid from."""
    return plan.account_by_id.get(beginnings(plan, today).account or "")


def beginnings(plan: Plan, today: date) -> Beginnings:
    """What forms of a household begin with today."""
    able = [
        one_account
        for one_account in plan.accounts
        if may_hold_back(one_account) and not one_account.is_closed_on(today)
    ]
    paying = [one_account for one_account in able if not one_account.is_debt]
    account = next(iter(default_account(paying)), None)
    kinds = ("savings", "checking", "cash")
    others = [
        one_account
        for one_account in plan.accounts
        if one_account.id != account and one_account.kind in kinds and not one_account.is_closed_on(today)
    ]
    savings = sorted(others, key=lambda one_account: one_account.kind != "savings")
    return Beginnings(
        account=account,
        may_pay=bool(able),
        aside_to=savings[0].id if savings else None,
        aside_by=add_months(today, _ASIDE_MONTHS),
        month_day=min(_LATEST_MONTH_DAY, today.day),
        first_payment=add_months(today, 1),
        allowance_from=today.replace(day=1),
    )


_WEEKDAYS = {"SU": 0, "MO": 1, "SA": 6}


def writing(household: Household) -> Writing:
    """As the household says, else as its country does (Unicode CLDR); without one as in the US, from Monday on."""
    locale = _locale_of(household.country)
    first = (locale.first_week_day + 1) % 7 if household.country and locale is not None else 1
    return Writing(
        household.notation or _notation_of(locale),
        household.date_order or _order_of(locale),
        _WEEKDAYS[household.week_starts] if household.week_starts else first,
    )


@lru_cache(maxsize=512)
def _locale_of(country: str | None) -> Locale | None:
    try:
        return Locale.parse(f"und_{country}") if country else None
    except (UnknownLocaleError, ValueError):
        return None


def _notation_of(locale: Locale | None) -> Notation:
    symbols = locale.number_symbols.get("latn", {}) if locale is not None else {}
    if symbols.get("decimal") != ",":
        return "1,234.56"
    return "1.234,56" if symbols.get("group") == "." else "1 234,56"


def _order_of(locale: Locale | None) -> DateOrder:
    pattern = locale.date_formats["medium"].pattern if locale is not None else "MMM d"
    return "day_first" if pattern.find("d") < pattern.find("M") else "month_first"


def put_off_to(lands: date, today: date) -> date:
    """To which day something is put off if nothing else is said: a week from then, or from today."""
    return max(lands, today) + timedelta(days=7)
