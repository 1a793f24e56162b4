"""The first part of Review: what was tagged in a calendar year, with its sums and receipts."""

import datetime
from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from next_penny.api.http.answers import workbook
from next_penny.api.http.session import Home, Session
from next_penny.core.dates.calendar import FIRST_YEAR, LAST_YEAR
from next_penny.core.review.tagged import TagSum, tag_sums
from next_penny.formats.workbooks.tagged import tagged_workbook

router = APIRouter(prefix="/api/review", tags=["review"])
Year = Annotated[int | None, Query(ge=FIRST_YEAR, lt=LAST_YEAR)]


class TaggedModel(BaseModel):
    """`amount` is what was spent, less what came in, in its account's currency; `receipt` is its file."""

    id: str
    date: datetime.date
    payee: str
    notes: str
    amount: int
    currency: str
    receipt: str | None
    receipt_name: str | None


class TagModel(BaseModel):
    tag: str
    total: int
    entries: list[TaggedModel]


class TaxYearAnswer(BaseModel):
    """Totals are in `currency`, the household's, each entry at the rate of its day. `years`: those with tags."""

    year: int
    years: list[int]
    currency: str
    tags: list[TagModel]


@router.get("/tax-year")
def read_tax_year(home: Home, year: Year = None) -> TaxYearAnswer:
    """Everything tagged in a calendar year, by tag; without a year, in this one."""
    year = year or home.today.year
    return TaxYearAnswer(
        year=year,
        years=sorted({*home.reading.tagged_years(), home.today.year, year}, reverse=True),
        currency=home.plan.household.currency,
        tags=[_tag(tag_sum) for tag_sum in _tagged(home, year)],
    )


@router.get("/tax-year.xlsx", response_class=Response)
def export_tax_year(home: Home, year: Year = None) -> Response:
    """The same as a workbook."""
    year = year or home.today.year
    content = tagged_workbook(year, _tagged(home, year), home.plan.household.currency)
    return workbook(content, f"tagged-{year}.xlsx")


def _tagged(home: Session, year: int) -> list[TagSum]:
    entries = home.reading.tagged(datetime.date(year, 1, 1), datetime.date(year, 12, 31))
    return tag_sums(home.plan, entries)


def _tag(tag_sum: TagSum) -> TagModel:
    return TagModel(
        tag=tag_sum.tag,
        total=tag_sum.total,
        entries=[
            TaggedModel(
                id=entry.entry.id, date=entry.entry.date, payee=entry.entry.payee, notes=entry.entry.notes,
                amount=entry.amount, currency=entry.currency,
                receipt=entry.entry.receipt.file if entry.entry.receipt else None,
                receipt_name=entry.entry.receipt.name if entry.entry.receipt else None,
            )
            for entry in tag_sum.entries
        ],
    )  # fmt: skip
