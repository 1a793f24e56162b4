"""What an occurrence of a flow comes to (docs/rules.md, What repeats).

The first that applies of: the amount set for that one date, for its calendar month, the average of what was settled
(where the flow follows that), by the revision in force, and the flow's own; yearly growth multiplies the last two.
"""

from bisect import bisect_left
from collections.abc import Iterator, Mapping
from datetime import date
from fractions import Fraction
from itertools import accumulate
from typing import Literal

import numpy as np

from next_penny.core.dates.business_days import Days
from next_penny.core.dates.calendar import whole_years
from next_penny.core.money import LARGEST_AMOUNT, round_half_up
from next_penny.core.plan.flows import Flow, Hourly
from next_penny.core.plan.plan import Plan

AmountSource = Literal["this date", "season", "average", "revision", "flow"]
NOTHING_SETTLED: Mapping[int, int] = {}


def rules_on(flow: Flow, day: date) -> tuple[str, ...]:
    """The rules in force on a day: those of the latest revision with rules by then, or the flow's own."""
    step = flow.rule_steps.on(day)
    return step[1] if step is not None else flow.rules


def amount_on(flow: Flow, day: date) -> int:
    """The amount in force on a day, before average, season and growth."""
    step = flow.amount_steps.on(day)
    return step[1] if step is not None else flow.base_amount


def hourly_on(flow: Flow, day: date) -> Hourly | None:
    """The pay by the hour in force on a day, if any."""
    step = flow.hourly_steps.on(day)
    return step[1] if step is not None else flow.hourly


def amounts_between(plan: Plan, source: str, target: str, amounts: Days, days: Days) -> Days:
    """Amounts of one account as those of another, each at the rate of its day. Raises NoRate where there is none."""
    if plan.account_by_id[source].currency == plan.account_by_id[target].currency:
        return amounts
    converted = [plan.between(source, target, amount, date.fromordinal(day))
                 for amount, day in zip(amounts.tolist(), days.tolist(), strict=True)]  # fmt: skip
    return np.array(converted, dtype=np.int64)


class FlowAmounts:
    """The amounts of a flow by nominal day, given what was settled of it so far (by nominal day)."""

    def __init__(self, flow: Flow, settled: Mapping[int, int] = NOTHING_SETTLED) -> None:
        self._flow = flow
        self._seasonal = dict(flow.seasonal)
        self._grown: dict[tuple[int, int], int] = {}
        self._changed = dict(_changed_amounts(flow))
        self._averages = _Averages(flow, settled, self._changed) if flow.follows and settled else None

    @property
    def is_plain(self) -> bool:
        """Whether every occurrence comes to the flow's own amount."""
        return not (
            self._flow.amount_steps.days or self._seasonal or self._flow.growth or self._averages or self._changed
        )

    def column(self, nominal: Days) -> Days:
        """The amounts of many nominal days at once."""
        if self.is_plain:
            return np.full(len(nominal), self._flow.base_amount, dtype=np.int64)
        return np.array([self.with_source(day)[0] for day in nominal.tolist()], dtype=np.int64)

    def with_source(self, nominal: int) -> tuple[int, AmountSource]:
        """The amount, and which of the flow's settings gave it."""
        if nominal in self._changed:
            return self._changed[nominal], "this date"
        day = date.fromordinal(nominal)
        if day.month in self._seasonal:
            return self._seasonal[day.month], "season"
        return self.usual(day)

    def usual(self, day: date) -> tuple[int, AmountSource]:
        """The amount on a day for which neither its date nor its month sets one, and which setting gave it."""
        nominal = day.toordinal()
        since, base = self._flow.amount_steps.on(day) or (None, self._flow.base_amount)
        if self._averages is not None:
            average = self._averages.before(nominal, since.toordinal() if since else 0)
            if average is not None:
                return average, "average"
        return self._grown_by(base, self._anniversaries(since, day)), "revision" if since else "flow"

    def _anniversaries(self, since: date | None, day: date) -> int:
        """How many anniversaries of the growth's date have come by a day since the amount in force was set."""
        growth = self._flow.growth
        if growth is None or day < growth.start:
            return 0
        passed = max(0, whole_years(growth.start, since)) if since is not None else 0
        return max(0, whole_years(growth.start, day) - passed)

    def _grown_by(self, base: int, years: int) -> int:
        if not years or self._flow.growth is None:
            return base
        if (base, years) not in self._grown:
            factor = (1 + Fraction(self._flow.growth.percent) / 100) ** years
            # Far beyond what a plan is looked at over, it stays at the largest amount there is.
            self._grown[base, years] = min(round_half_up(base * factor), max(base, LARGEST_AMOUNT))
        return self._grown[base, years]


class _Averages:
    """The rounded average of the last so many settled before a day, and since the amount was last set.

    What was set just this once is out of the ordinary: the average leaves it out.
    """

    def __init__(self, flow: Flow, settled: Mapping[int, int], changed: Mapping[int, int]) -> None:
        ordinary = sorted((day, amount) for day, amount in settled.items() if day not in changed)
        self._most = flow.follows
        self._days = [day for day, _ in ordinary]
        self._sums = list(accumulate((amount for _, amount in ordinary), initial=0))

    def __bool__(self) -> bool:
        return bool(self._days)

    def before(self, nominal: int, since: int) -> int | None:
        end = bisect_left(self._days, nominal)
        first = max(0, end - self._most, bisect_left(self._days, since))
        if first >= end:
            return None
        return round_half_up(Fraction(self._sums[end] - self._sums[first], end - first))


def _changed_amounts(flow: Flow) -> Iterator[tuple[int, int]]:
    """By nominal day, the amounts set for one date; those of paychecks by the hour may be set by hours."""
    for change in flow.changes:
        if change.amount is not None:
            yield change.nominal.toordinal(), change.amount
        elif change.hours is not None and (hourly := hourly_on(flow, change.nominal)) is not None:
            yield change.nominal.toordinal(), hourly.pay(change.hours)
