"""The calendar feed: a secret address under which a calendar reads what is ahead, made, renewed and ended here."""

import secrets
from typing import Annotated

from fastapi import APIRouter, Path, Response
from pydantic import BaseModel

from next_penny.api.http.errors import Refusal, Refused
from next_penny.api.http.session import Home
from next_penny.core.forecast.reminders import calendar_items
from next_penny.formats.icalendar_feed import calendar_feed
from next_penny.store.sql.services import write_secret

router = APIRouter(tags=["calendar feed"])
_BYTES = 24


class FeedAddress(BaseModel):
    """Where the feed is, below this app's own address; null where there is none."""

    path: str | None


class NewFeedAddress(BaseModel):
    """Where the feed is from now on, below this app's own address."""

    path: str


@router.get("/api/calendar/feed")
def read_feed_address(home: Home) -> FeedAddress:
    """Where a calendar reads the feed."""
    secret = home.reading.feed_secret()
    return FeedAddress(path=_path(secret) if secret is not None else None)


@router.post("/api/calendar")
def renew_feed(home: Home) -> NewFeedAddress:
    """Make the feed, or give it another address: the one before it leads nowhere from then on."""
    secret = secrets.token_urlsafe(_BYTES)
    with home.store.beside_the_plan() as connection:
        write_secret(connection, secret)
    return NewFeedAddress(path=_path(secret))


@router.delete("/api/calendar", status_code=204)
def end_feed(home: Home) -> None:
    """End the feed: its address leads nowhere from then on."""
    with home.store.beside_the_plan() as connection:
        write_secret(connection, None)


@router.get("/calendar/{secret}.ics", response_class=Response)
def read_feed(secret: Annotated[str, Path(max_length=200)], home: Home) -> Response:
    """The feed (RFC 5545). Its secret opens it, also where there is a password; an ended one answers 404."""
    existing = home.reading.feed_secret()
    if existing is None or not secrets.compare_digest(existing.encode(), secret.encode()):
        raise Refused([Refusal(loc=["path"], msg="There is no such calendar.", type="unknown_id")], 404)
    name = home.plan.household.name or "Next Penny"
    content = calendar_feed(name, calendar_items(home.moment), home.today)
    headers = {"Cache-Control": "no-store", "Content-Disposition": 'inline; filename="next-penny.ics"'}
    return Response(content, media_type="text/calendar; charset=utf-8", headers=headers)


def _path(secret: str) -> str:
    return f"/calendar/{secret}.ics"
