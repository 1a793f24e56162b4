"""Everything out of the household, in files that other programs read."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from fastapi import Path as InPath

from next_penny.api.http.errors import refused
from next_penny.api.http.lookups import account_of
from next_penny.api.http.session import Home, HomeOrWhatIf
from next_penny.core.books.registers import Wanted, matching, together
from next_penny.core.dates.calendar import EARLIEST, LATEST
from next_penny.formats.bank_files.ofx_writing import entries_ofx
from next_penny.formats.documents.fields import Day
from next_penny.formats.workbooks.household import register_csv
from next_penny.store.exporting import exported

router = APIRouter(prefix="/api", tags=["file"])
Ending = Literal["json", "csv", "xlsx", "zip"]
_TYPES = {
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "zip": "application/zip",
}


@router.get("/export/entries.ofx", response_class=Response)
def export_ofx(
    account: Annotated[str, Query(max_length=200)],
    home: Home,
    first: Annotated[Day | None, Query(alias="from")] = None,
    last: Annotated[Day | None, Query(alias="to")] = None,
) -> Response:
    """An account's entries as OFX 2.2, of all days or of some."""
    existing = account_of(home.plan, account, ("query", "account"))
    until = last or home.today
    if first is not None and until < first:
        raise refused(("query", "to"), "The last day comes after the first.", "range")
    recorded = home.reading.between([existing], first or EARLIEST, last or LATEST)
    since = first or min((entry.date for entry in recorded), default=existing.opening.date)
    on = min(until, home.today)
    balance = home.moment.as_recorded.balance_on(existing, on.toordinal())
    content = entries_ofx(home.plan, existing, recorded, (since, until), balance, on)
    headers = {"Content-Disposition": f'attachment; filename="next-penny-{home.today:%Y%m%d}.ofx"'}
    return Response(content, media_type="application/x-ofx", headers=headers)


@router.get("/export/register.csv", response_class=Response)
def export_register(
    home: HomeOrWhatIf,
    account: Annotated[str | None, Query(max_length=200)] = None,
    search: str = "",
    category: str = "",
    first: Annotated[Day | None, Query(alias="from")] = None,
    until: Day | None = None,
) -> Response:
    """A register as it is filtered, of an account or of all, newest first."""
    asked = home.plan.accounts if account is None else (account_of(home.plan, account, ("query", "account")),)
    wanted = Wanted(search, category, first, until)
    lines = together((one_account, matching(home.moment, home.register(one_account), wanted)) for one_account in asked)
    headers = {"Content-Disposition": f'attachment; filename="next-penny-register-{home.today:%Y%m%d}.csv"'}
    return Response(register_csv(home.plan, lines), media_type=_TYPES["csv"], headers=headers)


@router.get("/export/{name}.{ending}", response_class=Response)
def export(name: Annotated[str, InPath(max_length=60)], ending: Ending, home: Home) -> Response:
    """All of it: the plan document (json), all entries (csv), a workbook (xlsx), or the receipts (zip)."""
    content = exported(home.reading, ending)
    headers = {"Content-Disposition": f'attachment; filename="next-penny-{home.today:%Y%m%d}.{ending}"'}
    return Response(content, media_type=_TYPES[ending], headers=headers)
