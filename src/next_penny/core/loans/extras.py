"""What is paid beyond a schedule, and when: extras as planned, and principal moved by hand as the books have it."""

from bisect import bisect_left, insort
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import NamedTuple

from next_penny.core.dates.sentences import full_day
from next_penny.core.plan.terms.loans import Extra, LoanTerms


class Moved(NamedTuple):
    """Principal that moved on a day (its number), minor units: positive lowers what is owed, negative raises it."""

    day: int
    amount: int


class Paid(NamedTuple):
    """A due payment as it was recorded: on which day, and by how much it lowered what is owed."""

    day: int
    principal: int


@dataclass(frozen=True)
class History:
    """What happened to a loan beside its schedule; days are day numbers.

    settled: by due day, the payments that were recorded. skipped: due days whose payment was left out, or is past due
    and not carried. by_hand: principal that moved without a payment, recorded or dated later, in order of day.
    """

    settled: Mapping[int, Paid] = field(default_factory=dict)
    skipped: frozenset[int] = frozenset()
    by_hand: tuple[Moved, ...] = ()


NOTHING_HAPPENED = History()


class Movements:
    """Principal that moved by hand and has not counted yet; what a payment differs from its schedule joins it."""

    def __init__(self, history: History) -> None:
        self._waiting = list(history.by_hand)
        self.counted: list[Moved] = []

    def __bool__(self) -> bool:
        return bool(self._waiting)

    def add(self, moved: Moved) -> None:
        """Let something count from its day on, or from now where that is past."""
        insort(self._waiting, moved)

    def take(self, last: int) -> list[Moved]:
        """What moved up to a day and has not counted yet."""
        upto = bisect_left(self._waiting, (last + 1,))
        taken, self._waiting = self._waiting[:upto], self._waiting[upto:]
        self.counted += taken
        return taken


def extras_until(extras: Iterable[Extra], last: date) -> tuple[Extra, ...]:
    """What of planned extras counts up to a day."""
    remaining = []
    for extra in extras:
        if extra.date is not None:
            remaining += [extra] if extra.date <= last else []
        elif extra.start is None or extra.start <= last:
            remaining.append(replace(extra, until=last if extra.until is None else min(extra.until, last)))
    return tuple(remaining)


def extras_from(terms: LoanTerms, first: date) -> tuple[Extra, ...]:
    """What of a loan's planned extras counts from a day on; those with every k-th payment keep their step."""
    extras = []
    for extra in terms.extras:
        if extra.date is not None:
            extras += [extra] if extra.date >= first else []
        elif extra.until is None or extra.until >= first:
            extras.append(replace(extra, start=_next_in_step(terms, extra, first)))
    return tuple(extras)


def _next_in_step(terms: LoanTerms, extra: Extra, first: date) -> date | None:
    if extra.start is not None and extra.start >= first:
        return extra.start
    if extra.every in (None, 1):
        return first
    assert extra.every is not None
    days = terms.due_days(terms.most_payments)
    counted_from = bisect_left(days, extra.start.toordinal()) if extra.start is not None else 0
    place = bisect_left(days, first.toordinal())
    place += -(place - counted_from) % extra.every
    return date.fromordinal(days[min(place, len(days) - 1)])


class PlannedExtras:
    """Which planned extras fall when."""

    def __init__(self, terms: LoanTerms) -> None:
        self._terms = terms
        once: dict[int, int] = {}
        for extra in terms.extras:
            if extra.date is not None:
                once[extra.date.toordinal()] = once.get(extra.date.toordinal(), 0) + extra.amount
        self._once = [Moved(*day_and_amount) for day_and_amount in sorted(once.items())]
        self._repeating = [_Repeating(terms, extra) for extra in terms.extras if extra.date is None]

    def between(self, begin: int, due: int, *, is_first: bool) -> list[Moved]:
        """Extras dated within a period, before its due date; on the day of disbursement, within the first."""
        return [
            moved_day
            for moved_day in self._once
            if begin < moved_day.day < due or (is_first and moved_day.day == begin < due)
        ]

    def with_payment(self, number: int, begin: int, due: int, *, counts_all: bool, is_first: bool) -> int:
        """What is paid beyond payment `number` (from 0) on its due date.

        Where extras between due dates wait for the next one (`counts_all`), those of the whole period.
        """
        after = begin if counts_all else due - 1
        once = sum(
            moved_day.amount for moved_day in self._once
            if after < moved_day.day <= due or (counts_all and is_first and moved_day.day == begin)
        )  # fmt: skip
        return once + sum(repeating.amount(number, begin, due) for repeating in self._repeating)

    def notes(self, last: int) -> Iterator[str]:
        """What is said of extras that come after the loan is paid off."""
        late = [date.fromordinal(moved_day.day) for moved_day in self._once if moved_day.day > last]
        late += [extra.start for extra in self._terms.extras if extra.start and extra.start.toordinal() > last]
        for day in late:
            ends = full_day(date.fromordinal(last))
            yield f"The extra of {full_day(day)} comes after the loan is paid off on {ends}: it has no effect."


class _Repeating:
    """An extra with every k-th payment, or yearly in a month at the first due date in it."""

    def __init__(self, terms: LoanTerms, extra: Extra) -> None:
        self._extra = extra
        self._start = extra.start.toordinal() if extra.start else 0
        self._until = extra.until.toordinal() if extra.until else None
        self._counted_from = 0
        if extra.every and extra.every > 1 and self._start:
            days = terms.due_days(terms.most_payments)
            first = bisect_left(days, self._start)
            self._counted_from = first if first < len(days) else 0

    def amount(self, number: int, begin: int, due: int) -> int:
        extra = self._extra
        if due < self._start or (self._until is not None and due > self._until):
            return 0
        if extra.every is not None:
            return extra.amount if (number - self._counted_from) % extra.every == 0 else 0
        day, before = date.fromordinal(due), date.fromordinal(begin)
        is_first = (before.year, before.month) != (day.year, day.month) or number == 0
        return extra.amount if day.month == extra.yearly_in and is_first else 0
