"""The projection: recorded balances carried forward by every expected occurrence (docs/rules.md, The forecast).

It walks the days on which something happens, never all days: time and memory grow with events. Events are kept as
columns of 64-bit integers, which are exact for every amount that a plan may hold, and become `Event`s when read.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

import numpy as np
from propcache.api import cached_property

from next_penny.core.accounts.generated import Generated, MadeSource
from next_penny.core.accounts.parts import movement_name
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months
from next_penny.core.flows.acting import Acted, acted
from next_penny.core.flows.allowances import allowance_blocks
from next_penny.core.flows.kinds.maker import Source, maker_of
from next_penny.core.flows.planned import Block, blocks_of
from next_penny.core.forecast.events import Column, EventColumns, EventTable, Origin
from next_penny.core.forecast.running import DayEnds, running
from next_penny.core.plan.accounts import Account
from next_penny.core.problems import go_on

_SETTLED, _PAST_DUE, _EXPECTED = range(3)
# A day's number and the place of a movement within that day fit into one 64-bit integer.
_PLACE_BITS = 32


_NO_NOMINAL = 0
# Movements that rules made are one block where these are the same: account, flow, kind, owner, and whether past due.
_Alike = tuple[str, str | None, MadeSource, str, bool]


# A line to look at, and as far as a change reaches.
_MOST_AS_IT_IS = 2
_YEAR_AHEAD_MONTHS = 12


@dataclass(frozen=True, eq=False)
class AccountRun:
    """One account from today on: the days (as numbers) on which its end-of-day balance changes, the first included."""

    account: Account
    today_balance: int
    days: Column
    balances: Column
    is_open_today: bool

    @cached_property
    def levels(self) -> list[tuple[int, int]]:
        """The days and balances as pairs."""
        return list(zip(self.days.tolist(), self.balances.tolist(), strict=True))

    @property
    def steps(self) -> list[tuple[int, int]]:
        """The days on which the end-of-day balance differs from the day before."""
        is_unchanged = self.is_open_today and self.levels[0][1] == self.today_balance
        return self.levels[1:] if is_unchanged else self.levels


@dataclass(frozen=True, eq=False)
class Forecast:
    """The projection of chosen accounts; events in order of day, then money in first, larger first, then name."""

    moment: Moment
    until: date
    runs: tuple[AccountRun, ...]
    events: EventTable

    @property
    def today(self) -> date:
        return self.moment.today

    @cached_property
    def run_of(self) -> dict[str, AccountRun]:
        """Each account's run by its id."""
        return {run.account.id: run for run in self.runs}


def project(moment: Moment, until: date, accounts: Sequence[str] | None = None) -> Forecast:
    """Carry every account (or those chosen) from today to `until`, both inclusive.

    Raises KeyError for an unknown account id.
    """
    go_on()
    plan, end = moment.plan, until.toordinal()
    chosen = plan.accounts if accounts is None else tuple(plan.account_by_id[account] for account in accounts)
    movements = _Movements({account.id: index for index, account in enumerate(chosen)})
    _add_recorded(movements, moment, until)
    for flow in plan.all_flows:
        go_on()
        if not plan.accounts_moved[flow.id].isdisjoint(movements.accounts):
            maker = maker_of(moment, flow)
            source: Source = maker.source  # type: ignore[assignment]
            movements.add(blocks_of(moment, maker, end), Origin(flow.id, flow.name, None, source))
    for allowance in plan.allowances:
        if allowance.account in movements.accounts:
            origin = Origin(None, allowance.name, allowance.id, "allowance")
            movements.add(allowance_blocks(moment, allowance, end), origin)
    rules = acted(moment, end)
    _add_acted(movements, moment, rules)
    starts = [start_of(moment, account) for account in chosen]
    events, day_ends = movements.table([start.balance for start in starts], rules)
    runs = tuple(
        _run(moment, until, account, start, ends) for account, start, ends in zip(chosen, starts, day_ends, strict=True)
    )
    return Forecast(moment.aside, until, runs, events)


def as_it_is(moment: Moment, until: date) -> Forecast:
    """The forecast that a what-if is held against: the last ones stay with the moment, for the next keystroke."""
    last: dict[date, Forecast] = moment.keep("as it is", dict)
    forecast = last.get(until)
    if forecast is None:
        forecast = project(moment, until)
        for older in list(last)[: 1 - _MOST_AS_IT_IS]:
            last.pop(older, None)
        last[until] = forecast
    return forecast


def year_ahead(moment: Moment) -> Forecast:
    """The forecast of every account over the coming year, remembered with the moment."""
    return moment.keep("year ahead", lambda: project(moment, in_a_year(moment)))


def in_a_year(moment: Moment) -> date:
    """The end of the year that low points are looked for in."""
    return add_months(moment.today, _YEAR_AHEAD_MONTHS)


class Start(NamedTuple):
    """Where an account's walk begins: its first day, and the balance at the start of that day."""

    day: int
    balance: int


def start_of(moment: Moment, account: Account) -> Start:
    """Where an account's walk begins."""
    if account.opening.date > moment.today:
        return Start(account.opening.date.toordinal(), account.opening.balance)
    return Start(moment.now, account.opening.balance + moment.books.before.get(account.id, 0))


class _Movements:
    """Columns of movements in the making: one block per maker, posting and status."""

    def __init__(self, accounts: dict[str, int]) -> None:
        self.accounts = accounts
        self._origins: dict[Origin, int] = {}
        self._blocks: list[Block] = []
        self._labels: list[tuple[int, int, int]] = []

    def add(self, made: Sequence[Block], origin: Origin, status: int | None = None) -> None:
        """Take a maker's blocks on the chosen accounts."""
        for block in made:
            if block.account in self.accounts and len(block.day):
                number = self._origins.setdefault(origin, len(self._origins))
                row_status = status if status is not None else _PAST_DUE if block.is_past_due else _EXPECTED
                self._blocks.append(block)
                self._labels.append((self.accounts[block.account], number, row_status))

    def table(self, starts: list[int], rules: Acted) -> tuple[EventTable, list[DayEnds]]:
        """Sort the movements, and give each its running balance and its day's low; `starts` are in accounts' order.

        Also what each account holds at the end of the days on which something moves on it.
        """
        blocks, labels = self._by_name()
        day, nominal, amount = (
            _joined([getattr(block, name) for block in blocks]) for name in ("day", "nominal", "amount")
        )
        lengths = [len(block.day) for block in blocks]
        account, origin, status = (np.repeat(column, lengths) for column in labels.T)
        # Where day, place and size are the same, the order of the blocks stands: by name.
        order = np.lexsort((-np.abs(amount), day << _PLACE_BITS | _places(blocks, amount)))
        if not amount.all():
            order = order[amount[order] != 0]
        day, nominal, amount, account, origin, status = (
            column[order] for column in (day, nominal, amount, account, origin, status)
        )
        balance, low, day_ends = running(account, day, amount, starts)
        columns = EventColumns(day, nominal, account, origin, status, amount, balance, low)
        return EventTable(tuple(self.accounts), tuple(self._origins), columns, rules), day_ends

    def _by_name(self) -> tuple[list[Block], Column]:
        """The blocks and their labels in order of the movement's name, then of the account."""
        names = [origin.name for origin in self._origins]
        order = sorted(
            range(len(self._blocks)), key=lambda place: (names[self._labels[place][1]], self._labels[place][0])
        )
        labels = np.array([self._labels[place] for place in order], dtype=np.int64).reshape(-1, 3)
        return [self._blocks[place] for place in order], labels


def _places(blocks: Sequence[Block], amount: Column) -> Column:
    """Within a day: money in, money out, and then what depends on balances, in the order in which it was made."""
    places: Column = (amount < 0).astype(np.int64)
    begin = 0
    for block in blocks:
        end = begin + len(block.day)
        if block.late is not None:
            places[begin:end] = block.late + 2
        begin = end
    return places


def _joined(columns: list[Column]) -> Column:
    return np.concatenate(columns) if columns else np.empty(0, dtype=np.int64)


def _add_recorded(movements: _Movements, moment: Moment, until: date) -> None:
    for entry in moment.books.ahead:
        if entry.date > until:
            continue
        nominal = np.array([entry.nominal.toordinal() if entry.nominal else _NO_NOMINAL])
        day, origin = (
            np.array([entry.date.toordinal()]),
            Origin(entry.flow, moment.plan.name_of(entry), None, "recorded"),
        )
        made = [
            Block(leg.account, day, nominal, np.array([leg.amount]), False)
            for leg in entry.legs
            if leg.account is not None
        ]
        movements.add(made, origin, _SETTLED)


def _add_acted(movements: _Movements, moment: Moment, rules: Acted) -> None:
    alike: defaultdict[_Alike, list[tuple[int, int, int, int]]] = defaultdict(list)
    for place, made in enumerate(rules.made):
        day, source, owner, flow, nominal, legs, _, is_past_due = made
        for account, amount in legs:
            alike[account, flow, source, owner, is_past_due].append((day, nominal, amount, place))
    for (account, *_), rows in alike.items():
        days, nominals, amounts, late = np.array(rows, dtype=np.int64).T
        first = rules.made[rows[0][-1]]
        movements.add([Block(account, days, nominals, amounts, first.is_past_due, late)], _origin_of(moment, first))


def _origin_of(moment: Moment, made: Generated) -> Origin:
    plan = moment.plan
    name = plan.flow_by_id[made.flow].name if made.flow else ""
    name = name or movement_name(plan.account_by_id[made.owner], made.source)
    return Origin(made.flow, name, None, made.source, made.owner)


def _run(moment: Moment, until: date, account: Account, start: Start, ends: DayEnds) -> AccountRun:
    days, balances = ends
    if start.day <= until.toordinal() and (not len(days) or days[0] > start.day):
        days, balances = np.concatenate(([start.day], days)), np.concatenate(([start.balance], balances))
    changed = np.concatenate(([True], balances[1:] != balances[:-1]))[: len(balances)]
    is_open = account.opening.date <= moment.today
    today_balance = start.balance + moment.books.recorded_on(account.id, moment.today) if is_open else 0
    return AccountRun(account, today_balance, days[changed], balances[changed], is_open)
