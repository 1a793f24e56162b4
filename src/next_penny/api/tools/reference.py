"""Is the app ready, which household is open, and the fixed lists that forms choose from."""

import datetime

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny import __version__
from next_penny.api.http.session import Home
from next_penny.core.dates.business_days import known_countries
from next_penny.core.dates.writing import DateOrder, Notation
from next_penny.core.edits.defaults import account_offers, beginnings, usual_terms, writing
from next_penny.core.money import DECIMALS
from next_penny.core.plan.accounts import AccountKind
from next_penny.core.plan.terms.cards import CardPays
from next_penny.formats.documents.household import Household

router = APIRouter(prefix="/api", tags=["reference"])


class Health(BaseModel):
    status: str
    version: str
    today: datetime.date


class BeginningsModel(BaseModel):
    """What forms begin with: see the core's `Beginnings`."""

    account: str | None
    may_pay: bool
    aside_to: str | None
    aside_by: datetime.date
    month_day: int
    first_payment: datetime.date
    allowance_from: datetime.date


class AccountOfferModel(BaseModel):
    """What an account of a kind can be said to have: see the core's `AccountOffer`."""

    kind: AccountKind
    has_card: bool
    may_earn: bool
    may_sweep: bool
    may_be_spent: bool
    is_owed: bool
    is_lent: bool
    pays: CardPays


class UsualTermsModel(BaseModel):
    """Terms that forms begin with: see the core's `UsualTerms`."""

    card_percent: str
    card_least: int
    card_days_after: int
    loan_principal: int
    loan_rate: str
    loan_payments: int


class HouseholdAnswer(BaseModel):
    """The household's settings. `decimals` are by ISO 4217 currency code, `countries` those with known holidays.

    notation, date_order and week_starts_on (Sunday 0) are those in force: its own, else its country's. account_offers:
    what an account of each kind can have. usual_terms: amounts in the household's currency.
    """

    household: Household
    today: datetime.date
    decimals: dict[str, int]
    countries: list[str]
    notation: Notation
    date_order: DateOrder
    week_starts_on: int
    beginnings: BeginningsModel
    account_offers: list[AccountOfferModel]
    usual_terms: UsualTermsModel


@router.get("/health")
def read_health(home: Home) -> Health:
    return Health(status="ok", version=__version__, today=home.today)


@router.get("/household")
def read_household(home: Home) -> HouseholdAnswer:
    return HouseholdAnswer(
        household=Household.of(home.plan.household),
        today=home.today,
        decimals=DECIMALS,
        countries=sorted(known_countries()),
        **writing(home.plan.household)._asdict(),
        beginnings=BeginningsModel.model_validate(beginnings(home.plan, home.today)._asdict()),
        account_offers=[AccountOfferModel.model_validate(offer._asdict()) for offer in account_offers()],
        usual_terms=UsualTermsModel.model_validate(usual_terms(home.plan.household.currency)._asdict()),
    )


class ChangeNumber(BaseModel):
    """Another number, or another day: what was read is out of date.

    `fault`: what is wrong with the file now; `notices`: what is worth saying of how it was found at the start.
    """

    number: int
    today: datetime.date
    fault: str | None
    notices: list[str]


@router.get("/change-number")
def read_change_number(home: Home) -> ChangeNumber:
    """How often the household has been changed, by whatever window or program; cheap to ask for."""
    return ChangeNumber(
        number=home.store.number(), today=home.today, fault=home.store.fault(), notices=home.store.file.notices
    )
