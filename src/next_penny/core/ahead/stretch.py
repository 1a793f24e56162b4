"""Balances and movements of chosen accounts over any stretch, past or future (docs/rules.md, Months and figures).

Days before today are as recorded, today and later as forecast. Each entry or occurrence counts once, by its net on the
chosen accounts.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

import numpy as np
import numpy.typing as npt
from propcache.api import cached_property

from next_penny.core.books.moment import Moment
from next_penny.core.books.recorded import daily_changes
from next_penny.core.flows.makers import expected
from next_penny.core.forecast.events import STATUSES, Origin, Status
from next_penny.core.forecast.projection import Forecast, project
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.problems import refused

Column = npt.NDArray[np.int64]


class Movement(NamedTuple):
    """What an entry or an occurrence changes on the chosen accounts together, on a day (its number).

    nominal: of an expected occurrence. entry: what is recorded; origin: where what is expected comes from. Both are
    None for the opening balance of an account that opens within the stretch.
    """

    day: int
    net: int
    entry: Entry | None
    origin: Origin | None
    nominal: int | None

    @property
    def is_beginning(self) -> bool:
        """Whether it is what an account begins with."""
        return self.entry is None and self.origin is None


class Expected(NamedTuple):
    """An expected occurrence that moves money on some accounts, on a day (its number): (account, amount) each."""

    day: int
    origin: Origin
    nominal: int | None
    status: Status
    legs: Sequence[tuple[str, int]]


@dataclass(frozen=True, eq=False)
class Stretch:
    """Chosen accounts of one currency from a day to another, day numbers, both inclusive.

    entries: what is recorded before today that may concern them.
    """

    moment: Moment
    accounts: tuple[Account, ...]
    first: int
    last: int
    entries: Sequence[Entry]

    @cached_property
    def _ids(self) -> frozenset[str]:
        return frozenset(account.id for account in self.accounts)

    @cached_property
    def forecast(self) -> Forecast | None:
        """What is expected of them; None for a stretch that has passed."""
        if self.last < self.moment.now:
            return None
        until, ids = date.fromordinal(self.last), tuple(account.id for account in self.accounts)
        return self.moment.keep(f"forecast of {ids} until {until}", lambda: project(self.moment, until, ids))

    def balances(self, account: Account) -> Column:
        """An account's end-of-day balance on the day before the stretch and on each day of it; 0 before it is open."""
        opened, now = account.opening.date.toordinal(), self.moment.now
        levels = [(0, 0)]
        if opened < now:
            levels.append((opened, balance := account.opening.balance))
            for day, change in daily_changes(self.moment, account.id):
                if day < now:
                    levels.append((day, balance := balance + change))
        if self.forecast is not None:
            levels += self.forecast.run_of[account.id].levels
        days, amounts = np.array([level for level in levels if level[0] <= self.last], dtype=np.int64).T
        # The day before the first level of all has nothing; later levels of one day take the place of earlier ones.
        order = np.argsort(days, kind="stable")
        at = np.searchsorted(days[order], np.arange(self.first - 1, self.last + 1), side="right") - 1
        column: Column = np.asarray(amounts[order][at], dtype=np.int64)
        if opened >= self.first:
            column[np.arange(self.first - 1, self.last + 1) < opened] = 0
        return column

    @cached_property
    def together(self) -> Column:
        """The balances of all chosen accounts added up, the day before the stretch first."""
        total = np.zeros(self.last - self.first + 2, dtype=np.int64)
        for account in self.accounts:
            total += self.balances(account)
        return total

    def below(self, bound: str) -> npt.NDArray[np.bool_]:
        """On which days of the stretch any of them is below its own floor or cushion; a debt is below nothing."""
        days = np.arange(self.first, self.last + 1)
        under = np.zeros(len(days), dtype=np.bool_)
        for account in self.accounts:
            if not account.is_debt:
                is_open = days >= account.opening.date.toordinal()
                under |= is_open & (self.balances(account)[1:] < getattr(account, bound))
        return under

    def shortages(self) -> dict[str, Column]:
        """By account, on each day how much it is below its floor; a debt never is."""
        days = np.arange(self.first, self.last + 1)
        return {
            account.id: np.where(
                days >= account.opening.date.toordinal(), account.floor - self.balances(account)[1:], 0
            )
            for account in self.accounts
            if not account.is_debt
        }

    def movements(self) -> Iterator[Movement]:
        """Everything that moves on them, in no order; what nets to nothing among them is left out."""
        for account in self.accounts:
            opened = account.opening.date.toordinal()
            if self.first <= opened <= self.last and account.opening.balance:
                yield Movement(opened, account.opening.balance, None, None, None)
        for entry in self.recorded():
            yield from self._of_entry(entry)
        yield from self._expected()

    def recorded(self) -> Iterator[Entry]:
        """The entries of its days, what is taken to have happened and what is dated ahead among them."""
        now = self.moment.now
        before = (*self.entries, *(entry for entry in self.moment.assumed if entry.date < self.moment.today))
        for entry in before:
            if self.first <= entry.date.toordinal() <= min(self.last, now - 1):
                yield entry
        for entry in self.moment.books.ahead:
            if self.first <= entry.date.toordinal() <= self.last:
                yield entry

    def _of_entry(self, entry: Entry) -> Iterator[Movement]:
        net = sum(leg.amount for leg in self.legs_here(entry))
        if net:
            nominal = entry.settles.toordinal() if entry.settles is not None else None
            yield Movement(entry.date.toordinal(), net, entry, None, nominal)

    def legs_here(self, entry: Entry) -> list[Leg]:
        """An entry's legs on the chosen accounts."""
        return [leg for leg in entry.legs if leg.account in self._ids]

    def _expected(self) -> Iterator[Movement]:
        """What is expected, each occurrence once: what it changes on several accounts is added up.

        What moves from one of them to another is left out; a date of nothing is not: it is there to be filled.
        """
        for occurrence in self.occurrences():
            net = sum(amount for _, amount in occurrence.legs)
            if net:
                yield Movement(occurrence.day, net, None, occurrence.origin, occurrence.nominal)
        if self.forecast is not None:
            yield from self._without_amount()

    def occurrences(self) -> Iterator[Expected]:
        """What is expected, each occurrence once with what it moves on each of the accounts, in order of day."""
        if self.forecast is None:
            return
        events = self.forecast.events
        columns, is_recorded = events.columns, [origin.source == "recorded" for origin in events.origins]
        legs: dict[tuple[int, int, int, int], list[tuple[str, int]]] = {}
        for day, origin, nominal, status, account, amount in zip(
            *(column.tolist() for column in (columns.day, columns.origin, columns.nominal, columns.status)),
            columns.account.tolist(), columns.amount.tolist(), strict=True,
        ):  # fmt: skip
            if day >= self.first and not is_recorded[origin]:
                legs.setdefault((day, origin, nominal, status), []).append((events.accounts[account], amount))
        for (day, origin, nominal, status), moved in legs.items():
            yield Expected(day, events.origins[origin], nominal or None, STATUSES[status], moved)

    def _without_amount(self) -> Iterator[Movement]:
        """Dates of flows that have no amount yet, which a forecast leaves out."""
        for flow in self.moment.plan.flows:
            if flow.main_account not in self._ids:
                continue
            rows = expected(self.moment, flow, self.last)
            for nominal, lands in zip(*(column[rows.amount == 0].tolist() for column in rows[:2]), strict=True):
                day = max(lands, self.moment.now)
                if self.first <= day <= self.last:
                    yield Movement(day, 0, None, Origin(flow.id, flow.name, None, "flow"), nominal)


def stretch(
    moment: Moment, accounts: Sequence[Account], first: date, last: date, entries: Sequence[Entry]
) -> Stretch:  # fmt: skip
    """Chosen accounts over a stretch. Raises PlanError where it ends before it starts, or they have two currencies."""
    if last < first:
        raise refused("to", "The stretch ends before it starts: choose a later end.", "range")
    refuse_currencies(accounts)
    return Stretch(moment, tuple(accounts), first.toordinal(), last.toordinal(), entries)


def refuse_currencies(accounts: Sequence[Account]) -> None:
    """Raise PlanError for accounts of more than one currency."""
    currencies = sorted({account.currency for account in accounts})
    if len(currencies) > 1:
        message = f"These accounts are in {' and '.join(currencies)}: choose accounts of one currency."
        raise refused("accounts", message, "other_currency")


def spendable(moment: Moment) -> tuple[Account, ...]:
    """The accounts that are meant where none are named: the spendable ones in the household's currency."""
    currency = moment.plan.household.currency
    return tuple(
        account for account in moment.plan.accounts
        if account.spendable and not account.is_debt and account.currency == currency
        and not account.is_closed_on(moment.today)
    )  # fmt: skip
