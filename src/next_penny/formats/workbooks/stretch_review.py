"""What was expected and what happened in a stretch as a workbook: differences and sums are live formulas."""

from collections.abc import Sequence

from openpyxl import Workbook

from next_penny.core.review.telling import Line
from next_penny.formats.workbooks.sheets import LiveSheet, saved


def review_workbook(title: str, lines: Sequence[Line], currency: str) -> bytes:
    """The workbook (Office Open XML); amounts in major units of the household's currency."""
    workbook = Workbook()
    workbook.remove(workbook.worksheets[0])
    sheet = LiveSheet(workbook.create_sheet("Review"), currency)
    sheet.put(title, "Group", "Expected", "Happened", "Difference", bold=True)
    sheet.sheet.freeze_panes = "A2"
    spending = _block(sheet, "Spending together", [line for line in lines if line.key.kind != "income"])
    income = _block(sheet, "Income together", [line for line in lines if line.key.kind == "income"])
    sheet.put("Kept")
    for column, letter in ((3, "C"), (4, "D")):
        sheet.formula(column, f"={letter}{income}-{letter}{spending}")
    _difference(sheet)
    sheet.embolden()
    for letter, width in (("A", 30), ("B", 18), ("C", 14), ("D", 14), ("E", 14)):
        sheet.sheet.column_dimensions[letter].width = width
    return saved(workbook)


def _block(sheet: LiveSheet, title: str, lines: Sequence[Line]) -> int:
    first = sheet.row + 1
    for line in lines:
        sheet.put(line.name, line.group, sheet.amount(line.sums.expected), sheet.amount(line.sums.actual))
        _difference(sheet)
    last = sheet.row
    sheet.put(title)
    for column, letter in ((3, "C"), (4, "D")):
        sheet.formula(column, f"=SUM({letter}{first}:{letter}{last})" if lines else "=0")
    _difference(sheet)
    sheet.embolden()
    return sheet.row


def _difference(sheet: LiveSheet) -> None:
    """In the row written last, by how much more happened than was expected."""
    sheet.formula(5, f"=D{sheet.row}-C{sheet.row}")
