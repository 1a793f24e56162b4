"""What a backup holds, before it is brought back: seen from today, as the household itself is."""

import contextlib
from datetime import date
from pathlib import Path
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.flows.assumed import moment_of
from next_penny.core.forecast.projection import project
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan
from next_penny.store.file.connection import connect_reader
from next_penny.store.file.content import state_of
from next_penny.store.sql import entries, plans, sums


class AccountToday(NamedTuple):
    """An account and its balance at the end of today, in minor units."""

    name: str
    currency: str
    balance: int


class Held(NamedTuple):
    """The household in a file."""

    household: str
    accounts: list[AccountToday]
    flows: int
    entries: int
    last: Entry | None


def look(copy: Path, today: date) -> Held:
    """What a copy of a household's file holds, which is whole and up to date."""
    with contextlib.closing(connect_reader(copy)) as connection:
        moment = moment_of(plans.read_plan(connection), sums.read_books(connection, today), today)
        (count,) = connection.execute("SELECT count(*) FROM entry").fetchone()
        last = connection.execute("SELECT id FROM entry ORDER BY date DESC, seq DESC LIMIT 1").fetchone()
        return Held(
            moment.plan.household.name,
            balances_today(moment),
            len(moment.plan.flows),
            count,
            entries.read_entry(connection, last["id"]) if last is not None else None,
        )


def read_all(copy: Path) -> tuple[Plan, tuple[Entry, ...], str]:
    """Plan and entries of a copy of a household's file, and its lineage."""
    with contextlib.closing(connect_reader(copy)) as connection:
        return plans.read_plan(connection), entries.read_entries(connection), state_of(connection).lineage


def balances_today(moment: Moment) -> list[AccountToday]:
    """Every account's balance at the end of today."""
    forecast = project(moment, moment.today)
    return [AccountToday(run.account.name, run.account.currency, run.today_balance) for run in forecast.runs]
