"""Lines of a bank that wait for somebody to decide what they are, and deciding it as one undoable step."""

import re
from collections.abc import Sequence
from dataclasses import replace

from fastapi import APIRouter

from next_penny.api.accounts.bank_files.answers import line_answer
from next_penny.api.accounts.bank_files.looking import known_of
from next_penny.api.accounts.bank_files.models import LineDecision, WaitingDecision, WaitingLine
from next_penny.api.accounts.bank_files.taking import decided, new_rules, renamed
from next_penny.api.edits.changes import ChangeAnswer, done_answer
from next_penny.api.http.errors import Refused, refusals, refused
from next_penny.api.http.session import Home
from next_penny.core.bank_lines.found import Is, Known, OnAccount, Place
from next_penny.core.bank_lines.matching import match
from next_penny.core.bank_lines.statements import FileLine
from next_penny.core.bank_lines.taking_in import Taken, TakingIn
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.bank_lines import BankLine, PayeeRule
from next_penny.core.problems import PlanError
from next_penny.store.moments import Reading
from next_penny.store.transactions import Decision

router = APIRouter(prefix="/api/bank-lines", tags=["files from a bank"])


@router.get("/waiting")
def read_waiting_lines(home: Home) -> list[WaitingLine]:
    """The lines that wait, the oldest first, each with what it may be."""
    reading = home.reading
    waiting = list(reading.waiting_lines().items())
    if not waiting:
        return []
    statements, identified_lines, known = _found(reading, [line for _, line in waiting])
    entries = {entry.id: entry for entry in known.entries}
    answers = []
    for (id, _), (place, account, line) in zip(waiting, statements, strict=True):
        answer = line_answer(reading, id, line, _without_partner(identified_lines[place]), entries)
        answers.append(WaitingLine(**answer.model_dump(), on=account.id, currency=account.currency))
    return answers


@router.post("/waiting")
def decide_waiting(request: WaitingDecision, home: Home) -> ChangeAnswer:
    """Say what waiting lines are, as one undoable step. `take` false: it is known, and becomes nothing."""

    def decide(reading: Reading) -> Decision:
        waiting = reading.waiting_lines()
        rules = [rule.to_core() for rule in request.payee_rules]
        for at, line in enumerate(request.lines):
            if line.key not in waiting or any(other.key == line.key for other in request.lines[:at]):
                message = "This line does not wait any more: somebody decided it already."
                raise refused(("body", "lines", at, "key"), message, "unknown_id")
        return Decision(
            [*new_rules(rules), *_decided(reading, request.lines, waiting, rules)], _label(request.lines, waiting)
        )

    return done_answer(home.change(decide))


def _decided(
    reading: Reading, lines: Sequence[LineDecision], waiting: dict[str, BankLine], rules: Sequence[PayeeRule]
) -> list[PlanChange]:  # fmt: skip
    left = [line for line in lines if not line.take]
    wanted = [line for line in lines if line.take]
    statements, identified_lines, _ = _found(reading, [waiting[line.key] for line in wanted], rules)
    taken: list[Taken] = []
    for decision, (place, account, line) in zip(wanted, statements, strict=True):
        made = decided(place, account, line, _without_partner(identified_lines[place]), decision)
        made = renamed(made, (*rules, *reading.moment.plan.payee_rules))
        taken.append(replace(made, waiting_id=decision.key))
    work = TakingIn(reading.moment, reading.entry)
    try:
        work.take(taken)
    except PlanError as error:
        numbers = {place: lines.index(decision) for decision, (place, _, _) in zip(wanted, statements, strict=True)}
        refused_lines = refusals(error.problems, ())
        for refused_line in refused_lines:
            refused_line.loc = [
                "body",
                "lines",
                numbers[int(refused_line.loc[0]), int(refused_line.loc[1])],
                *refused_line.loc[2:],
            ]
        raise Refused(refused_lines) from error
    known = [PlanChange("bank_line", line.key, replace(waiting[line.key], waiting=False)) for line in left]
    return [*work.changes, *known]


def _found(
    reading: Reading, bank_lines: Sequence[BankLine], rules: Sequence[PayeeRule] = ()
) -> tuple[list[tuple[Place, Account, FileLine]], dict[Place, Is], Known]:
    """Lines with their accounts, what each is found to be, and what the household knows around them."""
    plan = reading.moment.plan
    by_account: dict[str, list[FileLine]] = {}
    lines: list[tuple[Place, Account, FileLine]] = []
    for bank_line in bank_lines:
        payee, _, memo = bank_line.text.partition("\n")
        line = FileLine(bank_line.date, bank_line.amount, payee, memo, bank_line.bank_id)
        of_account = by_account.setdefault(bank_line.account, [])
        of_account.append(line)
        lines.append(((list(by_account).index(bank_line.account), len(of_account) - 1),
                      plan.account_by_id[bank_line.account], line))  # fmt: skip
    statements = [OnAccount(plan.account_by_id[account], of_account) for account, of_account in by_account.items()]
    known = known_of(reading, statements, rules)
    # They are known as waiting: what they are is what is asked.
    identified_lines = match(reading.moment, statements, replace(known, lines={}))
    places = {
        (number, at): identified for number, of in enumerate(identified_lines) for at, identified in enumerate(of or ())
    }
    return lines, places, known


def _without_partner(identified: Is) -> Is:
    """Each waiting line is decided by itself."""
    return replace(identified, partner=None)


def _label(lines: Sequence[LineDecision], waiting: dict[str, BankLine]) -> str:
    payee = waiting[lines[0].key].text.partition("\n")[0] or "a line"
    first = re.sub(r"\s+", " ", payee)[:60]
    done = "Took in" if lines[0].take else "Left aside"
    return f"{done} “{first}”" + (f" and {len(lines) - 1} more lines" if len(lines) > 1 else "")
