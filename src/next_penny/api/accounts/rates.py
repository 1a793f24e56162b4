"""Exchange rates that the household typed, and which are still needed."""

import datetime

from fastapi import APIRouter
from pydantic import BaseModel

from next_penny.api.http.session import HomeOrWhatIf
from next_penny.formats.documents.household import Rate

router = APIRouter(prefix="/api", tags=["exchange rates"])


class RateRow(Rate):
    """A rate that was typed; its id is `DATE:FROM:TO`."""

    id: str


class PairModel(BaseModel):
    """A currency in which something is held, in the household's own: its newest rate by today, null without any."""

    source: str
    target: str
    rate: str | None
    since: datetime.date | None


class RatesAnswer(BaseModel):
    """Rates, newest first, and the pairs that totals need."""

    currency: str
    pairs: list[PairModel]
    rates: list[RateRow]


@router.get("/rates", response_model_by_alias=True)
def read_rates(home: HomeOrWhatIf) -> RatesAnswer:
    """All exchange rates, and what is held in other currencies."""
    plan, here = home.plan, home.plan.household.currency
    foreign = {account.currency: None for account in plan.accounts if account.currency != here}
    newest = sorted(plan.rates, key=lambda rate: rate.date, reverse=True)
    pairs = []
    for source in foreign:
        pair = {source, here}
        known = next((rate for rate in newest if {rate.source, rate.target} == pair and rate.date <= home.today), None)
        wording = f"1 {known.source} = {known.rate.normalize():f} {known.target}" if known is not None else None
        pairs.append(
            PairModel(source=source, target=here, rate=wording, since=known.date if known is not None else None)
        )
    rates = [RateRow(**Rate.of(rate).model_dump(), id=rate.id) for rate in newest]
    return RatesAnswer(currency=here, pairs=pairs, rates=rates)
