"""What a person decided about the lines of a look, as the changes of one step."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, NamedTuple

from next_penny.api.accounts.bank_files.looking import (
    Look,
    bank_account,
    key_of,
    place_of,
    shape_of,
    with_found,
)
from next_penny.api.accounts.bank_files.models import ImportRequest, LineDecision
from next_penny.api.http.errors import Refused, refusals, refused
from next_penny.core.bank_lines.found import Is, Place
from next_penny.core.bank_lines.statements import FileLine
from next_penny.core.bank_lines.taking_in import Counts, Take, Taken, TakingIn, waits
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.kept.bank_lines import PayeeRule, TableShape, rule_for
from next_penny.core.plan.kept.readings import BalanceReading
from next_penny.core.plan.plan import Plan
from next_penny.core.problems import Loc, PlanError
from next_penny.store.moments import Reading


class Result(NamedTuple):
    """What taking in comes to."""

    changes: list[PlanChange]
    counts: Counts
    known: int
    waiting: int
    label: str
    statements: tuple[tuple[int, Account], ...]
    categories: dict[str, str]
    names: dict[str, str]

    @property
    def accounts(self) -> tuple[Account, ...]:
        """The accounts into which lines are taken, each once."""
        return tuple({account.id: account for _, account in self.statements}.values())


@dataclass(frozen=True)
class _Asked:
    """What is to become of one statement; lines by place, None where all are to be as they were looked at."""

    number: int
    account: Account
    lines: dict[Place, tuple[int, LineDecision]] | None
    at: int | None


def taken_in(reading: Reading, look: Look, request: ImportRequest) -> Result:
    """The changes that take lines in, as they were decided. Raises Refused and PlanError."""
    plan = reading.moment.plan
    asked = _asked(plan, look, request)
    owners = list(look.accounts)
    for wanted in asked:
        owners[wanted.number] = wanted.account.id
    rules = [rule.to_core() for rule in request.payee_rules]
    is_as_looked_at = tuple(owners) == look.accounts and not rules
    found_decided = (look if is_as_looked_at else with_found(reading, look, owners, rules)).kinds
    taken, waiting, known = list[Taken](), list[PlanChange](), 0
    for wanted in asked:
        of_statement = found_decided[wanted.number] or []
        for at, is_found in enumerate(of_statement):
            place = (wanted.number, at)
            known += is_found.kind == "known"
            decision = (wanted.lines or {}).get(place, (0, None))[1]
            if is_found.kind == "known":
                continue
            if decision is None and is_found.offered:
                waiting.append(waits(wanted.account, look.line(place)))
            elif decision.take if decision is not None else wanted.lines is None:
                line = look.line(place)
                made = decided(place, wanted.account, line, is_found, decision)
                taken.append(renamed(made, (*rules, *plan.payee_rules)))
    work = TakingIn(reading.moment, reading.entry)
    try:
        counts = work.take(taken)
    except PlanError as error:
        raise _placed(error, asked) from error
    readings = [change for one_wanted in asked for change in _closing(reading, look, one_wanted)]
    changes = [*new_rules(rules), *work.changes, *waiting, *readings, *_remembered(look, asked)]
    statements = tuple((one_wanted.number, one_wanted.account) for one_wanted in asked)
    categories = {
        key_of(taken_line.place): taken_line.category
        for taken_line in taken
        if taken_line.kind == "new" and taken_line.category
    }
    names = {key_of(taken_line.place): taken_line.shown for taken_line in taken if taken_line.shown}
    label = _label(counts.taken, statements)
    return Result(changes, counts, known, len(waiting), label, statements, categories, names)


def _placed(error: PlanError, asked: Sequence[_Asked]) -> Refused:
    """The problems of lines at the places where the request has them."""
    found_refusals = refusals(error.problems, ())
    for refusal in found_refusals:
        number, at, *rest = refusal.loc
        statement = next((wanted for wanted in asked if wanted.number == number), None)
        if statement is None or statement.at is None:
            refusal.loc = ["body", "statements", number, "lines", at, *rest]
            continue
        listed = (statement.lines or {}).get((int(number), int(at)))
        refusal.loc = ["body", "statements", statement.at, "lines", listed[0] if listed is not None else at, *rest]
    return Refused(found_refusals)


def _asked(plan: Plan, look: Look, request: ImportRequest) -> list[_Asked]:
    if request.statements is None:
        return [_Asked(number, account, None, None) for number, owner in enumerate(look.accounts)
                if (account := plan.account_by_id.get(owner or "")) is not None]  # fmt: skip
    decided: list[_Asked] = []
    for at, statement in enumerate(request.statements):
        loc: Loc = ("body", "statements", at)
        account = plan.account_by_id.get(statement.account)
        if account is None:
            raise refused((*loc, "account"), f"There is no account “{statement.account}”.", "unknown_id")
        lines = _lines(look, statement.lines, loc) if statement.lines is not None else None
        number = next(iter(lines))[0] if lines else _number(look, at, statement.account)
        if number >= len(look.file.statements) or any(wanted.number == number for wanted in decided):
            raise refused((*loc, "lines"), "This look has no such statement, or has it only once.", "unknown_id")
        currency = look.file.statements[number].currency or look.currency
        if currency != account.currency:
            message = f"This statement is in {currency}, “{account.name}” in {account.currency}: choose another."
            raise refused((*loc, "account"), message, "currency")
        decided.append(_Asked(number, account, lines, at))
    return decided


def _number(look: Look, at: int, account: str) -> int:
    """Which statement is meant where no line says so: the one of that account, else the one at that place."""
    return next((number for number, owner in enumerate(look.accounts) if owner == account), at)


def _lines(look: Look, lines: Sequence[LineDecision], loc: Loc) -> dict[Place, tuple[int, LineDecision]]:
    decided: dict[Place, tuple[int, LineDecision]] = {}
    for at, line in enumerate(lines):
        place = place_of(line.key)
        is_there = place is not None and 0 <= place[0] < len(look.file.statements)
        if place is None or not is_there or not 0 <= place[1] < len(look.file.statements[place[0]].lines):
            raise refused((*loc, "lines", at, "key"), f"This file has no line “{line.key}”.", "unknown_id")
        if place in decided or (decided and next(iter(decided))[0] != place[0]):
            raise refused((*loc, "lines", at, "key"), "Each line is of one statement, and stands once.", "duplicate_id")
        decided[place] = (at, line)
    return decided


def decided(place: Place, account: Account, line: FileLine, identified: Is, decision: LineDecision | None) -> Taken:
    """A line as it is to be taken in: as it was decided, and for the rest as it was found to be."""
    wanted = decision.kind if decision is not None and decision.kind is not None else identified.kind
    kind: Take = wanted if wanted != "known" else "new"
    # With another account on its other side it is another transfer than the one that was found.
    is_same = kind == identified.kind and (decision is None or decision.account in (None, identified.account))

    def value(name: str) -> Any:
        given = getattr(decision, name) if decision is not None and name in decision.model_fields_set else None
        return given if given is not None else getattr(identified, name) if is_same else None

    return Taken(
        place, line, account, kind, entry=value("entry"), flow=value("flow"), nominal=value("nominal"),
        other=value("account"), category=value("category"), partner=identified.partner if is_same else None,
    )  # fmt: skip


def renamed(taken: Taken, rules: Sequence[PayeeRule]) -> Taken:
    """What is new under the name by which the household's rules show its payee."""
    rule = rule_for(rules, taken.line.payee, taken.account.id, taken.line.amount) if taken.kind == "new" else None
    return replace(taken, shown=rule.shown) if rule is not None else taken


def new_rules(rules: Sequence[PayeeRule]) -> list[PlanChange]:
    """Rules for payees made in the same step."""
    return [PlanChange("payee_rule", rule.id, rule) for rule in rules]


def _closing(reading: Reading, look: Look, asked: _Asked) -> list[PlanChange]:
    """The closing balance as a reading, where its day is one on which the account can have been looked at."""
    closing = look.file.statements[asked.number].closing
    if closing is None or not asked.account.opening.date <= closing.date <= reading.today:
        return []
    balance_reading = BalanceReading(asked.account.id, closing.date, closing.balance, "bank")
    return [PlanChange("reading", balance_reading.id, balance_reading)]


def _remembered(look: Look, asked: Sequence[_Asked]) -> list[PlanChange]:
    """Into which account a bank's number was taken, and which column is what in a table of its shape."""
    changes: list[PlanChange] = []
    for wanted in asked:
        number = look.file.statements[wanted.number].number
        if number is not None:
            existing = bank_account(number, wanted.account.id)
            changes.append(PlanChange("bank_account", existing.hash, existing))
    shape = shape_of(look)
    if shape is not None and asked:
        changes.append(PlanChange("table_shape", shape[0], TableShape(*shape)))
    return changes


def _label(count: int, statements: Sequence[tuple[int, Account]]) -> str:
    names = {account.id: account.name for _, account in statements}
    of = f"“{next(iter(names.values()))}”" if len(names) == 1 else f"{len(names)} accounts"
    return f"Took in {count:,} line{'s' if count != 1 else ''} of {of}"
