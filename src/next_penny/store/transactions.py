"""What a change is, and the parts of the transaction in which it is made: one undoable step, one revision more."""

import sqlite3
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.checks.memory import memory_problems
from next_penny.core.checks.plan import check
from next_penny.core.checks.statements import unticked
from next_penny.core.edits.conflicts import entry_list_problems, merge_problem, receipt_problems
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.kept.goals import merged
from next_penny.core.plan.memory import Memory
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import PlanError
from next_penny.store.moments import Reading
from next_penny.store.sql import accounts, plans, undo


class Decision(NamedTuple):
    """What a change comes to, worked out from the moment in which it is written; `label` says it in words."""

    changes: Sequence[PlanChange]
    label: str
    notes: Sequence[str] = ()


def decided(reading: Reading, decide: Callable[[Reading], Decision]) -> Decision:
    """What a change comes to, and what follows from it: what is gone stands on no open statement."""
    decision = decide(reading)
    return decision._replace(changes=[*decision.changes, *unticked(reading.moment.plan, decision.changes)])


class Done(NamedTuple):
    """A change that was made, what could be undone and redone after it, and the household as it then was.

    number: how often the household had been changed with it.
    """

    label: str | None
    history: undo.History
    moment: Moment
    number: int
    notes: Sequence[str] = ()


def refuse_replacement(plan: Plan, recorded: Sequence[Entry], remembered: Memory, reading: Reading) -> None:
    problems = [
        *check(plan),
        *entry_list_problems(plan, recorded),
        *memory_problems(plan, remembered),
        *receipt_problems(recorded, reading),
    ]
    if problems:
        raise PlanError(problems)


def revision_of(connection: sqlite3.Connection) -> int:
    (number,) = connection.execute("SELECT number FROM revision").fetchone()
    return int(number)


def advance(connection: sqlite3.Connection) -> int:
    """Count a change, within its transaction. Returns the revision that it makes."""
    connection.execute("UPDATE revision SET number = number + 1")
    return revision_of(connection)


@contextmanager
def undoable_step(reading: Reading, label: str) -> Iterator[None]:
    connection = reading.connection
    step = undo.begin_step(connection, label, reading.today)
    yield
    undo.end_step(connection, step)


def merge(reading: Reading, source: str, into: str) -> str:
    """Put everything of one category into another. Returns what was done. Raises PlanError."""
    category_by_id = reading.moment.plan.category_by_id
    problem = merge_problem(category_by_id, source, into)
    if problem is not None:
        raise PlanError([problem])
    label = f"Merged “{category_by_id[source].name}” into “{category_by_id[into].name}”"
    with undoable_step(reading, label):
        accounts.merge_category(reading.connection, source, into)
        plans.write_goals(reading.connection, merged(reading.moment.plan.goals, source, into))
    problems = check(plans.read_plan(reading.connection))
    if problems:
        raise PlanError(problems)
    return label


def decline(reading: Reading, key: str, label: str) -> str:
    """Offer something as a flow no more. Returns what was done."""
    with undoable_step(reading, label):
        reading.connection.execute("INSERT OR IGNORE INTO declined_candidate (key) VALUES (?)", (key,))
    return label


def take_back(reading: Reading, step: int) -> str:
    """Take back every change since one, and that one. Returns what they were. Raises KeyError as undo does."""
    labels = undo.undo_back_to(reading.connection, step)
    others = len(labels) - 1
    later = f", and {others} later change{'s' if others > 1 else ''}" if others else ""
    return labels[-1] + later
