"""What every request works with: the open household and today's date."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from fastapi import Depends, Request

from next_penny.core.books import Books
from next_penny.core.plan import Plan
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

    def books(self) -> Books:
        return self.store.books(self.today)


def _open_household(request: Request) -> OpenHousehold:
    household: OpenHousehold = request.app.state.household
    return household


Home = Annotated[OpenHousehold, Depends(_open_household)]
