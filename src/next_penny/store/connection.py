"""Opening a household's file: is it one, is its schema current, and are its undo triggers in place."""

import os
import sqlite3
from collections.abc import Iterator
from importlib import resources
from importlib.resources.abc import Traversable
from pathlib import Path

from next_penny.store import undo
from next_penny.store.backups import BackupError, Backups
from next_penny.store.faults import FileFault
from next_penny.store.same_file import SameFile
from next_penny.store.stale_log import put_aside_stale_log

# "NPny" in ASCII: says in the file's header that it is a household of Next Penny.
APPLICATION_ID = 0x4E506E79


class StoreError(Exception):
    """A file that cannot be used as a household's; the message is a sentence for the person who named it."""


def connect(path: Path) -> sqlite3.Connection:
    """Open a household's file, creating it when missing and bringing its schema up to date.

    Only its owner may read it. Raises StoreError for a file that is not SQLite, not a household's, damaged, or from a
    newer version; such a file is left as it is.
    """
    _check_place(path)
    put_aside_stale_log(path)
    try:
        connection = _open(path)
    except sqlite3.Error as error:
        raise StoreError(f"{path} cannot be opened: {error}.") from error
    try:
        connection.execute("PRAGMA foreign_keys = ON")
        _check_is_household(connection, path)
        _make_private(path)
        connection.execute("PRAGMA journal_mode = WAL")
        connection.execute("PRAGMA synchronous = FULL")
        # The log is folded in by its own connection, once nothing more is written.
        connection.execute("PRAGMA wal_autocheckpoint = 0")
        _check_is_whole(connection, path)
        _migrate(connection, path)
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    except sqlite3.DatabaseError as error:
        connection.close()
        raise StoreError(_cannot_be_read(path, error)) from error
    except StoreError:
        connection.close()
        raise
    connection.row_factory = sqlite3.Row
    return connection


def has_household(path: Path) -> bool:
    """Whether a file is SQLite and says in its header that it is a household's."""
    with path.open("rb") as file:
        header = file.read(72)
    return header.startswith(b"SQLite format 3\0") and header[68:72] == APPLICATION_ID.to_bytes(4, "big")


def connect_reader(file: SameFile) -> sqlite3.Connection:
    """A connection that only reads a household's file, which `connect` has opened before. Raises FileFault."""
    return _again(file, "PRAGMA query_only = ON")


def connect_folder(file: SameFile) -> sqlite3.Connection:
    """A connection that folds the log into the file; it waits for nobody. Raises FileFault."""
    return _again(file, "PRAGMA busy_timeout = 0")


def _again(file: SameFile, setting: str) -> sqlite3.Connection:
    """One more connection to the file that is open, and to no other that took its name."""
    file.check()
    connection = _open(file.path)
    connection.execute(setting)
    connection.row_factory = sqlite3.Row
    try:
        # The file and its log are opened by what is read of them first.
        connection.execute("SELECT number FROM revision").fetchone()
        file.check()
    except (sqlite3.Error, FileFault):
        connection.close()
        raise
    return connection


def _open(path: Path) -> sqlite3.Connection:
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
    connection.execute("PRAGMA busy_timeout = 5000")
    return connection


def _check_place(path: Path) -> None:
    """Raises StoreError where no file can be at a path, or none can be made there."""
    try:
        if path.is_dir():
            raise StoreError(f"{path} is a folder: name a file in it.")
        if not path.exists():
            os.close(os.open(path, os.O_CREAT | os.O_RDWR, 0o600))
    except (OSError, ValueError) as error:
        why = error.strerror if isinstance(error, OSError) else "there can be no such name"
        raise StoreError(f"{_shown(path)} cannot be opened: {why}.") from error


def _shown(path: Path) -> str:
    """A path that fits into a sentence."""
    text = str(path)
    return text if len(text) <= 200 else f"{text[:120]}…{text[-40:]}"


def _make_private(path: Path) -> None:
    """Let the file, and with it the log beside it, be its owner's alone."""
    try:
        if path.stat().st_mode & 0o077:
            path.chmod(0o600)
    except OSError:
        return  # it is another user's: whose it is decides who reads it


def _check_is_household(connection: sqlite3.Connection, path: Path) -> None:
    (application,) = connection.execute("PRAGMA application_id").fetchone()
    (version,) = connection.execute("PRAGMA user_version").fetchone()
    (tables,) = connection.execute("SELECT count(*) FROM sqlite_schema").fetchone()
    is_new = not tables and application == 0 and version == 0
    if not is_new and application != APPLICATION_ID:
        raise StoreError(f"{path} is an SQLite file of another program, not a Next Penny household.")
    if version < 0:
        raise StoreError(f"{path} has a version that no Next Penny ever wrote ({version}): it is left as it is.")
    if version > _newest():
        raise StoreError(f"{path} was written by a newer version of Next Penny: update the app to open it.")


def _check_is_whole(connection: sqlite3.Connection, path: Path) -> None:
    """A quick look at all pages: damage is said at the start, not met in the middle of something."""
    (found,) = connection.execute("PRAGMA quick_check(1)").fetchone()
    if found != "ok":
        raise StoreError(_damaged(path, "its pages do not fit together"))


def _damaged(path: Path, found: str) -> str:
    good = Backups(path).newest_good()
    way_out = (
        f"The newest good backup is {good}. Bring it back with: next-penny restore '{good}' --file '{path}'"
        if good is not None
        else f"There is no backup in {Backups(path).folder}."
    )
    return f"{path} is damaged ({found}). {way_out}"


def _cannot_be_read(path: Path, error: sqlite3.DatabaseError) -> str:
    name = getattr(error, "sqlite_errorname", "") or ""
    if name.startswith("SQLITE_NOTADB"):
        # A household whose first page is gone is told from what never was one by its backups.
        return (
            _damaged(path, "it does not begin as an SQLite file does")
            if Backups(path).all()
            else f"{path} is not a Next Penny household: it is not an SQLite file."
        )
    if name.startswith("SQLITE_CORRUPT"):
        return _damaged(path, "its pages cannot be read")
    if name.startswith("SQLITE_READONLY"):
        return f"{path} may only be read: let it and its folder be written to, then start again."
    if name.startswith(("SQLITE_BUSY", "SQLITE_LOCKED")):
        return f"{path} is held by another program: close that, then start again."
    if name.startswith("SQLITE_FULL"):
        return f"The disk of {path} is full: make some room, then start again."
    return f"{path} cannot be read as a household: {error}."


def _migrate(connection: sqlite3.Connection, path: Path) -> None:
    (version,) = connection.execute("PRAGMA user_version").fetchone()
    newest = _newest()
    if version == newest and undo.has_all_triggers(connection):
        return
    if 0 < version < newest:
        _back_up_before_update(connection, path)
    # All or nothing: a file whose schema is current but whose triggers are missing could never undo again.
    connection.execute("BEGIN IMMEDIATE")
    try:
        (version,) = connection.execute("PRAGMA user_version").fetchone()
        for script in _scripts():
            if int(script.name[:4]) > version:
                for statement in _statements(script.read_text()):
                    connection.execute(statement)
        undo.create_triggers(connection)
        connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
        connection.execute(f"PRAGMA user_version = {newest}")
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


def _scripts() -> list[Traversable]:
    """The steps of the schema, in order."""
    files = resources.files(__package__).joinpath("schema").iterdir()
    return sorted((file for file in files if file.name.endswith(".sql")), key=lambda file: file.name)


def _newest() -> int:
    return int(_scripts()[-1].name[:4])


def _back_up_before_update(connection: sqlite3.Connection, path: Path) -> None:
    """Keep the file as the older app left it, for that app to open again."""
    try:
        Backups(path).make(connection, "before-update")
    except BackupError as error:
        raise StoreError(f"{path} is not brought up to date without a backup. {error}") from error


def _statements(script: str) -> Iterator[str]:
    """The statements of a script, one by one."""
    statement = ""
    for line in script.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""
