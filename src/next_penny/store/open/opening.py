"""Opening a household's file: is it one, is it whole, is it as it was left, and is its schema current.

Whatever lies beside it, the record of what was acknowledged decides. What the file and SQLite's log say together is
held against that, row by row, before either is touched: docs/architecture.md, "The file", has the proof.
"""

import contextlib
import os
import shutil
import sqlite3
import tempfile
from datetime import datetime
from pathlib import Path
from typing import NamedTuple

from next_penny.store.backups.kept import Backup, Backups
from next_penny.store.file.connection import (
    Connection,
    connect,
    has_household,
    make_private,
)
from next_penny.store.file.content import Digests, State, digests, put_rows, state_of
from next_penny.store.file.copies import sync_folder
from next_penny.store.file.faults import BackupError, StoreError
from next_penny.store.file.file_identity import companions, identity_of, is_open
from next_penny.store.file.pages import is_explained, page_hashes
from next_penny.store.file.schema import newest, version_of, write_new
from next_penny.store.open.checksums import damaged_tables, noted_damage
from next_penny.store.open.connecting import connected


class Opened(NamedTuple):
    """The connection that writes, what is worth saying of how the file was found, and what is damaged in it."""

    connection: Connection
    notices: list[str]
    damage: str | None


class _Seen(NamedTuple):
    """A whole household as some files together give it."""

    file: Path
    state: State
    digests: Digests


def open_household(path: Path, backups: Backups) -> Opened:
    """Open a household's file, creating it when missing and bringing its schema up to date.

    Only its owner may read it. Raises StoreError for a file that is not SQLite, not a household's, damaged, or from a
    newer version; such a file is left as it is.
    """
    with backups.latest.turn.taken():
        notices = _compare_with_record(path, backups) if path.exists() else _begin_anew(path, backups)
        is_alone = not is_open(path)
        connection = connected(path, backups)
        try:
            if is_alone:
                _redo(connection, backups)
            damage = _damage(connection, backups)
            _begin_record(connection, backups)
        except BaseException:
            connection.close()
            raise
    return Opened(connection, notices, damage)


def _begin_anew(path: Path, backups: Backups) -> list[str]:
    """An empty household. What was acknowledged of one that was there before is kept as a backup."""
    notices = []
    backup = _keep_known(backups)
    if backup is not None:
        notices.append(f"There was a household at {path} before: it is kept as the backup {backup.name}.")
    put_aside(companions(path), backups)
    with tempfile.TemporaryDirectory(prefix="next-penny-new-", dir=path.parent) as folder:
        part = Path(folder) / path.name
        write_new(part)
        make_private(part)
        try:
            # It gets its name with its schema, and takes nobody else's.
            os.link(part, path)
        except FileExistsError:
            return notices
        except OSError:
            os.replace(part, path)
        sync_folder(path.parent)
    return notices


def _compare_with_record(path: Path, backups: Backups) -> list[str]:
    """Hold what lies at the path against what was acknowledged, if nobody has it open. Returns what is to be said."""
    latest, beside = backups.latest, companions(path)
    if is_open(path):
        return []
    is_as_left = _is_as_left(path, backups)
    if not beside and is_as_left and latest.record.is_empty():
        return []
    with backups.scratch() as folder:
        alone = _seen(path, [], folder / "alone")
        together = _seen(path, beside, folder / "together") if beside else alone
        known = _known(backups, folder / "known")
        if known is None:
            return _without_record(path, backups, beside, alone, together)
        if alone is not None and alone.digests == known.digests:
            return []
        if is_as_left and together is not None and _is_on_record(together, known, backups, folder):
            return []  # where the record is ahead, that is caught up with when the file is open
        return _changed_meanwhile(path, backups, beside if not is_as_left or together is None else [], known)


def _is_as_left(path: Path, backups: Backups) -> bool:
    """Whether nobody wrote to the file but SQLite, folding its log in. This process does not have it open."""
    noted = backups.latest.notes.read()
    if noted is None:
        return False
    if identity_of(path) == noted.identity:
        return True
    with path.open("rb") as file:
        return is_explained(page_hashes(file.fileno()), noted.pages, path.with_name(f"{path.name}-wal"))


def _is_on_record(seen: _Seen, known: _Seen, backups: Backups, folder: Path) -> bool:
    """Whether this is the household as it was acknowledged, last or at an earlier revision."""
    if seen.digests == known.digests:
        return True
    earlier = _known(backups, folder / "earlier", seen.state.revision)
    return earlier is not None and earlier.digests == seen.digests


def _without_record(
    path: Path, backups: Backups, beside: list[Path], alone: _Seen | None, together: _Seen | None
) -> list[str]:
    """What was acknowledged is not known. A log beside the file is not dropped: both readings are kept."""
    if not beside or (together is None and alone is None):
        return []
    if alone is None or (together is not None and alone.digests == together.digests):
        return []
    names = [backups.take(one_opened.file, "kept").name for one_opened in (alone, together) if one_opened is not None]
    is_fuller = together is not None and together.state.revision >= alone.state.revision
    if not is_fuller:
        put_aside(beside, backups)
    opened = "with it" if is_fuller else "without it"
    return [
        f"A log lay beside {path.name} of which it cannot be told whether it belongs to it. The file is opened"
        f" {opened}; both are kept as backups: {' and '.join(names)}."
    ]


def _changed_meanwhile(path: Path, backups: Backups, not_its_own: list[Path], known: _Seen) -> list[str]:
    """The file is not as it was left: what was acknowledged is kept as a backup, and what is there is opened."""
    backup = _keep_known(backups)
    put_aside(not_its_own, backups)
    backups.latest.forget()
    name = backup.name if backup is not None else "the newest of kind “kept”"
    return [
        f"{path.name} is not as the app left it: another file was put in its place, or another program wrote to it."
        f" What is there is open now; what the app had saved is kept as the backup {name}."
    ]


def _keep_known(backups: Backups) -> Backup | None:
    """What was acknowledged as a backup; None where that is not known, or is a backup already."""
    with backups.scratch() as folder:
        known = _known(backups, folder / "known")
        if known is None:
            return None
        for backup in backups.all():
            file = backups.file(backup.name)
            if backup.kind == "kept" and file is not None:
                before = _seen(file, [], folder / "before")
                if before is not None and before.digests == known.digests:
                    return backup
        try:
            return backups.take(known.file, "kept")
        except BackupError as error:
            raise StoreError(str(error)) from error


def _known(backups: Backups, file: Path, until: int | None = None) -> _Seen | None:
    """The household as it was last acknowledged (or at a revision); None where that is not known."""
    if backups.latest.rebuild(file, until) is None:
        return None
    return _seen_in(file)


def _seen(path: Path, beside: list[Path], copy: Path) -> _Seen | None:
    """A household as a copy of a file and what lies beside it give it; None where that is not whole."""
    try:
        shutil.copyfile(path, copy)
        for one_path in beside:
            shutil.copyfile(one_path, copy.with_name(copy.name + one_path.name.removeprefix(path.name)))
    except OSError:
        return None
    return _seen_in(copy)


def _seen_in(file: Path) -> _Seen | None:
    try:
        if not has_household(file):
            return None
        with contextlib.closing(connect(file)) as connection:
            if connection.execute("PRAGMA integrity_check(1)").fetchone()[0] != "ok":
                return None
            if version_of(connection) != newest():
                return _Seen(file, State("", connection.execute("SELECT number FROM revision").fetchone()[0]), {})
            return _Seen(file, state_of(connection), digests(connection))
    except (sqlite3.Error, OSError, TypeError, ValueError):
        return None


def put_aside(files: list[Path], backups: Backups) -> None:
    """Move logs that are not the file's own to the backups: they are not thrown away."""
    if not files:
        return
    backups.folder.mkdir(mode=0o700, exist_ok=True)
    for file in files:
        os.replace(file, backups.folder / f"{datetime.now():%Y%m%d-%H%M%S}-{file.name}")  # noqa: DTZ005 - a name for a person
        file.with_name(f"{file.name.removesuffix('-wal')}-shm").unlink(missing_ok=True)


def _redo(connection: sqlite3.Connection, backups: Backups) -> None:
    """Bring what is on record, and did not reach the file before the app was killed. Nobody else has the file open."""
    if backups.latest.record.is_empty():
        return
    state = state_of(connection)
    connection.execute("PRAGMA foreign_keys = OFF")
    for commit in backups.latest.record.commits():
        if commit.state == State(state.lineage, state.revision + 1):
            connection.execute("BEGIN IMMEDIATE")
            put_rows(connection, commit.rows)
            connection.execute("COMMIT")
            state = commit.state
    connection.execute("PRAGMA foreign_keys = ON")


def _begin_record(connection: sqlite3.Connection, backups: Backups) -> None:
    """Let there be a whole copy from which the record leads to what the file has."""
    backups.folder.mkdir(mode=0o700, exist_ok=True)
    if not backups.latest.reaches(state_of(connection)):
        try:
            backups.latest.keep(connection)
        except BackupError as error:
            raise StoreError(str(error)) from error


def _damage(connection: sqlite3.Connection, backups: Backups) -> str | None:
    """What is not as it was written, by the checksums of the last rest; what was acknowledged is kept then."""
    noted = noted_damage(connection)
    if noted is not None:
        return noted
    damage = damaged_tables(connection)
    if damage is None:
        return None
    backup = _keep_known(backups)
    where = f" What the app had saved is kept as the backup {backup.name}." if backup is not None else ""
    return damage + where
