"""Reconciling: a bank's statement of an account against its entries (docs/rules.md, True balances).

opening + ticked entries = closing is even; a statement is finished when it is, and then locks what it ticks.
"""

from bisect import bisect_right
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from itertools import accumulate
from uuid import uuid4

from next_penny.core.books.moment import Moment
from next_penny.core.books.registers import RegisterLine
from next_penny.core.checks.statements import not_its_opening, own_problems, statement_name, why_not_ticked
from next_penny.core.dates.calendar import add_months
from next_penny.core.dates.sentences import full_day
from next_penny.core.edits.settling.settle import Settlement, settle
from next_penny.core.money import format_amount
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.account_statements import AccountStatement, finished_of
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError, Problem, refused
from next_penny.core.reconciling.readings import adjustment, balance_on


@dataclass(frozen=True, slots=True)
class Standing:
    """How far a statement is. missing: closing less opening less what is ticked; 0 is even.

    outstanding: what the account's entries since its first statement, not ticked on any, change by its last day.
    """

    ticked: int
    missing: int
    outstanding: int
    outstanding_sum: int

    @property
    def is_even(self) -> bool:
        """Whether what is ticked comes to the closing balance."""
        return self.missing == 0


class Reconciling:
    """An account's statements beside its register: what each can have, and how far each is.

    Entries older than the account's first statement are in its opening balance: they are not asked about.
    """

    def __init__(self, plan: Plan, account: str, register: Sequence[RegisterLine]) -> None:
        own = [statement for statement in plan.statements if statement.account == account]
        self._since = min((statement.first.toordinal() for statement in own), default=0)
        self._lines = {line.entry: line for line in reversed(register)}
        self._on = {id: statement.id for statement in own for id in statement.entries}
        self._free = [line for line in self._lines.values() if line.entry not in self._on and line.day >= self._since]
        self._sums = [0, *accumulate(line.amount for line in self._free)]

    def lines_for(self, statement: AccountStatement) -> list[RegisterLine]:
        """What can be ticked on a statement, oldest first: entries by its last day that stand on no other."""
        last = statement.last.toordinal()
        return [
            line for line in self._lines.values()
            if self._on.get(line.entry) == statement.id
            or (line.entry not in self._on and self._since <= line.day <= last)
        ]  # fmt: skip

    def standing(self, statement: AccountStatement) -> Standing:
        """How far a statement is."""
        ticked = [self._lines[id].amount for id in statement.entries if id in self._lines]
        free = bisect_right(self._free, statement.last.toordinal(), key=lambda line: line.day)
        missing = statement.closing - statement.opening - sum(ticked)
        return Standing(len(ticked), missing, free, self._sums[free])


def proposed(plan: Plan, account: Account, register: Sequence[RegisterLine], today: date) -> AccountStatement:
    """The next statement, as it will most likely be: a month after the last one, opening with what that closed with.

    The first is of the last whole month, opening with what the books had before it. Its closing is not known.
    """
    done = finished_of(plan.statements, account.id)
    if done:
        first, opening = done[-1].last + timedelta(days=1), done[-1].closing
    else:
        first = max(account.opening.date, (today.replace(day=1) - timedelta(days=1)).replace(day=1))
        is_start = first == account.opening.date
        opening = account.opening.balance if is_start else balance_on(account, register, first - timedelta(days=1))
    first = min(first, today)
    # The last day of a month is followed by that of the next, whatever its number.
    last = add_months(first, 1) - timedelta(days=1)
    return AccountStatement("", account.id, first, max(first, min(last, today)), opening, opening)


def check_statement(plan: Plan, statement: AccountStatement, today: date) -> None:
    """Refuse a statement that no bank could have sent, or that does not follow the last one. Raises PlanError."""
    others = {
        (account_statement.account, account_statement.last)
        for account_statement in plan.statements
        if account_statement.id != statement.id
    }
    problems = [*own_problems(plan, statement, is_taken=(statement.account, statement.last) in others)]
    if problems:
        raise PlanError(problems)
    account = plan.account_by_id[statement.account]
    if statement.last > today:
        raise refused("to", "A statement ends today or before.", "range")
    if statement.first < account.opening.date:
        opened = format_amount(account.opening.balance, account.currency)
        message = f"“{account.name}” begins here on {full_day(account.opening.date)} with {opened}: begin there."
        raise refused("from", message, "range")
    _check_follows(plan, statement)


def _check_follows(plan: Plan, statement: AccountStatement) -> None:
    done = [
        account_statement
        for account_statement in finished_of(plan.statements, statement.account)
        if account_statement.id != statement.id
    ]
    if not done:
        return
    if statement.last <= done[-1].last:
        name = statement_name(plan, done[-1])
        raise refused("to", f"The statement of {name} is finished: this one ends after it.", "not_possible")
    if statement.opening != done[-1].closing:
        raise refused("opening", not_its_opening(plan, statement, done[-1]), "not_possible")


def refuse_finished(plan: Plan, statement: AccountStatement) -> None:
    """Refuse what would change a finished statement. Raises PlanError."""
    if not statement.is_open:
        message = f"The statement of {statement_name(plan, statement)} is finished: open it again first."
        raise PlanError([Problem((), message, "locked")])


def ticked(
    moment: Moment, statement: AccountStatement, ids: Collection[str], register: Iterable[RegisterLine]
) -> list[PlanChange]:
    """The changes by which exactly some entries stand on a statement; what was assumed is recorded by it.

    Raises PlanError at the place of the first that cannot.
    """
    days = {line.entry: date.fromordinal(line.day) for line in register}
    others = [
        account_statement
        for account_statement in moment.plan.statements
        if account_statement.account == statement.account and account_statement.id != statement.id
    ]
    elsewhere = {id for other in others for id in other.entries}
    changes: list[PlanChange] = []
    ticked: list[str] = []
    for place, id in enumerate(dict.fromkeys(ids)):
        reason = why_not_ticked(statement, days.get(id), is_taken=id in elsewhere)
        if reason is not None:
            raise PlanError([Problem(("entries", place), reason, "not_possible")])
        recorded = [change for entry in moment.assumed if entry.id == id for change in _recorded(moment, entry)]
        changes += recorded
        ticked.append(recorded[-1].id if recorded else id)
    return [*changes, PlanChange("statement", statement.id, replace(statement, entries=tuple(ticked)))]


def _recorded(moment: Moment, assumed: Entry) -> list[PlanChange]:
    """What is assumed to have happened, written down as it was; its entry comes last."""
    if assumed.flow is None or assumed.nominal is None:
        raise refused("entries", "This cannot be confirmed here: settle it first.", "not_possible")
    settled = settle(moment, Settlement(str(uuid4()), assumed.flow, assumed.nominal, day=assumed.date))
    return sorted(settled, key=lambda change: change.kind == "entry")


def finished(plan: Plan, statement: AccountStatement, missing: int, today: date, *, adjust: bool) -> list[PlanChange]:
    """The changes that finish a statement; `adjust`: what is still missing is booked on its last day, and ticked."""
    refuse_finished(plan, statement)
    check_statement(plan, statement, today)
    account = plan.account_by_id[statement.account]
    if missing and not adjust:
        off = format_amount(abs(missing), account.currency)
        message = f"{off} is missing still: tick what the bank has, or book the difference."
        raise refused("adjust", message, "unbalanced")
    booked = adjustment(plan, account, statement.last, missing)
    own = tuple(change.id for change in booked if change.kind == "entry")
    done = replace(statement, entries=(*statement.entries, *own), finished=today)
    return [*booked, PlanChange("statement", statement.id, done)]


def opened(plan: Plan, statement: AccountStatement) -> list[PlanChange]:
    """The change that opens a finished statement again, the newest of its account first. Raises PlanError."""
    if statement.is_open:
        raise refused("id", "This statement is open already.", "not_possible")
    newest = finished_of(plan.statements, statement.account)[-1]
    if newest.id != statement.id:
        message = f"The statement of {statement_name(plan, newest)} came after it: open that again first."
        raise refused("id", message, "not_possible")
    return [PlanChange("statement", statement.id, replace(statement, finished=None))]
