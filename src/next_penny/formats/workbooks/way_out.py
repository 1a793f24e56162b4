"""The months of a way out as CSV, and as a workbook of live formulas.

Rates, extras and what a loan's own schedule says are inputs of their rows; interest, minimums, balances and sums are
computed from them and from the row above, by the rules of docs/rules.md (Paying off several debts).
"""

import csv
import io

from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from next_penny.core.money import DECIMALS
from next_penny.core.payoff.debts import Debt, PlainDebt, rates_from
from next_penny.core.payoff.outcome import Run
from next_penny.formats.documents.parts import month_text
from next_penny.formats.workbooks.loans import major_text
from next_penny.formats.workbooks.sheets import csv_text, number_format, put_text

_COLUMNS = ("Rate, %", "Interest", "Minimum", "Extra", "Balance after")
_HEAD = 4
_FIRST_ROW = 11


def payoff_csv(run: Run, currency: str) -> str:
    """One line for each debt and month (RFC 4180); amounts in major units with a point."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(("month", "debt", "opening", "interest", "minimum", "extra", "closing"))
    for index in range(len(run)):
        for debt in run.debts:
            months = run.months[debt.id]
            if index < len(months):
                texts = [major_text(amount, currency) for amount in months[index]]
                writer.writerow([month_text(run.start + index), csv_text(debt.name), *texts])
    return out.getvalue()


def payoff_workbook(run: Run, currency: str) -> bytes:
    """The months as a workbook (Office Open XML)."""
    workbook = Workbook()
    sheet = workbook.active
    assert isinstance(sheet, Worksheet)
    sheet.title = "Way out"
    book = _Sheet(sheet, run, DECIMALS.get(currency, 2))
    book.inputs(currency)
    book.months()
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


class _Sheet:
    """The one sheet being written: a line for each month, five columns for each debt, sums at the end of the line."""

    def __init__(self, sheet: Worksheet, run: Run, decimals: int) -> None:
        self._sheet, self._run, self._decimals = sheet, run, decimals
        self._format = number_format(decimals)

    def _amount(self, amount: int) -> float | int:
        # An amount leaves the app as a spreadsheet's number: it is read back rounded there.
        return amount / 10**self._decimals if self._decimals else amount

    def _column(self, place: int, number: int) -> str:
        return get_column_letter(2 + place * len(_COLUMNS) + number)

    def inputs(self, currency: str) -> None:
        """What the months are computed from: change these, and every month follows."""
        sheet = self._sheet
        sheet["A1"] = "The way out of debt"
        sheet["A1"].font = Font(bold=True, size=14)
        sheet["A2"] = f"Amounts in {currency}. Rates, extras and the figures below are inputs."
        labels = ("Owed at first", "Minimum, % of balance", "Interest on top (1 or 0)", "At least")
        for row, label in enumerate(labels, _HEAD + 1):
            sheet.cell(row, 1, label)
        for place, debt in enumerate(self._run.debts):
            column = self._column(place, 0)
            put_text(sheet[f"{column}{_HEAD}"], debt.name)
            sheet[f"{column}{_HEAD}"].font = Font(bold=True)
            self._put(f"{column}{_HEAD + 1}", self._amount(debt.balance))
            if isinstance(debt, PlainDebt):
                sheet[f"{column}{_HEAD + 2}"] = float(debt.minimum.percent or 0)
                sheet[f"{column}{_HEAD + 3}"] = int(debt.minimum.plus_interest)
                self._put(f"{column}{_HEAD + 4}", self._amount(debt.minimum.floor))
            for number, heading in enumerate(_COLUMNS):
                sheet[f"{self._column(place, number)}{_FIRST_ROW - 1}"] = heading
        for place, heading in enumerate(("Paid", "Owed in all", "Left over")):
            sheet[f"{self._column(len(self._run.debts), place)}{_FIRST_ROW - 1}"] = heading
        for cell in sheet[_FIRST_ROW - 1]:
            cell.font, cell.alignment = Font(bold=True), Alignment(wrap_text=True, horizontal="right")
        sheet.freeze_panes = f"B{_FIRST_ROW}"
        sheet.column_dimensions["A"].width = 24

    def _put(self, place: str, value: object) -> None:
        self._sheet[place] = value  # type: ignore[assignment]
        self._sheet[place].number_format = self._format

    def months(self) -> None:
        """Every month of every debt."""
        run = self._run
        rates = [rates_from(debt, run.start, len(run)) for debt in run.debts]
        for index in range(len(run)):
            row = _FIRST_ROW + index
            self._sheet.cell(row, 1, month_text(run.start + index))
            for place, debt in enumerate(run.debts):
                self._sheet[f"{self._column(place, 0)}{row}"] = float(rates[place][index])
                self._debt_month(place, debt, index, row)
            self._sums(row, index)

    def _debt_month(self, place: int, debt: Debt, index: int, row: int) -> None:
        rate, interest, minimum, extra, balance = (f"{self._column(place, number)}{row}" for number in range(5))
        top = self._column(place, 0)
        before = f"{self._column(place, 4)}{row - 1}" if index else f"{top}${_HEAD + 1}"
        months = self._run.months[debt.id]
        month = months[index] if index < len(months) else None
        if isinstance(debt, PlainDebt):
            share, plus, floor = (f"{top}${_HEAD + line}" for line in (2, 3, 4))
            self._put(interest, f"=ROUND({before}*{rate}/1200,{self._decimals})")
            asked = f"ROUND({before}*{share}/100,{self._decimals})+{plus}*{interest}"
            self._put(minimum, f"=MIN({before}+{interest},MAX({floor},{asked}))")
        else:
            self._put(interest, self._amount(month.interest if month else 0))
            self._put(minimum, self._amount(month.minimum if month else 0))
        self._put(extra, self._amount(month.extra if month else 0))
        self._put(balance, f"=ROUND({before}+{interest}-{minimum}-{extra},{self._decimals})")

    def _sums(self, row: int, index: int) -> None:
        places = range(len(self._run.debts))
        paid = "+".join(f"{self._column(place, number)}{row}" for place in places for number in (2, 3))
        owed = "+".join(f"{self._column(place, 4)}{row}" for place in places)
        end = len(self._run.debts)
        self._put(f"{self._column(end, 0)}{row}", f"={paid}")
        self._put(f"{self._column(end, 1)}{row}", f"={owed}")
        self._put(f"{self._column(end, 2)}{row}", self._amount(self._run.left_over[index]))
