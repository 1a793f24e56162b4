"""One account's balance while the rules are walked: what is fixed beforehand, and what rules have made so far."""

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from next_penny.core.dates.business_days import Days
from next_penny.core.plan.accounts import Account


class Span(NamedTuple):
    """Days, the first and last included, at whose end an account had one balance."""

    first: int
    last: int
    balance: int


class _Line:
    """The days on which something moves, and what moved by the end of each; `gains` counts money in alone."""

    def __init__(self, days: list[int], totals: list[int], gains: list[int]) -> None:
        self.days, self.totals, self.gains = days, [0, *totals], [0, *gains]

    def gained(self, after: int, upto: int) -> int:
        return self.gains[bisect_right(self.days, upto)] - self.gains[bisect_right(self.days, after)]


def _fixed_line(days: Days, amounts: Days) -> _Line:
    order = np.argsort(days, kind="stable")
    days, amounts = days[order], amounts[order]
    ends = np.flatnonzero(np.append(days[1:] != days[:-1], True)) if len(days) else np.empty(0, dtype=np.int64)
    totals, gains = np.cumsum(amounts)[ends], np.cumsum(np.maximum(amounts, 0))[ends]
    return _Line(days[ends].tolist(), totals.tolist(), gains.tolist())


class Ledger:
    """One account from a day on. Days are day numbers, amounts minor units, balances those at a day's end.

    opening: the balance before the first of `days`. charged: by day, what was recorded as its interest. Rules post in
    order of day.
    """

    def __init__(
        self, account: Account, opening: int, days: Days, amounts: Days, charged: Mapping[int, int]
    ) -> None:  # fmt: skip
        self.account, self.charged = account, charged
        self.opened = account.opening.date.toordinal()
        self._opening, self._fixed, self._made = opening, _fixed_line(days, amounts), _Line([], [], [])

    def post(self, day: int, amount: int) -> None:
        """Put in what a rule makes; never before what it made last."""
        made = self._made
        totals, gains = made.totals, made.gains
        made.days.append(day)
        totals.append(totals[-1] + amount)
        gains.append(gains[-1] + amount if amount > 0 else gains[-1])

    def balance(self, day: int) -> int:
        """What the account holds at the end of a day, as far as the walk has come."""
        fixed, made = self._fixed, self._made
        return self._opening + fixed.totals[bisect_right(fixed.days, day)] + made.totals[bisect_right(made.days, day)]

    def least(self, first: int, last: int) -> int:
        """The least that it holds at the end of a day from one to another, if no rule makes anything in that time."""
        fixed, made = self._fixed, self._made
        begin, end = bisect_right(fixed.days, first), bisect_right(fixed.days, last)
        least = fixed.totals[begin] if begin == end else min(fixed.totals[begin : end + 1])
        return self._opening + least + made.totals[bisect_right(made.days, first)]

    def owed(self, day: int) -> int:
        """What is owed on it: its negated balance, never below zero."""
        balance = self.balance(day)
        return -balance if balance < 0 else 0

    def gained(self, after: int, upto: int) -> int:
        """The money that came in after one day, up to and including another (which is not before it)."""
        return self._fixed.gained(after, upto) + self._made.gained(after, upto)

    @property
    def fixed_days(self) -> Sequence[int]:
        """The days on which something moves that no rule made."""
        return self._fixed.days

    def owed_days(self, first: int, last: int) -> int:
        """The sum of what is owed at the end of each day from one to another."""
        fixed_days, fixed_totals = self._fixed.days, self._fixed.totals
        made_days, made_totals = self._made.days, self._made.totals
        at, made_at = bisect_right(fixed_days, first), bisect_right(made_days, first)
        end, made_end = bisect_right(fixed_days, last), bisect_right(made_days, last)
        owed, begin, after = 0, first, last + 1
        while True:
            balance = self._opening + fixed_totals[at] + made_totals[made_at]
            moving = fixed_days[at] if at < end else after
            if made_at < made_end and made_days[made_at] < moving:
                moving = made_days[made_at]
            if balance < 0:
                owed -= (moving - begin) * balance
            if moving == after:
                return owed
            begin = moving
            if at < end and fixed_days[at] == moving:
                at += 1
            while made_at < made_end and made_days[made_at] == moving:
                made_at += 1

    def spans(self, first: int, last: int, later: int = 0) -> list[Span]:
        """The days from one to another, cut where something moves; said of the days so many days later."""
        fixed_days, fixed_totals = self._fixed.days, self._fixed.totals
        made_days, made_totals = self._made.days, self._made.totals
        at, made_at = bisect_right(fixed_days, first), bisect_right(made_days, first)
        end, made_end = bisect_right(fixed_days, last), bisect_right(made_days, last)
        spans, begin, after = [], first, last + 1
        while True:
            balance = self._opening + fixed_totals[at] + made_totals[made_at]
            moving = fixed_days[at] if at < end else after
            if made_at < made_end and made_days[made_at] < moving:
                moving = made_days[made_at]
            spans.append(Span(begin + later, moving - 1 + later, balance))
            if moving == after:
                return spans
            begin = moving
            if at < end and fixed_days[at] == moving:
                at += 1
            while made_at < made_end and made_days[made_at] == moving:
                made_at += 1
