"""camt.053, a bank's statement in ISO 20022, versions 02 to 14: only what is booked.

ISO 20022, BankToCustomerStatement; which version it is does not matter, as its elements are found by name.
"""

from collections.abc import Iterator
from datetime import date
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

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
from next_penny.formats.bank_files.texts import BankFileError, day_of, one_line, signed_amount

_NO_ID = ("", "NOTPROVIDED")


def read_camt(content: bytes, household_currency: str) -> BankFile:
    """What a camt.053 file says. Raises BankFileError."""
    try:
        root = fromstring(content, forbid_dtd=True)
    except DefusedXmlException as error:
        message = "This file defines words of its own (a DOCTYPE), which no bank needs: it is not read."
        raise BankFileError(message) from error
    except (ParseError, LookupError, ValueError) as error:
        message = f"This XML file is cut off or damaged ({error}): fetch it from the bank again."
        raise BankFileError(message) from error
    statements = [element for element in root.iter() if _name(element) == "Stmt"]
    if not any(_name(element) == "BkToCstmrStmt" for element in root.iter()) or not statements:
        message = "This XML file is no bank statement: camt.053 (BkToCstmrStmt) and OFX were looked for."
        raise BankFileError(message)
    left_out: list[LeftOut] = []
    read = [_statement(element, household_currency, left_out) for element in statements]
    return BankFile("camt.053", tuple(read), tuple(left_out))


def _name(element: Element) -> str:
    return element.tag.rpartition("}")[2]


def _all(element: Element | None, *path: str) -> Iterator[Element]:
    """The elements at a path of names below one."""
    if element is None:
        return
    if not path:
        yield element
        return
    for child in element:
        if _name(child) == path[0]:
            yield from _all(child, *path[1:])


def _first(element: Element | None, *path: str) -> Element | None:
    return next(_all(element, *path), None)


def _text(element: Element | None, *path: str) -> str:
    return next((said for one_element in _all(element, *path) if (said := one_line(one_element.text))), "")


def _statement(statement: Element, household_currency: str, left_out: list[LeftOut]) -> FileStatement:
    account = _first(statement, "Acct")
    currency = _text(account, "Ccy") or _currency(statement)
    counted = currency if currency in DECIMALS else household_currency
    lines: list[FileLine] = []
    for number, entry in enumerate(_all(statement, "Ntry"), start=1):
        go_on()
        status = _text(entry, "Sts", "Cd") or _text(entry, "Sts")
        if status not in ("", "BOOK"):
            continue
        for read in _lines(entry, counted):
            if isinstance(read, str):
                left_out.append(LeftOut(f"Entry {number}", read))
            else:
                lines.append(read)
    first, last = days_of(lines)
    return FileStatement(
        _text(account, "Id", "IBAN") or _text(account, "Id", "Othr", "Id") or None,
        currency or None,
        day_of(_text(statement, "FrToDt", "FrDtTm")) or first,
        day_of(_text(statement, "FrToDt", "ToDtTm")) or last,
        _closing(statement, counted),
        tuple(lines),
    )


def _currency(statement: Element) -> str:
    """The currency of a statement whose account does not say: that of its balances or entries."""
    amounts = [*_all(statement, "Bal", "Amt"), *_all(statement, "Ntry", "Amt")]
    return next((amount.get("Ccy", "") for amount in amounts), "")


def _closing(statement: Element, currency: str) -> ClosingBalance | None:
    for balance in _all(statement, "Bal"):
        if _text(balance, "Tp", "CdOrPrtry", "Cd") == "CLBD":
            day, amount = _day(balance, "Dt"), _amount(balance, currency)
            if day is not None and amount is not None:
                return ClosingBalance(day, amount)
    return None


def _day(element: Element, *names: str) -> date | None:
    for name in names:
        day = day_of(_text(element, name, "Dt") or _text(element, name, "DtTm"))
        if day is not None:
            return day
    return None


def _amount(element: Element, currency: str, side: str | None = None) -> int | None:
    """An amount with its side's sign; None for one that cannot be read or is in another currency."""
    written = _first(element, "Amt")
    if written is None:
        written = _first(element, "AmtDtls", "TxAmt", "Amt")
    if written is None or written.get("Ccy", currency) != currency:
        return None
    amount = signed_amount(one_line(written.text), currency, ".")
    side = _text(element, "CdtDbtInd") or side
    return None if amount is None or side not in ("CRDT", "DBIT") else amount if side == "CRDT" else -amount


def _lines(entry: Element, currency: str) -> Iterator[FileLine | str]:
    """The lines of an entry: one for each detail where these make it up, else one. A text says why it is none."""
    day = _day(entry, "BookgDt", "ValDt")
    if day is None:
        yield "It has no day that can be read."
        return
    total = _amount(entry, currency)
    if total is None:
        yield f"It has no amount in {currency} that can be read."
        return
    side = _text(entry, "CdtDbtInd")
    details = list(_all(entry, "NtryDtls", "TxDtls"))
    amounts = [_amount(detail, currency, side) for detail in details]
    known = [amount for amount in amounts if amount is not None]
    if len(details) > 1 and len(known) == len(details) and sum(known) == total:
        for number, (detail, amount) in enumerate(zip(details, known, strict=True), start=1):
            yield _line(entry, detail, day, amount, f"/{number}") if amount else _nothing(currency)
    else:
        yield _line(entry, details[0] if len(details) == 1 else None, day, total, "") if total else _nothing(currency)


def _nothing(currency: str) -> str:
    return f"It moves nothing ({format_amount(0, currency)})."


def _line(entry: Element, detail: Element | None, day: date, amount: int, number: str) -> FileLine:
    payee = _party(detail, amount)
    more = _text(entry, "AddtlNtryInf")
    said = " ".join(filter(None, (one_line(element.text) for element in _all(detail, "RmtInf", "Ustrd"))))
    said = said or _text(detail, "RmtInf", "Strd", "CdtrRefInf", "Ref") or _text(detail, "AddtlTxInf")
    memo = said or (more if payee else "")
    return FileLine(
        day, amount, (payee or more or said)[:200], (memo if payee or more else "")[:1000],
        _bank_id(entry, detail, number), _text(detail, "Refs", "ChqNb")[:40],
    )  # fmt: skip


def _bank_id(entry: Element, detail: Element | None, number: str) -> str | None:
    own = _text(detail, "Refs", "AcctSvcrRef")
    if own not in _NO_ID:
        return own[:200]
    whole = _text(entry, "AcctSvcrRef")
    return f"{whole}{number}"[:200] if whole not in _NO_ID else None


def _party(detail: Element | None, amount: int) -> str:
    """Who was paid, of what went out, or who paid; else the other of the two."""
    parties = _first(detail, "RltdPties")
    names = ("Cdtr", "Dbtr") if amount < 0 else ("Dbtr", "Cdtr")
    return next((said for name in names
                 if (said := _text(parties, name, "Nm") or _text(parties, name, "Pty", "Nm"))), "")  # fmt: skip
