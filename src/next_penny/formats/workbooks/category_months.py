"""Months of categories as a workbook: a sheet of what happened, one of what was expected, sums as live formulas."""

import io
from collections.abc import Callable, Sequence

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from next_penny.core.money import DECIMALS
from next_penny.core.review.records import Two
from next_penny.core.review.side_by_side import CategoryMonths, MonthsBeside
from next_penny.formats.workbooks.sheets import major, number_format, put_row

_BOLD = Font(bold=True)
_GROUP, _FIRST = 2, 3


def months_workbook(months: Sequence[str], found: MonthsBeside, currency: str) -> bytes:
    """The workbook (Office Open XML); amounts in major units of the household's currency."""
    workbook = Workbook()
    workbook.remove(workbook.worksheets[0])
    for title, part in (("Happened", lambda both: both.actual), ("Expected", lambda both: both.expected)):
        _Sheet(workbook.create_sheet(title), months, found, currency, part).write()
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


class _Sheet:
    """One of the two sheets; part: which of two sums it shows."""

    def __init__(
        self, sheet: Worksheet, months: Sequence[str], found: MonthsBeside, currency: str, part: Callable[[Two], int]
    ) -> None:
        self._sheet, self._months, self._found, self._currency, self._part = sheet, months, found, currency, part
        self._row = 0

    def write(self) -> None:
        """Headings, spending and income with their sums, and what was kept."""
        year = self._found.so_far
        self._put("Category", "Group", *self._months, "Together", f"{year.first.year} until {year.last}",
                  f"{self._found.year_ago.first} until {self._found.year_ago.last}")  # fmt: skip
        self._make_bold()
        self._sheet.freeze_panes = "C2"
        lines = self._found.lines
        spending = self._block("Spending together", [line for line in lines if line.key.kind != "income"])
        income = self._block("Income together", [line for line in lines if line.key.kind == "income"])
        self._sums("Kept", lambda column: f"={column}{income}-{column}{spending}")
        for column in range(1, len(self._months) + _FIRST + 3):
            self._sheet.column_dimensions[get_column_letter(column)].width = 26 if column < _FIRST else 13

    def _block(self, title: str, lines: Sequence[CategoryMonths]) -> int:
        first = self._row + 1
        for line in lines:
            amounts = [major(self._part(cell), self._currency) for cell in line.cells]
            year = [major(self._part(both), self._currency) for both in (line.so_far, line.year_ago)]
            self._put(line.name, line.group, *amounts, None, *year)
            last = get_column_letter(_GROUP + len(amounts))
            self._formula(_FIRST + len(amounts), f"=SUM({get_column_letter(_FIRST)}{self._row}:{last}{self._row})")
        rows = range(first, self._row + 1)
        self._sums(title, lambda column: f"=SUM({column}{rows[0]}:{column}{rows[-1]})" if rows else "=0")
        return self._row

    def _sums(self, title: str, formula_of: Callable[[str], str]) -> None:
        """A row of sums, a formula for each column of amounts."""
        self._put(title)
        for column in range(_FIRST, _FIRST + len(self._months) + 3):
            self._formula(column, formula_of(get_column_letter(column)))
        self._make_bold()

    def _put(self, *values: object) -> None:
        self._row += 1
        put_row(self._sheet, self._row, values)

    def _formula(self, column: int, formula: str) -> None:
        cell = self._sheet.cell(self._row, column, formula)
        cell.number_format = number_format(DECIMALS.get(self._currency, 2))

    def _make_bold(self) -> None:
        for cell in self._sheet[self._row]:
            cell.font = _BOLD
