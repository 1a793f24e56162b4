"""Months side by side: each as a review of it, a row a category (docs/rules.md, Expected and actual)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_start
from next_penny.core.plan.accounts import Account
from next_penny.core.problems import go_on
from next_penny.core.review.expecting import Sources
from next_penny.core.review.records import Row, RowKey, Totals, Two
from next_penny.core.review.review import review
from next_penny.core.review.telling import Line, lines_of


@dataclass(frozen=True, slots=True)
class CategoryMonths:
    """One category or allowance, with a cell for each month."""

    key: RowKey
    name: str
    group: str
    cells: tuple[Two, ...]

    @property
    def total(self) -> Two:
        """All months together."""
        return sum_of(self.cells)


@dataclass(frozen=True)
class MonthsBeside:
    """Months in order, and rows with the most money first; of `lines` an allowance's has what its categories have."""

    months: tuple[Totals, ...]
    rows: tuple[CategoryMonths, ...]
    lines: tuple[CategoryMonths, ...]

    @property
    def income(self) -> Two:
        """All months together."""
        return sum_of([month.income for month in self.months])

    @property
    def spending(self) -> Two:
        """All months together."""
        return sum_of([month.spending for month in self.months])


def sum_of(parts: Sequence[Two]) -> Two:
    """Expected and actual added up."""
    return Two(sum(part.expected for part in parts), sum(part.actual for part in parts))


def category_months(
    moment: Moment, sources: Sources, first: int, count: int, accounts: Sequence[Account] | None = None
) -> MonthsBeside:
    """So many calendar months from one on (its number), of some accounts or all. Raises NoRate as `review` does."""
    reviews = []
    for month in range(first, first + count):
        go_on()
        days = (date.fromordinal(month_start(month)), date.fromordinal(month_end(month)))
        reviews.append(review(moment, sources, *days, accounts))
    rows = _beside([found.rows for found in reviews])
    lines = _beside([lines_of(found) for found in reviews])
    return MonthsBeside(tuple(found.totals for found in reviews), rows, lines)


def _beside(months: Sequence[Sequence[Row | Line]]) -> tuple[CategoryMonths, ...]:
    named = {row.key: row for month in months for row in month}
    sums = [{row.key: row.sums for row in month} for month in months]
    rows = [
        CategoryMonths(key, row.name, row.group, tuple(month.get(key, Two()) for month in sums))
        for key, row in named.items()
    ]
    return tuple(sorted(rows, key=lambda row: (-max(row.total), row.name)))
