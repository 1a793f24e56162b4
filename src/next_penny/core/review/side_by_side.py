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
from next_penny.core.review.stretches import year_before
from next_penny.core.review.telling import Line, lines_of


@dataclass(frozen=True, slots=True)
class CategoryMonths:
    """One category or allowance, with a cell for each month.

    categories: of an allowance's line, those that something was recorded in. so_far, year_ago: the same in the year so
    far, and on its days a year earlier.
    """

    key: RowKey
    name: str
    group: str
    cells: tuple[Two, ...]
    categories: tuple[str, ...]
    so_far: Two
    year_ago: Two

    @property
    def total(self) -> Two:
        """All months together."""
        return sum_of(self.cells)


@dataclass(frozen=True)
class MonthsBeside:
    """Months in order, and rows with the most money first; of `lines` an allowance's has what its categories have.

    so_far: the year of the last month, or of today where that is earlier, up to the same. year_ago: the same days a
    year earlier.
    """

    months: tuple[Totals, ...]
    rows: tuple[CategoryMonths, ...]
    lines: tuple[CategoryMonths, ...]
    so_far: Totals
    year_ago: Totals

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
    until = min(reviews[-1].totals.last, moment.today)
    so_far = (date(until.year, 1, 1), until)
    beside = [review(moment, sources, *days, accounts) for days in (so_far, year_before(*so_far))]
    rows = _beside([review.rows for review in reviews], *(review.rows for review in beside))
    lines = _beside([lines_of(review) for review in reviews], *(lines_of(review) for review in beside))
    return MonthsBeside(
        tuple(review.totals for review in reviews), rows, lines, *(review.totals for review in beside)
    )  # fmt: skip


def _beside(
    months: Sequence[Sequence[Row | Line]], so_far: Sequence[Row | Line], year_ago: Sequence[Row | Line]
) -> tuple[CategoryMonths, ...]:
    # What a row is called is what it was called last.
    named = {row.key: row for month in (year_ago, so_far, *months) for row in month}
    sums = [{row.key: row.sums for row in month} for month in months]
    of_year, before = ({row.key: row.sums for row in rows} for rows in (so_far, year_ago))
    rows = [
        CategoryMonths(key, row.name, row.group, tuple(month.get(key, Two()) for month in sums),
                       _categories(key, months), of_year.get(key, Two()), before.get(key, Two()))
        for key, row in named.items()
    ]  # fmt: skip
    return tuple(sorted(rows, key=lambda row: (-max(row.total), row.name)))


def _categories(key: RowKey, months: Sequence[Sequence[Row | Line]]) -> tuple[str, ...]:
    """A category itself; of an allowance's lines all that something was recorded in."""
    if key.kind != "allowance":
        return () if key.id is None else (key.id,)
    lines = [line for month in months for line in month if isinstance(line, Line) and line.key == key]
    return tuple(dict.fromkeys(row.key.id for line in lines for row in line.rows if row.key.id is not None))
