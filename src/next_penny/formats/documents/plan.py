"""The plan document: a household as one JSON document, read into the core's plan and written from it.

What goes in comes out the same; what was left out comes out with its default. Version 1.
"""

import json
from collections.abc import Callable, Iterable, Sequence
from typing import Any, Literal, TypeVar

from pydantic import Field, TypeAdapter, ValidationError, field_validator, model_validator
from pydantic_core import PydanticCustomError

from next_penny.core.plan import entries as core_entries
from next_penny.core.plan import household as core_household
from next_penny.core.plan import memory as core_memory
from next_penny.core.plan import plan as core_plan
from next_penny.core.plan.kept.bank_lines import MOST_PAYEE_RULES
from next_penny.core.problems import NextPennyError, go_on
from next_penny.formats.documents.accounts import Account
from next_penny.formats.documents.allowances import Allowance
from next_penny.formats.documents.entries import Entry, entry_values
from next_penny.formats.documents.fields import (
    Day,
    fields_of,
)
from next_penny.formats.documents.flows import Flow
from next_penny.formats.documents.household import Category, Household, Rate
from next_penny.formats.documents.kept.account_statements import AccountStatementDocument
from next_penny.formats.documents.kept.bank_lines import BankLineDocument, PayeeRuleDocument, bank_line_values
from next_penny.formats.documents.kept.goals import Goal
from next_penny.formats.documents.kept.readings import BalanceReadingDocument
from next_penny.formats.documents.kept.statements import StatementCheckDocument
from next_penny.formats.documents.kept.way_out import WayOutDocument
from next_penny.formats.documents.kept.what_ifs import WhatIfDocument
from next_penny.formats.documents.memory import Expected, expected_values

VERSION = 1
_Item = TypeVar("_Item")


class PlanDocument(Household):
    """A whole household."""

    format: Literal["next-penny-plan"]
    version: Literal[1]
    accounts: tuple[Account, ...]
    categories: tuple[Category, ...] = ()
    flows: tuple[Flow, ...] = ()
    allowances: tuple[Allowance, ...] = ()
    entries: tuple[Entry, ...] = ()
    rates: tuple[Rate, ...] = ()
    way_out: WayOutDocument | None = None
    statement_checks: tuple[StatementCheckDocument, ...] = Field((), max_length=5_000)
    what_ifs: tuple[WhatIfDocument, ...] = ()
    goals: tuple[Goal, ...] = ()
    readings: tuple[BalanceReadingDocument, ...] = Field((), max_length=50_000)
    statements: tuple[AccountStatementDocument, ...] = Field((), max_length=5_000)
    payee_rules: tuple[PayeeRuleDocument, ...] = Field((), max_length=MOST_PAYEE_RULES)
    expected: tuple[Expected, ...] = ()
    expected_until: Day | None = None
    bank_lines: tuple[BankLineDocument, ...] = ()

    @field_validator("version", mode="before")
    @classmethod
    def _not_from_the_future(cls, version: object) -> object:
        if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
            raise PydanticCustomError(
                "future_version", "This plan is of version {version}; this app reads up to {known}. Update the app.",
                {"version": version, "known": VERSION},
            )  # fmt: skip
        return version

    @model_validator(mode="before")
    @classmethod
    def _accounts_take_the_households_currency(cls, data: Any) -> Any:
        if not (isinstance(data, dict) and isinstance(data.get("accounts"), list)):
            return data
        currency = data.get("currency")
        accounts = [
            {**account, "currency": currency} if isinstance(account, dict) and "currency" not in account else account
            for account in data["accounts"]
        ]
        return {**data, "accounts": accounts}

    def to_core(self) -> core_plan.Plan:  # type: ignore[override]
        return core_plan.Plan(
            core_household.Household(**{name: getattr(self, name) for name in Household.model_fields}),
            tuple(account.to_core() for account in self.accounts),
            tuple(category.to_core() for category in self.categories),
            tuple(flow.to_core() for flow in self.flows),
            tuple(allowance.to_core() for allowance in self.allowances),
            tuple(rate.to_core() for rate in self.rates),
            self.way_out.to_core() if self.way_out is not None else None,
            tuple(check.to_core() for check in self.statement_checks),
            tuple(what_if.to_core() for what_if in self.what_ifs),
            tuple(goal.to_core() for goal in self.goals),
            tuple(reading.to_core() for reading in self.readings),
            tuple(statement.to_core() for statement in self.statements),
            tuple(rule.to_core() for rule in self.payee_rules),
        )

    def memory(self) -> core_memory.Memory:
        """What was expected, and the lines of banks that were taken in."""
        return core_memory.Memory(
            tuple(row.to_core() for row in self.expected),
            self.expected_until,
            tuple(line.to_core() for line in self.bank_lines),
        )

    def core_entries(self) -> tuple[core_entries.Entry, ...]:
        return tuple(entry.to_core() for entry in self.entries)


def plan_document(plan: core_plan.Plan, entries: Iterable[core_entries.Entry]) -> PlanDocument:
    """The document of a household."""
    return PlanDocument(
        format="next-penny-plan",
        version=1,
        **fields_of(plan.household, Household),
        accounts=tuple(Account.of(account) for account in plan.accounts),
        categories=tuple(Category.of(category) for category in plan.categories),
        flows=tuple(Flow.of(flow) for flow in plan.flows),
        allowances=tuple(Allowance.of(allowance) for allowance in plan.allowances),
        entries=tuple(Entry.of(entry) for entry in entries),
        rates=tuple(Rate.of(rate) for rate in plan.rates),
        way_out=WayOutDocument.of(plan.way_out) if plan.way_out is not None else None,
        statement_checks=tuple(StatementCheckDocument.of(check) for check in plan.statement_checks),
        what_ifs=tuple(WhatIfDocument.of(what_if) for what_if in plan.what_ifs),
        goals=tuple(Goal.of(goal) for goal in plan.goals),
        readings=tuple(BalanceReadingDocument.of(reading) for reading in plan.readings),
        statements=tuple(AccountStatementDocument.of(statement) for statement in plan.statements),
        payee_rules=tuple(PayeeRuleDocument.of(rule) for rule in plan.payee_rules),
    )


class DocumentErrors(NextPennyError):
    """A document that cannot be read: everything that Pydantic found, each with its place."""

    def __init__(self, errors: Sequence[Any]) -> None:
        super().__init__()
        self.errors = list(errors)


# Entries are looked at and written so many at a time: in between, other requests have their turn.
_AT_ONCE = 500


_ENTRIES = TypeAdapter(tuple[Entry, ...])


def read_plan_document(raw: Any) -> PlanDocument:
    """A plan document from JSON that is read already. Raises DocumentErrors."""
    entries = raw.get("entries") if isinstance(raw, dict) else None
    if not isinstance(entries, list):
        entries = []
    errors, read = list[Any](), list[Entry]()
    head = None
    try:
        head = PlanDocument.model_validate({**raw, "entries": ()} if entries else raw)
    except ValidationError as error:
        errors += error.errors()
    for first in range(0, len(entries), _AT_ONCE):
        try:
            read += _ENTRIES.validate_python(tuple(entries[first : first + _AT_ONCE]))
        except ValidationError as error:
            for one_error in error.errors():
                place, *rest = one_error["loc"]
                errors.append({**one_error, "loc": ("entries", first + int(place), *rest)})
    if head is None or errors:
        raise DocumentErrors(errors)
    return head.model_copy(update={"entries": tuple(read)}) if entries else head


def plan_json(
    plan: core_plan.Plan, entries: Sequence[core_entries.Entry], memory: core_memory.Memory = core_memory.NO_MEMORY
) -> str:
    """The document of a household as JSON text; what is in the core was read through it, and is not checked again."""
    document = plan_document(plan, ()).model_copy(update={"expected_until": memory.until})
    text = document.model_dump_json(by_alias=True)
    text = text.replace('"entries":[]', f'"entries":[{_pieces_json(entries, entry_values)}]', 1)
    # Texts have their quotation marks escaped: there is one such place.
    text = text.replace('"expected":[]', f'"expected":[{_pieces_json(memory.rows, expected_values)}]', 1)
    return text.replace('"bank_lines":[]', f'"bank_lines":[{_pieces_json(memory.bank_lines, bank_line_values)}]', 1)


def _pieces_json(items: Sequence[_Item], values: Callable[[_Item], Any]) -> str:
    pieces = []
    for first in range(0, len(items), _AT_ONCE):
        go_on()
        piece = [values(item) for item in items[first : first + _AT_ONCE]]
        pieces.append(json.dumps(piece, ensure_ascii=False, separators=(",", ":"))[1:-1])
    return ",".join(pieces)
