"""Is a file, page by page, what it was at the last fold, or what folding its log makes of it?

SQLite writes to the file of a database in WAL mode only when it folds its log in, and then only pages that the log
holds (SQLite, "Write-Ahead Logging", and "Database File Format", section 4). So of a file that nobody else wrote to,
each page is the one noted at the last fold, or one of the log's; of any other file, some page is neither.
"""

import hashlib
import os
import struct
from collections import defaultdict
from pathlib import Path

_LOG_HEADER, _FRAME_HEADER, _HASH = 32, 24, 8
_BLOCK = 2**20


def page_hashes(descriptor: int) -> bytes:
    """The hash of every page, one after the other; empty for what has no pages."""
    header = os.pread(descriptor, 18, 0)
    size = _page_size(header[16:18])
    if not size:
        return b""
    digests, at, step = bytearray(), 0, max(size, _BLOCK // size * size)
    while block := os.pread(descriptor, step, at):
        at += len(block)
        for begin in range(0, len(block), size):
            digests += _hash(block[begin : begin + size])
    return bytes(digests)


def is_explained(now: bytes, noted: bytes, log: Path) -> bool:
    """Whether each page is as noted, or as the log beside the file has it."""
    if now == noted:
        return bool(now)
    if not noted:
        return False
    logged = _logged_pages(log)
    for begin in range(0, max(len(now), len(noted)), _HASH):
        page = now[begin : begin + _HASH]
        if page != noted[begin : begin + _HASH] and page not in logged[begin // _HASH + 1]:
            return False
    return True


def _logged_pages(log: Path) -> defaultdict[int, set[bytes]]:
    """By number, the hashes of the pages that a log holds."""
    hashes: defaultdict[int, set[bytes]] = defaultdict(set)
    try:
        content = memoryview(log.read_bytes())
    except OSError:
        return hashes
    if len(content) < _LOG_HEADER:
        return hashes
    (size,), salts = struct.unpack(">I", content[8:12]), content[16:24]
    frame = _FRAME_HEADER + (size or 65536)
    for begin in range(_LOG_HEADER, len(content) - frame + 1, frame):
        if content[begin + 8 : begin + 16] != salts:
            break  # from here on it is what an earlier log left
        (number,) = struct.unpack(">I", content[begin : begin + 4])
        hashes[number].add(_hash(content[begin + _FRAME_HEADER : begin + frame]))
    return hashes


def _page_size(field: bytes) -> int:
    return {1: 65536}.get(number := int.from_bytes(field, "big"), number if number >= 512 else 0)


def _hash(page: bytes | memoryview) -> bytes:
    return hashlib.blake2b(page, digest_size=_HASH).digest()
