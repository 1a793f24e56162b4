"""Another file put into the place of the household's, while nobody has it open; what lay there is moved aside."""

import contextlib
import os
from datetime import datetime
from pathlib import Path

from next_penny.store.file.connection import connect_reader
from next_penny.store.file.copies import write_copy
from next_penny.store.file.file_identity import companions


def swap_damaged(path: Path, whole: Path) -> None:
    """Write a copy of a whole household to the path of a damaged one, which is moved aside with its log."""
    aside = f"{path.name}-damaged-{datetime.now():%Y%m%d-%H%M%S}"  # noqa: DTZ005 - a name for a person
    for file in (path, *companions(path)):
        os.replace(file, path.with_name(file.name.replace(path.name, aside)))
    _write(whole, path)


def put_in_place(path: Path, existing: Path) -> Path | None:
    """Write a copy of what was kept to a path. What lies there is moved aside, byte for byte. Returns where to."""
    aside = None
    if path.exists():
        aside = path.with_name(f"{path.stem}-found-{datetime.now():%Y%m%d-%H%M%S}{path.suffix}")  # noqa: DTZ005 - a name for a person
        os.replace(path, aside)
    for file in companions(path):
        os.replace(file, path.with_name(f"{(aside or existing).name}{file.name[-4:]}"))
    _write(existing, path)
    return aside


def _write(source: Path, path: Path) -> None:
    with contextlib.closing(connect_reader(source)) as connection:
        write_copy(connection, path)
