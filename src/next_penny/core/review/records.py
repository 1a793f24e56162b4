"""What a review says, as records: sums of a stretch of days, in minor units of the household's currency."""

from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Literal, NamedTuple

from next_penny.core.money import round_half_up

RowKind = Literal["income", "expense", "allowance"]


class Two(NamedTuple):
    """What was expected and what happened, in minor units of the household's currency."""

    expected: int = 0
    actual: int = 0


@dataclass(frozen=True, slots=True)
class Kept:
    """Income less spending. share: of what came in, in tenths of a percent; None where nothing did."""

    expected: int
    actual: int
    share: int | None


@dataclass(frozen=True, slots=True)
class Totals:
    """Income, spending and what was kept of a stretch, days inclusive."""

    first: date
    last: date
    income: Two
    spending: Two

    @property
    def kept(self) -> Kept:
        expected = self.income.expected - self.spending.expected
        actual = self.income.actual - self.spending.actual
        share = round_half_up(Fraction(1000 * actual, self.income.actual)) if self.income.actual > 0 else None
        return Kept(expected, actual, share)


class RowKey(NamedTuple):
    """A row: of a category (None: not sorted yet), or of an allowance."""

    kind: RowKind
    id: str | None


@dataclass(frozen=True, slots=True)
class Row:
    """One category or allowance of a review. entries: how many have a leg on it. of_allowance: whose category it is."""

    key: RowKey
    name: str
    group: str
    sums: Two
    entries: int
    of_allowance: str | None


@dataclass(frozen=True, slots=True)
class Payee:
    """What was spent with a payee, less what came back, and what was received from it."""

    payee: str
    spent: int
    received: int
    entries: int


@dataclass(frozen=True, slots=True)
class AccountSums:
    """What was spent on an account, less what came back, and what was received on it."""

    account: str
    spent: int
    received: int
    entries: int


@dataclass(frozen=True, slots=True)
class Largest:
    """One entry's spending. share: of all spending, in tenths of a percent; None where there was none in all."""

    entry: str
    date: date
    payee: str
    amount: int
    share: int | None


@dataclass(frozen=True, slots=True)
class Moved:
    """What went onto savings, repaid debts, and was borrowed; none of it is spending."""

    saved: int
    repaid: int
    borrowed: int


@dataclass(frozen=True, slots=True)
class AllowanceUse:
    """An allowance's limit over the stretch, and what was spent in its categories."""

    id: str
    name: str
    limit: int
    used: int


@dataclass(frozen=True)
class Review:
    """All sums of a stretch, in the household's currency."""

    totals: Totals
    rows: tuple[Row, ...]
    allowances: tuple[AllowanceUse, ...]
    payees: tuple[Payee, ...]
    accounts: tuple[AccountSums, ...]
    largest: tuple[Largest, ...]
    moved: Moved
