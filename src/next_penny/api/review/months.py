"""Months side by side: what was expected of each category and what happened."""

import datetime
from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from next_penny.api.ahead.forecast import checked_until
from next_penny.api.http.answers import workbook
from next_penny.api.http.session import Home, HomeOrWhatIf, Session
from next_penny.api.review.review import (
    KeptModel,
    Named,
    TotalsModel,
    TwoModel,
    check_days,
    kept_fields,
    named_fields,
    totals_fields,
    two_fields,
)
from next_penny.api.review.sources import Recorded, named_accounts
from next_penny.core.dates.calendar import month_end
from next_penny.core.review.review import review_of
from next_penny.core.review.side_by_side import CategoryMonths, MonthsBeside, category_months
from next_penny.core.review.stretches import name_of
from next_penny.core.review.sums import Sums
from next_penny.core.review.telling import lines_of
from next_penny.formats.documents.fields import Day
from next_penny.formats.documents.parts import Month, month_text
from next_penny.formats.workbooks.category_months import months_workbook
from next_penny.formats.workbooks.stretch_review import review_workbook

router = APIRouter(prefix="/api/review", tags=["review"])
_MOST_MONTHS = 120


class MonthTotals(BaseModel):
    month: str
    income: TwoModel
    spending: TwoModel
    kept: KeptModel


class CategoryMonthsModel(Named):
    """A cell a month; `total` is all of them together. `categories`: those behind it.

    `so_far` and `year_ago`: the same in the year so far, and on its days a year earlier.
    """

    cells: list[TwoModel]
    total: TwoModel
    categories: list[str]
    so_far: TwoModel
    year_ago: TwoModel


class ReviewMonths(BaseModel):
    """Each month as a review of it; `income` and `spending` are all of them together.

    `so_far`: the year of the last month, or of today where that is earlier, up to it; `year_ago`: a year earlier.

    `lines` are the rows as one reads them: an allowance's has what its categories have.
    """

    currency: str
    today: datetime.date
    months: list[MonthTotals]
    rows: list[CategoryMonthsModel]
    lines: list[CategoryMonthsModel]
    income: TwoModel
    spending: TwoModel
    so_far: TotalsModel
    year_ago: TotalsModel


@router.get("/months")
def read_review_months(
    home: HomeOrWhatIf,
    first: Annotated[Month, Query(alias="from")],
    count: Annotated[int, Query(ge=1, le=_MOST_MONTHS)] = 12,
    accounts: str | None = None,
) -> ReviewMonths:
    """What was expected and what happened, category by category, in months from one on."""
    months_beside = _found(home, first, count, accounts)
    return ReviewMonths.model_validate(
        {
            "currency": home.plan.household.currency,
            "today": home.today,
            "months": [
                {
                    "month": month_text(first + at),
                    "income": two_fields(totals.income),
                    "spending": two_fields(totals.spending),
                    "kept": kept_fields(totals.kept),
                }
                for at, totals in enumerate(months_beside.months)
            ],
            "rows": [_row(row) for row in months_beside.rows],
            "lines": [_row(row) for row in months_beside.lines],
            "income": two_fields(months_beside.income),
            "spending": two_fields(months_beside.spending),
            "so_far": totals_fields(months_beside.so_far),
            "year_ago": totals_fields(months_beside.year_ago),
        }
    )


@router.get("/months/workbook.xlsx", response_class=Response)
def export_review_months(
    home: Home,
    first: Annotated[Month, Query(alias="from")],
    count: Annotated[int, Query(ge=1, le=_MOST_MONTHS)] = 12,
    accounts: str | None = None,
) -> Response:
    """The same as a workbook, what happened and what was expected on a sheet each, sums as live formulas."""
    months_beside = _found(home, first, count, accounts)
    names = [month_text(first + at) for at in range(count)]
    content = months_workbook(names, months_beside, home.plan.household.currency)
    return workbook(content, f"months-{names[0]}-{names[-1]}.xlsx")


def _found(home: Session, first: int, count: int, accounts: str | None) -> MonthsBeside:
    last = datetime.date.fromordinal(month_end(first + count - 1))
    checked_until(home.today, max(home.today, last), ("query", "count"))
    return category_months(home.moment, Recorded(home), first, count, named_accounts(home, accounts))


def _row(row: CategoryMonths) -> dict[str, object]:
    return {
        **named_fields(row.key, row.name, row.group),
        "cells": [two_fields(cell) for cell in row.cells],
        "total": two_fields(row.total),
        "categories": row.categories,
        "so_far": two_fields(row.so_far),
        "year_ago": two_fields(row.year_ago),
    }


@router.get("/workbook.xlsx", response_class=Response)
def export_review(
    home: HomeOrWhatIf,
    first: Annotated[Day, Query(alias="from")],
    last: Annotated[Day, Query(alias="to")],
    accounts: str | None = None,
) -> Response:
    """Expected and happened as a workbook, differences and sums as live formulas."""
    named = named_accounts(home, accounts)
    check_days(home, first, last)
    lines = lines_of(review_of(Sums(home.moment, Recorded(home), first, last, named)))
    content = review_workbook(name_of(first, last), lines, home.plan.household.currency)
    return workbook(content, f"review-{first}-{last}.xlsx")
