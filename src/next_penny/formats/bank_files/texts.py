"""Texts, days and amounts as banks write them."""

import re
from collections.abc import Iterator
from contextlib import suppress
from datetime import date

from charset_normalizer import from_bytes

from next_penny.core.dates.calendar import EARLIEST, LATEST
from next_penny.core.money import DECIMALS, LARGEST_AMOUNT
from next_penny.core.problems import NextPennyError

MOST_BYTES = 10 * 2**20


class BankFileError(NextPennyError):
    """A file that cannot be read: the sentence says what was looked for."""


def decoded(content: bytes, named: str | None = None) -> str:
    """A file's text. What is UTF-8 is that, whatever the file says; else what it says; else what it looks like."""
    if content.startswith((b"\xff\xfe", b"\xfe\xff")):
        named = "utf-16"
    for encoding in ("utf-8-sig", named):
        with suppress(UnicodeDecodeError, LookupError):
            if encoding is not None:
                return content.decode(encoding)
    best = from_bytes(content[:65_536]).best()
    guessed = best.encoding if best is not None else "cp1252"
    return content.decode(guessed, errors="replace")


def looks_binary(content: bytes) -> bool:
    """Whether it cannot be a text: zeros in it, but for UTF-16."""
    return b"\x00" in content[:4096] and not content.startswith((b"\xff\xfe", b"\xfe\xff"))


def one_line(text: str | None) -> str:
    """A text with its spaces and line breaks evened out."""
    return " ".join(text.replace("\x00", "").split()) if text else ""


_NUMBER = re.compile(r"[+-]?\d[\d.,' ]*|[+-]?[.,]\d+")
_MINUS = str.maketrans({"−": "-", "–": "-", "\u00a0": " ", "\u202f": " ", "’": "'"})


def signed_amount(text: str, currency: str, decimal: str | None = None) -> int | None:
    """An amount in minor units; None for what is none, or is finer than the currency's smallest coin.

    decimal: the mark that the whole column has; None: by this text alone. A sign may stand on either side, or the
    amount in brackets; a currency's letters or sign beside it do not matter.
    """
    bare = text.translate(_MINUS).strip()
    is_negative = False
    if bare.startswith("(") and bare.endswith(")"):
        bare, is_negative = bare[1:-1].strip(), True
    bare = re.sub(r"^[^\d+\-.,]+|[^\d+\-.,]+$", "", bare)
    if bare.endswith(("-", "+")):
        is_negative ^= bare.endswith("-")
        bare = bare[:-1].rstrip()
    if bare.startswith(("-", "+")):
        is_negative ^= bare.startswith("-")
        bare = re.sub(r"^[^\d.,]+", "", bare[1:])
    if not _NUMBER.fullmatch(bare) or bare.startswith(("-", "+")):
        return None
    decimals = DECIMALS[currency]
    mark = decimal if decimal is not None else decimal_mark(bare, decimals)
    whole, _, fraction = bare.rpartition(mark) if mark and mark in bare else (bare, "", "")
    if mark and mark in whole:
        return None
    digits = re.sub(r"[.,' ]", "", whole)
    if not (digits + fraction).isascii() or not (digits + fraction).isdecimal():
        return None
    if fraction[decimals:].strip("0") or len(digits) > 13:
        return None
    amount = int((digits or "0") + fraction[:decimals].ljust(decimals, "0"))
    if amount > LARGEST_AMOUNT:
        return None
    return -amount if is_negative else amount


def decimal_mark(bare: str, decimals: int) -> str | None:
    """Which mark stands before the fraction of a number: the later of two; a single one unless three digits follow."""
    marks = [sign for sign in bare if sign in ".,"]
    if not marks:
        return None
    if len(set(marks)) == 2:
        return marks[-1]
    if len(marks) > 1:
        return "," if marks[0] == "." else "."  # it groups: the other would be the decimal one
    after = len(bare) - bare.rindex(marks[0]) - 1
    if after == 3 and decimals != 3 and bare.rpartition(marks[0])[0].strip("0"):
        return "," if marks[0] == "." else "."
    return marks[0]


_MONTHS = {name: number for number, name in enumerate(
    ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"), start=1)}  # fmt: skip
_YEAR_FIRST = re.compile(r"(\d{4})[-./](\d{1,2})[-./](\d{1,2})(?:[T Z+-].*)?")
_PACKED = re.compile(r"(\d{4})(\d{2})(\d{2})(?:\d{2,6}.*|[T.\[ ].*)?")
_YEAR_LAST = re.compile(r"(\d{1,2})[-./ ](\d{1,2})[-./ ](\d{4}|\d{2})(?:[T ,].*)?")
_NAMED = re.compile(r"(\d{1,2})\.?[-/ ]*([A-Za-z]{3})[a-z]*\.?[-/, ]*(\d{4}|\d{2})(?:[T ,].*)?")
_NAMED_FIRST = re.compile(r"([A-Za-z]{3})[a-z]*\.?[-/ ]*(\d{1,2})(?:st|nd|rd|th)?,?[-/ ]*(\d{4}|\d{2})(?:[T ,].*)?")


def day_of(text: str, order: str | None = None) -> date | None:
    """A day as it is written; None for what is none. order: `day_first` or `month_first`, where figures alone say it.

    A time and a zone after it do not matter: it is the day as written.
    """
    return next((day for named, day in possible_days(text) if named in (None, order)), None)


def possible_days(text: str) -> Iterator[tuple[str | None, date]]:
    """The days that a text can mean, each with the order it is read in; None where it can be read in one way alone."""
    text = text.strip()
    if match := _YEAR_FIRST.fullmatch(text) or _PACKED.fullmatch(text):
        yield from _day(None, match[1], match[2], match[3])
    elif match := _YEAR_LAST.fullmatch(text):
        yield from _day("day_first", match[3], match[2], match[1])
        yield from _day("month_first", match[3], match[1], match[2])
    elif (match := _NAMED.fullmatch(text)) and match[2].lower() in _MONTHS:
        yield from _day(None, match[3], _MONTHS[match[2].lower()], match[1])
    elif (match := _NAMED_FIRST.fullmatch(text)) and match[1].lower() in _MONTHS:
        yield from _day(None, match[3], _MONTHS[match[1].lower()], match[2])


def _day(order: str | None, year: str, month: str | int, day: str) -> Iterator[tuple[str | None, date]]:
    with suppress(ValueError):
        whole = int(year) + (2000 if len(year) == 2 else 0)
        found_day = date(whole, int(month), int(day))
        if EARLIEST <= found_day <= LATEST:
            yield order, found_day
