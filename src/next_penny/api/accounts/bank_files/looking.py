"""A look at a bank's file: whose lines they are, and what each is; kept for an hour, until it is taken in."""

import hashlib
import json
import time
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from threading import Lock
from typing import Any
from uuid import uuid4

from next_penny.core.bank_lines.found import Is, Known, OnAccount, Place
from next_penny.core.bank_lines.matching import ENTRY_DAYS, match
from next_penny.core.bank_lines.statements import BankFile, FileLine, FileStatement, LeftOut
from next_penny.core.dates.calendar import EARLIEST, LATEST
from next_penny.core.dates.sentences import full_day
from next_penny.core.edits.defaults import writing
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.bank_lines import BankAccount, PayeeRule
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError, Problem
from next_penny.formats.bank_files.csv_tables import Table, columns_said
from next_penny.formats.bank_files.reading import ReadFile, read_bank_file
from next_penny.store.moments import Reading

_GOOD_FOR = 3600.0
_MOST_LOOKS = 8


@dataclass(frozen=True)
class Look:
    """A file that was looked at. accounts: by statement, ours; kinds: by statement, what each line is.

    place: where in its history the household was. shape: of a table whose columns a person named. entries: those that
    lines were found to be. currency: that of amounts of which the file does not say it. whole: the file with the lines
    of days before its accounts begin.
    """

    file: BankFile
    table: Table | None
    accounts: tuple[str | None, ...]
    kinds: tuple[list[Is] | None, ...]
    place: tuple[int, int]
    shape: str | None = None
    currency: str = ""
    whole: BankFile | None = None
    entries: Mapping[str, Entry] = field(default_factory=dict)
    id: str = field(default_factory=lambda: uuid4().hex)
    at: float = field(default_factory=time.monotonic)

    def line(self, place: Place) -> FileLine:
        return self.file.statements[place[0]].lines[place[1]]


class Looks:
    """The looks of the last hour, the newest few. Safe between threads."""

    def __init__(self) -> None:
        self._look_by_id: dict[str, Look] = {}
        self._lock = Lock()

    def keep(self, look: Look) -> Look:
        """Keep a look until it is taken in, or is too old."""
        with self._lock:
            self._look_by_id[look.id] = look
            for id in list(self._look_by_id)[:-_MOST_LOOKS]:
                del self._look_by_id[id]
        return look

    def find(self, id: str) -> Look | None:
        """A look that was not taken in yet."""
        with self._lock:
            look = self._look_by_id.get(id)
            if look is not None and time.monotonic() - look.at > _GOOD_FOR:
                del self._look_by_id[id]
                look = None
        return look

    def drop(self, id: str) -> None:
        """It has served."""
        with self._lock:
            self._look_by_id.pop(id, None)


def key_of(place: Place) -> str:
    """What names a line in every look at the same file."""
    return f"{place[0] + 1}-{place[1] + 1}"


def place_of(key: str) -> Place | None:
    """Where the line of a key is."""
    first, _, second = key.partition("-")
    if not (first.isascii() and first.isdecimal() and second.isascii() and second.isdecimal()):
        return None
    return int(first[:9]) - 1, int(second[:9]) - 1


def bank_account(number: str, account: str) -> BankAccount:
    """A bank's number as it is kept: a hash, and its end."""
    bare = "".join(number.split()).upper()
    return BankAccount(hashlib.sha256(f"bank account {bare}".encode()).hexdigest(), bare[-4:], account)


def look_at(
    reading: Reading, content: bytes, chosen: Mapping[int, str], account: str | None, columns: Mapping[str, Any] | None
) -> Look:
    """Read a file and find what its lines are. Raises BankFileError, and PlanError for an account that cannot be."""
    plan = reading.moment.plan
    first = plan.account_by_id.get(account or next(iter(chosen.values()), ""))
    currency = first.currency if first is not None else plan.household.currency
    order = writing(plan.household).date_order
    read = read_bank_file(content, currency, columns, order)
    shape = read.table.shape if read.table is not None else None
    if read.table is not None and columns is None:
        read = _as_named_before(reading, read, content, currency, order)
    owners = _owners(reading, read.file, chosen, account)
    file = _with_days(plan, read.file, owners)
    look = Look(
        file, read.table, owners, (), reading.place_in_history(), shape if columns else None, currency, read.file
    )
    return with_found(reading, look, owners)


def with_owners(reading: Reading, look: Look, chosen: Mapping[int, str]) -> Look:
    """Another look at the same lines, for accounts that are chosen. Raises PlanError for one that cannot be."""
    whole = look.whole or look.file
    owners = tuple(chosen.get(number, owner) for number, owner in enumerate(look.accounts))
    for number, owner in enumerate(owners):
        if owner is not None:
            _check_owner(reading.moment.plan, number, owner, whole.statements[number])
    file = _with_days(reading.moment.plan, whole, owners)
    again = Look(file, look.table, owners, (), reading.place_in_history(), look.shape, look.currency, whole)
    return with_found(reading, again, owners)


def _as_named_before(reading: Reading, read: ReadFile, content: bytes, currency: str, order: str) -> ReadFile:
    """A table of a shape whose columns a person named before is read so again."""
    assert read.table is not None
    named = reading.table_shape(read.table.shape)
    return read_bank_file(content, currency, json.loads(named), order) if named is not None else read


def _owners(
    reading: Reading, file: BankFile, chosen: Mapping[int, str], account: str | None
) -> tuple[str | None, ...]:  # fmt: skip
    """By statement our account: the one that is named, else the one into which its number was last taken."""
    plan, known = reading.moment.plan, reading.bank_accounts()
    owners: list[str | None] = []
    for number, statement in enumerate(file.statements):
        existing = known.get(bank_account(statement.number, "").hash) if statement.number is not None else None
        before = plan.account_by_id.get(existing.account) if existing is not None else None
        is_that = before is not None and statement.currency in (None, before.currency)
        remembered = before.id if before is not None and is_that else None
        # One account that is named is meant for the one statement whose account nobody knows.
        owner = chosen.get(number) or (account if len(file.statements) == 1 else None) or remembered or account
        if owner is not None:
            _check_owner(plan, number, owner, statement)
        owners.append(owner)
    return tuple(owners)


def _check_owner(plan: Plan, number: int, owner: str, statement: FileStatement) -> None:
    """Refuse an account that there is not, or one in another currency than its statement. Raises PlanError."""
    account = plan.account_by_id.get(owner)
    if account is None:
        raise PlanError([Problem(("account",), f"There is no account “{owner}”.", "unknown_id")])
    if statement.currency is not None and statement.currency != account.currency:
        message = f"This statement is in {statement.currency}, “{account.name}” in {account.currency}: choose another."
        raise PlanError([Problem(("account",), message, "currency")])


def _with_days(plan: Plan, file: BankFile, owners: Sequence[str | None]) -> BankFile:
    """The file without what is of days before its account begins, which is told."""
    statements, left_out = list[FileStatement](), list(file.left_out)
    for statement, owner in zip(file.statements, owners, strict=True):
        account = plan.account_by_id.get(owner or "")
        if account is None:
            statements.append(statement)
            continue
        begun = [line for line in statement.lines if line.date >= account.opening.date]
        early = len(statement.lines) - len(begun)
        if early:
            day = full_day(account.opening.date)
            where = f"{early} line{'s' if early > 1 else ''} before {day}"
            left_out.append(LeftOut(where, f"“{account.name}” begins on that day with what it held then."))
        statements.append(replace(statement, lines=tuple(begun)))
    return replace(file, statements=tuple(statements), left_out=tuple(left_out))


def with_found(
    reading: Reading, look: Look, owners: Sequence[str | None], rules: Sequence[PayeeRule] = ()
) -> Look:  # fmt: skip
    """The look with what each line is, as the household is in a reading, of the accounts that are chosen."""
    plan = reading.moment.plan
    statements = [
        OnAccount(plan.account_by_id[owner], statement.lines) if owner is not None else None
        for statement, owner in zip(look.file.statements, owners, strict=True)
    ]
    known = known_of(reading, statements, rules)
    identified_lines = tuple(match(reading.moment, statements, known))
    named = {
        identified.entry
        for of_statement in identified_lines
        for identified in of_statement or ()
        if identified.entry is not None
    }
    entries = {entry.id: entry for entry in known.entries if entry.id in named}
    return replace(look, accounts=tuple(owners), kinds=identified_lines, entries=entries)


def known_of(reading: Reading, statements: Sequence[OnAccount | None], rules: Sequence[PayeeRule] = ()) -> Known:
    """What the household knows around the days of some lines."""
    mine = [statement for statement in statements if statement is not None]
    days = [line.date for on_account in mine for line in on_account.lines]
    accounts = list({on_account.account.id: None for on_account in mine})
    sums = {sign * line.amount for on_account in mine for line in on_account.lines for sign in (1, -1)}
    around = (_shifted(min(days), -ENTRY_DAYS), _shifted(max(days), ENTRY_DAYS)) if days else None
    recorded = reading.entries(*around, sums) if around is not None else ()
    ends: dict[str, tuple[str, ...]] = {}
    for bank_account in reading.bank_accounts().values():
        ends[bank_account.account] = (*ends.get(bank_account.account, ()), bank_account.last_four)
    lines = reading.known_lines(accounts) if accounts else dict[str, Counter[tuple[object, ...]]]()
    return Known(lines, recorded, (*rules, *reading.moment.plan.payee_rules), reading.categories_by_payee(), ends)


def _shifted(day: date, days: int) -> date:
    return max(EARLIEST, min(LATEST, day + timedelta(days=days)))


def shape_of(look: Look) -> tuple[str, str] | None:
    """The shape of a table whose columns a person named, and these as JSON text."""
    if look.shape is None or look.table is None:
        return None
    said = columns_said(look.table)
    return (look.shape, json.dumps({name: value for name, value in (said or {}).items() if value is not None}))


def places(look: Look, number: int) -> Iterator[tuple[Place, FileLine, Is]]:
    """The lines of a statement whose account is known, with what each is."""
    identified_lines = look.kinds[number]
    for at, line in enumerate(look.file.statements[number].lines):
        yield (number, at), line, identified_lines[at] if identified_lines is not None else Is("new")
