"""An account's register: what was recorded and what is assumed, each with the balance after it."""

import heapq
from collections.abc import Iterable, Sequence
from datetime import date
from typing import NamedTuple

from next_penny.core.books.assumed_ids import is_assumed
from next_penny.core.books.moment import Moment
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.plan import Plan


class RegisterLine(NamedTuple):
    """One entry on one account; `others` are the ids that its other legs are on. `day` is a day number."""

    entry: str
    day: int
    payee: str
    notes: str
    tags: tuple[str, ...]
    has_receipt: bool
    flow: str | None
    amount: int
    balance: int
    others: tuple[str, ...]
    number: str = ""

    @property
    def is_assumed(self) -> bool:
        """Whether nobody has confirmed it yet."""
        return is_assumed(self.entry)


class AccountLine(NamedTuple):
    """A line of a register, with the account that it is on."""

    account: Account
    line: RegisterLine


def together(registers: Iterable[tuple[Account, Iterable[RegisterLine]]]) -> list[AccountLine]:
    """The lines of several registers (each newest first) as one, newest first; of a day, in the accounts' order."""
    lines_of_each = ([AccountLine(account, line) for line in lines] for account, lines in registers)
    return list(heapq.merge(*lines_of_each, key=lambda account_line: account_line.line.day, reverse=True))


class Wanted(NamedTuple):
    """Which lines are wanted: with a text in them, of a category, between two days."""

    text: str = ""
    category: str = ""
    first: date | None = None
    last: date | None = None


def register(moment: Moment, account: Account, recorded: Sequence[RegisterLine]) -> list[RegisterLine]:
    """All lines, newest first, with the balance after each; `recorded` are in the order in which they happened."""
    assumed = lines_of(moment.assumed, account)
    balance, lines = account.opening.balance, []
    for line in sorted([*recorded, *assumed], key=lambda line: line.day) if assumed else recorded:
        balance += line.amount
        lines.append(line._replace(balance=balance))
    return lines[::-1]


def lines_of(entries: Iterable[Entry], account: Account) -> list[RegisterLine]:
    """The lines of entries that move money on an account, in their order, without balances."""
    return [_line(entry, account) for entry in entries if any(leg.account == account.id for leg in entry.legs)]


def _line(entry: Entry, account: Account) -> RegisterLine:
    others = tuple(leg.account or leg.category or "" for leg in entry.legs if leg.account != account.id)
    return RegisterLine(entry.id, entry.date.toordinal(), entry.payee, entry.notes, entry.tags,
                        entry.receipt is not None, entry.flow, entry.on(account.id), 0, others,
                        entry.number)  # fmt: skip


def line_name(plan: Plan, account: Account, line: RegisterLine) -> str:
    """What a person calls a line of an account's register."""
    others = [(id, -line.amount) for id in line.others]
    return plan.called(line.payee, line.flow, [(account.id, line.amount), *others])


def matching(moment: Moment, lines: Iterable[RegisterLine], wanted: Wanted) -> list[RegisterLine]:
    """The lines that are wanted."""
    first = wanted.first.toordinal() if wanted.first else 0
    last = wanted.last.toordinal() if wanted.last else None
    text, plan = wanted.text.strip().lower(), moment.plan
    chosen = [
        line for line in lines
        if line.day >= first and (last is None or line.day <= last)
        and (not wanted.category or wanted.category in line.others)
    ]  # fmt: skip
    if not text:
        return chosen
    names = {account.id: account.name.lower() for account in plan.accounts}
    names |= {category.id: category.name.lower() for category in plan.categories}

    def says(line: RegisterLine) -> bool:
        texts = (line.payee.lower(), line.notes.lower(), line.number, *(tag.lower() for tag in line.tags))
        return any(text in other for other in (*texts, *(names.get(id, id) for id in line.others)))

    return [line for line in chosen if says(line)]
