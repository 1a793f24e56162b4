"""The record of what was acknowledged: the rows of each commit, on the disk before anybody is told that it is done.

It lies beside the newest whole copy of the household, and begins where that ends. One line a commit: the first 32 hex
digits of the SHA-256 of the rest, then JSON. A line that a kill cut short was never acknowledged; it is passed over,
and cut off before the next is written. Only who holds SQLite's write lock on the household's file writes here.
"""

import hashlib
import json
import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any, NamedTuple

from next_penny.store.file.content import Rows, State
from next_penny.store.file.copies import put_bytes, sync_folder

_CHECK = 32


class Commit(NamedTuple):
    """One commit: the state of the household that it made, and the rows that it left."""

    state: State
    rows: Rows


class Record:
    """The commits since the newest whole copy."""

    def __init__(self, path: Path) -> None:
        self.path = path

    def append(self, commit: Commit) -> int:
        """Write a commit, and wait until it is on the disk. Returns where it begins, for `cut`."""
        text = json.dumps([*commit.state, commit.rows], default=_bytes_as_json, separators=(",", ":"))
        line = text.encode("utf-8", "surrogatepass")
        is_new = not self.path.exists()
        descriptor = os.open(self.path, os.O_CREAT | os.O_RDWR, 0o600)
        try:
            begin = self._end_of_whole_lines(descriptor)
            try:
                _write(descriptor, b"%b %b\n" % (_check(line), line), begin)
                os.fsync(descriptor)
            except BaseException:
                os.ftruncate(descriptor, begin)
                raise
        finally:
            os.close(descriptor)
        if is_new:
            sync_folder(self.path.parent)
        return begin

    def cut(self, begin: int) -> None:
        """Take back what was written from there on: it came to nothing."""
        os.truncate(self.path, begin)

    def commits(self) -> list[Commit]:
        """Every commit that is whole, the oldest first; of one revision the last that was written."""
        commits: dict[int, Commit] = {}
        for line in self._whole_lines():
            lineage, revision, rows = json.loads(line.decode("utf-8", "surrogatepass"), object_hook=_bytes_from_json)
            commit = Commit(State(lineage, revision), {table: [(row, values) for row, values in rows_of]
                                                       for table, rows_of in rows.items()})  # fmt: skip
            commits.pop(revision, None)
            commits[revision] = commit
        return list(commits.values())

    def keep_after(self, state: State) -> None:
        """Let go of what a whole copy of that state has."""
        lines_after = [line for line in self._whole_lines() if _is_after(line, state)]
        put_bytes(self.path, b"".join(b"%b %b\n" % (_check(line), line) for line in lines_after))

    def is_empty(self) -> bool:
        """Whether nothing was acknowledged since the newest whole copy."""
        try:
            return not self.path.stat().st_size
        except OSError:
            return True

    def _whole_lines(self) -> Iterator[bytes]:
        try:
            content = self.path.read_bytes()
        except FileNotFoundError:
            return
        for line in content.split(b"\n")[:-1]:
            if _check(line[_CHECK + 1 :]) != line[:_CHECK]:
                return  # damaged: what follows would not fit
            yield line[_CHECK + 1 :]

    def _end_of_whole_lines(self, descriptor: int) -> int:
        size = os.fstat(descriptor).st_size
        if not size or os.pread(descriptor, 1, size - 1) == b"\n":
            return size
        end = sum(len(line) + _CHECK + 2 for line in self._whole_lines())
        os.ftruncate(descriptor, end)
        return end


def _is_after(line: bytes, state: State) -> bool:
    lineage, revision, *_ = json.loads(line.decode("utf-8", "surrogatepass"))
    return bool(lineage == state.lineage and revision > state.revision)


def _check(line: bytes) -> bytes:
    return hashlib.sha256(line).hexdigest()[:_CHECK].encode()


def _write(descriptor: int, content: bytes, at: int) -> None:
    view = memoryview(content)
    while view:
        done = os.pwrite(descriptor, view, at)
        view, at = view[done:], at + done


def _bytes_as_json(value: Any) -> Any:
    if isinstance(value, bytes):
        return {"hex": value.hex()}
    raise TypeError(value)


def _bytes_from_json(value: dict[str, Any]) -> Any:
    return bytes.fromhex(value["hex"]) if value.keys() == {"hex"} else value
