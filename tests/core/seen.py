"""A household seen from a day, as tests put it together."""

from collections.abc import Iterable
from datetime import date

from next_penny.core.books.books import Books, books_from_entries
from next_penny.core.books.moment import Moment
from next_penny.core.flows.assumed import moment_of
from next_penny.core.forecast.explain import Explainer
from next_penny.core.forecast.projection import Forecast
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan


def seen(plan: Plan, entries: Iterable[Entry], today: date) -> Moment:
    """The moment of a plan with recorded entries."""
    return moment_of(plan, books_from_entries(entries, today), today)


def of(plan: Plan, books: Books, today: date) -> Moment:
    """The moment of a plan with books."""
    return moment_of(plan, books, today)


def whys(forecast: Forecast) -> list[str]:
    """The sentence of each event."""
    sentences, codes = Explainer(forecast.moment).whys(forecast.events)
    return [sentences[code] for code in codes.tolist()]
