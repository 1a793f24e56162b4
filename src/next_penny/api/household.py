"""What every request works with: the open household and today's date."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from fastapi import Depends, Request

from next_penny.core.assumed import assumed_entries, with_assumed
from next_penny.core.books import Books
from next_penny.core.dates.calendar import add_months
from next_penny.core.forecast.projection import Forecast, project
from next_penny.core.plan import Entry, Plan
from next_penny.core.recorded import DailyChanges, overlay_daily
from next_penny.store.store import Store


@dataclass(frozen=True, slots=True)
class OpenHousehold:
    """The store, and the clock that tells today (pinned for demonstrations and tests)."""

    store: Store
    clock: Callable[[], date]

    @property
    def today(self) -> date:
        return self.clock()

    def plan(self) -> Plan:
        return self.store.plan()

    def recorded_books(self) -> Books:
        """The books as recorded, without what is assumed."""
        return self.store.books(self.today)

    def books(self) -> Books:
        """The books with what always happens in them, assumed until it is confirmed."""
        today = self.today
        return self.store.cached(("books", today), lambda: with_assumed(self.recorded_books(), self.assumed(), today))

    def year_ahead(self) -> Forecast:
        """The forecast of every account over the coming year, kept until the file changes."""
        today = self.today
        return self.store.cached(
            ("year", today), lambda: project(self.plan(), self.books(), today, add_months(today, 12))
        )

    def assumed(self) -> tuple[Entry, ...]:
        """What is assumed to have happened before today, by day."""
        today = self.today
        return self.store.cached(("assumed", today), lambda: assumed_entries(self.plan(), self.recorded_books(), today))

    def daily_changes(self) -> DailyChanges:
        """By account, what changed on each day up to today, as (day number, change), oldest first."""
        changes = self.store.daily_changes(self.today)
        return overlay_daily(changes, self.assumed()) if self.assumed() else changes


def _open_household(request: Request) -> OpenHousehold:
    household: OpenHousehold = request.app.state.household
    return household


Home = Annotated[OpenHousehold, Depends(_open_household)]
