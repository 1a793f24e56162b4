"""A provider of exchange rates: what is new of the pairs that the household's accounts need, as a table by day."""

from collections.abc import Iterator
from datetime import date, timedelta
from urllib.parse import urlencode

from next_penny.api.accounts.connections.fetching import CannotAsk, fetch
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.formats.documents.household import Rate as RateDocument

_FIRST_DAYS = 31
_MOST_LINES = 5_000


def needed(plan: Plan) -> list[tuple[str, str]]:
    """The pairs that totals need: each other currency in which something is held, in the household's own."""
    here = plan.household.currency
    return list(dict.fromkeys((account.currency, here) for account in plan.accounts if account.currency != here))


def new_rates(address: str, plan: Plan, today: date, patience: float) -> list[Rate]:
    """The rates of days that have none yet, oldest first. Raises CannotAsk."""
    rates: list[Rate] = []
    for source, target in needed(plan):
        known = [rate.date for rate in plan.rates if {rate.source, rate.target} == {source, target}]
        since = max(known) if known else today - timedelta(days=_FIRST_DAYS)
        asked = urlencode({"from": source, "to": target, "since": since.isoformat()})
        content = fetch(f"{address}?{asked}", patience=patience)
        rates += [rate for rate in _read(content, source, target) if since <= rate.date <= today]
    return rates


def changes_of(plan: Plan, rates: list[Rate]) -> list[PlanChange]:
    """What is new as changes: a rate that the household has of that day stays."""
    known_ids = {rate.id for rate in plan.rates} | {rate.opposite for rate in plan.rates}
    return [PlanChange("rate", rate.id, rate) for rate in rates if rate.id not in known_ids]


def _read(content: bytes, source: str, target: str) -> Iterator[Rate]:
    """Rates as CSV: date, from, to, rate. Raises CannotAsk for anything else."""
    try:
        header, *lines = content.decode("utf-8-sig").splitlines()
        if header.replace(" ", "").lower() != "date,from,to,rate":
            raise ValueError
        for line in lines[:_MOST_LINES]:
            day, of, into, wording = (cell.strip() for cell in line.split(","))
            written = {"date": day, "from": of, "to": into, "rate": wording}
            rate = RateDocument.model_validate(written).to_core()
            if rate.rate <= 0:
                raise ValueError
            if (of, into) == (source, target):
                yield rate
    except ValueError as error:
        raise CannotAsk("What it answered cannot be read as rates by day. Nothing was taken.") from error
