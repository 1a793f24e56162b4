"""What every request works with: the open household at one moment, and the door through which it is changed."""

from collections.abc import AsyncIterator, Callable
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Annotated

from fastapi import Depends, Query, Request

from next_penny.api.errors import refused
from next_penny.api.what_if import lay_over
from next_penny.core.moment import Moment
from next_penny.core.plan import Plan
from next_penny.formats.what_if_document import WhatIfDocument
from next_penny.store.reading import Reading
from next_penny.store.store import Decision, Done, Store


@dataclass(frozen=True, slots=True)
class OpenHousehold:
    """The store, and the clock that tells today (pinned for demonstrations and tests)."""

    store: Store
    clock: Callable[[], date]


class Visit:
    """One request's household. Today is read once, and all that is read is of one moment."""

    def __init__(self, household: OpenHousehold, what_if: str | None = None) -> None:
        self._what_if = what_if
        self.store = household.store
        self.today = household.clock()

    @cached_property
    def reading(self) -> Reading:
        """The moment that this request sees, from its first question on."""
        return self.store.begin_reading(self.today)

    @cached_property
    def moment(self) -> Moment:
        """What figures are read of: the household, or, where the request names a what-if, with that laid over it."""
        if self._what_if is None:
            return self.reading.moment
        held = next((each for each in self.reading.moment.plan.what_ifs if each.id == self._what_if), None)
        if held is None:
            raise refused(("query", "what_if"), "There is no such what-if: it may be deleted already.", "unknown_id")
        return lay_over(self.reading, WhatIfDocument.of(held).changes).moment

    @property
    def plan(self) -> Plan:
        return self.moment.plan

    def change(self, decide: Callable[[Reading], Decision]) -> Done:
        """Change the household: `decide` works it out inside the transaction that writes it."""
        return self.store.change(self.today, decide)

    def end(self) -> None:
        """Let the moment go."""
        if "reading" in self.__dict__:
            self.store.end_reading(self.reading)


WhatIfId = Annotated[str | None, Query(description="Figures for the plan with this what-if laid over it.")]


async def _visit(request: Request, what_if: WhatIfId = None) -> AsyncIterator[Visit]:
    visit = Visit(request.app.state.household, what_if)
    try:
        yield visit
    finally:
        visit.end()


Home = Annotated[Visit, Depends(_visit)]
