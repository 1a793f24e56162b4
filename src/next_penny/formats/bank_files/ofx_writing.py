"""An account's entries as OFX 2.2, as other programs take them in (Open Financial Exchange 2.2, chapter 11)."""

from collections.abc import Sequence
from datetime import date
from decimal import Decimal
from xml.sax.saxutils import escape

from next_penny.core.money import DECIMALS
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan

_HEAD = (
    '<?xml version="1.0" encoding="UTF-8" standalone="no"?>\n'
    '<?OFX OFXHEADER="200" VERSION="220" SECURITY="NONE" OLDFILEUID="NONE" NEWFILEUID="NONE"?>\n'
)
_STATUS = "<STATUS><CODE>0</CODE><SEVERITY>INFO</SEVERITY></STATUS>"
_LONGEST_NAME, _LONGEST_MEMO = 32, 255


def entries_ofx(
    plan: Plan, account: Account, entries: Sequence[Entry], days: tuple[date, date], balance: int, on: date
) -> bytes:  # fmt: skip
    """The entries of some days on an account, and what it holds at the end of a day."""
    lines = "".join(_line(plan, account, entry) for entry in entries if entry.on(account.id))
    listed = f"<BANKTRANLIST><DTSTART>{days[0]:%Y%m%d}</DTSTART><DTEND>{days[1]:%Y%m%d}</DTEND>{lines}</BANKTRANLIST>"
    held = f"<LEDGERBAL><BALAMT>{_amount(balance, account.currency)}</BALAMT><DTASOF>{on:%Y%m%d}</DTASOF></LEDGERBAL>"
    currency, id = f"<CURDEF>{account.currency}</CURDEF>", f"<ACCTID>{escape(account.id)}</ACCTID>"
    if account.kind == "credit_card":
        statement = f"<CCSTMTRS>{currency}<CCACCTFROM>{id}</CCACCTFROM>{listed}{held}</CCSTMTRS>"
        answer = f"<CCSTMTTRNRS><TRNUID>0</TRNUID>{_STATUS}{statement}</CCSTMTTRNRS>"
        body = f"<CREDITCARDMSGSRSV1>{answer}</CREDITCARDMSGSRSV1>"
    else:
        kind = {"savings": "SAVINGS", "credit_line": "CREDITLINE"}.get(account.kind, "CHECKING")
        of = f"<BANKACCTFROM><BANKID>NEXTPENNY</BANKID>{id}<ACCTTYPE>{kind}</ACCTTYPE></BANKACCTFROM>"
        statement = f"<STMTRS>{currency}{of}{listed}{held}</STMTRS>"
        body = f"<BANKMSGSRSV1><STMTTRNRS><TRNUID>0</TRNUID>{_STATUS}{statement}</STMTTRNRS></BANKMSGSRSV1>"
    signed = f"<SONRS>{_STATUS}<DTSERVER>{on:%Y%m%d}</DTSERVER><LANGUAGE>ENG</LANGUAGE></SONRS>"
    signed = f"<SIGNONMSGSRSV1>{signed}</SIGNONMSGSRSV1>"
    return f"{_HEAD}<OFX>{signed}{body}</OFX>\n".encode()


def _line(plan: Plan, account: Account, entry: Entry) -> str:
    amount = entry.on(account.id)
    kind = "CHECK" if entry.number else "CREDIT" if amount > 0 else "DEBIT"
    name = plan.name_of(entry)
    memo = " ".join(filter(None, (name[_LONGEST_NAME:], entry.notes.replace("\n", " "))))[:_LONGEST_MEMO].strip()
    fields = [
        ("TRNTYPE", kind), ("DTPOSTED", f"{entry.date:%Y%m%d}"), ("TRNAMT", _amount(amount, account.currency)),
        ("FITID", bank_id(entry, account.id)), ("CHECKNUM", entry.number[:12]), ("NAME", name[:_LONGEST_NAME]),
        ("MEMO", memo),
    ]  # fmt: skip
    return f"<STMTTRN>{''.join(f'<{tag}>{escape(said)}</{tag}>' for tag, said in fields if said)}</STMTTRN>"


def bank_id(entry: Entry, account: str) -> str:
    """What the bank calls an entry on an account; its own id where the bank does not know it."""
    return next((tie.id for tie in entry.bank_ids if tie.account == account and tie.id), entry.id)


def _amount(amount: int, currency: str) -> str:
    return f"{Decimal(amount).scaleb(-DECIMALS[currency]):f}"
