"""What is wrong with an account's statements, and what a finished one locks (docs/rules.md, True balances)."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from datetime import date
from itertools import pairwise
from typing import Protocol

from next_penny.core.checks.common import no_account, unique_ids
from next_penny.core.dates.sentences import full_day
from next_penny.core.money import format_amount
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.account_statements import AccountStatement, finished_of
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Problem


class KnownEntries(Protocol):
    """What is recorded, asked of whoever keeps it."""

    def entry(self, id: str) -> Entry | None: ...


def statement_name(plan: Plan, statement: AccountStatement) -> str:
    """What a person calls a statement: its account and its last day."""
    account = plan.account_by_id.get(statement.account)
    return f"“{account.name if account else statement.account}” to {full_day(statement.last)}"


def statement_problems(plan: Plan) -> Iterator[Problem]:
    """What is wrong with the statements of a plan by themselves; what they tick is looked at with the entries."""
    yield from unique_ids("statements", (account_statement.id for account_statement in plan.statements))
    named: set[tuple[str, date]] = set()
    for place, statement in enumerate(plan.statements):
        for problem in own_problems(plan, statement, is_taken=(statement.account, statement.last) in named):
            yield problem.under("statements", place)
        named.add((statement.account, statement.last))
    places = {account_statement.id: place for place, account_statement in enumerate(plan.statements)}
    for account in {account_statement.account: None for account_statement in plan.statements}:
        for one, other in pairwise(finished_of(plan.statements, account)):
            if other.opening != one.closing:
                message = not_its_opening(plan, other, one)
                yield Problem(("statements", places[other.id], "opening"), message, "not_possible")


def own_problems(plan: Plan, statement: AccountStatement, *, is_taken: bool) -> Iterator[Problem]:
    """What is wrong with one statement: an account or days that cannot be; is_taken: another has its last day."""
    if statement.account not in plan.account_by_id:
        yield Problem(("account",), no_account(statement.account), "unknown_id")
    if statement.last < statement.first:
        yield Problem(("to",), "Its last day comes before its first: turn them round.", "range")
    if is_taken:
        message = f"There is a statement of {statement_name(plan, statement)} already: go on with that one."
        yield Problem(("to",), message, "duplicate_id")


def not_its_opening(plan: Plan, statement: AccountStatement, before: AccountStatement) -> str:
    """A statement begins with what the one before it ended with: both numbers."""
    account = plan.account_by_id.get(statement.account)
    currency = account.currency if account is not None else plan.household.currency
    opening, closing = (format_amount(amount, currency) for amount in (statement.opening, before.closing))
    return (
        f"It opens with {opening}, but the statement of {statement_name(plan, before)} closed with {closing}: "
        "give that, or open that one again."
    )


def ticked_problems(plan: Plan, recorded: Iterable[Entry]) -> Iterator[Problem]:
    """What is wrong with what statements tick, seen with all entries: each once, by the last day, and even at last."""
    if not plan.statements:
        return
    wanted = {id for account_statement in plan.statements for id in account_statement.entries}
    entry_by_id = {entry.id: entry for entry in recorded if entry.id in wanted}
    taken: set[tuple[str, str]] = set()
    for place, statement in enumerate(plan.statements):
        for at, id in enumerate(statement.entries):
            day = day_on(entry_by_id.get(id), statement.account)
            reason = why_not_ticked(statement, day, is_taken=(statement.account, id) in taken)
            if reason is not None:
                yield Problem(("statements", place, "entries", at), reason, "not_possible")
            taken.add((statement.account, id))
        known = [entry_by_id[id] for id in dict.fromkeys(statement.entries) if id in entry_by_id]
        missing = statement.closing - statement.opening - sum(entry.on(statement.account) for entry in known)
        if not statement.is_open and missing:
            message = "It is finished, but its opening and what is ticked do not come to its closing."
            yield Problem(("statements", place, "closing"), message, "unbalanced")


def day_on(entry: Entry | None, account: str) -> date | None:
    """The day of an entry that moves money on an account; None for another, or none."""
    is_there = entry is not None and any(leg.account == account for leg in entry.legs)
    return entry.date if entry is not None and is_there else None


def why_not_ticked(statement: AccountStatement, day: date | None, *, is_taken: bool) -> str | None:
    """Why an entry of a day cannot stand on a statement; None where it can. day: None where the account has none."""
    if day is None:
        return "The statement's account has no such entry: it may be deleted already."
    if day > statement.last:
        return f"This entry is of {full_day(day)}, after the last day of the statement."
    if is_taken:
        return "This entry is ticked already: an entry stands on one statement of an account."
    return None


def lock_problems(before: Plan, after: Plan, changes: Sequence[PlanChange], records: KnownEntries) -> Iterator[Problem]:
    """Changes of what a finished statement locks: its entries' day, and what they move on its account."""
    still = {account_statement.id for account_statement in after.statements if not account_statement.is_open}
    locking = [account_statement for account_statement in before.statements if account_statement.id in still]
    if not locking:
        return
    ticked = {account_statement.id: frozenset(account_statement.entries) for account_statement in locking}
    for change in changes:
        if change.kind != "entry":
            continue
        for statement in locking:
            if change.id not in ticked[statement.id]:
                continue
            field = _locked_field(records.entry(change.id), change.item, statement.account)
            if field is not None:
                done = statement_name(before, statement)
                message = f"It stands on the finished statement of {done}: open that again first."
                yield Problem(("entry", change.id, *field), message, "locked")
                break


def _locked_field(old: Entry | None, new: object, account: str) -> tuple[str, ...] | None:
    """The field of a locked entry that a change would change; None where it changes none."""
    if old is None:
        return None
    if not isinstance(new, Entry):
        return ()
    if new.date != old.date:
        return ("date",)
    return ("legs",) if new.on(account) != old.on(account) else None


def unticked(before: Plan, changes: Sequence[PlanChange]) -> list[PlanChange]:
    """What changes of entries take from open statements: who is gone, or moved away, is ticked no more."""
    moved = {change.id: change.item for change in changes if change.kind == "entry"}
    said = {change.id for change in changes if change.kind == "statement"}
    plan_changes = []
    for statement in before.statements:
        if not statement.is_open or statement.id in said or not moved.keys() & set(statement.entries):
            continue
        ticked = tuple(id for id in statement.entries if id not in moved or _still_ticked(statement, moved[id]))
        if ticked != statement.entries:
            plan_changes.append(PlanChange("statement", statement.id, replace(statement, entries=ticked)))
    return plan_changes


def _still_ticked(statement: AccountStatement, item: object) -> bool:
    day = day_on(item, statement.account) if isinstance(item, Entry) else None
    return why_not_ticked(statement, day, is_taken=False) is None
