"""Is the app ready, which household is open, and the fixed lists that forms choose from."""

import datetime

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny import __version__
from next_penny.api.http.session import Home
from next_penny.core.dates.business_days import known_countries
from next_penny.core.dates.writing import DateOrder, Notation
from next_penny.core.edits.defaults import (
    AccountOffer,
    Beginnings,
    UsualTerms,
    account_offers,
    beginnings,
    usual_terms,
    writing,
)
from next_penny.core.money import DECIMALS
from next_penny.formats.documents.household import Household

router = APIRouter(prefix="/api", tags=["reference"])


class Health(BaseModel):
    status: str
    version: str
    today: datetime.date


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
    beginnings: Beginnings
    account_offers: list[AccountOffer]
    usual_terms: UsualTerms


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
        beginnings=beginnings(home.plan, home.today),
        account_offers=account_offers(),
        usual_terms=usual_terms(home.plan.household.currency),
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
