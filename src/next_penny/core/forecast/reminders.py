"""What a calendar is told: what is expected in the coming year, and where the balance falls below a floor.

docs/rules.md, The calendar feed.
"""

import hashlib
from collections.abc import Iterator
from datetime import date
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.sentences import full_day
from next_penny.core.forecast.events import Event
from next_penny.core.forecast.low_points import stretches
from next_penny.core.forecast.projection import year_ahead
from next_penny.core.money import format_amount

_TOLD = frozenset({"flow", "loan", "card_payment"})


class CalendarItem(NamedTuple):
    """Something of one day. alarm_days: how many days before it a calendar rings; None: it does not."""

    uid: str
    day: date
    title: str
    text: str
    alarm_days: int | None


def calendar_items(moment: Moment) -> list[CalendarItem]:
    """All of the coming year, by day: occurrences of flows, loans and cards, and low points below a floor."""
    return sorted([*_occurrences(moment), *_low_points(moment)], key=lambda item: (item.day, item.title))


def _occurrences(moment: Moment) -> Iterator[CalendarItem]:
    plan, seen = moment.plan, set[tuple[str, int]]()
    for event in year_ahead(moment).events:
        flow = plan.flow_by_id.get(event.flow or "")
        if flow is None or event.nominal is None or event.source not in _TOLD or event.status == "settled":
            continue
        name = (flow.id, event.nominal)
        # A transfer moves on two accounts, and is told once: where money leaves, or comes in or back.
        ends = flow.on(date.fromordinal(event.nominal))
        on = ends.to_account if plan.lent_by(flow) is not None else ends.main_account
        if name in seen or (on is not None and event.account != on):
            continue
        seen.add(name)
        yield _item(moment, event, uid_of(flow.id, date.fromordinal(event.nominal)), flow.alarm_days)


def _item(moment: Moment, event: Event, uid: str, alarm_days: int | None) -> CalendarItem:
    account = moment.plan.account_by_id[event.account]
    amount = format_amount(abs(event.amount), account.currency)
    way = "into" if event.amount > 0 else "from"
    late = ", past due" if event.status == "past_due" else ""
    then = f"It then holds {format_amount(event.balance, account.currency)}."
    if account.is_debt and event.balance < 0:
        then = f"{format_amount(-event.balance, account.currency)} is then owed."
    text = f"{amount} {way} {account.name}{late}. {then}"
    return CalendarItem(uid, event.date, f"{event.name} {amount}", text, alarm_days)


def _low_points(moment: Moment) -> Iterator[CalendarItem]:
    forecast = year_ahead(moment)
    for run in forecast.runs:
        for stretch in stretches(run, forecast.until.toordinal()):
            if stretch.below != "floor":
                continue
            short = format_amount(stretch.short_by, run.account.currency)
            first, deepest = date.fromordinal(stretch.first), date.fromordinal(stretch.deepest)
            text = f"“{run.account.name}” is below its floor from {full_day(first)} on, the most on this day: {short}."
            yield CalendarItem(
                uid_of(f"low point {run.account.id}", first), deepest, f"{run.account.name}: {short} short", text, None
            )


def uid_of(what: str, day: date) -> str:
    """What names an item in every calendar, always the same for one occurrence."""
    return f"{hashlib.sha256(f'{what} {day}'.encode()).hexdigest()[:40]}@next-penny"
