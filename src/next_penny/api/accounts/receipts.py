"""Receipts: kept in the household's file before the entry that refers to them is saved, and shown inline."""

from typing import Annotated

from fastapi import APIRouter, Path, Request, Response
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool

from next_penny.api.http.errors import refused
from next_penny.api.http.session import Home
from next_penny.formats.receipts import LARGEST_RECEIPT, ReceiptError, receipt_type

router = APIRouter(prefix="/api/receipts", tags=["receipts"])


class ReceiptAnswer(BaseModel):
    """What names the file from now on, and what it is by its content."""

    file: str
    media_type: str


@router.post(
    "",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def keep_receipt(request: Request, home: Home) -> ReceiptAnswer:
    """Keep a PDF, PNG or JPEG of up to 10 MB; the body is the file itself."""
    content = bytearray()
    async for chunk in request.stream():
        content += chunk
        if len(content) > LARGEST_RECEIPT:
            break
    try:
        media_type = receipt_type(bytes(content))
    except ReceiptError as error:
        raise refused(("body",), str(error), "receipt") from error
    file = await run_in_threadpool(home.store.store_receipt, bytes(content), media_type, home.today)
    return ReceiptAnswer(file=file, media_type=media_type)


@router.get("/{file}", response_class=Response)
def read_receipt(file: Annotated[str, Path(pattern="^[0-9a-f]{64}$")], home: Home) -> Response:
    """The file itself."""
    receipt = home.reading.receipt(file)
    if receipt is None:
        raise refused(("path", "file"), "There is no such receipt.", "unknown_id")
    media_type, content = receipt
    # It never changes; but what a password guards is kept by no browser.
    caching = "no-store" if home.store.door() is not None else "private, max-age=31536000, immutable"
    headers = {"Content-Disposition": "inline", "Cache-Control": caching}
    return Response(content, media_type=media_type, headers=headers)
