"""The household's file as the rest of the app sees it: read the plan and the books, change them, undo, redo.

Every change is one transaction and one undo step. Reading is cached until the file changes, by us or by another
process, so that previews while someone types cost no SQL.
"""

import sqlite3
import threading
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from datetime import date
from decimal import Decimal
from pathlib import Path
from typing import TypeVar

from next_penny.core.books import Books
from next_penny.core.check import PlanError, Problem, check, check_entry, why_in_use
from next_penny.core.overlay import PlanChange, overlay
from next_penny.core.plan import Account, Allowance, Category, Entry, Flow, Household, Plan, Rate
from next_penny.core.recorded import DailyChanges, overlay_books, overlay_daily
from next_penny.store import accounts, allowances, entries, flows, receipts, undo
from next_penny.store.connection import connect
from next_penny.store.entries import RegisterLine

_Result = TypeVar("_Result")


class Store:
    """One household's file. Safe to use from several threads."""

    def __init__(self, path: Path | str) -> None:
        self._connection = connect(path)
        self._lock = threading.RLock()
        self._cache: dict[object, object] = {}
        self._seen = -1

    def close(self) -> None:
        with self._lock:
            self._connection.close()

    def cached(self, key: object, compute: Callable[[], _Result]) -> _Result:
        """What is computed from the file, kept until the file changes."""
        return self._cached(("computed", key), lambda _: compute())

    def plan(self) -> Plan:
        return self._cached("plan", _read_plan)

    def books(self, today: date) -> Books:
        return self._cached(("books", today), lambda connection: entries.read_books(connection, today))

    def daily_changes(self, until: date) -> DailyChanges:
        return self._cached(("daily", until), lambda connection: entries.read_daily_changes(connection, until))

    def entries(self) -> tuple[Entry, ...]:
        with self._lock:
            return entries.read_entries(self._connection)

    def entry(self, id: str) -> Entry | None:
        with self._lock:
            return entries.read_entry(self._connection, id)

    def settled_on(self, day: date) -> tuple[Entry, ...]:
        """The entries recorded on a day that name a flow, newest first."""
        with self._lock:
            return entries.read_settled_on(self._connection, day)

    def register(self, account: Account) -> list[RegisterLine]:
        """An account's entries with the balance after each, newest first."""
        return self._cached(("register", account.id), lambda connection: entries.read_register(connection, account))

    def last_account(self) -> str | None:
        """The account on which an entry without a flow was recorded last."""
        return self._cached("last account", entries.read_last_account)

    def unplanned(self, since: date) -> tuple[Entry, ...]:
        """The entries since a day that name no flow, oldest first."""
        return self._cached(("unplanned", since), lambda connection: entries.read_unplanned(connection, since))

    def declined_candidates(self) -> frozenset[str]:
        """What was offered as a flow and declined."""
        rows = self._cached("declined", lambda c: c.execute("SELECT key FROM declined_candidate").fetchall())
        return frozenset(row["key"] for row in rows)

    def decline_candidate(self, key: str, label: str) -> None:
        """Offer something as a flow no more, as one undoable step."""
        with self._transaction(), self._step(label):
            self._connection.execute("INSERT OR IGNORE INTO declined_candidate (key) VALUES (?)", (key,))

    def set_aside(self, account: str, flow_ids: Sequence[str]) -> int:
        """What entries of some flows changed on an account, in all."""
        with self._lock:
            return entries.read_moved_by(self._connection, account, flow_ids)

    def recorded_by_year(self, account: str) -> Mapping[int, int]:
        """By calendar year, what was paid in entries that lowered what is owed on a loan."""
        with self._lock:
            return entries.read_paid_by_year(self._connection, account)

    def tags(self) -> list[str]:
        """Every tag in use, by name."""
        return self._cached("tags", entries.read_tags)

    def store_receipt(self, content: bytes, media_type: str, today: date) -> str:
        """Keep a receipt's file, for an entry to refer to. Returns what names it."""
        with self._transaction():
            receipts.drop_unused(self._connection, today)
            return receipts.store_file(self._connection, content, media_type, today)

    def receipt(self, file: str) -> tuple[str, bytes] | None:
        """A receipt's media type and content."""
        with self._lock:
            return receipts.read_file(self._connection, file)

    def payees(self) -> list[tuple[str, str | None, str | None]]:
        """Each payee with the account and category of its newest entry, the newest first."""
        return self._cached("payees", entries.read_payees)

    def payments(self, flow: Flow) -> list[tuple[date, int]]:
        """What was recorded for a flow on its main account, as (day, amount), oldest first."""
        with self._lock:
            return entries.read_payments(self._connection, flow.id, flow.main_account or "")

    def history(self) -> undo.History:
        with self._lock:
            return undo.history(self._connection)

    def undo(self) -> str | None:
        """Take back the newest change. Returns what it was, or None."""
        with self._transaction():
            return undo.undo(self._connection)

    def redo(self) -> str | None:
        """Bring back the change that was undone last. Returns what it was, or None."""
        with self._transaction():
            return undo.redo(self._connection)

    def apply(self, changes: Sequence[PlanChange], label: str, today: date | None = None) -> None:
        """Make changes as one undoable step; new entries remember that they were recorded `today`.

        Raises PlanError, and changes nothing, if the plan could not be so.
        """
        with self._lock:
            with self._transaction():
                before = self.plan()
                after = overlay(before, changes)
                problems = self.problems(after, changes)
                if problems:
                    raise PlanError(problems)
                kept = self._still_true(changes) if after is before else {}
                with self._step(label):
                    for change in changes:
                        _write(self._connection, change, today)
            self._cache.update(kept)

    def _still_true(self, changes: Sequence[PlanChange]) -> dict[object, object]:
        """What need not be read again after changes to entries alone: the plan; if all are new, the books with them."""
        kept: dict[object, object] = {"plan": self.plan()}
        added = {change.id: change.item for change in changes if isinstance(change.item, Entry)}
        if len(added) < len(changes) or any(entries.read_entry(self._connection, id) for id in added):
            return kept
        for key, value in self._cache.items():
            match key, value:
                case ("books", date() as day), Books():
                    kept[key] = overlay_books(value, changes, lambda id: None, day)
                case ("daily", date() as day), dict():
                    kept[key] = overlay_daily(value, [entry for entry in added.values() if entry.date <= day])
        return kept

    def replace(self, plan: Plan, recorded: Iterable[Entry], label: str) -> None:
        """Put a whole household in the place of the one in the file, as one undoable step."""
        recorded = tuple(recorded)
        problems = [*check(plan), *entry_list_problems(plan, recorded), *self._missing_in(recorded)]
        if problems:
            raise PlanError(problems)
        with self._transaction(), self._step(label):
            _empty(self._connection)
            _write_household(self._connection, plan.household)
            for account in plan.accounts:
                accounts.write_account(self._connection, account)
            for category in plan.categories:
                accounts.write_category(self._connection, category)
            named = {entry.flow for entry in recorded}
            for flow in plan.all_flows:
                # A loan's payment of its own making is written only where an entry names it.
                if flow in plan.flows or flow.id in named:
                    flows.write_flow(self._connection, flow)
            for allowance in plan.allowances:
                allowances.write_allowance(self._connection, allowance)
            for entry in recorded:
                entries.write_entry(self._connection, entry)
            _write_rates(self._connection, plan.rates)

    def _missing_in(self, recorded: Sequence[Entry]) -> Iterator[Problem]:
        named = {entry.receipt.file for entry in recorded if entry.receipt is not None}
        with self._lock:
            missing = receipts.missing(self._connection, named)
        for place, entry in enumerate(recorded):
            if entry.receipt is not None and entry.receipt.file in missing:
                yield Problem(("entries", place, "receipt"), _NO_RECEIPT, "unknown_id")

    def forget_history(self) -> None:
        """Let what was done so far be the beginning: nothing of it can be undone."""
        with self._transaction():
            undo.forget(self._connection)

    def merge_category(self, source: str, into: str) -> str:
        """Put everything of one category into another, as one undoable step. Returns what was done, in words."""
        with self._transaction():
            held = {category.id: category for category in self.plan().categories}
            problem = _merge_problem(held, source, into)
            if problem is not None:
                raise PlanError([problem])
            label = f"Merged “{held[source].name}” into “{held[into].name}”"
            with self._step(label):
                accounts.merge_category(self._connection, source, into)
            problems = check(_read_plan(self._connection))
            if problems:
                raise PlanError(problems)
        return label

    def problems(self, after: Plan, changes: Sequence[PlanChange]) -> list[Problem]:
        """What forbids changes that lead to a plan; first of all, that something still uses what is to be deleted."""
        in_use = list(self._deletion_problems(after, changes))
        recorded = [*self._settled_twice(changes), *self._missing_receipts(changes)]
        # A plan that is held already was checked when it came to be.
        of_plan = [] if after is self.plan() else check(after)
        return in_use or [*of_plan, *_entry_problems(after, changes), *recorded]

    def _missing_receipts(self, changes: Sequence[PlanChange]) -> Iterator[Problem]:
        for change in changes:
            if isinstance(change.item, Entry) and change.item.receipt is not None:
                with self._lock:
                    missing = receipts.missing(self._connection, [change.item.receipt.file])
                if missing:
                    yield Problem(("entry", change.id, "receipt"), _NO_RECEIPT, "unknown_id")

    def _settled_twice(self, changes: Sequence[PlanChange]) -> Iterator[Problem]:
        going = {change.id for change in changes if change.kind == "entry"}
        made: set[tuple[str, date]] = set()
        for change in changes:
            entry = change.item
            if not isinstance(entry, Entry) or entry.flow is None or entry.nominal is None:
                continue
            with self._lock:
                others = entries.settling(self._connection, entry.flow, entry.nominal) - going
            if others or (entry.flow, entry.nominal) in made:
                yield Problem(("entry", change.id, "nominal"), _twice(entry), "settled_twice")
            made.add((entry.flow, entry.nominal))

    def _deletion_problems(self, after: Plan, changes: Sequence[PlanChange]) -> Iterator[Problem]:
        for change in changes:
            if change.item is not None or change.kind not in ("account", "category", "flow"):
                continue
            reason = why_in_use(after, change.kind, change.id)
            with self._lock:
                recorded = entries.count_on(self._connection, **{change.kind: change.id})
            if reason is None and recorded:
                several = "entry names" if recorded == 1 else "entries name"
                reason = f"{recorded} recorded {several} this {change.kind}: what has happened is kept."
            if reason is not None:
                yield Problem((change.kind, change.id), reason, "in_use")

    @contextmanager
    def _transaction(self) -> Iterator[None]:
        with self._lock:
            self._connection.execute("BEGIN IMMEDIATE")
            try:
                yield
            except BaseException:
                self._connection.execute("ROLLBACK")
                self._cache.clear()
                raise
            self._connection.execute("COMMIT")
            self._cache.clear()

    @contextmanager
    def _step(self, label: str) -> Iterator[None]:
        step = undo.begin_step(self._connection, label)
        yield
        undo.end_step(self._connection, step)

    def _cached(self, key: object, read: Callable[[sqlite3.Connection], _Result]) -> _Result:
        with self._lock:
            (version,) = self._connection.execute("PRAGMA data_version").fetchone()
            if self._seen != version:
                self._cache.clear()
                self._seen = version
            if key not in self._cache:
                self._cache[key] = read(self._connection)
            return self._cache[key]  # type: ignore[return-value]


def _read_plan(connection: sqlite3.Connection) -> Plan:
    row = connection.execute("SELECT name, currency, country, past_due FROM household").fetchone()
    rates = tuple(
        Rate(date.fromisoformat(rate["date"]), rate["source"], rate["target"], Decimal(rate["rate"]))
        for rate in connection.execute("SELECT * FROM rate ORDER BY seq")
    )
    return Plan(
        Household(row["name"], row["currency"], row["country"], row["past_due"]),
        accounts.read_accounts(connection),
        accounts.read_categories(connection),
        flows.read_flows(connection),
        allowances.read_allowances(connection),
        rates,
    )


def _write(connection: sqlite3.Connection, change: PlanChange, today: date | None) -> None:
    match change.item:
        case Household() as household:
            _write_household(connection, household)
        case Account() as account:
            accounts.write_account(connection, account)
        case Category() as category:
            accounts.write_category(connection, category)
        case Flow() as flow:
            flows.write_flow(connection, flow)
        case Allowance() as allowance:
            allowances.write_allowance(connection, allowance)
        case Entry() as entry:
            entries.write_entry(connection, entry, today)
        case None:
            _DELETES[change.kind](connection, change.id)


_DELETES: dict[str, Callable[[sqlite3.Connection, str], None]] = {
    "account": accounts.delete_account,
    "category": accounts.delete_category,
    "flow": flows.delete_flow,
    "allowance": allowances.delete_allowance,
    "entry": entries.delete_entry,
}
# Children first, so that no row is left without what it refers to.
_TABLES = (
    *("leg", "entry", "allowance_category", "allowance_revision", "allowance"),
    *("flow_rule", "flow_date", "flow_season", "flow_revision", "flow_change", "flow_split", "flow"),
    *("category", "account", "rate"),
)


def _empty(connection: sqlite3.Connection) -> None:
    for table in _TABLES:
        connection.execute(f"DELETE FROM {table}")


def _write_household(connection: sqlite3.Connection, household: Household) -> None:
    connection.execute(
        "UPDATE household SET name = ?, currency = ?, country = ?, past_due = ?",
        (household.name, household.currency, household.country, household.past_due),
    )


def _write_rates(connection: sqlite3.Connection, rates: Iterable[Rate]) -> None:
    connection.executemany(
        "INSERT INTO rate (date, source, target, rate) VALUES (?, ?, ?, ?)",
        [(rate.date.isoformat(), rate.source, rate.target, str(rate.rate)) for rate in rates],
    )


def _entry_problems(plan: Plan, changes: Sequence[PlanChange]) -> Iterator[Problem]:
    for change in changes:
        if isinstance(change.item, Entry):
            for problem in check_entry(plan, change.item):
                yield Problem(("entry", change.id, *problem.loc), problem.message, problem.kind)


def entry_list_problems(plan: Plan, recorded: Sequence[Entry]) -> Iterator[Problem]:
    seen: set[str] = set()
    settled: set[tuple[str, date]] = set()
    for place, entry in enumerate(recorded):
        if entry.id in seen:
            yield Problem(("entries", place, "id"), f"The id “{entry.id}” is used twice in entries.", "duplicate_id")
        seen.add(entry.id)
        if entry.flow is not None and entry.nominal is not None:
            if (entry.flow, entry.nominal) in settled:
                yield Problem(("entries", place, "nominal"), _twice(entry), "settled_twice")
            settled.add((entry.flow, entry.nominal))
        for problem in check_entry(plan, entry):
            yield Problem(("entries", place, *problem.loc), problem.message, problem.kind)


def _merge_problem(held: Mapping[str, Category], source: str, into: str) -> Problem | None:
    for field, id in (("from", source), ("into", into)):
        if id not in held:
            return Problem((field,), f"There is no category “{id}”.", "unknown_id")
    if source == into:
        return Problem(("into",), "A category cannot be merged into itself: choose another.", "same_category")
    if held[source].kind != held[into].kind:
        return Problem(("into",), "Money in and money out cannot be merged.", "other_kind")
    return None


_NO_RECEIPT = "This household's file does not hold that receipt: attach it again."


def _twice(entry: Entry) -> str:
    return f"The occurrence of {entry.nominal} is settled already: an occurrence is settled once."
