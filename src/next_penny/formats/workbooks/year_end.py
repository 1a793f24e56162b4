"""The end of a year as a workbook: one sheet, section by section, sums as live formulas, amounts in major units."""

import io
from collections.abc import Sequence
from typing import NamedTuple

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.worksheet.worksheet import Worksheet

from next_penny.core.money import DECIMALS
from next_penny.core.review.forward.year_end import YearEnd
from next_penny.core.review.telling import Group
from next_penny.formats.workbooks.sheets import major, number_format, put_row

_BOLD = Font(bold=True)


class LoanCost(NamedTuple):
    """Interest of one account in a year: negative where it was paid."""

    name: str
    currency: str
    amount: int


def year_workbook(
    year: int, year_end: YearEnd, groups: Sequence[Group], interest: Sequence[LoanCost], currency: str
) -> bytes:
    """The workbook (Office Open XML); `currency` is the household's."""
    workbook = Workbook()
    sheet = workbook.active
    assert isinstance(sheet, Worksheet)
    sheet.title = str(year)
    page = _Page(sheet, currency)
    income = page.sums("What came in", [group for group in groups if group.kind == "income"])
    spending = page.sums("What went out", [group for group in groups if group.kind != "income"])
    page.line(["Kept"], f"={income}-{spending}")
    page.heading("Interest", "Account", "Amount", "Currency")
    for cost in interest:
        page.put([cost.name, major(cost.amount, cost.currency), cost.currency])
    page.heading("Accounts", "Account", "At the beginning", "At the end", "Currency", "Change")
    for standing in year_end.standings:
        own = standing.account.currency
        page.put([standing.account.name, major(standing.begins, own), major(standing.ends, own), own])
        sheet.cell(page.row, 5, f"=C{page.row}-B{page.row}")
    page.put(["Net worth", *(major(worth, currency) for worth in year_end.worth), currency], is_bold=True)
    sheet.cell(page.row, 5, f"=C{page.row}-B{page.row}")
    page.heading("Goals", "Goal", "Met", "Of periods")
    for goal in year_end.goals:
        page.put([goal.goal.name, goal.met, goal.periods])
    page.heading("Into the next year", "What", "Planned", "On average", "Currency")
    for proposal in year_end.off:
        page.put(
            [
                proposal.name,
                major(proposal.planned, proposal.currency),
                major(proposal.amount, proposal.currency),
                proposal.currency,
            ]
        )
    for column, width in zip("ABCDE", (34, 18, 18, 12, 16), strict=True):
        sheet.column_dimensions[column].width = width
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


class _Page:
    """A sheet that is written from the top down."""

    def __init__(self, sheet: Worksheet, currency: str) -> None:
        self._sheet, self._currency, self.row = sheet, currency, 0

    def put(self, values: Sequence[object], *, is_bold: bool = False) -> None:
        """The next row."""
        self.row += 1
        put_row(self._sheet, self.row, values)
        if is_bold:
            for cell in self._sheet[self.row]:
                cell.font = _BOLD

    def heading(self, title: str, *columns: str) -> None:
        """A section's title and the names of its columns, below an empty row."""
        self.row += 1 if self.row else 0
        self.put([title], is_bold=True)
        self.put(columns, is_bold=True)

    def sums(self, title: str, groups: Sequence[Group]) -> str:
        """A section of groups and what they come to together. Returns the cell of the sum."""
        self.heading(title, "Group", "Happened", "Expected")
        first = self.row + 1
        for group in groups:
            self.put([group.name or "In no group", *(major(sum, self._currency) for sum in reversed(group.sums))])
        self.line(["Together"], f"=SUM(B{first}:B{self.row})" if groups else "=0")
        return f"B{self.row}"

    def line(self, values: Sequence[object], formula: str) -> None:
        """A row with a formula in its second column."""
        self.put(values, is_bold=True)
        cell = self._sheet.cell(self.row, 2, formula)
        cell.font, cell.number_format = _BOLD, number_format(DECIMALS.get(self._currency, 2))
