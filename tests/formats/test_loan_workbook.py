"""The workbook's formulas, evaluated, give the schedule; and they follow when an input is changed."""

import csv
import io
from dataclasses import replace
from datetime import date
from decimal import Decimal
from pathlib import Path
from typing import Any

import formulas
import openpyxl
import pytest

from next_penny.core.loans.schedule import Schedule, schedule
from next_penny.core.plan.terms.loans import DatedAmount, Extra, LoanTerms, RateChange
from next_penny.formats.workbooks.loans import loan_csv, loan_workbook

CAR = LoanTerms(12_000_00, Decimal("7.25"), date(2027, 1, 15), date(2027, 2, 28), 24)
FIRST = 24


def evaluated(path: Path, cells: dict[str, Any]) -> dict[str, float]:
    """Every number of the sheet, by cell, with some inputs changed."""
    workbook = openpyxl.load_workbook(path)
    for cell, value in cells.items():
        workbook["Schedule"][cell] = value
    workbook.save(path)
    solution = formulas.ExcelModel().loads(str(path)).finish().calculate()
    found = {}
    for name, range_ in solution.items():
        cell = str(name).rsplit("!", 1)[-1].strip("'")
        if ":" not in cell:
            found[cell] = range_.value[0, 0]
    return found


def told(found: Schedule) -> list[tuple[int, int, int]]:
    return [(row.interest, row.principal, row.balance) for row in found.rows]


def read(values: dict[str, float], count: int) -> list[tuple[int, ...]]:
    return [tuple(round(float(values[f"{column}{FIRST + n}"]) * 100) for column in "IJN") for n in range(count)]


@pytest.mark.parametrize(
    "terms",
    [
        CAR,
        replace(CAR, interest="actual_actual", extras=(Extra(500_00, date=date(2027, 6, 3)), Extra(25_00, every=1))),
        replace(CAR, interest="30_360", balloon=3_000_00, interest_only=3, payment_rounding="up"),
        replace(CAR, interest="actual_360", rate_changes=(RateChange(date(2027, 9, 1), Decimal("9.1")),)),
        replace(CAR, payments_per_year=26, accelerated=True, payments=52, escrow=(DatedAmount(date(2027, 1, 1), 10_00),)),
        replace(CAR, extras=(Extra(1_000_00, date=date(2027, 5, 28)),), extra_effect="recast"),
    ],
)  # fmt: skip
def test_the_formulas_give_the_schedule_and_the_check_is_zero(tmp_path: Path, terms: LoanTerms) -> None:
    found = schedule(terms)
    path = tmp_path / "loan.xlsx"
    path.write_bytes(loan_workbook(found, "Car", "USD"))
    values = evaluated(path, {})
    assert read(values, len(found)) == told(found)
    assert float(values["B14"]) == 0
    assert round(float(values["B12"]) * 100) == found.total_interest


def test_a_changed_input_recomputes_every_payment(tmp_path: Path) -> None:
    path = tmp_path / "loan.xlsx"
    path.write_bytes(loan_workbook(schedule(CAR), "Car", "USD"))
    values = evaluated(path, {"B4": 5, "B3": 10_000})
    other = schedule(replace(CAR, annual_rate=Decimal(5), principal=10_000_00))
    assert read(values, 24) == told(other)
    assert float(values["B14"]) == 0


def test_the_rest_of_a_loan_and_currencies_without_decimals(tmp_path: Path) -> None:
    whole = schedule(CAR)
    rest = whole.from_payment(10)
    assert rest is not None
    path = tmp_path / "rest.xlsx"
    path.write_bytes(loan_workbook(rest, "Car", "USD"))
    assert read(evaluated(path, {}), len(rest)) == told(rest) == told(whole)[10:]
    rows = list(csv.DictReader(io.StringIO(loan_csv(rest, "JPY"))))
    assert (rows[0]["number"], rows[0]["balance"]) == ("11", str(rest.balance[0]))
    assert next(csv.DictReader(io.StringIO(loan_csv(whole, "USD"))))["interest"] == "72.50"
