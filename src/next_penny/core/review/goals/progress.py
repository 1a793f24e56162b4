"""How far each goal has come, and where the forecast says it ends (docs/rules.md, Goals).

Amounts are minor units of the household's currency.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import NamedTuple

from propcache.api import cached_property

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_number
from next_penny.core.flows.acting import acted
from next_penny.core.flows.allowances import allowance_blocks
from next_penny.core.flows.makers import expected
from next_penny.core.money import round_half_up
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import CategoryKind
from next_penny.core.plan.entries import Leg
from next_penny.core.plan.kept.goals import CATEGORY_KINDS, Goal, Per
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import go_on
from next_penny.core.review.expecting import Sources
from next_penny.core.review.measures import converted, on_categories, repaid, saved
from next_penny.core.review.remembering import from_rows
from next_penny.core.review.stretches import stretch_with
from next_penny.core.review.sums import recorded_over


class Days(NamedTuple):
    """The days of a goal's period, inclusive."""

    first: date
    last: date


class Counted(NamedTuple):
    """What counts in a period, recorded or expected: its legs, its day, and what a leg without a category is."""

    legs: Sequence[Leg]
    day: date
    otherwise: CategoryKind | None


@dataclass(frozen=True, slots=True)
class Progress:
    """A goal in one period. behind: by how much the forecast misses it. needed_monthly: what is needed a month from
    here, or may be spent. income: of the period, so far and expected."""

    goal: Goal
    days: Days
    target: int
    so_far: int
    by_end: int
    needed_monthly: int
    income: int
    notes: tuple[str, ...]

    @property
    def behind(self) -> int:
        return max(0, self.by_end - self.target if self.goal.kind == "spend_at_most" else self.target - self.by_end)

    @property
    def is_met(self) -> bool:
        """Whether it ends as it is wanted, as far as the forecast knows."""
        return self.behind == 0


def progress_of(moment: Moment, sources: Sources) -> list[Progress]:
    """Every goal in the period that today is in, or, of one not begun or over, in its first or last.

    Raises NoRate where an amount cannot be converted.
    """
    periods: dict[Days, _Period] = {}
    progress = []
    for goal in moment.plan.goals:
        days = period_of(goal, moment.today)
        if days not in periods:
            periods[days] = _Period(moment, sources, days)
        progress.append(periods[days].progress(goal))
    return progress


class Shares(NamedTuple):
    """Shares of a period's income: what each comes to, and all of them in percent."""

    income: int
    amounts: tuple[int, ...]
    sum: Decimal


def shares_of(moment: Moment, sources: Sources, per: Per, shares: Sequence[Decimal]) -> Shares:
    """What shares of the income of the month or year that today is in come to, so far and expected."""
    period = _Period(moment, sources, calendar_period(per, moment.today))
    return Shares(period.income, tuple(map(period.share, shares)), sum(shares, Decimal()))


def calendar_period(per: Per, day: date) -> Days:
    """The whole month or year that a day is in."""
    stretch = stretch_with(per, day)
    return Days(stretch.first, stretch.last)


def progress_in(moment: Moment, sources: Sources, goal: Goal, days: Days) -> Progress:
    """A goal in a period of one's choosing: one that is over is told as it ended."""
    return _Period(moment, sources, days).progress(goal)


def period_of(goal: Goal, today: date) -> Days:
    """The period that a day is in, or the nearest: the goal's own begin and end cut it."""
    if goal.per is None:
        assert goal.start is not None
        assert goal.until is not None
        return Days(goal.start, goal.until)
    day = max(today, goal.start) if goal.start is not None else today
    day = min(day, goal.until) if goal.until is not None else day
    first, last = calendar_period(goal.per, day)
    return Days(max(first, goal.start or first), min(last, goal.until or last))


class _Period:
    """What is recorded and expected of one period, read once for all goals of it."""

    def __init__(self, moment: Moment, sources: Sources, days: Days) -> None:
        self._moment, self._plan, self._days = moment, moment.plan, days
        recorded = [
            *(recorded_over(moment, sources, *days) if days.first <= moment.today else ()),
            *(sources.dated(max(days.first, moment.today + timedelta(days=1)), days.last)
              if days.last > moment.today else ()),
        ]  # fmt: skip
        entries = [Counted(entry.legs, entry.date, None) for entry in recorded]
        self._so_far = [entry for entry in entries if entry.day <= moment.today]
        self._rest = [entry for entry in entries if entry.day > moment.today] + [*coming(moment, days)]

    def progress(self, goal: Goal) -> Progress:
        measure = _measure_of(self._plan, goal)
        so_far = sum(map(measure, self._so_far))
        by_end = so_far + sum(map(measure, self._rest)) + self._held_back(goal)
        target = goal.amount if goal.amount is not None else self.share(goal.share or Decimal(0))
        needed = _needed(goal, target - so_far, self._months_left())
        return Progress(goal, self._days, target, so_far, by_end, needed, self.income, tuple(_notes(self._plan, goal)))

    def share(self, share: Decimal) -> int:
        """So many percent of its income, rounded once; nothing where none comes in."""
        return max(0, round_half_up(Fraction(self.income) * Fraction(share) / 100))

    @cached_property
    def income(self) -> int:
        """What came in so far, and is expected to in the rest."""
        return sum(
            on_categories(self._plan, count.legs, count.day, "income", (), count.otherwise)
            for count in (*self._so_far, *self._rest)
        )

    def _months_left(self) -> int:
        """The months of the period that are left, the running one among them."""
        begin = max(self._days.first, self._moment.today)
        return max(0, month_number(self._days.last) - month_number(begin) + 1) if begin <= self._days.last else 0

    def _held_back(self, goal: Goal) -> int:
        """What allowances hold back in the rest, of those that the goal counts."""
        if CATEGORY_KINDS.get(goal.kind) != "expense":
            return 0
        first, last = max(self._days.first, self._moment.today).toordinal(), self._days.last.toordinal()
        sum = 0
        for allowance in self._plan.allowances:
            if last < first or not _names_all(self._plan, goal, allowance):
                continue
            for block in allowance_blocks(self._moment, allowance, last):
                for day, amount in zip(block.day.tolist(), block.amount.tolist(), strict=True):
                    if day >= first:
                        sum -= converted(self._plan, amount, block.account, date.fromordinal(day))
        return sum


def coming(moment: Moment, days: Days) -> Iterator[Counted]:
    """What is expected from today to the end of a period and not settled; what is past due is today's."""
    first, last = max(days.first, moment.today), days.last
    if last < first:
        return
    for flow in (*moment.plan.all_flows, *moment.plan.generated_flows):
        go_on()
        for row in from_rows(moment, flow, expected(moment, flow, last.toordinal())):
            day = max(row.lands, moment.today)
            if first <= day <= last:
                yield Counted(row.legs, day, "income" if row.kind == "income" else "expense")
    for made in acted(moment, last.toordinal()).made:
        # Sweeps and draws on a line have no occurrences.
        if made.flow is None and made.day >= first.toordinal():
            legs = [Leg(amount, account=account) for account, amount in made.legs]
            yield Counted(legs, date.fromordinal(made.day), None)


def _measure_of(plan: Plan, goal: Goal) -> Callable[[Counted], int]:
    """What something recorded or expected counts towards a goal."""
    if goal.kind == "save":
        return lambda count: saved(plan, count.legs, count.day, goal.accounts)
    if goal.kind == "repay":
        return lambda one_count: repaid(plan, one_count.legs, one_count.day, goal.accounts)
    kind, categories = CATEGORY_KINDS[goal.kind], _named(plan, goal)
    return lambda counted: on_categories(plan, counted.legs, counted.day, kind, categories, counted.otherwise)


def _named(plan: Plan, goal: Goal) -> frozenset[str]:
    return frozenset(map(plan.merged, goal.categories))


def _needed(goal: Goal, missing: int, months: int) -> int:
    """A month from here: what is needed, rounded up, or may still be spent, rounded down; never below zero."""
    if months == 0:
        return 0
    return max(0, missing // months if goal.kind == "spend_at_most" else -(-missing // months))


def _names_all(plan: Plan, goal: Goal, allowance: Allowance) -> bool:
    named = _named(plan, goal)
    return not named or named.issuperset(map(plan.merged, allowance.categories))


def _notes(plan: Plan, goal: Goal) -> Iterator[str]:
    """What an allowance holds back is not to be divided among its categories: that is said."""
    if CATEGORY_KINDS.get(goal.kind) != "expense":
        return
    named = _named(plan, goal)
    for allowance in plan.allowances:
        if not _names_all(plan, goal, allowance) and named.intersection(map(plan.merged, allowance.categories)):
            yield f"What “{allowance.name}” holds back is not counted: the goal names only some of its categories."
