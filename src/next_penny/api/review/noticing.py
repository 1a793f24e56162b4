"""What is worth a look in what was recorded lately, told until it was looked at."""

from datetime import timedelta

from fastapi import APIRouter
from pydantic import Field

from next_penny.api.http.session import Home, Session
from next_penny.core.review.noticing import DAYS_BACK, Noticed, noticed
from next_penny.formats.documents.fields import Document, Text
from next_penny.store.seeing import see_noticed

router = APIRouter(prefix="/api/review", tags=["review"])

# The date before of a yearly bill is that long ago.
_DAYS_BEFORE = 400


class SeenRequest(Document):
    keys: list[Text] = Field(max_length=10_000)


@router.get("/noticed")
def read_noticed(home: Home) -> list[Noticed]:
    """Entries that stand twice, prices that rose, payees never seen before, as far as nobody looked at them yet."""
    return _unseen(home)


@router.post("/noticed/seen")
def look_at_noticed(request: SeenRequest, home: Home) -> list[Noticed]:
    """Remember that these were looked at; what is left is answered. This is no matter of undo."""
    known = {notice.key for notice in _found(home)}
    see_noticed(home.store, home.reading, known.intersection(request.keys))
    return [noticed_model for noticed_model in _unseen(home) if noticed_model.key not in request.keys]


def _found(home: Session) -> list[Noticed]:
    first_seen = home.reading.first_seen()
    recorded = home.reading.dated(home.today - timedelta(days=DAYS_BACK + _DAYS_BEFORE), home.today)
    return noticed(home.moment, recorded, first_seen, min(first_seen.values(), default=None))


def _unseen(home: Session) -> list[Noticed]:
    seen = home.reading.noticed_seen()
    return [notice for notice in _found(home) if notice.key not in seen]
