"""One moment of a household: its plan, its recorded money and today, in one frozen object.

Every question is asked of a moment, so nothing that is told mixes two of them. What was worked out for a moment is
remembered with it, each thing beside what it was worked out from; a moment that follows (after a change, or with a
what-if laid over it) begins with what was remembered, and uses of it what is still worked out from the same.
"""

from collections.abc import Callable, Hashable
from dataclasses import dataclass, field, replace
from datetime import date
from threading import Lock
from typing import TypeVar

from propcache.api import cached_property

from next_penny.core.books.books import NO_BOOKS, Books
from next_penny.core.dates.business_days import BusinessCalendar, business_calendar
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan

_Result = TypeVar("_Result")
_Basis = tuple[object, ...]


_NOTHING = object()
# So many days until which something was worked out are remembered, and so many answers beside a moment.
_MOST_HORIZONS, _MOST_KEPT = 8, 24


class Cache:
    """What was worked out, by name, with its basis: what it was worked out from. Safe between threads.

    A name may end with the day until which something holds. Only the days that were asked for last stay, as much as a
    few forecasts need: there are more questions than room.
    """

    def __init__(self, before: "Cache | None" = None) -> None:
        self._results: dict[Hashable, tuple[_Basis, object]] = {}
        self._horizons: dict[int, None] = {}
        self._latest: int | None = None
        self._changing = Lock()
        if before is not None:
            with before._changing:
                self._results, self._horizons = dict(before._results), dict(before._horizons)
                self._latest = before._latest

    def recall(self, name: Hashable, basis: _Basis, work_out: Callable[[], _Result]) -> _Result:
        """What is remembered under a name if its basis is the same, else worked out anew.

        Two threads may both work it out; each then has a right answer, and one of these is kept.
        """
        if isinstance(name, tuple) and type(name[-1]) is int:
            self._ask_until(name[-1])
        remembered = self._results.get(name)
        if remembered is not None and remembered[0] == basis:
            return remembered[1]  # type: ignore[return-value]
        result = work_out()
        with self._changing:
            self._results[name] = (basis, result)
        return result

    def __len__(self) -> int:
        return len(self._results)

    def _ask_until(self, day: int) -> None:
        """Remember a day as asked for last, and let go of what was worked out until the one before all others."""
        if day == self._latest:
            return
        with self._changing:
            self._latest = day
            self._horizons.pop(day, None)
            self._horizons[day] = None
            for oldest in list(self._horizons)[:-_MOST_HORIZONS]:
                del self._horizons[oldest]
                for name in [name for name in self._results if isinstance(name, tuple) and name[-1] == oldest]:
                    if type(name[-1]) is int:
                        del self._results[name]


@dataclass(frozen=True, eq=False)
class Moment:
    """The household as it is at one moment.

    recorded: the books as they were written down. books: with what always happens in them, assumed until it is
    confirmed (`assumed`), which is what everything is reckoned from.
    """

    plan: Plan
    today: date
    recorded: Books = NO_BOOKS
    assumed: tuple[Entry, ...] = ()
    books: Books = NO_BOOKS
    cache: Cache = field(default_factory=Cache, repr=False)
    _answers: dict[str, object] | None = field(default_factory=dict, repr=False)

    def keep(self, name: str, work_out: Callable[[], _Result]) -> _Result:
        """What follows from the whole moment, worked out once and gone with it, or when much else was asked for."""
        answers = self._answers
        if answers is None:
            return work_out()
        answer = answers.get(name, _NOTHING)
        if answer is _NOTHING:
            answer = work_out()
            if answer is self:
                # It would keep itself alive.
                return answer  # type: ignore[return-value]
            for oldest in list(answers)[: 1 - _MOST_KEPT] if len(answers) >= _MOST_KEPT else ():
                answers.pop(oldest, None)
            answers[name] = answer
        return answer  # type: ignore[return-value]

    @cached_property
    def aside(self) -> "Moment":
        """The same moment, which keeps nothing: for what is kept with this one, which it would else keep alive."""
        return replace(self, _answers=None)

    def replaced(self, plan: Plan | None = None, recorded: Books | None = None) -> "Moment":
        """The moment with another plan or other recorded books, and nothing assumed yet; it inherits what is known."""
        books = self.recorded if recorded is None else recorded
        return Moment(plan or self.plan, self.today, books, (), books, Cache(self.cache))

    @property
    def now(self) -> int:
        """Today's day number."""
        return self.today.toordinal()

    @cached_property
    def calendar(self) -> BusinessCalendar:
        """When banks are open in the household's country."""
        return business_calendar(self.plan.household.country)

    def balance_on(self, account: Account, day: int) -> int:
        """What the books say is on an account at the end of a day, today or before; nothing before it is open."""
        if account.opening.date.toordinal() > day:
            return 0
        if day == self.now:
            recorded = self.books.before.get(account.id, 0) + self.books.recorded_on(account.id, self.today)
            return account.opening.balance + recorded
        postings = self.books.postings.get(account.id, ())
        return account.opening.balance + sum(posting.amount for posting in postings if posting.day <= day)

    @property
    def carries(self) -> bool:
        """Whether what is past due is assumed to move today."""
        return self.plan.household.past_due == "carry"

    # A moment that kept itself would stay in memory, with all its books, until somebody looks for such rings.

    @property
    def carrying(self) -> "Moment":
        """The same moment of a household that carries what is past due."""
        return self if self.carries else self._carrying

    @cached_property
    def _carrying(self) -> "Moment":
        household = replace(self.plan.household, past_due="carry")
        return self.replaced(replace(self.plan, household=household))

    @property
    def as_recorded(self) -> "Moment":
        """The same moment without what is assumed."""
        return self._as_recorded if self.assumed else self

    @cached_property
    def _as_recorded(self) -> "Moment":
        return self.replaced()
