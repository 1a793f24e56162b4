"""What each change did to the lowest point then ahead: worked out well after its answer, and kept with its step.

Who asks for it sooner has it worked out at once. It is written with whatever is written next, at the latest when the
file is closed; a kill before that leaves the last change without.
"""

import contextlib
import threading
import time
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

from next_penny.core.books.moment import Moment
from next_penny.core.review.history import Lowest, Step, lowest_now

# So many changes wait at most: each holds two households.
_MOST_WAITING = 8
# Right after a change its answer is on the way, and what the screen shows is asked for afresh: that comes first.
_REST_SECONDS = 0.5


class Measuring:
    """The lowest points of steps that are not in the file yet. Safe between threads."""

    def __init__(self) -> None:
        self._worker = ThreadPoolExecutor(1, "measuring")
        self._stopping = threading.Event()
        self._lock = threading.Lock()
        self._waiting: dict[int, tuple[Moment, Moment]] = {}
        self._lowest_by_step: dict[int, Lowest] = {}

    def soon(self, step: int, before: Moment, after: Moment) -> None:
        """Work out a step's lowest points when nothing else is to be done; the oldest are given up where many wait."""
        with self._lock:
            self._waiting[step] = (before, after)
            for oldest in list(self._waiting)[:-_MOST_WAITING]:
                del self._waiting[oldest]
        with contextlib.suppress(RuntimeError):  # it is stopped: the change is made, and stays without
            self._worker.submit(self._measure_later, step, time.monotonic() + _REST_SECONDS)

    def _measure_later(self, step: int, begin: float) -> None:
        self._stopping.wait(max(0.0, begin - time.monotonic()))
        self._measure(step)

    def _measure(self, step: int) -> None:
        with self._lock:
            moments = self._waiting.get(step)
        if moments is None:
            return
        lowest = Lowest(*(lowest_now(moment) for moment in moments))
        with self._lock:
            if self._waiting.pop(step, None) is not None:
                self._lowest_by_step[step] = lowest

    def known(self, steps: list[Step]) -> list[Step]:
        """Steps as they were read, with what is not in the file yet."""
        for step in steps:
            self._measure(step.id)
        lowest_by = self.measured()
        return [replace(step, lowest=lowest_by.get(step.id, step.lowest)) for step in steps]

    def measured(self) -> dict[int, Lowest]:
        """What is to be written."""
        with self._lock:
            return dict(self._lowest_by_step)

    def written(self, measured: Mapping[int, Lowest]) -> None:
        """What is in the file now."""
        with self._lock:
            for step in measured:
                self._lowest_by_step.pop(step, None)

    def forget(self) -> None:
        """Another file is open: what was worked out is not of its steps."""
        with self._lock:
            self._waiting.clear()
            self._lowest_by_step.clear()

    def stop(self) -> bool:
        """Work out what still waits, and no more. Whether anything is to be written."""
        self._stopping.set()
        self._worker.shutdown()
        return bool(self.measured())
