"""What varies on some accounts, in words: what each thing is based on, and what is only assumed."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_number
from next_penny.core.dates.sentences import joined
from next_penny.core.flows.makers import next_occurrences
from next_penny.core.forecast.chances.habits import ENOUGH, Habit, Ratio
from next_penny.core.forecast.chances.varying import VaryingFlow
from next_penny.core.forecast.chances.walking import Scene
from next_penny.core.money import round_half_up
from next_penny.core.plan.allowances import Allowance

# So many names are said one by one.
_MOST_NAMED = 4
# As far ahead as it is looked for when enough will be remembered.
_DAYS_LOOKED = 800


@dataclass(frozen=True, slots=True)
class Thing:
    """One thing that varies: what that is based on, and its history in whole percent, the oldest first.

    is_assumed: nobody remembers enough of it. known_in: then, in how many months enough will be; None where never.
    """

    id: str
    is_allowance: bool
    name: str
    based_on: str
    history: tuple[int, ...]
    is_assumed: bool = False
    known_in: int | None = None


def things_of(scene: Scene) -> Iterator[Thing]:
    """Everything that varies on the accounts asked about, in the plan's order."""
    chosen = {account.id for account in scene.chosen}
    for flow in scene.flows.values():
        if not scene.moment.plan.accounts_moved[flow.flow.id].isdisjoint(chosen):
            yield _of_flow(scene, flow)
    for holding in scene.allowances:
        if holding.varying.ratios and holding.varying.allowance.account in chosen:
            allowance = holding.varying.allowance
            habit = scene.habits.of_allowance(allowance.id)
            count = len(habit.ratios)
            wording = f"{count} periods, {_least(habit)} to {_most(habit)} % of its limit used"
            yield Thing(allowance.id, True, allowance.name, wording, _percents(habit.ratios))


def _of_flow(scene: Scene, varying: VaryingFlow) -> Thing:
    flow, habit = varying.flow, scene.habits.of_flow(varying.flow.id)
    wordings, is_assumed = [], False
    if varying.ratios and habit.is_known:
        wordings.append(f"{len(habit.ratios)} times, {_off(_least(habit))} to {_off(_most(habit))}")
    elif varying.ratios:
        is_assumed = True
        wordings.append(f"{_times(len(habit.ratios))} so far: taken as 10 % less, as planned or 10 % more")
    if varying.late:
        wordings.append(f"{len(varying.late)} times, {_days(min(varying.late), max(varying.late))}")
    if varying.missed is not None:
        if habit.missed is not None and habit.missed.whole >= ENOUGH:
            wordings.append(f"{habit.missed.part} of {habit.missed.whole} times it did not come, or not all of it")
        else:
            is_assumed = True
            wordings.append("doubtful: taken not to come half the time")
    known_in = _months_until_known(scene.moment, varying, habit) if is_assumed else None
    history = _percents(habit.ratios) if varying.ratios else ()
    return Thing(flow.id, False, flow.name, "; ".join(wordings), history, is_assumed, known_in)


def _months_until_known(moment: Moment, varying: VaryingFlow, habit: Habit) -> int | None:
    """In how many months enough will be remembered, if all is settled as it comes."""
    have = len(habit.ratios) if varying.missed is None else (habit.missed.whole if habit.missed is not None else 0)
    coming = next_occurrences(moment, varying.flow, moment.today, max(1, ENOUGH - have))
    if have + len(coming) < ENOUGH or (coming[-1].lands - moment.today).days > _DAYS_LOOKED:
        return None
    return max(1, month_number(coming[-1].lands) - month_number(moment.today))


def notes_of(scene: Scene, things: Sequence[Thing], paths: int, asked: int) -> Iterator[str]:
    """What the figures count and what not, in sentences."""
    if scene.is_sure:
        yield "Nothing here varies: every path is the forecast."
    else:
        yield f"Counted over {paths} paths; in each, what varies is drawn from what happened before."
    if paths < asked and not scene.is_sure:
        yield f"Over so many days {paths} paths are walked, not {asked}."
    assumed = [f"“{thing.name}”" for thing in things if thing.is_assumed]
    if assumed:
        yield f"Only assumed, for too little is known of it yet: {_named(assumed)}."
    still = [f"“{plain_allowance.name}”" for plain_allowance in _plain_allowances(scene)]
    if still:
        yield f"Taken as planned until {ENOUGH} of its periods are over: {_named(still)}."
    yield "Amounts that are not marked as estimates are taken as planned, and what is past due moves today."


def _plain_allowances(scene: Scene) -> Iterator[Allowance]:
    for allowance in scene.moment.plan.allowances:
        is_here = any(account.id == allowance.account for account in scene.chosen)
        if is_here and not scene.habits.of_allowance(allowance.id).is_known:
            yield allowance


def _named(names: Sequence[str]) -> str:
    if len(names) <= _MOST_NAMED:
        return joined(names)
    return f"{', '.join(names[:_MOST_NAMED])} and {len(names) - _MOST_NAMED} more"


def _percents(ratios: Sequence[Ratio]) -> tuple[int, ...]:
    return tuple(_percent(ratio) for ratio in ratios)


def _percent(ratio: Ratio) -> int:
    """A ratio in whole percent."""
    return round_half_up(Fraction(100 * ratio.part, ratio.whole))


def _least(habit: Habit) -> int:
    return min(_percents(habit.ratios))


def _most(habit: Habit) -> int:
    return max(_percents(habit.ratios))


def _off(percent: int) -> str:
    """By how much something was off: `−18 %`, `+31 %`."""
    return f"{'−' if percent < 100 else '+'}{abs(percent - 100)} %" if percent != 100 else "0 %"


def _times(count: int) -> str:
    return "settled once" if count == 1 else f"settled {count} times" if count else "never settled"


def _days(first: int, last: int) -> str:
    """From how early to how late: `1 day early to 6 days late`."""
    return _day(first) if first == last else f"{_day(first)} to {_day(last)}"


def _day(days: int) -> str:
    if not days:
        return "on its day"
    return f"{abs(days)} day{'' if abs(days) == 1 else 's'} {'late' if days > 0 else 'early'}"
