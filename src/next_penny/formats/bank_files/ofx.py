"""OFX 1.x (SGML) and 2.x (XML) as banks really write it: read by its tags, whatever is missing or doubled.

Open Financial Exchange 2.2, chapters 2 (structure), 3 (dates, amounts) and 11 (banking).
"""

import html
import re
from dataclasses import dataclass, field

from next_penny.core.bank_lines.statements import (
    BankFile,
    ClosingBalance,
    FileLine,
    FileStatement,
    LeftOut,
    days_of,
)
from next_penny.core.money import DECIMALS, format_amount
from next_penny.core.problems import go_on
from next_penny.formats.bank_files.texts import BankFileError, day_of, decoded, one_line, signed_amount

_TAG = re.compile(r"<(/?)\s*([A-Za-z0-9_.:]+)[^<>]*?(/?)>([^<]*)")
_LITERAL = re.compile(r"<!\[CDATA\[(.*?)\]\]>", re.DOTALL)
_HEADER = re.compile(r"(ENCODING|CHARSET)\s*[:=]\s*\"?([\w-]+)", re.IGNORECASE)
_CHARSETS = {"1252": "cp1252", "NONE": None, "USASCII": None, "UNICODE": "utf-16", "8859-1": "latin-1"}
# Aggregates whose fields mean something by where they stand.
_STATEMENTS = {"STMTRS", "CCSTMTRS"}
_ACCOUNTS = {"BANKACCTFROM", "CCACCTFROM"}
_PLACES = {*_STATEMENTS, *_ACCOUNTS, "BANKTRANLIST", "STMTTRN", "LEDGERBAL", "AVAILBAL", "BANKACCTTO", "CCACCTTO",
           "PAYEE", "BANKTRANLISTP", "STMTTRNP", "BALLIST", "BAL", "CURRENCY", "ORIGCURRENCY"}  # fmt: skip


def is_ofx(head: str) -> bool:
    """Whether a file's first lines are those of OFX."""
    return re.search(r"OFXHEADER|<\?OFX|<OFX\b", head, re.IGNORECASE) is not None


@dataclass
class _Account:
    fields: dict[str, str] = field(default_factory=dict)
    lines: list[dict[str, str]] = field(default_factory=list)


def read_ofx(content: bytes, household_currency: str) -> BankFile:
    """What an OFX file says. Raises BankFileError where it holds no statement."""
    text = decoded(content, _encoding(content))
    if re.search(r"<!DOCTYPE|<!ENTITY", text, re.IGNORECASE):
        raise BankFileError("This file defines words of its own (a DOCTYPE), which no bank needs: it is not read.")
    accounts = _accounts(text)
    if not accounts:
        raise BankFileError("This OFX file holds no statement of an account (no STMTRS or CCSTMTRS): nothing is read.")
    left_out: list[LeftOut] = []
    statements = [_statement(account, household_currency, left_out) for account in accounts]
    return BankFile("ofx", tuple(statements), tuple(left_out))


def _encoding(content: bytes) -> str | None:
    named = {match[1].upper(): match[2] for match in _HEADER.finditer(content[:2048].decode("latin-1"))}
    for value in (named.get("CHARSET"), named.get("ENCODING")):
        if value is not None and _CHARSETS.get(value.upper(), value) is not None:
            return _CHARSETS.get(value.upper(), value)
    return None


def _accounts(text: str) -> list[_Account]:
    """The statements of a file, with their fields and their lines as they are written; the first of a doubled one."""
    accounts, places, line = list[_Account](), list[str](), dict[str, str]()
    text = _LITERAL.sub(lambda match: html.escape(match[1]), text)
    for number, (slash, name, empty, value) in enumerate(_TAG.findall(text)):
        if number % 4096 == 0:
            go_on()
        tag = name.upper().rpartition(":")[2]
        if slash:
            if tag in places:
                del places[len(places) - 1 - places[::-1].index(tag) :]
            continue
        if tag in _STATEMENTS:
            accounts.append(_Account())
            places = [tag]
        elif tag == "STMTTRN" and accounts:
            line = {}
            accounts[-1].lines.append(line)
            places = ["BANKTRANLIST", tag]  # the one before it is ended, whether or not that is said
        elif tag in ("LEDGERBAL", "AVAILBAL", "BALLIST") and "STMTTRN" in places:
            places = [tag]
        elif tag in _PLACES and not empty:
            places.append(tag)
        elif accounts and value.strip():
            _put(accounts[-1], line, places, tag, one_line(html.unescape(value)))
    return accounts


def _put(account: _Account, line: dict[str, str], places: list[str], tag: str, value: str) -> None:
    last = places[-1] if places else ""
    if "STMTTRN" in places:
        if last == "STMTTRN" or (last == "PAYEE" and tag == "NAME"):
            line.setdefault(tag, value)
        elif last == "CURRENCY" and tag == "CURSYM":
            line.setdefault("IN", value)
        return
    if "STMTTRNP" in places or "BANKTRANLISTP" in places:
        return
    if tag == "CURDEF" or (tag == "ACCTID" and last in _ACCOUNTS):
        account.fields.setdefault(tag, value)
    elif last in ("BANKTRANLIST", "LEDGERBAL"):
        account.fields.setdefault(f"{last} {tag}", value)


def _statement(account: _Account, household_currency: str, left_out: list[LeftOut]) -> FileStatement:
    fields = account.fields
    currency = fields.get("CURDEF", "").upper() or None
    counted = currency if currency in DECIMALS else household_currency
    lines = []
    for number, written in enumerate(account.lines, start=1):
        read = _line(written, counted)
        if isinstance(read, str):
            left_out.append(LeftOut(f"Transaction {number}{_named(written)}", read))
        else:
            lines.append(read)
    first, last = days_of(lines)
    return FileStatement(
        fields.get("ACCTID"),
        currency,
        day_of(fields.get("BANKTRANLIST DTSTART", "")) or first,
        day_of(fields.get("BANKTRANLIST DTEND", "")) or last,
        _closing(fields, counted),
        tuple(lines),
    )


def _named(written: dict[str, str]) -> str:
    name = written.get("NAME") or written.get("MEMO")
    return f" ({name[:60]})" if name else ""


def _line(written: dict[str, str], currency: str) -> FileLine | str:
    """A line, or why it is none."""
    day = day_of(written.get("DTPOSTED", "")) or day_of(written.get("DTAVAIL", ""))
    if day is None:
        return "It has no day that can be read."
    amount = signed_amount(written.get("TRNAMT", ""), currency)
    if amount is None:
        return "It has no amount that can be read."
    if amount == 0:
        return f"It moves nothing ({format_amount(0, currency)})."
    if written.get("IN", currency).upper() != currency:
        return f"It is in {written['IN'].upper()}, the statement in {currency}."
    name, memo = written.get("NAME", ""), written.get("MEMO", "")
    return FileLine(
        day,
        amount,
        (name or memo)[:200],
        memo[:1000] if name and memo != name else "",
        written.get("FITID", "")[:200] or None,
        written.get("CHECKNUM", "")[:40],
    )


def _closing(fields: dict[str, str], currency: str) -> ClosingBalance | None:
    day = day_of(fields.get("LEDGERBAL DTASOF", ""))
    balance = signed_amount(fields.get("LEDGERBAL BALAMT", ""), currency)
    return ClosingBalance(day, balance) if day is not None and balance is not None else None
