"""The months of chosen accounts as a workbook: openings, sums and closings are live formulas over the rows."""

from openpyxl import Workbook
from openpyxl.utils import get_column_letter

from next_penny.core.ahead.months import Grid
from next_penny.formats.documents.parts import month_text
from next_penny.formats.workbooks.sheets import LiveSheet, saved

_FIRST = 3


def months_grid_workbook(grid: Grid, currency: str) -> bytes:
    """The workbook (Office Open XML); amounts in major units, money out below zero."""
    workbook = Workbook()
    workbook.remove(workbook.worksheets[0])
    sheet = LiveSheet(workbook.create_sheet("Months"), currency)
    count = len(grid.months)
    columns = [get_column_letter(_FIRST + at) for at in range(count)]
    names = [month_text(month.month) for month in grid.months]
    sheet.put("What", "Group", *names, "Together", "A month", bold=True)
    sheet.sheet.freeze_panes = "C2"
    closing = len(grid.rows) + 4
    sheet.put("Opening", "", *(sheet.amount(month.opening) for month in grid.months[:1]))
    for at in range(1, count):
        sheet.formula(_FIRST + at, f"={columns[at - 1]}{closing}")
    for row in grid.rows:
        sheet.put(row.key.name, row.key.group, *(sheet.amount(cell.amount) for cell in row.cells))
        _together(sheet, columns)
    sheet.put("In and out together")
    for at, column in enumerate(columns):
        rows = f"{column}3:{column}{sheet.row - 1}"
        sheet.formula(_FIRST + at, f"=SUM({rows})" if grid.rows else "=0")
    _together(sheet, columns)
    sheet.embolden()
    sheet.put("Closing")
    for at, column in enumerate(columns):
        sheet.formula(_FIRST + at, f"={column}2+{column}{sheet.row - 1}")
    sheet.embolden()
    sheet.put("Lowest in the month", "", *(sheet.amount(month.lowest) for month in grid.months))
    for number in range(1, count + _FIRST + 2):
        sheet.sheet.column_dimensions[get_column_letter(number)].width = 26 if number < _FIRST else 13
    return saved(workbook)


def _together(sheet: LiveSheet, columns: list[str]) -> None:
    """All months of the row written last, and a month's share."""
    span = f"{columns[0]}{sheet.row}:{columns[-1]}{sheet.row}"
    sheet.formula(_FIRST + len(columns), f"=SUM({span})")
    sheet.formula(_FIRST + len(columns) + 1, f"=AVERAGE({span})")
