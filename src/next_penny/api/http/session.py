"""What every request works with: the open household at one moment, and the door through which it is changed."""

from collections.abc import AsyncIterator, Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from fastapi import Depends, Query, Request
from propcache.api import cached_property

from next_penny.api.edits.applying import WhatIf, apply_on_top
from next_penny.api.http.errors import refused
from next_penny.core.books.moment import Moment
from next_penny.core.books.recorded import with_changed
from next_penny.core.books.registers import RegisterLine, lines_of, register
from next_penny.core.dates.calendar import EARLIEST, LATEST
from next_penny.core.dates.sentences import full_day
from next_penny.core.dates.writing import write_as
from next_penny.core.edits.defaults import writing
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.what_ifs import SavedWhatIf
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc
from next_penny.core.review.history import Step
from next_penny.formats.changes.request import ChangeRequest, written_on
from next_penny.formats.documents.kept.what_ifs import WhatIfDocument
from next_penny.store.moments import Reading
from next_penny.store.store import Store
from next_penny.store.transactions import Decision, Done

# As late as a clock is believed; the calendar goes on for a hundred years, for what lies ahead.
_LATEST_TODAY = LATEST.replace(year=LATEST.year - 100)


def kept_what_if(reading: Reading, id: str, loc: Loc = ("query", "what_if")) -> SavedWhatIf:
    """A what-if that is kept. Raises Refused where there is none."""
    for what_if in reading.moment.plan.what_ifs:
        if what_if.id == id:
            return what_if
    raise refused(loc, "There is no such what-if: it may be deleted already.", "unknown_id")


def _checked(today: date) -> date:
    """Today, where a clock can mean it: what it says is written down as having passed."""
    if not EARLIEST <= today <= _LATEST_TODAY:
        said = f"This computer's clock says {full_day(today)}: set it right, then go on. Nothing was changed."
        raise refused(("clock",), said, "range")
    return today


@dataclass(frozen=True, slots=True)
class OpenHousehold:
    """The store, and the clock that tells today (pinned for demonstrations and tests)."""

    store: Store
    clock: Callable[[], date]


class Session:
    """One request's household. Today is read once, and all that is read is of one moment."""

    def __init__(self, household: OpenHousehold, what_if: str | None = None) -> None:
        self._what_if = what_if
        self.store = household.store
        self.today = _checked(household.clock())

    @cached_property
    def reading(self) -> Reading:
        """The moment that this request sees, from its first question on."""
        reading = self.store.begin_reading(self.today)
        write_as(writing(reading.moment.plan.household))
        return reading

    @cached_property
    def what_if(self) -> WhatIf | None:
        """The what-if that the request names, laid over the household."""
        return self.apply_changes(()) if self._what_if is not None else None

    @property
    def moment(self) -> Moment:
        """What figures are read of: the household, or, where the request names a what-if, with that laid over it."""
        return self.what_if.moment if self.what_if is not None else self.reading.moment

    def apply_changes(self, requests: Sequence[ChangeRequest]) -> WhatIf:
        """Changes laid over the household, and over the what-if that the request names."""
        what_if = kept_what_if(self.reading, self._what_if) if self._what_if is not None else None
        return apply_on_top(self.reading, WhatIfDocument.of(what_if).changes if what_if is not None else (), requests)

    def recorded(self, entries: Iterable[Entry]) -> tuple[Entry, ...]:
        """What was read of the file, as the what-if that the request names has it."""
        return with_changed(entries, self._changed) if self.what_if is not None else tuple(entries)

    def entry(self, id: str) -> Entry | None:
        """A recorded entry, as the what-if that the request names has it."""
        return self._changed[id] if id in self._changed else self.reading.entry(id)

    @cached_property
    def _changed(self) -> dict[str, Entry | None]:
        changes = self.what_if.changes if self.what_if is not None else ()
        return {change.id: change.item for change in changes if change.item is None or isinstance(change.item, Entry)
                if change.kind == "entry"}  # fmt: skip

    def register(self, account: Account) -> list[RegisterLine]:
        """An account's register, with the entries of the what-if that the request names."""
        if self.what_if is None:
            return self.reading.register(account)
        recorded = self.recorded(self.reading.between([account], EARLIEST, LATEST))
        return register(self.moment, account, lines_of(recorded, account))

    @property
    def plan(self) -> Plan:
        return self.moment.plan

    def steps(self, most: int) -> list[Step]:
        """The newest changes that undo and redo walk over, the newest first."""
        return self.store.measuring.known(self.reading.steps(most))

    def edit(self, decide: Callable[[Reading], Decision], requests: Sequence[ChangeRequest]) -> Done:
        """Change the household, or the what-if that the request names: there, the requests join its changes."""
        if self._what_if is None:
            return self.change(decide)
        id = self._what_if

        def join(reading: Reading) -> Decision:
            what_if = kept_what_if(reading, id)
            document = WhatIfDocument.of(what_if)
            notes = apply_on_top(reading, document.changes, requests).notes
            joined = document.model_copy(update={"changes": (*document.changes, *written_on(requests, self.today))})
            return Decision(
                [PlanChange("what_if", id, joined.to_core())], f"Changed the what-if “{what_if.name}”", notes
            )

        return self.change(join)

    def change(self, decide: Callable[[Reading], Decision]) -> Done:
        """Change the household: `decide` works it out inside the transaction that writes it."""

        def written(reading: Reading) -> Decision:
            write_as(writing(reading.moment.plan.household))
            return decide(reading)

        return self.store.change(self.today, written)

    def end(self) -> None:
        """Let the moment go."""
        if "reading" in self.__dict__:
            self.store.end_reading(self.reading)


WhatIfId = Annotated[str | None, Query(description="Figures for the plan with this what-if laid over it.")]


async def _begin(request: Request) -> AsyncIterator[Session]:
    session = Session(request.app.state.household)
    try:
        yield session
    finally:
        session.end()


async def _begin_with_what_if(request: Request, what_if: WhatIfId = None) -> AsyncIterator[Session]:
    session = Session(request.app.state.household, what_if)
    try:
        yield session
    finally:
        session.end()


# The household as it is kept. What a browser shows of a what-if is not laid over it.
Home = Annotated[Session, Depends(_begin)]
# Where the request names a what-if, the household with that laid over it: so the OpenAPI document says who reads one.
HomeOrWhatIf = Annotated[Session, Depends(_begin_with_what_if)]
