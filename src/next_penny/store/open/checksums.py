"""What each table of a household's file came to at the last rest: a flipped bit within a page shows.

Checksums are no matter of undo, and hold for the revision that they were noted at alone.
"""

import contextlib
import sqlite3

from next_penny.store.file.content import digests, state_of, tables_that_differ
from next_penny.store.file.faults import DAMAGED, is_busy, sentence_of

# Stands in the place of a revision where damage was found, and is not mended yet.
_DAMAGED_REVISION = -1
# A table's name, what it comes to, and at which revision; or, in its place, what is damaged.
Checksum = tuple[str, str, int]


def noted_damage(connection: sqlite3.Connection) -> str | None:
    """The damage that was found earlier and is not mended yet, in a sentence."""
    row = connection.execute("SELECT digest FROM checksum WHERE revision = ?", (_DAMAGED_REVISION,)).fetchone()
    return str(row[0]) if row is not None else None


def damaged_tables(connection: sqlite3.Connection) -> str | None:
    """A sentence on the tables that are not as they were at the last rest, if the household is at that revision."""
    connection.execute("BEGIN")
    try:
        noted = {row[0]: row[1] for row in connection.execute(
            "SELECT name, digest FROM checksum WHERE revision = (SELECT number FROM revision)")}  # fmt: skip
        differing = list(tables_that_differ(noted, digests(connection))) if noted else []
    finally:
        connection.execute("COMMIT")
    if not differing:
        return None
    return (
        f"What is in the file is not what was written ({', '.join(differing)}): a disk may be failing, or another"
        " program changed it. Go back to a backup, under Accounts, Your data."
    )


def damage_in(connection: sqlite3.Connection) -> str | None:
    """What is damaged in a file, in a sentence; all of it is read."""
    try:
        (verdict,) = connection.execute("PRAGMA integrity_check(1)").fetchone()
        return damaged_tables(connection) if verdict == "ok" else DAMAGED
    except sqlite3.Error as error:
        return sentence_of(error) if not is_busy(error) else None
    except ValueError:  # what is damaged may be no text any more
        return DAMAGED


def new_checksums(connection: sqlite3.Connection, damage: str | None) -> list[Checksum]:
    """What each table comes to now, or what is damaged; nothing where that is noted already."""
    noted = {row[0] for row in connection.execute("SELECT DISTINCT revision FROM checksum")}
    if noted == {_DAMAGED_REVISION if damage is not None else state_of(connection).revision}:
        return []
    if damage is not None:
        return [("damage", damage, _DAMAGED_REVISION)]
    connection.execute("BEGIN")
    try:
        revision = state_of(connection).revision
        return [(name, digest, revision) for name, digest in digests(connection).items()]
    finally:
        connection.execute("COMMIT")


def note_checksums(connection: sqlite3.Connection, checksums: list[Checksum]) -> None:
    """Note what was worked out, if it is still so; if somebody writes, there will be another rest."""
    if not checksums:
        return
    with contextlib.suppress(sqlite3.OperationalError):
        connection.execute("BEGIN IMMEDIATE")
        try:
            if checksums[0][2] in (state_of(connection).revision, _DAMAGED_REVISION):
                connection.execute("DELETE FROM checksum")
                connection.executemany("INSERT INTO checksum VALUES (?, ?, ?)", checksums)
        finally:
            connection.execute("COMMIT")
