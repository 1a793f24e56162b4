"""A bank's notices in a mailbox (Maildir, RFC 5322), and the balance that one line of them tells.

The household points at the number in one message. What stands beside it in that line, with other figures, months and
weekdays in their place, is looked for in the next ones; a message in which it does not stand is told, never guessed at.
"""

import mailbox
import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from email import message_from_bytes
from email.policy import default
from email.utils import parseaddr, parsedate_to_datetime
from pathlib import Path
from typing import NamedTuple

from next_penny.core.bank_lines.statements import ClosingBalance
from next_penny.core.dates.sentences import full_day
from next_penny.core.money import DECIMALS
from next_penny.core.plan.kept.connections import NoticePattern
from next_penny.core.problems import NextPennyError
from next_penny.formats.bank_files.texts import day_of, decimal_mark, one_line, signed_amount

_MOST_NOTICES, _MOST_BYTES, _MOST_LINES = 200, 200_000, 200
_NUMBER = r"[-+−–(]?\s?(?:[A-Z]{3}\s?|[$€£¥]\s?)?[-+−–]?\d(?:[\d.,'’\u00a0\u202f]*\d)?\)?"
_MONTH = "jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec"
_MONTHS = rf"(?:{_MONTH})[a-z]*\.?"
_WEEKDAYS = r"(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?"
_DAYS = re.compile(
    r"\b\d{4}-\d{1,2}-\d{1,2}\b|\b\d{1,2}[./-]\d{1,2}[./-](?:\d{4}|\d{2})\b|"
    rf"\b\d{{1,2}}\.?\s(?:{_MONTHS})(?:,?\s\d{{4}})?\b|\b(?:{_MONTHS})\s\d{{1,2}}(?:st|nd|rd|th)?(?:,?\s\d{{4}})?\b",
    re.IGNORECASE,
)
_PIECES = re.compile(rf"(\d+)|\b({_MONTHS})(?=\W|$)|\b({_WEEKDAYS})(?=\W|$)|(\s+)", re.IGNORECASE)


class NoticeError(NextPennyError):
    """A mailbox or a message that cannot be read: the sentence says why."""


@dataclass(frozen=True, slots=True)
class Notice:
    """A message: who sent it, on which day by its own clock, and its lines of text."""

    id: str
    sender: str
    subject: str
    date: date
    lines: tuple[str, ...]


class FoundNumber(NamedTuple):
    """A number in a line, and where it stands."""

    start: int
    end: int
    amount: int


def read_notices(folder: Path) -> list[Notice]:
    """The newest messages of a Maildir, the newest first. Raises NoticeError where there is none."""
    if not all((folder / name).is_dir() for name in ("cur", "new")):
        raise NoticeError("There is no mailbox there: a Maildir folder has “cur” and “new” in it.")
    box = mailbox.Maildir(folder, create=False)
    try:
        files = [folder / name / key for name in ("new", "cur") for key in _names(folder / name)]
        files.sort(key=lambda file: (file.stat().st_mtime, file.name), reverse=True)
        notices = [notice for file in files[:_MOST_NOTICES] if (notice := _notice(file)) is not None]
    except OSError as error:
        raise NoticeError(f"The mailbox cannot be read ({error.strerror}).") from error
    finally:
        box.close()
    return sorted(
        {notice.id: notice for notice in notices}.values(),
        key=lambda one_notice: (one_notice.date, one_notice.id),
        reverse=True,
    )


def _names(folder: Path) -> list[str]:
    return [entry.name for entry in folder.iterdir() if entry.is_file() and not entry.name.startswith(".")]


def _notice(file: Path) -> Notice | None:
    """A message as text; None for one without a sender or a day, which is no notice."""
    with file.open("rb") as opened:
        message = message_from_bytes(opened.read(_MOST_BYTES), policy=default)
    try:
        sender = parseaddr(str(message["From"] or ""))[1].lower()
        day = parsedate_to_datetime(str(message["Date"])).date()
        part = message.get_body(("plain",))
        text = part.get_content() if part is not None else ""
    except (ValueError, TypeError, LookupError, AttributeError):
        return None
    lines = [line for line in map(one_line, str(text).splitlines()[:_MOST_LINES]) if line]
    id = one_line(str(message["Message-ID"] or "")) or file.name
    subject = one_line(str(message["Subject"] or ""))[:200]
    return Notice(id[:500], sender, subject, day, tuple(lines)) if sender else None


def numbers_in(line: str, currency: str) -> list[FoundNumber]:
    """The numbers of a line that can be amounts of a currency; none of those that are days."""
    days = [(found_match.start(), found_match.end()) for found_match in _DAYS.finditer(line)]
    numbers = []
    for match in re.finditer(_NUMBER, line):
        amount = signed_amount(match[0], currency)
        is_day = any(start < match.end() and match.start() < end for start, end in days)
        if amount is not None and not is_day:
            start = match.start() + len(match[0]) - len(match[0].lstrip())
            numbers.append(FoundNumber(start, match.end(), amount))
    return numbers


def pattern_of(notice: Notice, line: int, number: int, account: str, currency: str, *, owed: bool) -> NoticePattern:
    """What is to be looked for from now on. Raises NoticeError where nothing beside the number could find it again."""
    text = notice.lines[line] if line < len(notice.lines) else ""
    numbers = numbers_in(text, currency)
    if number >= len(numbers):
        raise NoticeError("There is no such number in this message.")
    before, after = text[: numbers[number].start], text[numbers[number].end :]
    if not re.search(r"[^\W\d_]{2}", _DAYS.sub(" ", before + after)):
        raise NoticeError("No word stands beside this number by which it could be found again.")
    said = re.sub(r"[^\d.,]", "", text[numbers[number].start : numbers[number].end])
    mark = decimal_mark(said, DECIMALS[currency])
    return NoticePattern(notice.sender, account, before, after, owed, mark if mark and mark in said else "")


def balance_told(pattern: NoticePattern, notice: Notice, currency: str, order: str) -> ClosingBalance | str:
    """The balance that a message tells, signed as the books are; or why none can be read of it."""
    looked_for = re.compile(f"{_loose(pattern.before)}({_NUMBER}){_loose(pattern.after)}", re.IGNORECASE)
    matches = [(line, match) for line in notice.lines if (match := looked_for.fullmatch(line)) is not None]
    amounts = {signed_amount(match[1], currency, pattern.decimal or None) for _, match in matches}
    if len(amounts) != 1:
        wanted = f"{pattern.before}…{pattern.after}".strip()
        many = f"The line “{wanted}” stands in it more than once, with other numbers."
        return many if matches else f"It has another form than the one taught: the line “{wanted}” is not in it."
    amount = amounts.pop()
    if amount is None:
        return f"“{matches[0][1][1]}” is no amount that can be read."
    line, match = matches[0]
    wording = line[: match.start(1)] + " | " + line[match.end(1) :]
    days = set(days_in(wording, notice.date, order)) or set(days_in("\n".join(notice.lines), notice.date, order))
    day = days.pop() if len(days) == 1 else notice.date - timedelta(days=1)
    if day > notice.date:
        return f"It names a day that was not yet when it was sent ({full_day(day)})."
    return ClosingBalance(day, -abs(amount) if pattern.owed else amount)


def days_in(text: str, sent: date, order: str) -> Iterator[date]:
    """The days that a text names; one without a year is the last before the message was sent."""
    for match in _DAYS.finditer(text):
        day = day_of(match[0], order)
        if day is None:
            day = day_of(f"{match[0]} {sent.year}", order)
            if day is not None and day > sent:
                day = day_of(f"{match[0]} {sent.year - 1}", order)
        if day is not None:
            yield day


def _loose(text: str) -> str:
    """A text as a pattern: other figures, months and weekdays may stand in the place of its own."""

    def piece(found_match: re.Match[str]) -> str:
        figures, month, weekday, _ = found_match.groups()
        return r"\d+" if figures else _MONTHS if month else _WEEKDAYS if weekday else r"\s*"

    done, parts = 0, list[str]()
    for match in _PIECES.finditer(text):
        parts += [re.escape(text[done : match.start()]), piece(match)]
        done = match.end()
    return "".join((*parts, re.escape(text[done:])))
