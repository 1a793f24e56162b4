"""Writing down what was expected, within the transaction of every change (docs/rules.md, Expected and actual).

Before a change: what landed before today, as the plan stands. After it: what it settled before its day, and nothing
any more of what it took back. Undo steps have none of it.
"""

import sqlite3
from collections import defaultdict
from collections.abc import Iterator
from datetime import timedelta

from next_penny.core.books.moment import Moment
from next_penny.core.plan.memory import Expected, Key
from next_penny.core.plan.rates import NoRate
from next_penny.core.review.remembering import cut_short, days_to_write, is_left_out, landed, settled_by
from next_penny.store.moments import Reading
from next_penny.store.sql import memory
from next_penny.store.sql.entries import on_day

# No period is longer, so that those of an earlier day end before it.
_NEAR = timedelta(days=62)


def write_down(reading: Reading) -> None:
    """Write down what landed before today and is not written yet; the first time, all that the plan tells.

    While an exchange rate is missing nothing is: what was expected is read from the plan until the rate is there.
    """
    connection, today = reading.connection, reading.today
    until = memory.read_until(connection)
    first, last = days_to_write(until, today)
    if until == last:
        return
    if first <= last:
        near = _periods(memory.read_from(connection, first - _NEAR if until is not None else first))
        try:
            expected = tuple(landed(reading.moment, first, last, near))
        except NoRate:
            return  # the change may be the very rate
        memory.write(connection, expected)
    memory.write_until(connection, last)


def _periods(rows: tuple[Expected, ...]) -> dict[str, list[Expected]]:
    periods: defaultdict[str, list[Expected]] = defaultdict(list)
    for row in rows:
        if row.is_allowance:
            periods[row.source].append(row)
    return periods


def mark_of(connection: sqlite3.Connection) -> int:
    """Another number once a transaction brings another memory; of two rows of one key the one that came last stays."""
    memory.keep_one_of_each(connection)
    row = connection.execute("SELECT count(*) FROM temp.changed WHERE name = 'expected_until'").fetchone()
    return int(row[0])


def follow(connection: sqlite3.Connection, before: Moment, after: Moment) -> None:
    """After a change: write down what it settled on or before its day; what is not settled any more goes again."""
    today = before.today
    touched = set(_touched(connection))
    memory.forget(
        connection, [row.key for row in memory.read_unsettled_from(connection, today) if not is_left_out(after, row)]
    )
    memory.write(connection, settled_by(before, after, touched))
    memory.write(connection, cut_short(before, after))


def _touched(connection: sqlite3.Connection) -> Iterator[Key]:
    """The occurrences that entries name which the transaction has changed."""
    rows = connection.execute(
        "SELECT DISTINCT entry.flow, entry.nominal FROM temp.changed JOIN entry ON entry.rowid = changed.row "
        "WHERE changed.name = 'entry' AND entry.flow IS NOT NULL AND entry.nominal IS NOT NULL"
    ).fetchall()
    return (Key(flow, on_day(nominal)) for flow, nominal in rows)
