"""What was last whole, kept beside the file: the newest state of plan and entries, and what was acknowledged since.

`latest.sqlite3` is the household at some commit, without the content of receipts, which never change and are kept once
each by their SHA-256 in `receipts/`. The record holds the rows of every later commit. Both together are the household
as it was last acknowledged, whatever becomes of the file itself.
"""

import contextlib
import sqlite3
from datetime import date
from pathlib import Path

from next_penny.formats.receipts import ReceiptError, receipt_type
from next_penny.store.file.content import State, columns_of, content_tables, put_rows, state_of
from next_penny.store.file.copies import cannot_write, check_whole, in_one_step, put_bytes
from next_penny.store.file.file_identity import Notes, Turn
from next_penny.store.file.record import Commit, Record
from next_penny.store.file.schema import empty_file, newest, version_of
from next_penny.store.sql.receipts import name_of, store_file

NAME = "latest.sqlite3"


class Latest:
    """The newest whole state in a folder, and the record of what came after it."""

    def __init__(self, folder: Path) -> None:
        self.folder, self.file = folder, folder / NAME
        self.record = Record(folder / "since-latest.log")
        self.notes = Notes(folder / "file-as-left")
        # A fold and its note are one: whoever writes, folds or opens the file has the turn.
        self.turn = Turn(folder / "write.lock")
        self._keeping = Turn(folder / "latest.lock")
        self._receipts = folder / "receipts"

    def keep(self, connection: sqlite3.Connection) -> State:
        """Let the newest whole state be what a connection sees, in one step. Raises BackupError, FileFault."""
        try:
            with self._keeping.taken(), in_one_step(self.file) as part:
                part.write_bytes(empty_file())
                (is_checked,) = connection.execute("PRAGMA foreign_keys").fetchone()
                connection.execute("PRAGMA foreign_keys = OFF")  # tables come in no order
                connection.execute("ATTACH ? AS latest", (str(part),))
                try:
                    state = self._copy_rows(connection)
                finally:
                    connection.execute("DETACH latest")
                    connection.execute(f"PRAGMA foreign_keys = {is_checked}")
                check_whole(part)
        except (OSError, sqlite3.Error) as error:
            raise cannot_write(self.file, error) from error
        return state

    def _copy_rows(self, connection: sqlite3.Connection) -> State:
        connection.execute("PRAGMA latest.journal_mode = OFF")
        connection.execute("PRAGMA latest.synchronous = OFF")
        connection.execute("BEGIN")
        try:
            state = state_of(connection)
            for table in (*content_tables(connection), "sqlite_sequence"):
                names = ", ".join(columns_of(connection, table))
                numbered = "" if table == "sqlite_sequence" else "rowid, "
                connection.execute(
                    f"INSERT INTO latest.{table} ({numbered}{names}) SELECT {numbered}{names} FROM main.{table}"
                )
            self._keep_receipts(connection)
        except BaseException:
            connection.execute("ROLLBACK")
            raise
        connection.execute("COMMIT")
        return state

    def _keep_receipts(self, connection: sqlite3.Connection) -> None:
        names = {name for (name,) in connection.execute("SELECT sha256 FROM main.receipt_file")}
        self._receipts.mkdir(mode=0o700, exist_ok=True)
        receipts = {file.name for file in self._receipts.iterdir()}
        for name in names - receipts:
            row = connection.execute("SELECT content FROM main.receipt_file WHERE sha256 = ?", (name,)).fetchone()
            self.keep_receipt(name, row[0])
        for name in receipts - names:
            (self._receipts / name).unlink(missing_ok=True)

    def forget(self) -> None:
        """Let go of state and record: another household, or an older state of this one, begins them anew."""
        self.record.path.unlink(missing_ok=True)
        self.file.unlink(missing_ok=True)

    def keep_receipt(self, name: str, content: bytes) -> None:
        """Keep a receipt's file under the SHA-256 of its content. Raises OSError."""
        self._receipts.mkdir(mode=0o700, parents=True, exist_ok=True)
        if not (self._receipts / name).exists():
            put_bytes(self._receipts / name, content)

    def state(self) -> State | None:
        """The state of the newest whole copy; None where there is none that can be read."""
        try:
            with contextlib.closing(sqlite3.connect(f"file:{self.file}?mode=ro", uri=True)) as connection:
                return state_of(connection)
        except sqlite3.Error:
            return None

    def has_base(self, connection: sqlite3.Connection) -> bool:
        """Whether a commit may go on the record: there is a copy that it begins with, and nothing between is lost."""
        if not self.file.exists():
            return False
        return self.record.path.exists() or self.state() == state_of(connection)

    def reaches(self, state: State) -> bool:
        """Whether copy and record together lead to a state without a gap."""
        base = self.state()
        if base is None or base.lineage != state.lineage or base.revision > state.revision:
            return False
        if base == state:
            return True
        numbers = [commit.state.revision for commit in self._commits_after(base)]
        return numbers == list(range(base.revision + 1, state.revision + 1))

    def _commits_after(self, base: State) -> list[Commit]:
        return [
            commit
            for commit in self.record.commits()
            if commit.state.lineage == base.lineage and commit.state.revision > base.revision
        ]

    def rebuild(self, path: Path, until: int | None = None) -> State | None:
        """Make the household as it was last acknowledged (or at a revision) at a path. None where it is not known."""
        try:
            path.write_bytes(self.file.read_bytes())
            with contextlib.closing(sqlite3.connect(path, isolation_level=None)) as connection:
                if version_of(connection) != newest():
                    return None
                state = state_of(connection)
                connection.execute("BEGIN")
                for commit in self._commits_after(state):
                    if until is not None and commit.state.revision > until:
                        break
                    if commit.state.revision != state.revision + 1:
                        return None  # something is missing between: an older version of the app wrote meanwhile
                    put_rows(connection, commit.rows)
                    state = commit.state
                self._put_receipts(connection)
                connection.execute("COMMIT")
        except (OSError, sqlite3.Error):
            return None
        return state

    def _put_receipts(self, connection: sqlite3.Connection) -> None:
        for file in self._receipts.iterdir() if self._receipts.exists() else ():
            content = file.read_bytes()
            if file.name == name_of(content):
                kept_on = date.fromtimestamp(file.stat().st_mtime)  # noqa: DTZ012 - local, as people count days
                store_file(connection, content, _media_type(content), kept_on)


def _media_type(content: bytes) -> str:
    try:
        return receipt_type(content)
    except ReceiptError:
        return "application/octet-stream"
