"""What was tagged in a year, as a workbook: one sheet, tag by tag, sums as live formulas, amounts in major units."""

import io
from collections.abc import Sequence
from decimal import Decimal

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.worksheet.worksheet import Worksheet

from next_penny.core.money import DECIMALS
from next_penny.core.review.tagged import TagSum
from next_penny.formats.loan_workbook import number_format

_HEADINGS = ("Tag", "Date", "Payee", "Amount", "Currency", "Notes", "Receipt")


def tagged_workbook(year: int, tags: Sequence[TagSum], currency: str) -> bytes:
    """The workbook (Office Open XML); `currency` is the household's, in which the sums are."""
    workbook = Workbook()
    sheet = workbook.active
    assert isinstance(sheet, Worksheet)
    sheet.title = str(year)
    sheet.append([*_HEADINGS, f"In {currency}"])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for tag in tags:
        first = sheet.max_row + 1
        for each in tag.entries:
            entry = each.entry
            receipt = entry.receipt.name if entry.receipt is not None else ""
            row = [tag.tag, entry.date, entry.payee, _major(each.amount, each.currency), each.currency, entry.notes,
                   receipt, _major(each.at_home, currency)]  # fmt: skip
            sheet.append(row)
            _as_text(sheet)
        sheet.append([tag.tag, None, "Together", None, None, None, None, f"=SUM(H{first}:H{sheet.max_row})"])
        for cell in sheet[sheet.max_row]:
            cell.font = Font(bold=True)
            cell.number_format = number_format(DECIMALS.get(currency, 2))
    for column, width in zip("ABCDEFGH", (16, 12, 30, 14, 10, 30, 24, 14), strict=True):
        sheet.column_dimensions[column].width = width
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


def _major(amount: int, currency: str) -> Decimal:
    return Decimal(amount).scaleb(-DECIMALS.get(currency, 2))


def _as_text(sheet: Worksheet) -> None:
    """What a person typed is never a formula."""
    for cell in sheet[sheet.max_row]:
        if isinstance(cell.value, str):
            cell.data_type = "s"
            cell.quotePrefix = cell.value.startswith(("=", "+", "-", "@"))
