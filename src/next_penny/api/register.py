"""Recorded money: an account's register, and what an entry form needs to know."""

import datetime
from typing import Any

from fastapi import APIRouter, Response
from pydantic import BaseModel

from next_penny.api.errors import refused
from next_penny.api.forecast import json_response
from next_penny.api.household import Home
from next_penny.formats.fields import Id
from next_penny.formats.plan_document import Category, Entry
from next_penny.store.entries import RegisterLine

router = APIRouter(prefix="/api", tags=["register"])


class RegisterRow(BaseModel):
    """One entry on one account: its change there, and the balance after it. `other` says where the rest went."""

    id: str
    date: datetime.date
    payee: str
    other: str
    flow: str | None
    amount: int
    balance: int


class RegisterAnswer(BaseModel):
    """Newest first. `count` and `total` are of the rows that the filters let through."""

    account: str
    currency: str
    rows: list[RegisterRow]
    count: int
    total: int


class PayeeMemory(BaseModel):
    """What was chosen for a payee last time."""

    payee: str
    account: str | None
    category: str | None


class EntryChoices(BaseModel):
    """What an entry form offers: categories, payees with what was chosen last, and the account used last."""

    categories: list[Category]
    payees: list[PayeeMemory]
    last_account: str | None


@router.get("/register", response_model=RegisterAnswer)
def read_register(home: Home, account: Id, search: str = "", category: str = "") -> Response:
    """An account's entries with the running balance, newest first; perhaps only those that match."""
    held = home.plan().account_by_id.get(account)
    if held is None:
        raise refused(("query", "account"), f"There is no account “{account}”.", "unknown_id")
    names = {each.id: each.name for each in home.plan().accounts}
    names |= {each.id: each.name for each in home.plan().categories}
    wanted = search.strip().lower()
    rows = []
    for line in home.store.register(held):
        other = ", ".join(names.get(id, id) for id in line.others)
        is_wanted = not wanted or any(wanted in text.lower() for text in (line.payee, line.notes, other))
        if is_wanted and (not category or category in line.others):
            rows.append(_row(line, other))
    total = sum(row["amount"] for row in rows)
    answer = {"account": account, "currency": held.currency, "rows": rows, "count": len(rows), "total": total}
    return json_response(answer)


def _row(line: RegisterLine, other: str) -> dict[str, Any]:
    return {
        "id": line.entry,
        "date": line.date,
        "payee": line.payee,
        "other": other,
        "flow": line.flow,
        "amount": line.amount,
        "balance": line.balance,
    }


@router.get("/entries/choices")
def read_entry_choices(home: Home) -> EntryChoices:
    """Categories, and what was chosen before."""
    memory = home.store.payees()
    return EntryChoices(
        categories=[Category.of(category) for category in home.plan().categories],
        payees=[PayeeMemory(payee=payee, account=account, category=category) for payee, account, category in memory],
        last_account=memory[0][1] if memory else None,
    )


@router.get("/entries/{id}", response_model_by_alias=True)
def read_entry(home: Home, id: Id) -> Entry:
    """One entry."""
    entry = home.store.entry(id)
    if entry is None:
        raise refused(("path", "id"), "There is no such entry: it may be deleted already.", "unknown_id")
    return Entry.of(entry)
