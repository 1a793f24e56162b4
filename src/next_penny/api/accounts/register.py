"""Recorded money: an account's register, and what an entry form needs to know."""

import datetime
from collections.abc import Sequence
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from next_penny.api.http.answers import response, whole
from next_penny.api.http.columns import rows
from next_penny.api.http.errors import refused
from next_penny.api.http.lookups import account_of
from next_penny.api.http.session import HomeOrWhatIf
from next_penny.core.books.registers import AccountLine, Wanted, line_name, matching, together
from next_penny.core.edits.recording import as_recorded, next_number
from next_penny.core.money import amounts_of
from next_penny.core.plan.starter import MADE_WHEN_NEEDED
from next_penny.core.reconciling.readings import balance_on
from next_penny.formats.changes.documents import PartDocument, RecordedDocument
from next_penny.formats.documents.accounts import Opening
from next_penny.formats.documents.entries import Entry
from next_penny.formats.documents.fields import Day, Id
from next_penny.formats.documents.household import Category

router = APIRouter(prefix="/api", tags=["register"])


class RegisterRow(BaseModel):
    """One entry on one account: its change there, the balance after it, and where the rest went (`other`, `icon`).

    amount, balance: minor units of that account's currency.
    name: the payee, or what a person calls an entry that has none. number: of a check, as it is printed.
    stands: it is ticked on a statement of the account, which, once that is finished, locks it. off: on the last row of
    a day with a true balance, that less the books of the day, 0 where they agree; null on other rows.
    """

    id: str
    account: str
    date: datetime.date
    payee: str
    name: str
    other: str
    icon: str
    flow: str | None
    tags: list[str]
    has_receipt: bool
    is_assumed: bool
    number: str
    stands: Literal["ticked", "locked"] | None
    off: int | None
    amount: int
    balance: int


class RegisterAnswer(BaseModel):
    """Newest first. `count` and `total` are of the rows that the filters let through; no opening balance is in them.

    `opening` is what the account held before all of them. Of all accounts together (`account` null), what moves
    between two of them has a row on each, and there is a total only if all rows are in one currency.
    """

    account: str | None
    currency: str
    opening: Opening | None
    rows: list[RegisterRow]
    count: int
    total: int | None


class PayeeMemory(BaseModel):
    """What was chosen for a payee last time."""

    payee: str
    account: str | None
    category: str | None


class EntryChoices(BaseModel):
    """What an entry form offers: categories, payees with what was chosen last, tags, and the account used last.

    `starter_offered`: nobody has made a category yet, so the usual ones are offered. `next_numbers`: by account whose
    checks are numbered, the one after the last.
    """

    categories: list[Category]
    starter_offered: bool
    payees: list[PayeeMemory]
    tags: list[str]
    last_account: str | None
    next_numbers: dict[str, str]


@router.get("/register", response_model=RegisterAnswer)
def read_register(
    home: HomeOrWhatIf,
    account: Id | None = None,
    search: str = "",
    category: str = "",
    first: Annotated[Day | None, Query(alias="from")] = None,
    until: Day | None = None,
) -> Response:
    """The entries of an account, or of all, with its balance after each, newest first; perhaps only what matches."""
    wanted = Wanted(search, category, first, until)
    existing = account_of(home.plan, account, ("query", "account")) if account is not None else None
    asked = home.plan.accounts if existing is None else (existing,)
    account_lines = together(
        (one_account, matching(home.moment, home.register(one_account), wanted)) for one_account in asked
    )
    lines = [line.line for line in account_lines]
    currencies = {line.account.currency for line in account_lines}
    stands = {(statement.account, id): "ticked" if statement.is_open else "locked"
              for statement in home.plan.statements for id in statement.entries}  # fmt: skip
    names = {account.id: account.name for account in home.plan.accounts}
    names |= {one_category.id: one_category.name for one_category in home.plan.categories}
    icons = {one_category.id: one_category.icon for one_category in home.plan.categories if one_category.icon}
    opening = existing and Opening(date=existing.opening.date, balance=existing.opening.balance)
    currency = existing.currency if existing else next(iter(currencies), home.plan.household.currency)
    return response(whole(RegisterAnswer, {
        "account": account,
        "currency": currency,
        "opening": opening,
        "rows": rows(RegisterRow, {
            "id": [line.entry for line in lines],
            "account": [line.account.id for line in account_lines],
            "date": [line.day for line in lines],
            "payee": [line.payee for line in lines],
            "name": [line_name(home.plan, *line) for line in account_lines],
            "other": [", ".join(names.get(id, id) for id in line.others) for line in lines],
            "icon": [next((icons[id] for id in line.others if id in icons), "") for line in lines],
            "flow": [line.flow for line in lines],
            "tags": [line.tags for line in lines],
            "has_receipt": [line.has_receipt for line in lines],
            "is_assumed": [line.is_assumed for line in lines],
            "number": [line.number for line in lines],
            "off": _off(home, account_lines),
            "stands": [stands.get((line.account.id, line.line.entry)) for line in account_lines],
            "amount": [line.amount for line in lines],
            "balance": [line.balance for line in lines],
        }),
        "count": len(lines),
        "total": sum(line.amount for line in lines) if len(currencies) <= 1 else None,
    }))  # fmt: skip


def _off(home: HomeOrWhatIf, lines: Sequence[AccountLine]) -> list[int | None]:
    """By line, how far the books are off the day's true balance, at the last line of a day that has one."""
    said = {(reading.account, reading.date.toordinal()): reading.balance for reading in home.plan.readings}
    told: list[int | None] = []
    for line in lines:
        balance = said.pop((line.account.id, line.line.day), None)
        day = datetime.date.fromordinal(line.line.day)
        told.append(None if balance is None else balance - balance_on(line.account, home.register(line.account), day))
    return told


@router.get("/entries/choices")
def read_entry_choices(home: HomeOrWhatIf) -> EntryChoices:
    """Categories, what was chosen before, and by account the number after the one that was given last."""
    memory = home.reading.payees()
    return EntryChoices(
        categories=[Category.of(category) for category in home.plan.categories],
        starter_offered=home.plan.category_by_id.keys() <= MADE_WHEN_NEEDED.keys(),
        payees=[PayeeMemory(payee=payee, account=account, category=category) for payee, account, category in memory],
        tags=home.reading.tags(),
        last_account=home.reading.last_account(),
        next_numbers={account: next_number(last) for account, last in home.reading.last_numbers().items()},
    )


class EntryAnswer(Entry):
    """One entry, and how a person would say it; null where its legs are more than that can say."""

    way: Literal["spent", "received", "moved"] | None
    said: RecordedDocument | None


class FoundEntry(BaseModel):
    """An entry at a glance: what it changed on its first account."""

    id: str
    date: datetime.date
    name: str
    amount: int
    currency: str


class FoundEntries(BaseModel):
    entries: list[FoundEntry]


_MOST_FOUND = 12


@router.get("/entries/find")
def find_entries(home: HomeOrWhatIf, text: Annotated[str, Query(min_length=1, max_length=200)]) -> FoundEntries:
    """The newest entries that hold a text in payee, notes or tags, have it as number, or come to an amount."""
    found_entries = []
    for entry in home.reading.find(text.strip(), amounts_of(text), _MOST_FOUND):
        leg = next((leg for leg in entry.legs if leg.account), None)
        if leg is not None:
            currency = home.plan.account_by_id[leg.account or ""].currency
            found_entries.append(
                FoundEntry(
                    id=entry.id, date=entry.date, name=home.plan.name_of(entry), amount=leg.amount, currency=currency
                )
            )
    return FoundEntries(entries=found_entries)


@router.get("/entries/{id}", response_model_by_alias=True)
def read_entry(home: HomeOrWhatIf, id: Id) -> EntryAnswer:
    """One entry."""
    entry = home.entry(id)
    if entry is None:
        raise refused(("path", "id"), "There is no such entry: it may be deleted already.", "unknown_id")
    shown, said = Entry.of(entry), as_recorded(home.plan, entry)
    document = (
        None
        if said is None
        else RecordedDocument(
            date=said.date,
            account=said.account,
            amount=said.amount,
            payee=said.payee,
            parts=tuple(PartDocument(category=part.category, amount=part.amount) for part in said.parts),
            to_account=said.to_account,
            arrives=said.arrives,
            notes=entry.notes,
            tags=entry.tags,
            number=entry.number,
            receipt=shown.receipt,
        )
    )
    values = {name: getattr(shown, name) for name in Entry.model_fields}
    return EntryAnswer(**values, way=said.way if said else None, said=document)
