"""The household as data: its name, currency, country and manner of writing."""

from dataclasses import dataclass
from typing import Literal

from next_penny.core.dates.writing import DateOrder, Notation, WeekStart

PastDue = Literal["carry", "ignore"]


@dataclass(frozen=True, slots=True)
class Household:
    """Its name, the currency of its totals, its country (None: weekends only), and how past-due items are seen.

    notation, week_starts and date_order are how it writes and counts; None: as in its country.
    """

    name: str = ""
    currency: str = "USD"
    country: str | None = None
    past_due: PastDue = "carry"
    notation: Notation | None = None
    week_starts: WeekStart | None = None
    date_order: DateOrder | None = None


UNNAMED = Household()
