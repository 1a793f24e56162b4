"""The projection: recorded balances carried forward by every expected occurrence (docs/rules.md, The forecast).

It walks the days on which something happens, never all days: time and memory grow with events. Events are kept as
columns of 64-bit integers, which are exact for every amount that a plan may hold, and become `Event`s when read.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Literal, NamedTuple, cast, get_args, overload

import numpy as np
import numpy.typing as npt

from next_penny.core.books import Books
from next_penny.core.dates.business_days import Days, business_calendar
from next_penny.core.dates.calendar import LATEST
from next_penny.core.flows.allowances import held_back_days, periods
from next_penny.core.flows.loan_payments import loan_occurrences, loan_postings
from next_penny.core.flows.occurrences import Occurrences, occurrences
from next_penny.core.money import convert
from next_penny.core.plan import Account, Flow, Plan

Status = Literal["settled", "past_due", "expected"]
_STATUSES: tuple[Status, ...] = get_args(Status)
_SETTLED, _PAST_DUE, _EXPECTED = range(3)
Column = npt.NDArray[np.int64]
_NO_NOMINAL = 0
_LONGEST_PERIOD = 31


class Source(NamedTuple):
    """Where a movement comes from: a flow, an allowance, or neither for what was merely recorded."""

    flow: str | None
    name: str
    allowance: str | None = None


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
    allowance: str | None = None

    @property
    def date(self) -> date:
        return date.fromordinal(self.day)


@dataclass(frozen=True, slots=True, eq=False)
class EventTable(Sequence[Event]):
    """The events of a forecast as columns, in the order in which they are shown."""

    accounts: tuple[str, ...]
    sources: tuple[Source, ...]
    day: Column
    nominal: Column
    account: Column
    source: Column
    status: Column
    amount: Column
    balance: Column
    intraday_low: Column

    def __len__(self) -> int:
        return len(self.day)

    @overload
    def __getitem__(self, place: int) -> Event: ...
    @overload
    def __getitem__(self, place: slice) -> list[Event]: ...
    def __getitem__(self, place: int | slice) -> Event | list[Event]:
        if isinstance(place, slice):
            return list(self._read(place))
        return next(self._read(slice(place, place + 1 or None)))

    def __iter__(self) -> Iterator[Event]:
        return self._read(slice(None))

    def _read(self, part: slice) -> Iterator[Event]:
        columns = (self.day, self.nominal, self.source, self.account, self.amount, self.balance, self.intraday_low)
        rows = zip(*(column[part].tolist() for column in (*columns, self.status)), strict=True)
        for day, nominal, source, account, amount, balance, low, status in rows:
            flow, name, allowance = self.sources[source]
            on = self.accounts[account]
            yield Event(day, nominal or None, flow, name, on, amount, balance, low, _STATUSES[status], allowance)


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

    today: date
    until: date
    runs: tuple[AccountRun, ...]
    events: EventTable
    books: Books


def project(plan: Plan, books: Books, today: date, until: date, accounts: Sequence[str] | None = None) -> Forecast:
    """Carry every account (or those chosen) from `today` to `until`, both inclusive.

    `books` must be seen from `today`. Raises KeyError for an unknown account id.
    """
    chosen = plan.accounts if accounts is None else tuple(plan.account_by_id[account] for account in accounts)
    movements = _Movements({account.id: place for place, account in enumerate(chosen)})
    _add_recorded(movements, books, until)
    for flow in plan.all_flows:
        if not plan.accounts_moved[flow.id].isdisjoint(movements.places):
            _add_expected(movements, plan, flow, books, today, until)
    _add_held_back(movements, plan, books, today, until)
    starts = [_start(account, books, today) for account in chosen]
    events = movements.table([start.balance for start in starts])
    period = Period(today, until)
    runs = tuple(_run(place, account, books, starts[place], events, period) for place, account in enumerate(chosen))
    return Forecast(today, until, runs, events, books)


class Period(NamedTuple):
    """From today until a day, both inclusive."""

    today: date
    until: date


class _Start(NamedTuple):
    """Where an account's walk begins: its first day, and the balance at the start of that day."""

    day: int
    balance: int


def _start(account: Account, books: Books, today: date) -> _Start:
    if account.opening.date > today:
        return _Start(account.opening.date.toordinal(), account.opening.balance)
    return _Start(today.toordinal(), account.opening.balance + books.before.get(account.id, 0))


class _Movements:
    """Columns of movements in the making: one block per flow, posting and status."""

    def __init__(self, places: dict[str, int]) -> None:
        self.places = places
        self._sources: dict[Source, int] = {}
        self._columns: list[tuple[Column, Column, Column]] = []
        self._labels: list[tuple[int, int, int]] = []

    def add(self, days: Column, nominal: Column, amount: Column, account: str, source: Source, status: int) -> None:
        if account in self.places and len(days):
            number = self._sources.setdefault(source, len(self._sources))
            self._columns.append((days, nominal, amount))
            self._labels.append((self.places[account], number, status))

    def table(self, starts: list[int]) -> EventTable:
        """Sort the movements, and give each its running balance and its day's low; `starts` are by account place."""
        day, nominal, amount = (_joined([block[column] for block in self._columns]) for column in range(3))
        lengths = [len(block[0]) for block in self._columns]
        labels = np.array(self._labels, dtype=np.int64).reshape(-1, 3)
        account, source, status = np.repeat(labels, lengths, axis=0).T
        moving = amount != 0
        names = sorted({source.name for source in self._sources})
        rank = np.array([names.index(source.name) for source in self._sources], dtype=np.int64)
        order = np.lexsort((account, rank[source], -np.abs(amount), amount < 0, day))
        order = order[moving[order]]
        day, nominal, amount, account, source, status = (
            column[order] for column in (day, nominal, amount, account, source, status)
        )
        balance, low = np.empty_like(amount), np.empty_like(amount)
        for place, start in enumerate(starts):
            mine = np.flatnonzero(account == place)
            balance[mine], low[mine] = _running(day[mine], amount[mine], start)
        accounts = tuple(self.places)
        return EventTable(accounts, tuple(self._sources), day, nominal, account, source, status, amount, balance, low)


def _joined(columns: list[Column]) -> Column:
    return np.concatenate(columns) if columns else np.empty(0, dtype=np.int64)


def _running(day: Column, amount: Column, start: int) -> tuple[Column, Column]:
    """One account's balance after each movement, and each day's balance if money out left before money in."""
    balance = start + np.cumsum(amount)
    if not len(day):
        return balance, balance
    firsts = np.flatnonzero(np.concatenate(([True], day[1:] != day[:-1])))
    opening = balance[firsts] - amount[firsts]
    low = opening + np.add.reduceat(np.minimum(amount, 0), firsts)
    return balance, np.repeat(low, np.diff(np.append(firsts, len(day))))


def _add_recorded(movements: _Movements, books: Books, until: date) -> None:
    for entry in books.ahead:
        if entry.date > until:
            continue
        nominal = entry.nominal.toordinal() if entry.nominal else _NO_NOMINAL
        day, known = np.array([entry.date.toordinal()]), np.array([nominal])
        for leg in entry.legs:
            if leg.account is not None:
                source = Source(entry.flow, entry.payee)
                movements.add(day, known, np.array([leg.amount]), leg.account, source, _SETTLED)


def _add_expected(movements: _Movements, plan: Plan, flow: Flow, books: Books, today: date, until: date) -> None:
    unsettled = expected(plan, flow, books, today, until)
    if not len(unsettled.landing):
        return
    source, now = Source(flow.id, flow.name), today.toordinal()
    if not flow.revisions and unsettled.landing.min() >= now:
        # Most flows have nothing past due and one account all along: then there is nothing to tell apart.
        for account, amount in _postings(plan, flow, books, unsettled, unsettled.landing):
            movements.add(unsettled.landing, unsettled.nominal, amount, account, source, _EXPECTED)
        return
    past = unsettled.landing < now
    days = np.where(past, now, unsettled.landing)
    for era, mine in _eras(flow, unsettled.nominal):
        for account, amount in _postings(plan, era, books, unsettled, days):
            for rows, status in ((past & mine, _PAST_DUE), (~past & mine, _EXPECTED)):
                movements.add(days[rows], unsettled.nominal[rows], amount[rows], account, source, status)


def _eras(flow: Flow, nominal: Column) -> Iterator[tuple[Flow, npt.NDArray[np.bool_]]]:
    """The flow with the accounts and category in force, and for which of some nominal days they are."""
    eras = flow.eras()
    if len(eras) == 1:
        yield flow, np.ones(len(nominal), dtype=np.bool_)
        return
    for place, (begin, era) in enumerate(eras):
        mine = nominal >= begin.toordinal()
        if place + 1 < len(eras):
            mine &= nominal < eras[place + 1][0].toordinal()
        yield era, mine


def _add_held_back(movements: _Movements, plan: Plan, books: Books, today: date, until: date) -> None:
    """What allowances hold back; no more of it than falls within the forecast."""
    held = [allowance for allowance in plan.allowances if allowance.account in movements.places]
    if not held:
        return
    committed = committed_by_day(plan, books, today, until)
    for allowance in held:
        coming = committed.get(allowance.id, {})
        for period in periods(plan, allowance, books, coming, today, until):
            days, amount = held_back_days(allowance, period, today.toordinal())
            inside = days <= until.toordinal()
            nominal = np.full(int(inside.sum()), period.first)
            source = Source(None, allowance.name, allowance.id)
            movements.add(days[inside], nominal, -amount[inside], allowance.account, source, _EXPECTED)


def committed_by_day(plan: Plan, books: Books, today: date, until: date) -> dict[str, dict[int, int]]:
    """By allowance and day number, what flows are expected to take in its categories, to the end of its last period."""
    owner = {category: allowance for allowance in plan.allowances for category in allowance.categories}
    beyond = date.fromordinal(min(until.toordinal() + _LONGEST_PERIOD, LATEST.toordinal()))
    sums: dict[str, dict[int, int]] = {}
    for flow in plan.flows:
        if flow.kind == "loan_payment" or not any(category in owner for category in flow.category_ids):
            continue
        coming = expected(plan, flow, books, today, beyond)
        days = np.maximum(coming.landing, today.toordinal())
        for era, mine in _eras(flow, coming.nominal):
            rows = list(zip(days[mine].tolist(), coming.amount[mine].tolist(), strict=True))
            for category, parts in _shares(era, rows):
                if (allowance := owner.get(category or "")) is not None:
                    by_day = sums.setdefault(allowance.id, {})
                    for day, part in parts:
                        by_day[day] = by_day.get(day, 0) + part
    return sums


def _shares(flow: Flow, rows: list[tuple[int, int]]) -> Iterator[tuple[str | None, list[tuple[int, int]]]]:
    """What each category takes of some (day, amount): the parts split off, and the rest."""
    sign = -1 if flow.kind == "income" else 1
    apart = sum(split.amount for split in flow.splits)
    yield flow.category, [(day, sign * (whole - apart)) for day, whole in rows]
    for split in flow.splits:
        yield split.category, [(day, sign * split.amount) for day, _ in rows]


def expected(plan: Plan, flow: Flow, books: Books, today: date, until: date) -> Occurrences:
    """A flow's unsettled occurrences that land by `until`, past due ones among them if the household carries these."""
    opened = plan.flow_opened(flow)
    first = max(opened, today)
    coming = _unsettled(plan, flow, books, first, until)
    if plan.household.past_due != "carry" or opened >= today:
        return coming
    late = past_due(plan, flow, books, opened, min(until, date.fromordinal(today.toordinal() - 1)))
    if not len(late.nominal):
        return coming
    both = [np.concatenate(columns) for columns in zip(late, coming, strict=True)]
    order = np.argsort(both[0], kind="stable")
    return Occurrences(*(column[order] for column in both))


def past_due(plan: Plan, flow: Flow, books: Books, opened: date, until: date) -> Occurrences:
    """What landed by `until` and is not settled, whether or not the household carries it on.

    It is kept with the books, so that a long past is walked only once.
    """
    if flow.kind == "loan_payment":
        # It follows the loan's terms and balance too, and is kept with these.
        return _unsettled(plan, flow, books, opened, until)
    known = (plan.household.country, opened, until, books.settled.get(flow.id), books.paid.get(flow.id))
    kept = books.past_due.get(flow.id)
    if kept is not None and kept[0][0] is flow and kept[0][1:] == known:
        return cast(Occurrences, kept[1])
    late = _unsettled(plan, flow, books, opened, until)
    books.past_due[flow.id] = ((flow, *known), late)
    return late


def _unsettled(plan: Plan, flow: Flow, books: Books, first: date, until: date) -> Occurrences:
    calendar, opened = business_calendar(plan.household.country), plan.flow_opened(flow)
    paid = tuple(books.paid.get(flow.id, ())) if flow.follows else ()
    if flow.kind == "loan_payment":
        found = loan_occurrences(plan, flow, books, calendar, first.toordinal(), until.toordinal())
    else:
        found = occurrences(flow, opened, calendar, first.toordinal(), until.toordinal(), paid)
    settled = books.settled.get(flow.id)
    if not settled or not len(found.nominal):
        return found
    is_open = np.array([nominal not in settled for nominal in found.nominal.tolist()])
    return Occurrences(found.nominal[is_open], found.landing[is_open], found.amount[is_open])


def _postings(plan: Plan, flow: Flow, books: Books, found: Occurrences, days: Days) -> Iterator[tuple[str, Column]]:
    """What occurrences change on each account; parts split off to an account do not reach the main one."""
    if flow.kind == "loan_payment":
        yield from loan_postings(plan, flow, books, found)
        return
    arriving = amount = found.amount
    for split in flow.splits:
        if split.account is not None:
            arriving = arriving - split.amount
            yield split.account, np.full_like(amount, split.amount)
    if flow.from_account is not None:
        yield flow.from_account, -amount
    if flow.to_account is not None:
        if flow.from_account is not None:
            arriving = _in_currency_of(plan, flow.from_account, flow.to_account, arriving, days)
        yield flow.to_account, arriving


def _in_currency_of(plan: Plan, source: str, target: str, amount: Column, days: Days) -> Column:
    have, want = plan.account_by_id[source].currency, plan.account_by_id[target].currency
    if have == want:
        return amount
    rates = [plan.rate(have, want, date.fromordinal(day)) for day in days.tolist()]
    converted = [convert(part, rate, have, want) for part, rate in zip(amount.tolist(), rates, strict=True) if rate]
    return np.array(converted, dtype=np.int64)


def _run(place: int, account: Account, books: Books, start: _Start, events: EventTable, period: Period) -> AccountRun:
    mine = np.flatnonzero(events.account == place)
    day, balance = events.day[mine], events.balance[mine]
    ends = np.flatnonzero(np.append(day[1:] != day[:-1], True)) if len(day) else mine
    days, balances = day[ends], balance[ends]
    if start.day <= period.until.toordinal() and (not len(days) or days[0] > start.day):
        days, balances = np.insert(days, 0, start.day), np.insert(balances, 0, start.balance)
    changed = np.append(True, balances[1:] != balances[:-1])[: len(balances)]
    is_open = account.opening.date <= period.today
    today_balance = start.balance + books.recorded_on(account.id, period.today) if is_open else 0
    return AccountRun(account, today_balance, days[changed], balances[changed], is_open)
