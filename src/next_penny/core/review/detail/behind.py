"""What is behind a row of a review: the flows that expected it, the payees, the entries (docs/rules.md)."""

from collections.abc import Collection
from dataclasses import dataclass
from typing import NamedTuple

from next_penny.core.plan.entries import Entry
from next_penny.core.plan.memory import Expected
from next_penny.core.review.records import RowKey, Two
from next_penny.core.review.sums import Sums


class FlowSums(NamedTuple):
    """A flow's part of a row. flow: None for what was recorded without one. times: how many dates of it, or entries."""

    flow: str | None
    name: str
    sums: Two
    times: int


@dataclass(frozen=True, slots=True)
class PayeeSums:
    """What was recorded with a payee."""

    payee: str
    amount: int
    entries: int


class Counted(NamedTuple):
    """An entry's leg on a category (None: not sorted yet), and what it counts there."""

    entry: Entry
    category: str | None
    amount: int


class CategorySums(NamedTuple):
    """What was recorded in one of the row's categories; None is not sorted yet."""

    category: str | None
    amount: int


class Behind(NamedTuple):
    """The same sum four times over, the most first, entries the newest first.

    What an allowance expects is in none of its flows.
    """

    categories: tuple[CategorySums, ...]
    flows: tuple[FlowSums, ...]
    payees: tuple[PayeeSums, ...]
    entries: tuple[Counted, ...]


def behind(sums: Sums, keys: Collection[RowKey]) -> Behind:
    """What is behind some rows of a stretch that is added up, in minor units of the household's currency."""
    counted = [
        Counted(entry, key.id, sums.counted(entry, leg))
        for entry in sums.entries
        for leg in entry.legs
        if leg.account is None and (key := sums.key_of(leg)) in keys
    ]
    counted.sort(key=lambda count: (count.entry.date, count.entry.id), reverse=True)
    return Behind(_categories(counted), _flows(sums, keys, counted), _payees(counted), tuple(counted))


def _flows(sums: Sums, keys: Collection[RowKey], counted: Collection[Counted]) -> tuple[FlowSums, ...]:
    expected: dict[str | None, int] = {}
    actual: dict[str | None, int] = {}
    names: dict[str | None, str] = {}
    occurrences: dict[str | None, set[object]] = {}
    for row in sums.planned:
        for amount in [amount for key, amount in sums.expected_of(row) if key in keys]:
            _count(row, names, occurrences)
            expected[row.source] = expected.get(row.source, 0) + amount
    for count in counted:
        flow = count.entry.flow
        actual[flow] = actual.get(flow, 0) + count.amount
        occurrences.setdefault(flow, set()).add(count.entry.nominal if flow is not None else count.entry.id)
    flow_sums = [
        FlowSums(flow, names.get(flow) or sums.name_of_flow(flow), Two(expected.get(flow, 0), actual.get(flow, 0)),
                 len(occurrences[flow]))
        for flow in occurrences
    ]  # fmt: skip
    return tuple(sorted(flow_sums, key=lambda one_flow_sums: (-max(one_flow_sums.sums), one_flow_sums.name)))


def _count(row: Expected, names: dict[str | None, str], occurrences: dict[str | None, set[object]]) -> None:
    names[row.source] = row.name
    occurrences.setdefault(row.source, set()).add(row.nominal)


def _payees(counted: Collection[Counted]) -> tuple[PayeeSums, ...]:
    amounts: dict[str, int] = {}
    entries: dict[str, set[str]] = {}
    for count in counted:
        payee = count.entry.payee
        amounts[payee] = amounts.get(payee, 0) + count.amount
        entries.setdefault(payee, set()).add(count.entry.id)
    payee_sums = [PayeeSums(payee, amount, len(entries[payee])) for payee, amount in amounts.items()]
    return tuple(sorted(payee_sums, key=lambda one_payee_sums: (-one_payee_sums.amount, one_payee_sums.payee)))


def _categories(counted: Collection[Counted]) -> tuple[CategorySums, ...]:
    amounts: dict[str | None, int] = {}
    for count in counted:
        amounts[count.category] = amounts.get(count.category, 0) + count.amount
    return tuple(
        sorted((CategorySums(*amount) for amount in amounts.items()), key=lambda category_sums: -category_sums.amount)
    )
