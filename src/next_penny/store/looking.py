"""What a backup holds, before it is brought back: seen from today, as the household itself is."""

import contextlib
import sqlite3
from datetime import date
from pathlib import Path
from typing import NamedTuple

from next_penny.core.flows.assumed import moment_of
from next_penny.core.forecast.projection import project
from next_penny.core.moment import Moment
from next_penny.core.plan import Entry
from next_penny.store import entries, plans
from next_penny.store.restoring import current_copy


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


def look(file: Path, today: date) -> Held:
    """What a file holds. Raises BackupError for one that is no household, or damaged."""
    with current_copy(file) as copy, contextlib.closing(sqlite3.connect(copy)) as connection:
        connection.row_factory = sqlite3.Row
        moment = moment_of(plans.read_plan(connection), entries.read_books(connection, today), today)
        (count,) = connection.execute("SELECT count(*) FROM entry").fetchone()
        last = connection.execute("SELECT id FROM entry ORDER BY date DESC, seq DESC LIMIT 1").fetchone()
        return Held(
            moment.plan.household.name,
            balances_today(moment),
            len(moment.plan.flows),
            count,
            entries.read_entry(connection, last["id"]) if last is not None else None,
        )


def balances_today(moment: Moment) -> list[AccountToday]:
    """Every account's balance at the end of today."""
    forecast = project(moment, moment.today)
    return [AccountToday(run.account.name, run.account.currency, run.today_balance) for run in forecast.runs]
