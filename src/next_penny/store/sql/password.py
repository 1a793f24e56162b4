"""The password of the app's door in SQL: only what proves it is kept, never itself."""

import sqlite3
from typing import NamedTuple


class Door(NamedTuple):
    """What scrypt makes of the password with its salt, and for how many minutes one stays once inside."""

    salt: bytes
    hash: bytes
    minutes: int


def read_door(connection: sqlite3.Connection) -> Door | None:
    row = connection.execute("SELECT salt, hash, minutes FROM door").fetchone()
    return Door(*row) if row is not None else None


def write_door(connection: sqlite3.Connection, door: Door | None) -> None:
    connection.execute("DELETE FROM door")
    if door is not None:
        connection.execute("INSERT INTO door (salt, hash, minutes) VALUES (?, ?, ?)", door)
