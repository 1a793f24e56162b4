"""Months side by side: what opens one, comes in, goes out and closes it, flow by flow (docs/rules.md, Months)."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from fractions import Fraction
from typing import Literal, NamedTuple

from next_penny.core.ahead.stretch import Column, Movement, Stretch
from next_penny.core.dates.calendar import month_number, month_start
from next_penny.core.flows.occurrences import Landing, other_month_note
from next_penny.core.forecast.events import Origin
from next_penny.core.money import round_half_up
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow, FlowKind
from next_penny.core.plan.plan import Plan

RowKind = FlowKind | Literal["allowance", "card", "interest", "recorded"]
_OWN_KINDS = ("income", "bill", "transfer")
_MOVED, _BEGUN = "Moved between accounts", "Accounts begun"


class Short(NamedTuple):
    """The largest shortage below its floor of any account, and whose; 0 where none is short."""

    amount: int
    account: str | None


class Month(NamedTuple):
    """One month of chosen accounts together; `money_out` is positive, `lowest_day` a day number.

    begun: what accounts that open in it begin with, which is part of money in or out.
    """

    month: int
    opening: int
    money_in: int
    money_out: int
    closing: int
    lowest_day: int
    lowest: int
    short: Short
    begun: int

    @property
    def net(self) -> int:
        """What came in less what went out."""
        return self.money_in - self.money_out


@dataclass(slots=True)
class Cell:
    """What a row changes the accounts by in a month: recorded, and still expected of these nominal days."""

    recorded: int = 0
    expected: int = 0
    nominals: list[int] = field(default_factory=list)

    @property
    def amount(self) -> int:
        """Both together."""
        return self.recorded + self.expected


def may_change(kind: RowKind) -> bool:
    """Whether dates and amounts of a row are the household's own to change; others follow from their accounts."""
    return kind in _OWN_KINDS


def kind_of(plan: Plan, flow: Flow) -> RowKind:
    """What a flow is, those that cards and savings make of themselves apart."""
    if flow.id in plan.maker_accounts:
        return "card" if flow.kind == "transfer" else "interest"
    return flow.kind


def origin_kind(plan: Plan, origin: Origin) -> RowKind:
    """The kind of row that what comes from an origin stands in; what is recorded without a flow is `recorded`."""
    if origin.allowance is not None:
        return "allowance"
    flow = plan.flow_by_id.get(origin.flow or "")
    if flow is not None:
        return kind_of(plan, flow)
    return "recorded" if origin.source == "recorded" else "transfer"


def origin_categories(plan: Plan, origin: Origin) -> frozenset[str]:
    """The categories that what is expected from an origin is for."""
    if origin.allowance is not None:
        return frozenset(plan.allowance_by_id[origin.allowance].categories)
    flow = plan.flow_by_id.get(origin.flow or "")
    if flow is None:
        return frozenset()
    named = (flow.category, *(split.category for split in flow.splits), *(later.category for later in flow.revisions))
    return frozenset(id for id in named if id)


class RowKey(NamedTuple):
    """Which row something belongs to: a flow's, an allowance's, or a category's that has neither.

    is_beginning: what accounts begin with, which is no income and no spending.
    """

    kind: RowKind
    id: str | None
    name: str
    group: str
    is_beginning: bool = False


class Sums(NamedTuple):
    """One amount a month, as it changes the accounts."""

    amounts: tuple[int, ...]

    @property
    def total(self) -> int:
        """All months."""
        return sum(self.amounts)

    @property
    def average(self) -> int:
        """A month's share of the total, rounded once."""
        return round_half_up(Fraction(self.total, len(self.amounts)))


class Row(NamedTuple):
    """A row with one cell a month."""

    key: RowKey
    cells: list[Cell]

    @property
    def sums(self) -> Sums:
        """Its amounts, recorded and expected."""
        return Sums(tuple(cell.amount for cell in self.cells))


class Grid(NamedTuple):
    """Months, and the rows of which each month's cells sum to its net.

    money_in, money_out (negative) and net: without what accounts begin with. groups: the sums of each group's rows.
    notes: what lands in another month than its own, in sentences.
    """

    months: list[Month]
    rows: list[Row]
    money_in: Sums
    money_out: Sums
    net: Sums
    groups: dict[str, Sums]
    notes: list[str]


def grid(over: Stretch) -> Grid:
    """The months of a stretch that begins on a first of a month and ends on a last."""
    first = month_number(date.fromordinal(over.first))
    count = month_number(date.fromordinal(over.last)) - first + 1
    rows, landed = _Rows(over, first, count), dict[str, list[Landing]]()
    sums, begun = [[0, 0] for _ in range(count)], [[0, 0] for _ in range(count)]
    for movement in over.movements():
        at = month_number(date.fromordinal(movement.day)) - first
        sums[at][movement.net < 0] += abs(movement.net)
        if movement.is_beginning:
            begun[at][movement.net < 0] += abs(movement.net)
        rows.add(at, movement)
        if (landing := _planned_landing(over, movement)) is not None:
            landed.setdefault(landing[0], []).append(landing[1])
    shortages = over.shortages()
    months = [
        _month(over, shortages, first + at, sums[at][0], sums[at][1], begun[at][0] - begun[at][1])
        for at in range(count)
    ]
    came, went = ([paid[sign] - began[sign] for paid, began in zip(sums, begun, strict=True)] for sign in (0, 1))
    ordered = rows.in_order()
    return Grid(
        months, ordered, Sums(tuple(came)), Sums(tuple(-amount for amount in went)),
        Sums(tuple(one - other for one, other in zip(came, went, strict=True))), _group_sums(ordered),
        [note for flow, dates in landed.items()
         if (note := other_month_note(sorted(dates), over.moment.plan.flow_by_id[flow].name)) is not None],
    )  # fmt: skip


def _planned_landing(over: Stretch, movement: Movement) -> tuple[str, Landing] | None:
    """The flow of an expected occurrence that comes on its day of the plan, not moved by hand and not past due."""
    plan = over.moment.plan
    flow = plan.flow_by_id.get(movement.origin.flow or "") if movement.origin is not None else None
    if flow is None or movement.nominal is None or flow.id in plan.maker_accounts:
        return None
    if movement.nominal < over.moment.now == movement.day or movement.nominal in flow.exceptional.moved:
        return None
    return flow.id, Landing(date.fromordinal(movement.nominal), date.fromordinal(movement.day))


def _group_sums(rows: Sequence[Row]) -> dict[str, Sums]:
    by_group: dict[str, list[tuple[int, ...]]] = {}
    for row in rows:
        if row.key.group:
            by_group.setdefault(row.key.group, []).append(row.sums.amounts)
    return {group: Sums(tuple(map(sum, zip(*amounts, strict=True)))) for group, amounts in by_group.items()}


def _month(
    over: Stretch, shortages: Mapping[str, Column], month: int, money_in: int, money_out: int, begun: int
) -> Month:
    begin, end = month_start(month) - over.first, month_start(month + 1) - over.first
    balances = over.together[begin + 1 : end + 1]
    low = int(balances.argmin())
    short = Short(0, None)
    for account, amounts in shortages.items():
        most = int(amounts[begin:end].max())
        if most > short.amount:
            short = Short(most, account)
    return Month(month, int(over.together[begin]), money_in, money_out, int(balances[-1]), over.first + begin + low,
                 int(balances[low]), short, begun)  # fmt: skip


class _Rows:
    """Rows in the making."""

    def __init__(self, over: Stretch, first: int, count: int) -> None:
        self._over, self._first, self._count = over, first, count
        self._plan: Plan = over.moment.plan
        self._rows: dict[RowKey, list[Cell]] = {}
        self._keys: dict[Origin, RowKey] = {}
        self._allowances = {
            category: allowance for allowance in self._plan.allowances for category in allowance.categories
        }

    def add(self, at: int, movement: Movement) -> None:
        if movement.entry is not None:
            for key, amount in self._recorded(movement.entry, movement.net):
                self._cell(key, at).recorded += amount
        elif movement.origin is not None:
            if movement.origin not in self._keys:
                self._keys[movement.origin] = self._of_origin(movement.origin)
            cell = self._cell(self._keys[movement.origin], at)
            cell.expected += movement.net
            if movement.nominal is not None:
                cell.nominals.append(movement.nominal)
        else:
            self._cell(RowKey("recorded", None, _BEGUN, "", is_beginning=True), at).recorded += movement.net

    def _cell(self, key: RowKey, at: int) -> Cell:
        if key not in self._rows:
            self._rows[key] = [Cell() for _ in range(self._count)]
        return self._rows[key][at]

    def _recorded(self, entry: Entry, net: int) -> Iterator[tuple[RowKey, int]]:
        """The rows of what is recorded: its flow's; else its categories', leg by leg, and what only moved."""
        flow = self._plan.flow_by_id.get(entry.flow or "")
        if flow is not None:
            yield self._of_flow(flow), net
            return
        rest = net
        for leg in entry.legs:
            if leg.category is not None and leg.amount:
                rest += leg.amount
                yield self._of_category(leg.category), -leg.amount
        if rest:
            yield RowKey("recorded", None, _MOVED, ""), rest

    def _of_category(self, id: str) -> RowKey:
        allowance, category = self._allowances.get(id), self._plan.category_by_id.get(id)
        group = category.group if category is not None else ""
        if allowance is not None:
            return RowKey("allowance", allowance.id, allowance.name, self._plan.group_of(allowance.categories))
        return RowKey("recorded", None, category.name if category is not None else id, group)

    def _of_origin(self, origin: Origin) -> RowKey:
        if origin.allowance is not None:
            allowance = self._plan.allowance_by_id[origin.allowance]
            return RowKey("allowance", allowance.id, allowance.name, self._plan.group_of(allowance.categories))
        flow = self._plan.flow_by_id.get(origin.flow or "")
        return self._of_flow(flow) if flow is not None else RowKey("transfer", None, origin.name, "")

    def _of_flow(self, flow: Flow) -> RowKey:
        return RowKey(kind_of(self._plan, flow), flow.id, flow.name, self._plan.group_of((flow.category,)))

    def in_order(self) -> list[Row]:
        """Income first; each group once, where its first row stands; what was merely recorded after what is planned."""
        first_of: dict[str, int] = {}
        for key in self._rows:
            first_of[key.group] = min(first_of.get(key.group, len(_FIRST) + 1), _place(key.kind))
        order = {
            key: (first_of[key.group] if key.group else _place(key.kind), key.group, _place(key.kind), key.kind,
                  key.name.lower(), key.id or "")
            for key in self._rows
        }  # fmt: skip
        rows = [Row(key, cells) for key, cells in sorted(self._rows.items(), key=lambda item: order[item[0]])]
        return [row for row in rows if any(cell.amount or cell.nominals for cell in row.cells)]


_FIRST: tuple[RowKind, ...] = ("income", "interest", "bill", "allowance")


def _place(kind: RowKind) -> int:
    """Income, bills and allowances first, what was merely recorded last."""
    return _FIRST.index(kind) if kind in _FIRST else len(_FIRST) + (kind == "recorded")
