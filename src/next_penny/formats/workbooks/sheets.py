"""What people typed in files for spreadsheets: never a formula, and without control characters."""

import io
import re
from collections.abc import Iterable, Sequence
from decimal import Decimal
from typing import Any

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from next_penny.core.money import DECIMALS
from next_penny.core.problems import while_waited_for

# What no file of text may hold: C0 and C1 controls but tab and line feed, and halves of characters.
_CONTROLS = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")


def plain_text(text: str) -> str:
    """Text without control characters."""
    return _CONTROLS.sub("", text)


# What a spreadsheet takes for the beginning of a formula, and what stands before it so that it does not.
_FORMULAS, _GUARD = ("=", "+", "-", "@", "\t", "'"), "'"


def csv_text(text: str) -> str:
    """A text as it goes out in a CSV file: behind an apostrophe where a spreadsheet might run it (OWASP)."""
    plain = plain_text(text)
    return _GUARD + plain if plain.startswith(_FORMULAS) else plain


def put_text(cell: Any, text: str) -> None:
    """Write what a person typed into a cell, as text whatever it begins with."""
    cell.value = plain_text(text)
    cell.data_type = "s"
    if cell.value.startswith(("=", "+", "-", "@")):
        cell.quotePrefix = True


def put_row(sheet: Worksheet, number: int, row: Sequence[Any]) -> None:
    """A row from the first column on; texts stay texts."""
    for column, value in enumerate(row, 1):
        cell = sheet.cell(number, column)
        if isinstance(value, str):
            put_text(cell, value)
            continue
        cell.value = value
        if isinstance(value, Decimal):
            cell.number_format = number_format(-int(value.as_tuple().exponent))


def write_rows(sheet: Any, headings: Sequence[str], rows: Iterable[Sequence[Any]]) -> None:
    """A table with a heading line that stays in sight, into a sheet that is only written: it may be long."""
    sheet.freeze_panes = "A2"
    for column, heading in enumerate(headings, 1):
        sheet.column_dimensions[get_column_letter(column)].width = max(12, len(heading) + 2)
    bold = [_written(sheet, heading) for heading in headings]
    for cell in bold:
        cell.font = Font(bold=True)
    sheet.append(bold)
    for row in while_waited_for(rows):
        sheet.append([_written(sheet, value) if isinstance(value, str | Decimal) else value for value in row])


def _written(sheet: Any, value: str | Decimal) -> Any:
    cell = WriteOnlyCell(sheet)
    if isinstance(value, str):
        put_text(cell, value)
    else:
        cell.value = value
        cell.number_format = number_format(-int(value.as_tuple().exponent))
    return cell


class LiveSheet:
    """A sheet written row by row, of amounts of one currency and of formulas over them."""

    def __init__(self, sheet: Worksheet, currency: str) -> None:
        self.sheet, self.currency, self.row = sheet, currency, 0

    def put(self, *values: object, bold: bool = False) -> int:
        """One more row; which it is."""
        self.row += 1
        put_row(self.sheet, self.row, values)
        if bold:
            self.embolden()
        return self.row

    def formula(self, column: int, formula: str) -> None:
        """A formula in the row written last; what it gives is an amount."""
        cell = self.sheet.cell(self.row, column, formula)
        cell.number_format = number_format(DECIMALS.get(self.currency, 2))

    def embolden(self) -> None:
        """The row written last stands out."""
        for cell in self.sheet[self.row]:
            cell.font = Font(bold=True)

    def amount(self, amount: int) -> Decimal:
        """An amount as a cell has it."""
        return major(amount, self.currency)


def saved(workbook: Workbook) -> bytes:
    """A workbook as a file (Office Open XML)."""
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


def number_format(decimals: int) -> str:
    """How a spreadsheet shows amounts of a currency with so many decimals."""
    return f"#,##0.{'0' * decimals}" if decimals > 0 else "#,##0"


def major(amount: int, currency: str) -> Decimal:
    """Minor units as an exact number of major ones."""
    return Decimal(amount).scaleb(-DECIMALS.get(currency, 2))
