"""One moment of the household's file: what is read of it is read in one transaction."""

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Protocol, TypeVar

from propcache.api import cached_property

from next_penny.core.books.moment import Cache, Moment
from next_penny.core.books.registers import RegisterLine, register
from next_penny.core.flows.assumed import moment_of
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.bank_lines import BankAccount, BankLine
from next_penny.core.plan.kept.connections import NoticePattern, Service
from next_penny.core.plan.memory import Expected, Key, Memory
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.part import ids
from next_penny.core.review.history import Step
from next_penny.store.file.connection import Connection
from next_penny.store.file.content import state_of
from next_penny.store.sql import bank_lines, entries, memory, plans, receipts, seen, services, sums, undo

# How the store finds the moment of a connection's transaction, at a revision, seen from a day.
Answer = TypeVar("Answer")
FindMoment = Callable[[Connection, int, date], Moment]


@dataclass(frozen=True)
class AtRevision:
    """What was read of the file at one revision: the plan, and moments by the day they are seen from."""

    number: int
    plan: Plan
    moments: dict[date, Moment] = field(default_factory=dict)


class Remembered:
    """The newest revision that was read or written, in memory. Safe between threads: it is replaced whole."""

    def __init__(self) -> None:
        self.newest: AtRevision | None = None

    def find(self, connection: Connection, number: int, today: date) -> Moment:
        """The household at a revision, from memory or from the file. A moment that others know is not waited for."""
        at_revision = self.newest
        if at_revision is None or at_revision.number != number:
            read = AtRevision(number, plans.read_plan(connection))
            if at_revision is None or at_revision.number < number:
                self.newest = read
            before, at_revision = at_revision, read
        else:
            before = at_revision
        if today not in at_revision.moments:
            cache = next(iter(before.moments.values())).cache if before and before.moments else Cache()
            at_revision.moments[today] = moment_of(at_revision.plan, sums.read_books(connection, today), today, cache)
        return at_revision.moments[today]


class Checked(Protocol):
    """The open file that a connection reads."""

    def check_read(self, connection: Connection) -> None:
        """Raises FileFault where what was read may be a mixture of two files."""


class Reading:
    """The household at one moment, within a transaction."""

    def __init__(self, connection: Connection, number: int, today: date, find: FindMoment, file: Checked) -> None:
        self.connection, self.number, self.today = connection, number, today
        self._find, self._file = find, file
        self._entries: dict[str, Entry | None] = {}

    def _asked(self, read: Callable[[], Answer]) -> Answer:
        """What is read, once it is sure that it was read of one file: another may be written over it meanwhile."""
        try:
            return read()
        finally:
            self._file.check_read(self.connection)

    @cached_property
    def moment(self) -> Moment:
        """Its plan, its recorded money and today."""
        return self._asked(lambda: self._find(self.connection, self.number, self.today))

    def entries(
        self, first: date = date.min, last: date = date.max, amounts: Iterable[int] | None = None
    ) -> tuple[Entry, ...]:  # fmt: skip
        """All that was recorded of some days, in the order in which it was; `amounts`: that moves one of these."""
        return self._asked(lambda: entries.read_entries(self.connection, first, last, amounts))

    def memory(self) -> Memory:
        """What was expected, and the day up to which it is written down."""
        return self._asked(lambda: memory.read_memory(self.connection))

    def dated(self, first: date, last: date) -> tuple[Entry, ...]:
        """Everything recorded in some days, oldest first."""
        return self._asked(lambda: entries.read_dated(self.connection, first, last))

    def paid_for(self, first: date, last: date, of: Collection[str] | None = None) -> tuple[Entry, ...]:
        """What was recorded for occurrences of some flows, or all, with a nominal day in some days; in part too."""
        return self._asked(lambda: entries.read_paid_for(self.connection, first, last, of))

    def expected_until(self) -> date | None:
        """The day up to which what was expected is written down."""
        return self._asked(lambda: memory.read_until(self.connection))

    def expected_between(self, first: date, last: date, of: Collection[str] | None = None) -> tuple[Expected, ...]:
        """What is remembered of some days, of some sources or all; of allowances, every period that has one of them."""
        return self._asked(lambda: memory.read_between(self.connection, first, last, of))

    def expected_keys(self, first: date, last: date) -> frozenset[Key]:
        """What is remembered with a nominal day from a day to a day."""
        return self._asked(lambda: memory.read_keys(self.connection, first, last))

    def entry(self, id: str) -> Entry | None:
        """The entry of an id, if there is one: as it is at this moment, before what is then written."""
        if id not in self._entries:
            self._entries[id] = self._asked(lambda: entries.read_entry(self.connection, id))
        return self._entries[id]

    def times_named(self, kind: str, id: str) -> int:
        """How many entries name an account, a category or a flow."""
        return self._asked(lambda: sums.count_on(self.connection, **{kind: id}))

    def is_remembered(self, kind: str, id: str) -> bool:
        """Whether what was expected names an account or a category."""
        return kind in ("account", "category") and self._asked(lambda: memory.names(self.connection, kind, id))

    def has_receipt(self, file: str) -> bool:
        """Whether the file holds a receipt's content."""
        return self._asked(lambda: not receipts.missing(self.connection, [file]))

    def settled_on(self, day: date) -> tuple[Entry, ...]:
        """The entries recorded on a day that name a flow, newest first."""
        return self._asked(lambda: entries.read_settled_on(self.connection, day))

    def register(self, account: Account) -> list[RegisterLine]:
        """An account's entries, recorded or assumed, with the balance after each, newest first."""
        return self.moment.keep(
            f"register {account.id}",
            lambda: register(self.moment, account, self._asked(lambda: sums.read_register(self.connection, account))),
        )

    def last_account(self) -> str | None:
        """The account on which an entry without a flow was recorded last."""
        return self._asked(lambda: sums.read_last_account(self.connection))

    def last_numbers(self) -> dict[str, str]:
        """By account whose entries have numbers, the one of its newest such entry."""
        return self._asked(lambda: sums.read_last_numbers(self.connection))

    def unplanned(self, since: date) -> tuple[Entry, ...]:
        """The entries since a day that name no flow, oldest first."""
        return self._asked(lambda: entries.read_unplanned(self.connection, since))

    def of_loan(self, account: Account, paid: tuple[int, int] | None = None) -> tuple[Entry, ...]:
        """What concerns a loan or its escrow account, and, if wanted, what paid a sum between two, oldest first."""
        flow = self.moment.plan.loan_flow(account.id)
        accounts = [account.id, *ids(account.escrow_account)]
        return self._asked(
            lambda: entries.read_concerning(self.connection, accounts, flow.id if flow is not None else "", paid)
        )

    def between(self, accounts: Sequence[Account], first: date, last: date) -> tuple[Entry, ...]:
        """What was recorded on some accounts in some days, oldest first."""
        return self._asked(
            lambda: entries.read_between(self.connection, [account.id for account in accounts], first, last)
        )

    def of_loans(self) -> tuple[Entry, ...]:
        """What may concern a loan, its escrow or a property, by flow, account or tag; oldest first."""
        plan = self.moment.plan
        accounts = [id for account, terms in plan.loans for id in (account.id, *ids(terms.escrow_account))]
        flows = [flow.id for flow in plan.all_flows if flow.property is not None or flow.kind == "loan_payment"]
        return self._asked(lambda: entries.read_of(self.connection, accounts, flows))

    def declined_candidates(self) -> frozenset[str]:
        """What was offered as a flow and declined."""
        return self._asked(
            lambda: frozenset(row["key"] for row in self.connection.execute("SELECT key FROM declined_candidate"))
        )

    def set_aside(self, account: str, flow_ids: Sequence[str]) -> int:
        """What entries of some flows changed on an account, in all."""
        return self._asked(lambda: sums.read_moved_by(self.connection, account, flow_ids))

    def tags(self) -> list[str]:
        """Every tag in use, by name."""
        return self.moment.keep("tags", lambda: self._asked(lambda: sums.read_tags(self.connection)))

    def find(self, text: str, amounts: Sequence[int], most: int) -> tuple[Entry, ...]:
        """The newest entries with a text in payee, notes or tags, or one of some amounts."""
        return self._asked(lambda: entries.find(self.connection, text, amounts, most))

    def tagged(self, first: date, last: date) -> tuple[Entry, ...]:
        """What was tagged in some days, oldest first."""
        return self._asked(lambda: entries.read_tagged(self.connection, first, last))

    def tagged_years(self) -> list[int]:
        """The years in which something was tagged, newest first."""
        return self._asked(lambda: sums.read_tagged_years(self.connection))

    def receipt(self, file: str) -> tuple[str, bytes] | None:
        """A receipt's media type and content."""
        return self._asked(lambda: receipts.read_file(self.connection, file))

    def payees(self) -> list[tuple[str, str | None, str | None]]:
        """Each payee with the account and category of its newest entry, the newest first."""
        return self.moment.keep("payees", lambda: self._asked(lambda: sums.read_payees(self.connection)))

    def payments(self, flow: Flow) -> list[tuple[date, int]]:
        """What was recorded for a flow on its main account, as (day, amount), oldest first."""
        return self._asked(lambda: sums.read_payments(self.connection, flow.id, flow.main_account or ""))

    def lineage(self) -> str:
        """Which household it is, whatever its file is called."""
        return self._asked(lambda: state_of(self.connection)).lineage

    def history(self) -> undo.History:
        """What could be undone and redone."""
        return self._asked(lambda: undo.history(self.connection))

    def steps(self, most: int) -> list[Step]:
        """The newest changes that undo and redo walk over, the newest first."""
        return self._asked(lambda: undo.steps(self.connection, most))

    def goals_seen(self) -> dict[str, tuple[date, bool]]:
        """By goal, the first day of the period in which it was looked at last, and whether it was met then."""
        return self._asked(lambda: seen.read_seen(self.connection))

    def noticed_seen(self) -> frozenset[str]:
        """The keys of what was worth a look and was looked at."""
        return self._asked(lambda: seen.read_noticed(self.connection))

    def known_lines(self, accounts: Sequence[str]) -> dict[str, Counter[tuple[object, ...]]]:
        """By account, how often each line of a bank was taken in or waits."""
        return self._asked(lambda: bank_lines.read_known(self.connection, accounts))

    def waiting_lines(self) -> dict[str, BankLine]:
        """The lines of banks that wait for somebody to decide, by what names them, the oldest first."""
        return self.moment.keep("waiting", lambda: self._asked(lambda: bank_lines.read_waiting(self.connection)))

    def bank_accounts(self) -> dict[str, BankAccount]:
        """The accounts of banks whose lines were taken in, by the hash of their numbers."""
        return self._asked(lambda: bank_lines.read_bank_accounts(self.connection))

    def table_shape(self, shape: str) -> str | None:
        """The columns of tables of a shape, as JSON text; None where nobody named them."""
        return self._asked(lambda: bank_lines.read_shape(self.connection, shape))

    def categories_by_payee(self) -> dict[str, str]:
        """By payee, in small letters, the category that it was recorded with last."""
        return self._asked(lambda: bank_lines.read_categories_by_payee(self.connection))

    def place_in_history(self) -> tuple[int, int]:
        """What changes with every change that can be undone, and with every undo and redo."""
        return self._asked(lambda: undo.place(self.connection))

    def newest_bank_days(self) -> dict[str, date]:
        """By account, the day of the newest line of a bank that was taken in or waits."""
        return self._asked(lambda: bank_lines.read_newest(self.connection))

    def services(self) -> tuple[Service, ...]:
        """The services that are asked for what is new, with their secrets."""
        return self._asked(lambda: services.read_services(self.connection))

    def notice_patterns(self) -> dict[str, NoticePattern]:
        """By sender, where its messages tell a balance."""
        return self._asked(lambda: services.read_patterns(self.connection))

    def notices_taken(self) -> frozenset[str]:
        """The messages whose balance was taken."""
        return self._asked(lambda: services.read_taken(self.connection))

    def feed_secret(self) -> str | None:
        """The secret in the calendar feed's address; None where there is no feed."""
        return self._asked(lambda: services.read_secret(self.connection))

    def first_seen(self) -> dict[str, date]:
        """By payee, the day of its first entry."""
        return self._asked(lambda: sums.read_first_seen(self.connection))
