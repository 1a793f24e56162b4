"""Recorded money: an account's register, and what an entry form needs to know."""

import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from next_penny.api.errors import refused
from next_penny.api.forecast import json_response
from next_penny.api.household import Home, OpenHousehold
from next_penny.core import plan as core
from next_penny.core.assumed import is_assumed
from next_penny.core.plan import Account
from next_penny.formats.fields import Day, Id
from next_penny.formats.plan_document import Category, Entry
from next_penny.store.entries import RegisterLine

router = APIRouter(prefix="/api", tags=["register"])


class RegisterRow(BaseModel):
    """One entry on one account: its change there, the balance after it, and where the rest went (`other`, `icon`)."""

    id: str
    date: datetime.date
    payee: str
    other: str
    icon: str
    flow: str | None
    tags: list[str]
    has_receipt: bool
    is_assumed: bool
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
    """What an entry form offers: categories, payees with what was chosen last, tags, and the account used last."""

    categories: list[Category]
    payees: list[PayeeMemory]
    tags: list[str]
    last_account: str | None


@router.get("/register", response_model=RegisterAnswer)
def read_register(
    home: Home,
    account: Id,
    search: str = "",
    category: str = "",
    first: Annotated[Day | None, Query(alias="from")] = None,
    until: Day | None = None,
) -> Response:
    """An account's entries with the running balance, newest first; perhaps only those that match."""
    held = home.plan().account_by_id.get(account)
    if held is None:
        raise refused(("query", "account"), f"There is no account “{account}”.", "unknown_id")
    names = {each.id: each.name for each in home.plan().accounts}
    names |= {each.id: each.name for each in home.plan().categories}
    icons = {each.id: each.icon for each in home.plan().categories if each.icon}
    wanted = search.strip().lower()
    rows = []
    earliest, latest = (day.isoformat() if day else "" for day in (first, until))
    for line in _lines(home, held):
        if line.date < earliest or (latest and line.date > latest):
            continue
        other = ", ".join(names.get(id, id) for id in line.others)
        is_wanted = not wanted or any(wanted in text.lower() for text in (line.payee, line.notes, line.tags, other))
        if is_wanted and (not category or category in line.others):
            rows.append(_row(line, other, icons))
    total = sum(row["amount"] for row in rows)
    answer = {"account": account, "currency": held.currency, "rows": rows, "count": len(rows), "total": total}
    return json_response(answer)


def _lines(home: OpenHousehold, account: Account) -> list[RegisterLine]:
    """What was recorded and what is assumed, newest first, each with the balance after it."""
    recorded = home.store.register(account)
    assumed = [line for entry in home.assumed() if (line := _assumed_line(entry, account)) is not None]
    if not assumed:
        return recorded
    balance = account.opening.balance
    lines = []
    for line in sorted([*recorded[::-1], *assumed], key=lambda line: line.date):
        balance += line.amount
        lines.append(line._replace(balance=balance))
    return lines[::-1]


def _assumed_line(entry: core.Entry, account: Account) -> RegisterLine | None:
    mine = [leg.amount for leg in entry.legs if leg.account == account.id]
    others = tuple(leg.account or leg.category or "" for leg in entry.legs if leg.account != account.id)
    head = (entry.id, entry.date.isoformat(), entry.payee, "", "", False, entry.flow)
    return RegisterLine(*head, sum(mine), 0, others) if mine else None


def _row(line: RegisterLine, other: str, icons: dict[str, str]) -> dict[str, Any]:
    return {
        "id": line.entry,
        "date": line.date,
        "payee": line.payee,
        "other": other,
        "icon": next((icons[id] for id in line.others if id in icons), ""),
        "flow": line.flow,
        "tags": line.tags.split("\n") if line.tags else [],
        "has_receipt": line.has_receipt,
        "is_assumed": is_assumed(line.entry),
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
        tags=home.store.tags(),
        last_account=home.store.last_account(),
    )


@router.get("/entries/{id}", response_model_by_alias=True)
def read_entry(home: Home, id: Id) -> Entry:
    """One entry."""
    entry = home.store.entry(id)
    if entry is None:
        raise refused(("path", "id"), "There is no such entry: it may be deleted already.", "unknown_id")
    return Entry.of(entry)
