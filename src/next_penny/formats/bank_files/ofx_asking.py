"""Asking a bank over OFX 2.2: the requests, and what its answers say of the sign-on and of the accounts.

Open Financial Exchange 2.2, chapters 2.5 (sign-on, the user key in place of a password), 8.5 (accounts), 11.4.
"""

import html
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from xml.sax.saxutils import escape

from next_penny.formats.bank_files.ofx import is_ofx
from next_penny.formats.bank_files.ofx_writing import ACCOUNT_TYPES, account_from, ofx_document
from next_penny.formats.bank_files.texts import BankFileError, day_of, decoded, one_line

# What a bank answers where a password or a user key is not, or no longer, good.
SIGN_ON_REFUSED = 15500
_KINDS = {name: kind for kind, name in ACCOUNT_TYPES.items()}


@dataclass(frozen=True, slots=True)
class SignOn:
    """Who asks: by a password once, by the user key that the bank gave from then on."""

    user: str = ""
    password: str = ""
    key: str = ""


@dataclass(frozen=True, slots=True)
class SignedOn:
    """What a bank says of a sign-on: 0 is well. key: for the next times, good until a day."""

    code: int
    message: str
    key: str
    until: date | None


@dataclass(frozen=True, slots=True)
class AtBank:
    """An account that a bank keeps."""

    kind: str
    number: str
    name: str


def accounts_request(who: SignOn, on: date) -> bytes:
    """Which accounts are there?"""
    asked = "<ACCTINFOTRNRQ><TRNUID>1</TRNUID><ACCTINFORQ><DTACCTUP>19700101</DTACCTUP></ACCTINFORQ></ACCTINFOTRNRQ>"
    return ofx_document(_signing_on(who, on), f"<SIGNUPMSGSRQV1>{asked}</SIGNUPMSGSRQV1>")


def statements_request(who: SignOn, on: date, accounts: Sequence[tuple[AtBank, date]]) -> bytes:
    """What was booked on accounts, of each since a day, that day included?"""
    sets = {"BANKMSGSRQV1": "", "CREDITCARDMSGSRQV1": ""}
    for number, (at_bank, since) in enumerate(accounts, start=1):
        wanted = f"<INCTRAN><DTSTART>{since:%Y%m%d}</DTSTART><INCLUDE>Y</INCLUDE></INCTRAN>"
        is_card = at_bank.kind == "credit_card"
        name = "CCSTMT" if is_card else "STMT"
        asked = f"<{name}RQ>{account_from(at_bank.kind, at_bank.number)}{wanted}</{name}RQ>"
        sets["CREDITCARDMSGSRQV1" if is_card else "BANKMSGSRQV1"] += (
            f"<{name}TRNRQ><TRNUID>{number}</TRNUID>{asked}</{name}TRNRQ>"
        )
    messages = (f"<{name}>{asked}</{name}>" for name, asked in sets.items() if asked)
    return ofx_document(_signing_on(who, on), *messages)


def _signing_on(who: SignOn, on: date) -> str:
    by_key = f"<USERKEY>{escape(who.key)}</USERKEY>"
    by_password = (
        f"<USERID>{escape(who.user)}</USERID><USERPASS>{escape(who.password)}</USERPASS><GENUSERKEY>Y</GENUSERKEY>"
    )
    said = f"<DTCLIENT>{on:%Y%m%d}</DTCLIENT>{by_key if who.key else by_password}<LANGUAGE>ENG</LANGUAGE>"
    return f"<SIGNONMSGSRQV1><SONRQ>{said}<APPID>NEXTPENNY</APPID><APPVER>0100</APPVER></SONRQ></SIGNONMSGSRQV1>"


def signed_on(answer: bytes) -> SignedOn:
    """What an answer says of the sign-on. Raises BankFileError where it is no answer of a bank."""
    text = decoded(answer)
    part = re.search(r"<SONRS>(.*?)</SONRS>", text, re.DOTALL | re.IGNORECASE)
    code = _value(part[1], "CODE") if part else ""
    if not is_ofx(text[:4096]) or part is None or not (code.isascii() and code.isdecimal()):
        raise BankFileError("What it answered is not OFX.")
    return SignedOn(int(code), _value(part[1], "MESSAGE"), _value(part[1], "USERKEY"),
                    day_of(_value(part[1], "TSKEYEXPIRE")))  # fmt: skip


def accounts_at_bank(answer: bytes) -> list[AtBank]:
    """The accounts of an answer, in its order, each once."""
    at_bank: dict[str, AtBank] = {}
    for account_info in re.findall(r"<ACCTINFO>(.*?)</ACCTINFO>", decoded(answer), re.DOTALL | re.IGNORECASE):
        number = _value(account_info, "ACCTID")
        is_card = "<CCACCTINFO>" in account_info.upper()
        kind = "credit_card" if is_card else _KINDS.get(_value(account_info, "ACCTTYPE").upper(), "checking")
        if number:
            at_bank.setdefault(number, AtBank(kind, number, _value(account_info, "DESC")))
    return list(at_bank.values())


def _value(text: str, tag: str) -> str:
    match = re.search(rf"<{tag}>([^<]*)", text, re.IGNORECASE)
    return one_line(html.unescape(match[1])) if match else ""
