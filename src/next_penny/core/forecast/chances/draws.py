"""Draws: numbers that look random and follow from seed, path, what is drawn, and its day alone.

So a change of one thing leaves all other draws, and the same question has the same answer. The mixing is the
finalizer of SplitMix64 (Steele, Lea and Flood, Fast splittable pseudorandom number generators, 2014).
"""

from hashlib import blake2b

import numpy as np
import numpy.typing as npt

from next_penny.core.dates.business_days import Days

Paths = npt.NDArray[np.int64]
_Words = npt.NDArray[np.uint64]
_STEP = 0x9E3779B97F4A7C15


def drawn(seed: int, what: str, days: Days, paths: Paths, count: int) -> npt.NDArray[np.int64]:
    """Evenly one of `count` numbers from 0, for each day (a row) and path (a column)."""
    begin = int.from_bytes(blake2b(f"{seed} {what}".encode(), digest_size=8).digest())
    with np.errstate(over="ignore"):
        of_days = _mixed(days.astype(np.uint64) * np.uint64(_STEP) + np.uint64(begin))
        words = _mixed(of_days[:, None] + (paths.astype(np.uint64) + np.uint64(1)) * np.uint64(_STEP))
    # 53 bits of it as a fraction from 0 up to 1.
    return ((words >> np.uint64(11)).astype(np.float64) * (count / 2.0**53)).astype(np.int64)


def _mixed(words: _Words) -> _Words:
    words = (words ^ (words >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    words = (words ^ (words >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    mixed: _Words = words ^ (words >> np.uint64(31))
    return mixed
