"""Months side by side, and figures for any stretch."""

import datetime
from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, ConfigDict, Field

from next_penny.api.ahead.forecast import chosen_accounts
from next_penny.api.edits.applying import requests_for_plan
from next_penny.api.http.answers import workbook
from next_penny.api.http.errors import Refused, refusals, refused
from next_penny.api.http.session import HomeOrWhatIf, Session
from next_penny.core.ahead.figures import Figures, figures
from next_penny.core.ahead.months import Cell, Row, RowKind, Sums, grid, may_change
from next_penny.core.ahead.months import Month as CoreMonth
from next_penny.core.ahead.put_in import put_in
from next_penny.core.ahead.stretch import Stretch, spendable, stretch
from next_penny.core.dates.calendar import LATEST, add_months, month_end, month_start
from next_penny.core.edits.month_cells import MonthAmount, month_changes
from next_penny.core.forecast.low_points import LowPoint
from next_penny.core.plan.accounts import Account
from next_penny.core.problems import PlanError
from next_penny.formats.changes.request import ChangeRequest
from next_penny.formats.documents.fields import Amount, Day, Document, Id
from next_penny.formats.documents.parts import Month, month_text
from next_penny.formats.workbooks.months_grid import months_grid_workbook

router = APIRouter(prefix="/api", tags=["months and figures"])

_MOST_MONTHS = 120
_LONGEST_MONTHS = 1200


class DayBalance(BaseModel):
    date: datetime.date
    balance: int


class _Named(BaseModel):
    """Fields whose names are words of the language are filled by name, and written by their own."""

    model_config = ConfigDict(populate_by_name=True)


class MonthModel(_Named):
    """A month of the chosen accounts together; `short_by` is the largest shortage of any of them, else 0."""

    month: str
    opening: int
    in_: Annotated[int, Field(alias="in")]
    out: int
    net: int
    closing: int
    lowest: DayBalance
    short_by: int


class CellModel(BaseModel):
    """What a row changes the accounts by in a month; `nominals` are those still expected."""

    amount: int
    recorded: int
    expected: int
    nominals: list[datetime.date]


class MonthsRow(BaseModel):
    """`may_change`: whether its dates and amounts are the household's own to change.

    is_beginning: what accounts that open in these months begin with.
    """

    kind: RowKind
    may_change: bool
    is_beginning: bool
    id: str | None
    name: str
    group: str
    cells: list[CellModel]
    total: int
    average: int


class SumsModel(BaseModel):
    """One amount a month, as it changes the accounts, all of them, and a month's share."""

    amounts: list[int]
    total: int
    average: int


class MonthsAnswer(BaseModel):
    """`rows` have one cell a month; the cells of a month sum to its net.

    By month: `begun`, what accounts that open in it begin with, which is part of in or out, and `short_accounts`, whose
    the largest shortage is. money_in, money_out (negative) and net: without what accounts begin with. groups: by name,
    the sums of its rows. put_in: the least that keeps every account at its floor from today on, as late as possible;
    closing_with_it: what the months close at then. notes: sentences about what lands in another month than its own.
    """

    currency: str
    today: datetime.date
    accounts: list[str]
    months: list[MonthModel]
    rows: list[MonthsRow]
    begun: list[int]
    short_accounts: list[str | None]
    money_in: SumsModel
    money_out: SumsModel
    net: SumsModel
    groups: dict[str, SumsModel]
    put_in: list[int]
    closing_with_it: list[int]
    notes: list[str]


@router.get("/months", response_model=MonthsAnswer)
def read_months(
    home: HomeOrWhatIf,
    first: Annotated[Month, Query(alias="from")],
    count: Annotated[int, Query(ge=1, le=_MOST_MONTHS)] = 12,
    accounts: str | None = None,
) -> Response:
    """Months from one on, past or future: opening, money in and out, closing, lowest, and each flow's part."""
    over = _months_of(home, accounts, first, count)
    found_grid, put = grid(over), put_in(over)
    answer = MonthsAnswer(
        currency=_currency(home, over.accounts),
        today=home.today,
        accounts=[account.id for account in over.accounts],
        months=[_month(month) for month in found_grid.months],
        rows=[_row(row) for row in found_grid.rows],
        begun=[month.begun for month in found_grid.months],
        short_accounts=[month.short.account for month in found_grid.months],
        money_in=_sums(found_grid.money_in),
        money_out=_sums(found_grid.money_out),
        net=_sums(found_grid.net),
        groups={name: _sums(sums) for name, sums in found_grid.groups.items()},
        put_in=list(put.amounts),
        closing_with_it=list(put.closing),
        notes=found_grid.notes,
    )
    # Thousands of cells: what is of the model already is not looked over again.
    return Response(answer.model_dump_json(by_alias=True), media_type="application/json")


@router.get("/months/workbook.xlsx", response_class=Response)
def export_months(
    home: HomeOrWhatIf,
    first: Annotated[Month, Query(alias="from")],
    count: Annotated[int, Query(ge=1, le=_MOST_MONTHS)] = 12,
    accounts: str | None = None,
) -> Response:
    """The same as a workbook, openings, sums and closings as live formulas."""
    over = _months_of(home, accounts, first, count)
    content = months_grid_workbook(grid(over), _currency(home, over.accounts))
    return workbook(content, f"months-{month_text(first)}.xlsx")


def _months_of(home: Session, accounts: str | None, first: int, count: int) -> Stretch:
    return stretch_of(home, accounts, datetime.date.fromordinal(month_start(first)),
                      datetime.date.fromordinal(month_end(first + count - 1)), "count")  # fmt: skip


def stretch_of(home: Session, accounts: str | None, first: datetime.date, last: datetime.date, named: str) -> Stretch:
    """Chosen accounts, or the spendable ones, from a day to another with what is recorded on them."""
    if last > min(LATEST, add_months(home.today, _LONGEST_MONTHS)):
        raise refused(("query", named), "Months and figures reach at most 100 years ahead.", "range")
    ids = chosen_accounts(home.plan, accounts)
    chosen = spendable(home.moment) if ids is None else tuple(home.plan.account_by_id[id] for id in ids)
    if not chosen:
        raise refused(("query", "accounts"), "There is no spendable account yet: name accounts.", "needed")
    try:
        return stretch(home.moment, chosen, first, last, home.recorded(home.reading.between(chosen, first, last)))
    except PlanError as error:
        raise Refused(refusals(error.problems, ("query",))) from error


def _currency(home: Session, accounts: Sequence[Account]) -> str:
    return accounts[0].currency if accounts else home.plan.household.currency


def _month(month: CoreMonth) -> MonthModel:
    return MonthModel(
        month=month_text(month.month),
        opening=month.opening,
        in_=month.money_in,
        out=month.money_out,
        net=month.net,
        closing=month.closing,
        lowest=DayBalance(date=datetime.date.fromordinal(month.lowest_day), balance=month.lowest),
        short_by=month.short.amount,
    )


def _sums(sums: Sums) -> SumsModel:
    return SumsModel(amounts=list(sums.amounts), total=sums.total, average=sums.average)


def _row(row: Row) -> MonthsRow:
    cells = [_cell(cell) for cell in row.cells]
    return MonthsRow(**row.key._asdict(), may_change=may_change(row.key.kind), cells=cells,
                     total=row.sums.total, average=row.sums.average)  # fmt: skip


def _cell(cell: Cell) -> CellModel:
    nominals = [datetime.date.fromordinal(day) for day in sorted(cell.nominals)]
    return CellModel.model_construct(
        amount=cell.amount, recorded=cell.recorded, expected=cell.expected, nominals=nominals
    )


class MonthAmountModel(Document):
    """What is still expected of a flow in a month, positive; `onward`: from that month on."""

    flow: Id
    month: Month
    amount: Amount
    onward: bool = False


class MonthCells(Document):
    cells: tuple[MonthAmountModel, ...] = Field(max_length=5000)


class MonthCellsAnswer(BaseModel):
    """The changes that make it so, to be previewed or saved."""

    changes: list[ChangeRequest]


@router.post("/months/cells", response_model_by_alias=True)
def read_month_cells(request: MonthCells, home: HomeOrWhatIf) -> MonthCellsAnswer:
    """What amounts typed into months change: spread over a flow's dates in the month, exact to the minor unit."""
    wanted = [MonthAmount(cell.flow, cell.month, cell.amount, cell.onward) for cell in request.cells]
    try:
        changes = month_changes(home.moment, wanted)
    except PlanError as error:
        raise Refused(refusals(error.problems, ("body",))) from error
    return MonthCellsAnswer(changes=requests_for_plan(home.plan, changes))


class FiguresModel(_Named):
    """Chosen accounts together over a stretch; `out` is positive, of equal highs or lows the first day."""

    opening: int
    in_: Annotated[int, Field(alias="in")]
    out: int
    net: int
    closing: int
    highest: DayBalance
    lowest: DayBalance
    average: int
    days: int
    days_below_floor: int
    days_below_cushion: int


class FiguresAnswer(FiguresModel):
    """`before`: the same for as many days just before."""

    currency: str
    before: FiguresModel


@router.get("/figures", response_model_by_alias=True)
def read_figures(
    home: HomeOrWhatIf, first: Annotated[Day, Query(alias="from")], last: Annotated[Day, Query(alias="to")],
    accounts: str | None = None,
) -> FiguresAnswer:  # fmt: skip
    """Money in and out, balances, and days below floor and cushion of a stretch, past or future."""
    over = stretch_of(home, accounts, first, last, "to")
    days = last.toordinal() - first.toordinal() + 1
    if first.toordinal() <= days:
        raise refused(("query", "from"), "There are not as many days before it.", "range")
    ended = first - datetime.timedelta(days=1)
    earlier = stretch_of(home, accounts, first - datetime.timedelta(days=days), ended, "from")
    answer = figures_model(figures(over)).model_dump()
    return FiguresAnswer(**answer, before=figures_model(figures(earlier)), currency=_currency(home, over.accounts))


def figures_model(figures: Figures) -> FiguresModel:
    """Figures, as an answer has them."""

    def at(low: LowPoint) -> DayBalance:
        return DayBalance(date=datetime.date.fromordinal(low.day), balance=low.balance)

    return FiguresModel(
        opening=figures.opening, in_=figures.money_in, out=figures.money_out, net=figures.net, closing=figures.closing,
        highest=at(figures.highest), lowest=at(figures.lowest), average=figures.average, days=figures.days,
        days_below_floor=figures.days_below_floor, days_below_cushion=figures.days_below_cushion,
    )  # fmt: skip
