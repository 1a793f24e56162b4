"""A table of any columns, as text: its delimiter and header found, its rows read into a bank's lines."""

import csv
import io
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import fields, replace
from typing import Any, NamedTuple

from next_penny.core.bank_lines.statements import BankFile, FileLine, FileStatement, LeftOut, days_of
from next_penny.core.money import format_amount
from next_penny.core.problems import go_on
from next_penny.formats.bank_files.csv_columns import Columns, Row, guess, side_sign, with_marks
from next_penny.formats.bank_files.texts import BankFileError, day_of, decoded, one_line, possible_days, signed_amount

_DELIMITERS = ",;\t|"
_HEADER_WITHIN = 60
_SHOWN = 6


class Table(NamedTuple):
    """A CSV file read: its header (None where it has none), its first rows, and which column is what, if that is known.

    numbers: on which line of the file each row of `rows` ends.
    """

    header: tuple[str, ...] | None
    rows: tuple[Row, ...]
    numbers: tuple[int, ...]
    columns: Columns | None

    @property
    def sample(self) -> list[list[str]]:
        """The first rows, for a person to look at."""
        return [list(row) for row in self.rows[:_SHOWN]]

    @property
    def shape(self) -> str:
        """What another file of the same bank has in common with it: its header, else how wide it is."""
        width = max(map(len, self.rows), default=0)
        return "\n".join(self.header) if self.header is not None else f"{width} columns"


def read_table(content: bytes, currency: str, said: Mapping[str, Any] | None, household_order: str) -> Table:
    """A CSV file as a table. said: which column is what, as a person says it. Raises BankFileError."""
    text = decoded(content)
    if not text.strip():
        raise BankFileError("This file is empty.")
    try:
        rows, numbers = _rows(text)
    except csv.Error as error:
        raise BankFileError(f"This is neither OFX, camt.053 nor a table of text ({error}): nothing is read.") from error
    at = _header_at(rows)
    header = tuple(one_line(name) for name in rows[at]) if at is not None else None
    first = at + 1 if at is not None else _first_row(rows)
    body, places = tuple(rows[first:]), tuple(numbers[first:])
    table = Table(header, body, places, None)
    chosen = _chosen(table, said) if said else None
    dated = [row for row in body if any(any(possible_days(cell)) for cell in row)]
    columns = chosen if chosen is not None else guess(header, dated, currency)
    if columns is not None:
        marked = with_marks(columns, dated, currency, household_order)
        given = said or {}
        columns = replace(
            marked,
            date_order=given.get("date_order") or marked.date_order,
            decimal=given.get("decimal") or marked.decimal,
        )
    return table._replace(columns=columns)


def read_csv(table: Table, currency: str) -> BankFile:
    """What a table says, once its columns are known; without them it has no line."""
    columns, lines, left_out = table.columns, list[FileLine](), list[LeftOut]()
    for number, row in zip(table.numbers, table.rows, strict=True):
        go_on()
        if columns is None or not any(cell.strip() for cell in row):
            continue
        read = _line(row, columns, currency)
        if isinstance(read, str):
            left_out.append(LeftOut(f"Line {number}", read))
        else:
            lines.append(read)
    first, last = days_of(lines)
    statement = FileStatement(None, None, first, last, None, tuple(lines))
    return BankFile("csv", (statement,), tuple(left_out))


def _rows(text: str) -> tuple[list[Row], list[int]]:
    delimiter = _delimiter(text)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    rows, numbers = list[Row](), list[int]()
    for row in reader:
        rows.append(row)
        numbers.append(reader.line_num)
    return rows, numbers


def _delimiter(text: str) -> str:
    """The sign that parts most lines into the same number of cells, more than one."""
    sample = [line for line in text.splitlines()[:200] if line.strip()]

    def evenness(sign: str) -> tuple[int, int]:
        widths = Counter(len(next(csv.reader([line], delimiter=sign), [])) for line in sample)
        usual = max(widths, key=lambda width: (widths[width] if width > 1 else 0, width), default=0)
        return (widths[usual] if usual > 1 else 0, usual)

    return max(_DELIMITERS, key=evenness)


def _header_at(rows: Sequence[Row]) -> int | None:
    """The line of headers: the last one without a day before the first row that has one, as wide as that."""
    first = _first_row(rows)
    width = len(rows[first]) if first < len(rows) else 0
    for at in range(first - 1, max(-1, first - _HEADER_WITHIN), -1):
        named = [cell for cell in rows[at] if cell.strip()]
        if len(named) >= 2 and len(rows[at]) >= width - 1 and not any(_is_figure(cell) for cell in named):
            return at
    return None


def _first_row(rows: Sequence[Row]) -> int:
    """The first row with a day and an amount apart from it."""
    for at, row in enumerate(rows):
        days = {place for place, cell in enumerate(row) if any(possible_days(cell))}
        if days and any(_is_figure(cell) for place, cell in enumerate(row) if place not in days):
            return at
    return len(rows)


def _is_figure(text: str) -> bool:
    return any(sign.isdigit() for sign in text) and signed_amount(text, "USD") is not None


def _chosen(table: Table, said: Mapping[str, Any]) -> Columns:
    """The columns that a person named, by header or by number. Raises BankFileError for one that is not there."""
    width = max(map(len, table.rows), default=0)
    names = [name.casefold() for name in table.header] if table.header is not None else []
    places: dict[str, int] = {}
    for field, wanted in said.items():
        if field in ("date_order", "decimal") or wanted is None:
            continue
        named = {"in": "money_in", "out": "money_out"}.get(field, field)
        if isinstance(wanted, str) and one_line(wanted).casefold() in names:
            places[named] = names.index(one_line(wanted).casefold())
        elif str(wanted).isdecimal() and int(wanted) < max(width, len(names)):
            places[named] = int(wanted)
        else:
            raise BankFileError(f"This file has no column “{wanted}”.")
    if "date" not in places or not places.keys() & {"amount", "money_in", "money_out"}:
        raise BankFileError("Say in which columns the day and the amount stand.")
    return replace(Columns(places.pop("date")), **places)  # type: ignore[arg-type]


def _line(row: Row, columns: Columns, currency: str) -> FileLine | str:
    """A line, or why it is none."""

    def cell(at: int | None) -> str:
        return row[at] if at is not None and at < len(row) else ""

    order = columns.date_order if columns.date_order != "year_first" else None
    day = day_of(cell(columns.date), order)
    if day is None:
        words = one_line(" ".join(row))[:80]
        return f"It has no day that can be read: {words}"
    amount = _amount(columns, cell, currency)
    if amount is None:
        return "It has no amount that can be read."
    if amount == 0:
        return f"It moves nothing ({format_amount(0, currency)})."
    payee, memo = one_line(cell(columns.payee)), one_line(cell(columns.memo))
    return FileLine(day, amount, (payee or memo)[:200], memo[:1000] if payee and memo != payee else "")


def _amount(columns: Columns, cell: Any, currency: str) -> int | None:
    if columns.amount is not None:
        amount = signed_amount(cell(columns.amount), currency, columns.decimal)
        sign = side_sign(cell(columns.side)) if columns.side is not None else None
        return amount if amount is None or sign is None else sign * abs(amount)
    came, went = (cell(at).strip() for at in (columns.money_in, columns.money_out))
    received = signed_amount(came, currency, columns.decimal) if came else 0
    paid = signed_amount(went, currency, columns.decimal) if went else 0
    if received is None or paid is None or not (came or went):
        return None
    # Some write what went out with a minus in its own column.
    return received - abs(paid)


def columns_said(table: Table) -> dict[str, Any] | None:
    """The columns as a person would name them: by header, or by number where there is none."""
    if table.columns is None:
        return None
    named = {"money_in": "in", "money_out": "out"}
    said: dict[str, Any] = {}
    for field in fields(Columns):
        value = getattr(table.columns, field.name)
        if isinstance(value, int):
            header = table.header
            is_named = header is not None and value < len(header) and header[value]
            value = header[value] if header is not None and is_named and header.count(header[value]) == 1 else value
        said[named.get(field.name, field.name)] = value
    return said
