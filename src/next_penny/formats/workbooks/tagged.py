"""What was tagged in a year, as a workbook: one sheet, tag by tag, sums as live formulas, amounts in major units."""

import io
from collections.abc import Sequence

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.worksheet.worksheet import Worksheet

from next_penny.core.money import DECIMALS
from next_penny.core.review.tagged import TagSum
from next_penny.formats.workbooks.sheets import major, number_format, put_row

_HEADINGS = ("Tag", "Date", "Payee", "Amount", "Currency", "Notes", "Receipt")


def tagged_workbook(year: int, tags: Sequence[TagSum], currency: str) -> bytes:
    """The workbook (Office Open XML); `currency` is the household's, in which the sums are."""
    workbook = Workbook()
    sheet = workbook.active
    assert isinstance(sheet, Worksheet)
    sheet.title = str(year)
    put_row(sheet, 1, [*_HEADINGS, f"In {currency}"])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    number = 1
    for tag in tags:
        first = number + 1
        for tagged_entry in tag.entries:
            entry = tagged_entry.entry
            receipt = entry.receipt.name if entry.receipt is not None else ""
            row = [
                tag.tag,
                entry.date,
                entry.payee,
                major(tagged_entry.amount, tagged_entry.currency),
                tagged_entry.currency,
                entry.notes,
                receipt,
                major(tagged_entry.at_home, currency),
            ]
            number += 1
            put_row(sheet, number, row)
        number += 1
        put_row(sheet, number, [tag.tag, None, "Together"])
        sheet.cell(number, len(_HEADINGS) + 1, f"=SUM(H{first}:H{number - 1})")
        for cell in sheet[number]:
            cell.font = Font(bold=True)
            cell.number_format = number_format(DECIMALS.get(currency, 2))
    for column, width in zip("ABCDEFGH", (16, 12, 30, 14, 10, 30, 24, 14), strict=True):
        sheet.column_dimensions[column].width = width
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()
