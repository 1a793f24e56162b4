"""Months side by side: what was expected of each category and what happened."""

import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from next_penny.api.ahead.forecast import checked_until
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.api.review.review import (
    KeptModel,
    Named,
    TwoModel,
    kept_fields,
    named_fields,
    two_fields,
)
from next_penny.api.review.sources import Recorded, named_accounts
from next_penny.core.dates.calendar import month_end
from next_penny.core.review.side_by_side import CategoryMonths, category_months
from next_penny.formats.documents.parts import Month, month_text

router = APIRouter(prefix="/api/review", tags=["review"])
_MOST_MONTHS = 120


class MonthTotals(BaseModel):
    month: str
    income: TwoModel
    spending: TwoModel
    kept: KeptModel


class CategoryMonthsModel(Named):
    """A cell a month; `total` is all of them together."""

    cells: list[TwoModel]
    total: TwoModel


class ReviewMonths(BaseModel):
    """Each month as a review of it; `income` and `spending` are all of them together.

    `lines` are the rows as one reads them: an allowance's has what its categories have.
    """

    currency: str
    today: datetime.date
    months: list[MonthTotals]
    rows: list[CategoryMonthsModel]
    lines: list[CategoryMonthsModel]
    income: TwoModel
    spending: TwoModel


@router.get("/months")
def read_review_months(
    home: HomeOrWhatIf,
    first: Annotated[Month, Query(alias="from")],
    count: Annotated[int, Query(ge=1, le=_MOST_MONTHS)] = 12,
    accounts: str | None = None,
) -> ReviewMonths:
    """What was expected and what happened, category by category, in months from one on."""
    last = datetime.date.fromordinal(month_end(first + count - 1))
    checked_until(home.today, max(home.today, last), ("query", "count"))
    found = category_months(home.moment, Recorded(home), first, count, named_accounts(home, accounts))
    return ReviewMonths.model_validate({
        "currency": home.plan.household.currency,
        "today": home.today,
        "months": [
            {"month": month_text(first + at), "income": two_fields(each.income), "spending": two_fields(each.spending),
             "kept": kept_fields(each.kept)}
            for at, each in enumerate(found.months)
        ],
        "rows": [_row(row) for row in found.rows],
        "lines": [_row(row) for row in found.lines],
        "income": two_fields(found.income),
        "spending": two_fields(found.spending),
    })  # fmt: skip


def _row(row: CategoryMonths) -> dict[str, object]:
    return {
        **named_fields(row.key, row.name, row.group),
        "cells": [two_fields(cell) for cell in row.cells],
        "total": two_fields(row.total),
    }
