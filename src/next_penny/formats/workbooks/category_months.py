"""Months of categories as a workbook: a sheet of what happened, one of what was expected, sums as live formulas."""

from collections.abc import Callable, Sequence

from openpyxl import Workbook
from openpyxl.utils import get_column_letter

from next_penny.core.review.records import Two
from next_penny.core.review.side_by_side import CategoryMonths, MonthsBeside
from next_penny.formats.workbooks.sheets import LiveSheet, saved

_GROUP, _FIRST = 2, 3


def months_workbook(months: Sequence[str], months_beside: MonthsBeside, currency: str) -> bytes:
    """The workbook (Office Open XML); amounts in major units of the household's currency."""
    workbook = Workbook()
    workbook.remove(workbook.worksheets[0])
    for title, part in (("Happened", lambda both: both.actual), ("Expected", lambda both: both.expected)):
        _Sheet(LiveSheet(workbook.create_sheet(title), currency), months, months_beside, part).write()
    return saved(workbook)


class _Sheet:
    """One of the two sheets; part: which of two sums it shows."""

    def __init__(
        self, sheet: LiveSheet, months: Sequence[str], beside: MonthsBeside, part: Callable[[Two], int]
    ) -> None:
        self._sheet, self._months, self._beside, self._part = sheet, months, beside, part

    def write(self) -> None:
        """Headings, spending and income with their sums, and what was kept."""
        year = self._beside.so_far
        self._sheet.put("Category", "Group", *self._months, "Together", f"{year.first.year} until {year.last}",
                        f"{self._beside.year_ago.first} until {self._beside.year_ago.last}", bold=True)  # fmt: skip
        self._sheet.sheet.freeze_panes = "C2"
        lines = self._beside.lines
        spending = self._block("Spending together", [line for line in lines if line.key.kind != "income"])
        income = self._block("Income together", [line for line in lines if line.key.kind == "income"])
        self._sums("Kept", lambda column: f"={column}{income}-{column}{spending}")
        for column in range(1, len(self._months) + _FIRST + 3):
            self._sheet.sheet.column_dimensions[get_column_letter(column)].width = 26 if column < _FIRST else 13

    def _block(self, title: str, lines: Sequence[CategoryMonths]) -> int:
        first = self._sheet.row + 1
        for line in lines:
            amounts = [self._sheet.amount(self._part(cell)) for cell in line.cells]
            year = [self._sheet.amount(self._part(both)) for both in (line.so_far, line.year_ago)]
            row = self._sheet.put(line.name, line.group, *amounts, None, *year)
            last = get_column_letter(_GROUP + len(amounts))
            self._sheet.formula(_FIRST + len(amounts), f"=SUM({get_column_letter(_FIRST)}{row}:{last}{row})")
        rows = range(first, self._sheet.row + 1)
        self._sums(title, lambda column: f"=SUM({column}{rows[0]}:{column}{rows[-1]})" if rows else "=0")
        return self._sheet.row

    def _sums(self, title: str, formula_of: Callable[[str], str]) -> None:
        """A row of sums, a formula for each column of amounts."""
        self._sheet.put(title)
        for column in range(_FIRST, _FIRST + len(self._months) + 3):
            self._sheet.formula(column, formula_of(get_column_letter(column)))
        self._sheet.embolden()
