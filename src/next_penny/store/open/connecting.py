"""The connection that writes to a household's file, brought up to date; or why there is none, in a sentence."""

import sqlite3
from pathlib import Path

from next_penny.store.backups.kept import Backups
from next_penny.store.file.connection import (
    Connection,
    check_is_household,
    connect,
    connect_writer,
    make_private,
)
from next_penny.store.file.faults import BackupError, DamagedFile, StoreError, is_busy
from next_penny.store.file.schema import bring_up_to_date, is_current, newest, version_of


def connected(path: Path, backups: Backups) -> Connection:
    """The connection that writes, to a file that is whole and current."""
    try:
        if not path.stat().st_size:
            raise damaged(path, backups, "it is empty")
        connection = connect(path)
    except (sqlite3.Error, OSError) as error:
        raise StoreError(f"{path} cannot be opened: {error}.") from error
    try:
        check_is_household(connection, path)
        if connection.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
            raise damaged(path, backups, "its pages do not fit together")
        make_private(path)
        connection.close()
        connection = connect_writer(path)
        if not is_current(connection):
            _back_up_before_update(connection, path, backups)
            bring_up_to_date(connection)
            connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    except sqlite3.DatabaseError as error:
        connection.close()
        raise _cannot_be_read(path, backups, error) from error
    except BaseException:
        connection.close()
        raise
    return connection


def _back_up_before_update(connection: sqlite3.Connection, path: Path, backups: Backups) -> None:
    """Keep the file as the older app left it, for that app to open again."""
    if not 0 < version_of(connection) < newest():
        return
    try:
        backups.make(connection, "before-update")
    except BackupError as error:
        raise StoreError(f"{path} is not brought up to date without a backup. {error}") from error


def damaged(path: Path, backups: Backups, why: str) -> DamagedFile:
    good = backups.newest_good()
    way_out = (
        f"The newest good backup is {good}. Bring it back with: next-penny restore '{good}' --file '{path}'"
        if good is not None
        else f"There is no backup in {backups.folder}."
    )
    return DamagedFile(f"{path} is damaged ({why}). {way_out}")


def _cannot_be_read(path: Path, backups: Backups, error: sqlite3.DatabaseError) -> StoreError:
    name = getattr(error, "sqlite_errorname", "") or ""
    if name.startswith("SQLITE_NOTADB"):
        # A household whose first page is gone is told from what never was one by its backups.
        if backups.all():
            return damaged(path, backups, "it does not begin as an SQLite file does")
        return StoreError(f"{path} is not a Next Penny household: it is not an SQLite file.")
    if name.startswith("SQLITE_CORRUPT"):
        return damaged(path, backups, "its pages cannot be read")
    if name.startswith("SQLITE_READONLY"):
        return StoreError(f"{path} may only be read: let it and its folder be written to, then start again.")
    if is_busy(error):
        return StoreError(f"{path} is held by another program: close that, then start again.")
    if name.startswith("SQLITE_FULL"):
        return StoreError(f"The disk of {path} is full: make some room, then start again.")
    return StoreError(f"{path} cannot be read as a household: {error}.")
