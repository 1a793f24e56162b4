"""A mailbox's messages: what each tells, and teaching where in a sender's messages a balance stands."""

from pathlib import Path as FilePath
from typing import Annotated

from fastapi import APIRouter, Query, Request

from next_penny.api.accounts.bank_files.models import ClosingModel
from next_penny.api.accounts.connections import notices
from next_penny.api.accounts.connections.connections import ServiceId, asking_of, service_of
from next_penny.api.accounts.connections.models import (
    NoticeLine,
    NoticeNumber,
    NoticeRow,
    NoticesAnswer,
    PatternRow,
    TeachRequest,
)
from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import refused
from next_penny.api.http.lookups import account_of
from next_penny.api.http.session import Home
from next_penny.core.bank_lines.statements import ClosingBalance
from next_penny.core.plan.changes import PlanChange
from next_penny.formats.notices import Notice, NoticeError, numbers_in, pattern_of, read_notices
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/connections", tags=["connections"])


@router.get("/{id}/notices")
def read_connection_notices(request: Request, id: ServiceId, home: Home) -> NoticesAnswer:
    """A mailbox's newest messages, each with the balance that is read of it."""
    notices = _notices(request, id)
    plan = home.plan
    patterns = [
        notice_pattern
        for notice_pattern in home.reading.notice_patterns().values()
        if notice_pattern.account in plan.account_by_id
    ]
    return NoticesAnswer(
        messages=[_notice_row(home.reading, notice) for notice in notices],
        patterns=[
            PatternRow(
                sender=pattern.sender, account=pattern.account, currency=plan.account_by_id[pattern.account].currency,
                before=pattern.before, after=pattern.after, owed=pattern.owed,
            )
            for pattern in patterns
        ],
    )  # fmt: skip


def _notices(request: Request, id: str) -> list[Notice]:
    service = service_of(asking_of(request), id)
    if service.kind != "mailbox":
        raise refused(("path", "id"), "Only a mailbox has messages.", "service")
    try:
        return read_notices(FilePath(service.address))
    except NoticeError as error:
        raise refused(("path", "id"), str(error), "service") from error


def _notice_row(reading: Reading, notice: Notice) -> NoticeRow:
    pattern = reading.notice_patterns().get(notice.sender)
    closing = notices.told_by(reading, pattern, notice) if pattern is not None else None
    currency = reading.moment.plan.household.currency
    lines = [
        NoticeLine(text=line, numbers=[NoticeNumber(start=number.start, end=number.end)
                                       for number in numbers_in(line, currency)])
        for line in notice.lines
    ]  # fmt: skip
    return NoticeRow(
        id=notice.id, sender=notice.sender, subject=notice.subject, date=notice.date, lines=lines,
        told=ClosingModel(date=closing.date, balance=closing.balance) if isinstance(closing, ClosingBalance) else None,
        problem=closing if isinstance(closing, str) else None, taken=notice.id in reading.notices_taken(),
    )  # fmt: skip


@router.post("/{id}/teach")
def teach_notice(request: Request, id: ServiceId, body: TeachRequest, home: Home) -> ChangeAnswer:
    """Say where a balance stands in a message: it is read from this sender's messages from then on, and at once."""
    found_notices = _notices(request, id)
    notice = next((one_notice for one_notice in found_notices if one_notice.id == body.message), None)
    if notice is None:
        raise refused(("body", "message"), "This message is not among the newest any more.", "unknown_id")

    def decide(reading: Reading) -> Decision:
        account = account_of(reading.moment.plan, body.account)
        try:
            taught = pattern_of(notice, body.line, body.number, account.id, account.currency, owed=body.owed)
        except NoticeError as error:
            raise refused(("body", "number"), str(error), "pattern") from error
        closing = notices.told_by(reading, taught, notice)
        if isinstance(closing, str):
            raise refused(("body", "number"), closing, "pattern")
        taking = notices.to_take(reading, found_notices, taught)
        changes = [PlanChange("notice_pattern", taught.sender, taught), *taking.changes]
        return Decision(changes, f"Reads the balance of “{account.name}” from messages of {taught.sender}")

    return done_answer(home.change(decide))


@router.delete("/{id}/taught")
def forget_taught(
    request: Request, id: ServiceId, sender: Annotated[str, Query(max_length=500)], home: Home
) -> ChangeAnswer:  # fmt: skip
    """Read a sender's messages no more. Balances that were taken stay."""
    service_of(asking_of(request), id)

    def decide(reading: Reading) -> Decision:
        notice_pattern = reading.notice_patterns().get(sender)
        if notice_pattern is None:
            raise refused(("query", "sender"), "Nothing is taught of this sender.", "unknown_id")
        return Decision([PlanChange("notice_pattern", sender, None)], f"Reads no more messages of {sender}")

    return done_answer(home.change(decide))
