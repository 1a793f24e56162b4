"""A bank's file, whatever its format: found by what is in it, never by its name."""

from collections.abc import Mapping
from typing import Any, NamedTuple

from next_penny.core.bank_lines.statements import BankFile
from next_penny.formats.bank_files.camt import read_camt
from next_penny.formats.bank_files.csv_tables import Table, read_csv, read_table
from next_penny.formats.bank_files.ofx import is_ofx, read_ofx
from next_penny.formats.bank_files.texts import MOST_BYTES, BankFileError, looks_binary

_UNKNOWN = "This is no file of a bank that can be read: OFX, camt.053 and CSV were looked for."


class ReadFile(NamedTuple):
    """A file that was read; of a CSV also its table, whose columns may not be known yet."""

    file: BankFile
    table: Table | None = None


def read_bank_file(
    content: bytes, currency: str, columns: Mapping[str, Any] | None = None, household_order: str = "month_first"
) -> ReadFile:
    """What a file says. currency: that of amounts whose currency the file does not say. Raises BankFileError.

    columns: of a CSV, which column is what, by header or by number from 0; None: to be found.
    """
    if len(content) > MOST_BYTES:
        raise BankFileError(f"This file is too large: at most {MOST_BYTES // 2**20} MB.")
    if not content.strip():
        raise BankFileError("This file is empty.")
    if looks_binary(content):
        raise BankFileError(_UNKNOWN)
    head = content[:4096].decode("latin-1").replace("\x00", "")
    if is_ofx(head):
        return ReadFile(read_ofx(content, currency))
    if head.lstrip("\ufeffï»¿\xff\xfe ").lstrip().startswith("<"):
        return ReadFile(read_camt(content, currency))
    table = read_table(content, currency, columns, household_order)
    if table.columns is None and not any(len(row) > 1 for row in table.rows or (table.header or (),)):
        raise BankFileError(_UNKNOWN)
    return ReadFile(read_csv(table, currency), table)
