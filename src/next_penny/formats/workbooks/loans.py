"""A loan's schedule as CSV, and as a workbook whose cells are live formulas.

The inputs stand at the top of the sheet; every payment is computed from them and from the row above, by the same rules
as the schedule (docs/rules.md, Loans). Due dates, extras and escrow are inputs of their rows. A check cell is zero.
Amounts are in major units in both, as people read them.
"""

import csv
import io
from collections.abc import Sequence
from datetime import date
from typing import Any

from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from next_penny.core.dates.day_counts import DAY_COUNTS
from next_penny.core.loans.schedule import Row, Schedule
from next_penny.core.money import DECIMALS
from next_penny.formats.workbooks.sheets import number_format, put_text

_HEADINGS = (
    "Payment", "Begins", "Due", "Rate, %", "Level payment", "Balance before", "Extra between due dates", "on",
    "Interest", "Principal", "Extra with the payment", "Escrow", "Insurance", "Balance after",
)  # fmt: skip
_CSV = ("number", "due", "annual_rate", "payment", "interest", "principal", "extra", "escrow", "insurance", "balance")
_FIRST_ROW = 24


def loan_csv(schedule: Schedule, currency: str) -> str:
    """The schedule as CSV (RFC 4180) with a heading line; amounts in major units with a point."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(_CSV)
    for row in schedule.rows:
        amounts = (row.payment, row.interest, row.principal, row.extra, row.escrow, row.insurance, row.balance)
        texts = [major_text(amount, currency) for amount in amounts]
        writer.writerow([row.number, date.fromordinal(row.due).isoformat(), f"{row.annual_rate:f}", *texts])
    return out.getvalue()


def major_text(amount: int, currency: str) -> str:
    """An amount in major units with a point and no other signs."""
    decimals = DECIMALS.get(currency, 2)
    if not decimals:
        return str(amount)
    text = f"{abs(amount):0{decimals + 1}}"
    return f"{'-' if amount < 0 else ''}{text[:-decimals]}.{text[-decimals:]}"


def loan_workbook(schedule: Schedule, name: str, currency: str) -> bytes:
    """The schedule as a workbook (Office Open XML)."""
    workbook = Workbook()
    sheet = workbook.active
    assert isinstance(sheet, Worksheet)
    sheet.title = "Schedule"
    book = _Sheet(sheet, schedule, DECIMALS.get(currency, 2))
    book.inputs(name, currency)
    book.payments()
    out = io.BytesIO()
    workbook.save(out)
    return out.getvalue()


class _Sheet:
    """The one sheet being written."""

    def __init__(self, sheet: Worksheet, shown: Schedule, decimals: int) -> None:
        self._sheet, self._schedule, self._terms = sheet, shown, shown.terms
        self._decimals = decimals
        self._last = _FIRST_ROW + len(shown) - 1
        self._format = number_format(decimals)

    def _amount(self, amount: int) -> float | int:
        # The one place where an amount leaves the app as a spreadsheet's number: it is read back rounded there.
        return amount / 10**self._decimals if self._decimals else amount

    def inputs(self, name: str, currency: str) -> None:
        """What the payments are computed from: change these, and every payment follows."""
        terms, schedule = self._terms, self._schedule
        number = terms.payments if terms.payments is not None else schedule.first_number - 1 + len(schedule)
        interest, principal, extras, early = (f"{column}{_FIRST_ROW}:{column}{self._last}" for column in "IJKG")
        rows: list[tuple[str, Any]] = [
            ("Owed at the beginning", self._amount(schedule.opening)),
            ("Rate, % a year", float(schedule.rate[0])),
            ("Payments a year", terms.payments_per_year),
            ("Payments in all", number),
            ("Balloon", self._amount(terms.balloon)),
            ("Payments of interest alone", terms.interest_only),
            ("Level payment, where given", self._given_payment()),
            ("Decimals of the currency", self._decimals),
            ("Paid down by", None),
            ("Total interest", f"=SUM({interest})"),
            ("Total paid", f"=SUM({interest})+SUM({principal})+SUM({extras})+SUM({early})"),
            (
                "Check: zero when all adds up",
                f"=ROUND(B3-SUM({principal})-SUM({extras})-SUM({early})-N{self._last},B10)",
            ),
        ]
        put_text(self._sheet["A1"], f"{name}: amortization schedule, {currency}")
        self._sheet["A1"].font = Font(bold=True, size=14)
        for place, (label, value) in enumerate(rows, 3):
            self._sheet.cell(place, 1, label)
            self._sheet.cell(place, 2, value)
        self._sheet["B11"] = f"=C{self._last}"
        self._sheet["B11"].number_format = "yyyy-mm-dd"
        for cell in ("B3", "B7", "B9", "B12", "B13", "B14"):
            self._sheet[cell].number_format = self._format

    def _given_payment(self) -> float | int | None:
        """A payment that the formula for level payments does not give: as agreed, or as the loan has it under way."""
        is_given = self._terms.payment is not None or self._terms.accelerated or self._schedule.first_number > 1
        return self._amount(self._schedule.level) if is_given else None

    def payments(self) -> None:
        """One row per payment; each formula refers to the inputs and to the row above."""
        for column, heading in enumerate(_HEADINGS, 1):
            cell = self._sheet.cell(_FIRST_ROW - 1, column, heading)
            cell.font, cell.alignment = Font(bold=True), Alignment(wrap_text=True)
            self._sheet.column_dimensions[get_column_letter(column)].width = 30 if column == 1 else 14
        early = sorted(self._schedule.between)
        for place, row in enumerate(self._schedule.rows):
            mine = [moved_day for moved_day in early if row.begins <= moved_day[0] < row.due]
            self._payment(_FIRST_ROW + place, place, row, mine)
        self._sheet.freeze_panes = f"A{_FIRST_ROW}"

    def _payment(self, at: int, place: int, row: Row, early: Sequence[tuple[int, int]]) -> None:
        before = sum(amount for _, amount in early)
        is_first = place == 0
        is_changed = not is_first and row.annual_rate != self._schedule.rate[place - 1]
        values: dict[str, Any] = {
            "A": row.number,
            "B": date.fromordinal(row.begins) if is_first else f"=C{at - 1}",
            "C": date.fromordinal(row.due),
            "D": "=B4" if is_first else (float(row.annual_rate) if is_changed else f"=D{at - 1}"),
            "E": self._level(at, place),
            "F": "=B3" if is_first else f"=N{at - 1}",
            "G": self._amount(before) if before else 0,
            "H": date.fromordinal(early[0][0]) if early else None,
            "I": self._interest(at, early, row),
            "J": self._principal(at, place, row),
            "K": self._amount(row.extra - before) if row.extra - before else 0,
            "L": self._amount(row.escrow),
            "M": self._amount(row.insurance),
            "N": f"=ROUND(F{at}-G{at}-J{at}-K{at},$B$10)",
        }
        for column, value in values.items():
            cell = self._sheet[f"{column}{at}"]
            cell.value = value
            cell.number_format = "yyyy-mm-dd" if column in "BCH" else ("General" if column in "AD" else self._format)

    def _level(self, at: int, place: int) -> str | float | int | None:
        """The payment in force: levelled, as it was, or as set."""
        terms, schedule = self._terms, self._schedule
        number = schedule.first_number + place
        if number <= terms.interest_only:
            return 0
        is_first = place == 0 or number == terms.interest_only + 1
        if not is_first and schedule.levels[place] == schedule.levels[place - 1]:
            return f"=E{at - 1}"
        if terms.accelerated or any(
            payment_change.amount == schedule.levels[place] for payment_change in terms.payment_changes
        ):
            return self._amount(schedule.levels[place])
        levelled = self._levelled(at)
        return f"=IF(ISBLANK($B$9),{levelled},$B$9)" if is_first else f"={levelled}"

    def _levelled(self, at: int) -> str:
        rate, left = f"(D{at}/100/$B$5)", f"($B$6-A{at}+1)"
        power = f"(1+{rate})^-{left}"
        annuity = f"(F{at}-$B$7*{power})*{rate}/(1-{power})"
        rounding = "ROUNDUP" if self._terms.payment_rounding == "up" else "ROUND"
        # A hair off, so that what is a whole minor unit but for the spreadsheet's own arithmetic is not rounded up.
        exact = f"ROUND({annuity},8)" if rounding == "ROUNDUP" else annuity
        return f"IF(D{at}=0,{rounding}((F{at}-$B$7)/{left},$B$10),{rounding}({exact},$B$10))"

    def _interest(self, at: int, early: Sequence[tuple[int, int]], row: Row) -> str | float | int:
        method = self._terms.interest
        if len(early) > 1:
            return self._amount(row.interest)
        if method == "equal_periods":
            return _rounded(f"F{at}*D{at}/100/$B$5")
        years = DAY_COUNTS[method].formula
        if not early:
            return _rounded(f"F{at}*D{at}/100*{years(f'B{at}', f'C{at}')}")
        first, second = years(f"B{at}", f"H{at}"), years(f"H{at}", f"C{at}")
        return _rounded(f"(F{at}*{first}+(F{at}-G{at})*{second})*D{at}/100")

    def _principal(self, at: int, place: int, row: Row) -> str:
        owed = f"(F{at}-G{at})"
        if row.number <= self._terms.interest_only and row.balance:
            return "=0"
        if place + 1 == len(self._schedule) or row.number == self._terms.payments:
            return f"=ROUND({owed},$B$10)"
        if self._terms.negative_amortization:
            return f"=ROUND(MIN({owed},E{at}-I{at}),$B$10)"
        return f"=ROUND(MAX(0,MIN({owed},E{at}-I{at})),$B$10)"


def _rounded(formula: str) -> str:
    """To the minor unit; first to far more, so that a half that the spreadsheet's numbers just miss is a half again."""
    return f"=ROUND(ROUND({formula},9),$B$10)"
