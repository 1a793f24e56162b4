"""A bank over OFX: signing on, and what it booked since it was asked last."""

from collections.abc import Callable
from datetime import date
from typing import NamedTuple

from next_penny.api.accounts.connections.fetching import CannotAsk, fetch
from next_penny.formats.bank_files.ofx_asking import (
    SIGN_ON_REFUSED,
    SignedOn,
    SignOn,
    accounts_at_bank,
    accounts_request,
    signed_on,
    statements_request,
)
from next_penny.formats.bank_files.texts import BankFileError

_NONSENSE = "What it answered cannot be read as OFX. Nothing came; is the address right? Try again later."


class NotKnown(CannotAsk):
    """A bank that does not know who signs on."""


class Consent(NamedTuple):
    """The key that a bank gave in place of a password, and as long as it is good."""

    key: str
    until: date | None
    accounts: int


def sign_in(address: str, user: str, password: str, today: date, patience: float) -> Consent:
    """Sign on by a password, which is not kept. Raises CannotAsk."""
    answer = fetch(address, accounts_request(SignOn(user, password), today), patience)
    said = _said(answer)
    if said.code == SIGN_ON_REFUSED:
        raise NotKnown("The bank does not know this user with this password. Nothing was kept.")
    if said.code or not said.key:
        raise CannotAsk(f"The bank refused: {said.message or said.code}. Nothing was kept.")
    return Consent(said.key, said.until, len(accounts_at_bank(answer)))


class Booked(NamedTuple):
    """What was booked, as an OFX file, and by its number what the bank calls each account."""

    content: bytes
    names: dict[str, str]


def booked_since(address: str, key: str, since: Callable[[str], date], today: date, patience: float) -> Booked | None:
    """What was booked on all accounts, of each since its day; None where the bank keeps none. Raises CannotAsk."""
    answer = fetch(address, accounts_request(SignOn(key=key), today), patience)
    said = _said(answer)
    if said.code == SIGN_ON_REFUSED:
        raise CannotAsk("The bank's consent has ended: sign on again, then get what is new.")
    if said.code:
        raise CannotAsk(f"The bank refused: {said.message or said.code}.")
    accounts = accounts_at_bank(answer)
    if not accounts:
        return None
    wanted = [(account, since(account.number)) for account in accounts]
    content = fetch(address, statements_request(SignOn(key=key), today, wanted), patience)
    _said(content)
    return Booked(content, {account.number: account.name for account in accounts})


def _said(answer: bytes) -> SignedOn:
    try:
        return signed_on(answer)
    except BankFileError as error:
        raise CannotAsk(_NONSENSE) from error
