"""A calendar's days: what moved and is expected to move on each, and what each closes with."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

from next_penny.core.ahead.months import RowKind, kind_of, may_change, origin_kind
from next_penny.core.ahead.stretch import Stretch
from next_penny.core.books.assumed_ids import is_assumed
from next_penny.core.forecast.events import Status

Depth = Literal["clear", "cushion", "floor"]


class DayItem(NamedTuple):
    """An entry or an occurrence, once, with what it changes on the chosen accounts together; `day` is a day number.

    passed: what it moves from one of them to another. card: the card or line that it is on, where it moves nothing on
    them. entry: of what is recorded; what is taken to have happened has none.
    """

    day: int
    name: str
    net: int
    passed: int
    status: Status
    kind: RowKind
    flow: str | None
    nominal: int | None
    entry: str | None
    card: str | None

    @property
    def may_change(self) -> bool:
        """Whether its date is the household's own to change."""
        return self.entry is None and self.flow is not None and self.nominal is not None and may_change(self.kind)


class CalendarDay(NamedTuple):
    """One day: its closing balance, None before any of the accounts is open, and how deep the water is ahead.

    short_account, short_by: which of the accounts is furthest below its own floor, and by how much.
    """

    day: int
    closing: int | None
    depth: Depth
    short_account: str | None
    short_by: int
    items: list[DayItem]


def calendar_days(over: Stretch, cards: Stretch | None) -> list[CalendarDay]:
    """The days of a stretch; what is bought by card stands beside, and is in no closing balance.

    Balances of days before today are as recorded, of today and later as forecast. What allowances hold back is in the
    balances, but is no item. No water is told of days that have passed.
    """
    by_day: dict[int, list[DayItem]] = {}
    seen = set[tuple[object, ...]]()
    for stretch in (over, cards) if cards is not None else (over,):
        on_card = stretch is cards
        for key, item in (*_recorded(stretch, on_card=on_card), *_expected(stretch, on_card=on_card)):
            if key not in seen:
                seen.add(key)
                by_day.setdefault(item.day, []).append(item)
    below = {bound: over.below(bound) for bound in ("cushion", "floor")}
    shortages = over.shortages()
    begun = min(account.opening.date.toordinal() for account in over.accounts)
    days = []
    for at, balance in enumerate(over.together[1:].tolist()):
        day = over.first + at
        depth: Depth = "clear"
        short: tuple[int, str | None] = (0, None)
        if day >= over.moment.now:
            depth = "floor" if below["floor"][at] else "cushion" if below["cushion"][at] else "clear"
            short = max(((int(amounts[at]), id) for id, amounts in shortages.items()), default=short)
        by, whose = short if short[0] > 0 else (0, None)
        days.append(CalendarDay(day, balance if day >= begun else None, depth, whose, by, by_day.get(day, [])))
    return days


def _recorded(over: Stretch, *, on_card: bool) -> Iterator[tuple[tuple[object, ...], DayItem]]:
    plan = over.moment.plan
    for entry in over.recorded():
        legs = over.legs_here(entry)
        if not legs:
            continue
        flow = plan.flow_by_id.get(entry.flow or "")
        net, nominal = sum(leg.amount for leg in legs), entry.nominal.toordinal() if entry.nominal else None
        yield (
            (entry.id,),
            DayItem(
                entry.date.toordinal(), plan.name_of(entry), net, _passed([leg.amount for leg in legs], net), "settled",
                kind_of(plan, flow) if flow is not None else "recorded", entry.flow, nominal,
                None if is_assumed(entry.id) else entry.id,
                legs[0].account if on_card else None,
            ),
        )  # fmt: skip


def _passed(amounts: list[int], net: int) -> int:
    """What went from one of several accounts to another of them."""
    return (sum(map(abs, amounts)) - abs(net)) // 2


def _expected(over: Stretch, *, on_card: bool) -> Iterator[tuple[tuple[object, ...], DayItem]]:
    plan = over.moment.plan
    for occurrence in over.occurrences():
        if occurrence.origin.source == "allowance":
            continue
        net = sum(amount for _, amount in occurrence.legs)
        item = DayItem(
            occurrence.day,
            occurrence.origin.name,
            net,
            _passed([amount for _, amount in occurrence.legs], net),
            occurrence.status,
            origin_kind(plan, occurrence.origin),
            occurrence.origin.flow,
            occurrence.nominal,
            None,
            occurrence.legs[-1][0] if on_card else None,
        )
        yield (occurrence.origin, occurrence.nominal, occurrence.day), item
