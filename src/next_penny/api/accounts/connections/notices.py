"""Balances out of messages: what each message tells by what was taught of its sender, and the readings they become."""

from collections.abc import Sequence
from typing import NamedTuple

from next_penny.core.bank_lines.statements import ClosingBalance
from next_penny.core.edits.defaults import writing
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.connections import NoticePattern, NoticeTaken
from next_penny.core.plan.kept.readings import BalanceReading
from next_penny.formats.notices import Notice, balance_told
from next_penny.store.moments import Reading


class Taking(NamedTuple):
    """The changes that messages come to, how many balances they tell, and how many of them could not be read."""

    changes: list[PlanChange]
    balances: int
    unread: int


def told_by(reading: Reading, pattern: NoticePattern, notice: Notice) -> ClosingBalance | str:
    """The balance that a message tells, or why none is taken from it."""
    plan = reading.moment.plan
    account = plan.account_by_id.get(pattern.account)
    if account is None:
        return "The account it tells of is not there any more: teach it anew."
    closing = balance_told(pattern, notice, account.currency, writing(plan.household).date_order)
    if isinstance(closing, ClosingBalance):
        if closing.date < account.opening.date:
            return f"It is of a day before “{account.name}” begins here."
        if closing.date > reading.today:
            return "It is of a day that is not yet."
    return closing


def to_take(reading: Reading, notices: Sequence[Notice], taught: NoticePattern | None = None) -> Taking:
    """What the messages that were not taken yet come to, the oldest first, so that the newest of a day counts."""
    patterns = reading.notice_patterns()
    if taught is not None:
        patterns, notices = (
            {taught.sender: taught},
            [one_notice for one_notice in notices if one_notice.sender == taught.sender],
        )
    taken = reading.notices_taken()
    readings: dict[str, BalanceReading] = {}
    messages, unread = list[NoticeTaken](), 0
    for notice in reversed(notices):
        pattern = patterns.get(notice.sender)
        if pattern is None or notice.id in taken:
            continue
        closing = told_by(reading, pattern, notice)
        if isinstance(closing, str):
            unread += 1
            continue
        balance_reading = BalanceReading(pattern.account, closing.date, closing.balance, "message")
        readings[balance_reading.id] = balance_reading
        messages.append(NoticeTaken(notice.id))
    changes = [PlanChange("reading", id, existing) for id, existing in readings.items()]
    changes += [PlanChange("notice_taken", message.message, message) for message in messages]
    return Taking(changes, len(readings), unread)
