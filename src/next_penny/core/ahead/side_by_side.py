"""The plan and what-ifs beside each other: lowest point, closings of years, interest, the end of debt."""

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from datetime import date
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import LATEST
from next_penny.core.forecast.low_points import LowPoint
from next_penny.core.forecast.projection import as_it_is
from next_penny.core.forecast.tideline import Level, Tideline, lowest_ahead, tideline
from next_penny.core.loans.overview import debt_free
from next_penny.core.loans.standing import standings


class YearEnd(NamedTuple):
    """What the chosen accounts together hold at the end of a calendar year."""

    year: int
    balance: int


class Seen(NamedTuple):
    """One way things may go. Amounts are in `currency`, `interest` in the household's.

    interest: what loans still cost until their ends, and cards and lines within the years looked at; None where a loan
    never ends. levels: the balance on the days on which it changes, from today on.
    """

    currency: str
    lowest: LowPoint | None
    year_ends: tuple[YearEnd, ...]
    interest: int | None
    debt_free: date | None
    levels: tuple[Level, ...]


def years_end(today: date, years: int) -> date:
    """The last day of the year in which `years` years from today lie."""
    return min(LATEST, date(today.year + years, 12, 31))


def seen(moment: Moment, chosen: Sequence[str], until: date) -> Seen:
    """The accounts together until the end of a year. Raises NoRate where one of them cannot be converted."""
    forecast = as_it_is(moment, until)
    line = tideline(forecast, chosen, {})
    return Seen(
        line.currency,
        lowest_ahead(line),
        tuple(_year_ends(line, moment.today.year, until.year)),
        _interest(moment, until),
        debt_free(moment),
        line.pencil,
    )


def _year_ends(line: Tideline, first: int, last: int) -> Iterator[YearEnd]:
    days = [day for day, _ in line.pencil]
    for year in range(first, last + 1):
        place = bisect_right(days, date(year, 12, 31).toordinal())
        if place:
            yield YearEnd(year, line.pencil[place - 1][1])


def _interest(moment: Moment, until: date) -> int | None:
    plan, here = moment.plan, moment.plan.household.currency
    total = 0
    for standing in standings(moment):
        if standing.rest is not None and standing.ends is None:
            return None
        left = sum(standing.rest.interest) if standing.rest is not None else 0
        total += plan.converted(left, standing.account.currency, here, moment.today)
    for event in as_it_is(moment, until).events:
        if event.source == "card_interest":
            currency = plan.account_by_id[event.account].currency
            total += plan.converted(-event.amount, currency, here, moment.today)
    return total
