"""One account's balance while the rules are walked: what is fixed beforehand, and what rules have made so far."""

from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import accumulate
from typing import NamedTuple

from next_penny.core.plan import Account


class Span(NamedTuple):
    """Days, the first and last included, at whose end an account had one balance."""

    first: int
    last: int
    balance: int


@dataclass(eq=False)
class _Line:
    """Movements in order of day, with their running sums; `gains` counts money in alone."""

    days: list[int] = field(default_factory=list)
    totals: list[int] = field(default_factory=lambda: [0])
    gains: list[int] = field(default_factory=lambda: [0])

    def add(self, day: int, amount: int) -> None:
        self.days.append(day)
        self.totals.append(self.totals[-1] + amount)
        self.gains.append(self.gains[-1] + max(0, amount))

    def upto(self, day: int) -> int:
        return self.totals[bisect_right(self.days, day)]

    def gained(self, after: int, upto: int) -> int:
        if upto <= after:
            return 0
        return self.gains[bisect_right(self.days, upto)] - self.gains[bisect_right(self.days, after)]

    def days_between(self, first: int, last: int) -> Sequence[int]:
        return self.days[bisect_right(self.days, first - 1) : bisect_right(self.days, last)]


class Ledger:
    """One account from a day on. Days are day numbers, amounts minor units, balances those at a day's end.

    opening: the balance before the first of `days`. charged: by day, what was recorded as its interest. Rules post in
    order of day.
    """

    def __init__(
        self, account: Account, opening: int, days: list[int], amounts: list[int], charged: Mapping[int, int]
    ) -> None:
        self.account, self.charged = account, charged
        self.opened = account.opening.date.toordinal()
        self._opening = opening
        self._fixed = _Line(
            days, [0, *accumulate(amounts)], [0, *accumulate(max(0, amount) for amount in amounts)]
        )  # fmt: skip
        self._made = _Line()

    def post(self, day: int, amount: int) -> None:
        """Put in what a rule makes; never before what it made last."""
        self._made.add(day, amount)

    def balance(self, day: int) -> int:
        """What the account holds at the end of a day, as far as the walk has come."""
        return self._opening + self._fixed.upto(day) + self._made.upto(day)

    def owed(self, day: int) -> int:
        """What is owed on it: its negated balance, never below zero."""
        return max(0, -self.balance(day))

    def gained(self, after: int, upto: int) -> int:
        """The money that came in after one day, up to and including another."""
        return self._fixed.gained(after, upto) + self._made.gained(after, upto)

    def fixed_days(self, first: int, last: int) -> Sequence[int]:
        """The days between two on which something moves that no rule made."""
        return self._fixed.days_between(first, last)

    def spans(self, first: int, last: int) -> Iterator[Span]:
        """The days from one to another, cut where the balance changes."""
        changing = {*self._fixed.days_between(first + 1, last), *self._made.days_between(first + 1, last)}
        begin = first
        for day in sorted(changing):
            yield Span(begin, day - 1, self.balance(begin))
            begin = day
        if begin <= last:
            yield Span(begin, last, self.balance(begin))
