"""Everything out of the household, in files that other programs read."""

from typing import Annotated, Literal

from fastapi import APIRouter, Response
from fastapi import Path as InPath

from next_penny.api.http.session import Home
from next_penny.store.exporting import exported

router = APIRouter(prefix="/api", tags=["file"])
Ending = Literal["json", "csv", "xlsx", "zip"]
_TYPES = {
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "zip": "application/zip",
}


@router.get("/export/{name}.{ending}", response_class=Response)
def export(name: Annotated[str, InPath(max_length=60)], ending: Ending, home: Home) -> Response:
    """All of it: the plan document (json), all entries (csv), a workbook (xlsx), or the receipts (zip)."""
    content = exported(home.reading, ending)
    headers = {"Content-Disposition": f'attachment; filename="next-penny-{home.today:%Y%m%d}.{ending}"'}
    return Response(content, media_type=_TYPES[ending], headers=headers)
