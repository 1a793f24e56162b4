"""Logs that earlier versions put aside after a kill: what they hold that the household has not is offered as a backup.

Such a log begins with pages of the household's own file. Both are read together, on a copy; every entry that can be
read there, is whole by itself, and is not in the household is added to a copy of that, which becomes a backup.
"""

import contextlib
import os
import shutil
import sqlite3
from pathlib import Path

from next_penny.core.plan.entries import Entry
from next_penny.store.backups.kept import Backups
from next_penny.store.file.connection import connect, connect_reader
from next_penny.store.file.faults import BackupError
from next_penny.store.sql import entries, plans

_LOOKED_AT = "-looked-at"


def offer(path: Path, backups: Backups) -> list[str]:
    """Look at every log that was put aside, once. Returns what is to be said of them."""
    aside = sorted(path.parent.glob(f"{path.name}-wal-aside-*"))
    logs = [log for log in aside if not log.name.endswith(_LOOKED_AT)]
    return [sentence for log in logs if (sentence := _offered(path, log, backups)) is not None]


def _offered(path: Path, log: Path, backups: Backups) -> str | None:
    with backups.scratch() as folder:
        now, then = folder / "now.sqlite3", folder / "then.sqlite3"
        with contextlib.closing(connect_reader(path)) as source, contextlib.closing(sqlite3.connect(now)) as copy:
            source.backup(copy)
        shutil.copyfile(now, then)
        shutil.copyfile(log, then.with_name(f"{then.name}-wal"))
        missing = _missing(now, then)
        if missing is None:
            said = f"{log.name}, left by an earlier kill, cannot be read: it is kept as it is."
        elif not missing:
            said = None
        else:
            said = _backed_up(now, missing, log, backups)
    os.replace(log, log.with_name(log.name + _LOOKED_AT))
    return said


def _missing(now: Path, then: Path) -> list[Entry] | None:
    """The entries that only the file with the log has; None where nothing can be read of it."""
    try:
        with contextlib.closing(connect_reader(now)) as here, contextlib.closing(connect(then)) as there:
            plan, known = plans.read_plan(here), {entry.id for entry in entries.read_entries(here)}
            read = entries.read_entries(there)
    except (sqlite3.Error, LookupError, TypeError, ValueError):
        return None
    accounts, categories = set(plan.account_by_id), set(plan.category_by_id)
    return [
        entry
        for entry in read
        if entry.id not in known
        and len(entry.legs) > 1
        and sum(leg.amount for leg in entry.legs) == 0
        and all((leg.account or leg.category) in (accounts if leg.account else categories) for leg in entry.legs)
    ]


def _backed_up(now: Path, missing: list[Entry], log: Path, backups: Backups) -> str:
    with contextlib.closing(connect(now)) as connection:
        connection.execute("BEGIN")
        for entry in missing:
            entries.write_entry(connection, entry)
        connection.execute("COMMIT")
    try:
        backup = backups.take(now, "kept")
    except BackupError as error:
        return f"{log.name}, left by an earlier kill, holds entries that the household has not. {error}"
    count = "one entry" if len(missing) == 1 else f"{len(missing)} entries"
    return (
        f"A log that an earlier kill left holds {count} that the household has not. The backup {backup.name} is the"
        " household with them: look at it, and restore it if they belong to it."
    )
