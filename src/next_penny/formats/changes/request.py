"""One CHANGE as a request or a kept what-if writes it."""

from collections.abc import Iterable
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field

from next_penny.formats.documents.fields import Day, Document, MaybeId
from next_penny.formats.documents.rhythms import with_rules

Kind = Literal["household", "account", "category", "flow", "allowance", "entry", "goal", "rate", "payee_rule"]
Op = Literal["add", "update", "remove", "revise", "once", "extra", "spent", "received", "moved", "borrowed", "worth"]


class ChangeRequest(Document):
    """One change. `value` holds the fields to set, or what the operation needs.

    revise: from a day on (`from`; none: as if it had always been so); later changes stay unless `keep_later` is false.
    Without a value, what is planned from that day on is taken back (flows and allowances).
    With `moved_to` as the only value, the flow's date of `from` is on that day of its week or month, and all after it.
    once: of the occurrence of `nominal`; without a value, as planned again. extra: one more of a loan.
    Among `rules`, a rhythm (`POST /api/tools/rhythms`) may stand in the place of a rule.
    spent, received, moved: an entry as a person says it. borrowed: a loan with what is owed on it. worth: what is owned
    is worth so much on a day, by an entry with the id `entry`. A rate's id is `DATE:FROM:TO`; one that is added takes
    the place of the pair's rate of that day. The household is changed without an `id`, and what is new needs none.
    """

    op: Op
    kind: Kind
    id: MaybeId = ""
    value: Annotated[dict[str, Any], BeforeValidator(with_rules)] | None = None
    start: Day | None = Field(None, alias="from")
    nominal: Day | None = None
    keep_later: bool | None = None


# What is expected only from the day on which the household first knew of it.
KNOWN: frozenset[Kind] = frozenset({"flow", "account", "allowance"})


def written_on(requests: Iterable[ChangeRequest], today: date) -> tuple[ChangeRequest, ...]:
    """Requests that are kept for later: what they add is known since the day on which they were written."""
    return tuple(
        request.model_copy(update={"value": {"known_since": today.isoformat(), **(request.value or {})}})
        if request.kind in KNOWN and request.op in ("add", "borrowed") else request
        for request in requests
    )  # fmt: skip
