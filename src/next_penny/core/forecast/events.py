"""The events of a forecast as columns of 64-bit integers, which become `Event`s when read."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal, NamedTuple, get_args, overload

import numpy as np
import numpy.typing as npt

from next_penny.core.flows.acting import Acted
from next_penny.core.flows.kinds.maker import Source

Status = Literal["settled", "past_due", "expected"]


STATUSES: tuple[Status, ...] = get_args(Status)


Column = npt.NDArray[np.int64]


class Origin(NamedTuple):
    """Where a movement comes from: a flow, an allowance, or neither for what was merely recorded.

    owner: the account whose rule made it, for what depends on balances.
    """

    flow: str | None
    name: str
    allowance: str | None
    source: Source
    owner: str | None = None


class Event(NamedTuple):
    """Money moving on one account. `day` and `nominal` are day numbers; a recorded entry may have no flow."""

    day: int
    nominal: int | None
    flow: str | None
    name: str
    account: str
    amount: int
    balance: int
    intraday_low: int
    status: Status
    allowance: str | None
    source: Source

    @property
    def date(self) -> date:
        return date.fromordinal(self.day)


class EventColumns(NamedTuple):
    """Parallel columns, in the order in which events are shown; `account` and `origin` are places in their lists."""

    day: Column
    nominal: Column
    account: Column
    origin: Column
    status: Column
    amount: Column
    balance: Column
    intraday_low: Column


@dataclass(frozen=True, slots=True, eq=False)
class EventTable(Sequence[Event]):
    """The events of a forecast, which become `Event`s when read."""

    accounts: tuple[str, ...]
    origins: tuple[Origin, ...]
    columns: EventColumns
    rules: Acted

    def __len__(self) -> int:
        return len(self.columns.day)

    @overload
    def __getitem__(self, index: int) -> Event: ...
    @overload
    def __getitem__(self, index: slice) -> list[Event]: ...
    def __getitem__(self, index: int | slice) -> Event | list[Event]:
        if isinstance(index, slice):
            return list(self._read(index))
        return next(self._read(slice(index, index + 1 or None)))

    def __iter__(self) -> Iterator[Event]:
        return self._read(slice(None))

    def where(self, wanted: npt.NDArray[np.bool_]) -> "EventTable":
        """Those events for which a mask is true."""
        return EventTable(
            self.accounts, self.origins, EventColumns(*(column[wanted] for column in self.columns)), self.rules
        )  # fmt: skip

    def first(self, most: int, after: int = 0) -> "EventTable":
        """So many of the events, after the first `after`."""
        columns = EventColumns(*(column[after : after + most] for column in self.columns))
        return EventTable(self.accounts, self.origins, columns, self.rules)

    def _read(self, part: slice) -> Iterator[Event]:
        for day, nominal, account, origin, status, amount, balance, low in zip(
            *(column[part].tolist() for column in self.columns), strict=True
        ):
            flow, name, allowance, source, _ = self.origins[origin]
            on = self.accounts[account]
            yield Event(day, nominal or None, flow, name, on, amount, balance, low, STATUSES[status], allowance, source)
