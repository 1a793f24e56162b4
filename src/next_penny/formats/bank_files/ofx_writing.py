"""Statements as OFX 2.2, as other programs take them in (Open Financial Exchange 2.2, chapters 2 and 11)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from xml.sax.saxutils import escape

from next_penny.core.bank_lines.statements import ClosingBalance, FileLine
from next_penny.core.money import DECIMALS
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan

HEAD = (
    '<?xml version="1.0" encoding="UTF-8" standalone="no"?>\n'
    '<?OFX OFXHEADER="200" VERSION="220" SECURITY="NONE" OLDFILEUID="NONE" NEWFILEUID="NONE"?>\n'
)
_LONGEST_NAME, _LONGEST_MEMO = 32, 255
ACCOUNT_TYPES = {"savings": "SAVINGS", "credit_line": "CREDITLINE"}


@dataclass(frozen=True, slots=True)
class OfxStatement:
    """An account of a kind of ours under a number, its lines of some days, and what it holds at the end of a day."""

    kind: str
    number: str
    currency: str
    days: tuple[date, date]
    lines: Sequence[FileLine]
    closing: ClosingBalance

    @property
    def is_card(self) -> bool:
        return self.kind == "credit_card"


def ofx_document(*parts: str) -> bytes:
    """A whole OFX file of its parts."""
    return f"{HEAD}<OFX>{''.join(parts)}</OFX>\n".encode()


def status(code: int = 0, message: str = "") -> str:
    """What became of a request: 0 is well; 15500 that the sign-on is not good."""
    wording = f"<MESSAGE>{escape(message)}</MESSAGE>" if message else ""
    return f"<STATUS><CODE>{code}</CODE><SEVERITY>{'ERROR' if code else 'INFO'}</SEVERITY>{wording}</STATUS>"


def sign_on(on: date, said: str = "", key: str = "") -> str:
    """The answer to a sign-on. said: its status; key: USERKEY and TSKEYEXPIRE, where they are given."""
    signed = f"<SONRS>{said or status()}<DTSERVER>{on:%Y%m%d}</DTSERVER>{key}<LANGUAGE>ENG</LANGUAGE></SONRS>"
    return f"<SIGNONMSGSRSV1>{signed}</SIGNONMSGSRSV1>"


def statements_ofx(statements: Sequence[OfxStatement]) -> str:
    """Statements in the message sets they belong in: accounts of a bank, and cards."""
    banks = "".join(_statement(statement) for statement in statements if not statement.is_card)
    cards = "".join(_statement(statement) for statement in statements if statement.is_card)
    return (f"<BANKMSGSRSV1>{banks}</BANKMSGSRSV1>" if banks else "") + (
        f"<CREDITCARDMSGSRSV1>{cards}</CREDITCARDMSGSRSV1>" if cards else ""
    )


def account_from(kind: str, number: str) -> str:
    """Which account is meant."""
    id = f"<ACCTID>{escape(number)}</ACCTID>"
    if kind == "credit_card":
        return f"<CCACCTFROM>{id}</CCACCTFROM>"
    named = ACCOUNT_TYPES.get(kind, "CHECKING")
    return f"<BANKACCTFROM><BANKID>NEXTPENNY</BANKID>{id}<ACCTTYPE>{named}</ACCTTYPE></BANKACCTFROM>"


def _statement(statement: OfxStatement) -> str:
    first, last = statement.days
    lines = "".join(_line(line, statement.currency) for line in statement.lines)
    listed = f"<BANKTRANLIST><DTSTART>{first:%Y%m%d}</DTSTART><DTEND>{last:%Y%m%d}</DTEND>{lines}</BANKTRANLIST>"
    balance = f"<BALAMT>{_amount(statement.closing.balance, statement.currency)}</BALAMT>"
    closing = f"<LEDGERBAL>{balance}<DTASOF>{statement.closing.date:%Y%m%d}</DTASOF></LEDGERBAL>"
    body = f"<CURDEF>{statement.currency}</CURDEF>{account_from(statement.kind, statement.number)}{listed}{closing}"
    name = "CCSTMT" if statement.is_card else "STMT"
    return f"<{name}TRNRS><TRNUID>0</TRNUID>{status()}<{name}RS>{body}</{name}RS></{name}TRNRS>"


def entries_ofx(
    plan: Plan, account: Account, entries: Sequence[Entry], days: tuple[date, date], balance: int, on: date
) -> bytes:  # fmt: skip
    """The entries of some days on an account, and what it holds at the end of a day."""
    lines = [_line_of(plan, account, entry) for entry in entries if entry.on(account.id)]
    statement = OfxStatement(account.kind, account.id, account.currency, days, lines, ClosingBalance(on, balance))
    return ofx_document(sign_on(on), statements_ofx([statement]))


def _line_of(plan: Plan, account: Account, entry: Entry) -> FileLine:
    return FileLine(
        entry.date, entry.on(account.id), plan.name_of(entry), entry.notes.replace("\n", " "),
        bank_id(entry, account.id), entry.number,
    )  # fmt: skip


def _line(line: FileLine, currency: str) -> str:
    kind = "CHECK" if line.number else "CREDIT" if line.amount > 0 else "DEBIT"
    memo = " ".join(filter(None, (line.payee[_LONGEST_NAME:], line.memo)))[:_LONGEST_MEMO].strip()
    fields = [
        ("TRNTYPE", kind), ("DTPOSTED", f"{line.date:%Y%m%d}"), ("TRNAMT", _amount(line.amount, currency)),
        ("FITID", line.bank_id or ""), ("CHECKNUM", line.number[:12]), ("NAME", line.payee[:_LONGEST_NAME]),
        ("MEMO", memo),
    ]  # fmt: skip
    return f"<STMTTRN>{''.join(f'<{tag}>{escape(said)}</{tag}>' for tag, said in fields if said)}</STMTTRN>"


def bank_id(entry: Entry, account: str) -> str:
    """What the bank calls an entry on an account; its own id where the bank does not know it."""
    return next((tie.id for tie in entry.bank_ids if tie.account == account and tie.id), entry.id)


def _amount(amount: int, currency: str) -> str:
    return f"{Decimal(amount).scaleb(-DECIMALS[currency]):f}"
