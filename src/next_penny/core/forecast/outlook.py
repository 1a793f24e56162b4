"""Are we all right until the next payday: when it is, and what is free above the floor until then."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from next_penny.core.forecast.events import EventTable
from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import Forecast

_PAYDAYS_WITHIN = 35


@dataclass(frozen=True, slots=True)
class Payday:
    """The next income on an account, and the account's lowest headroom before it (negative: short by that much)."""

    account: str
    day: int
    name: str
    amount: int
    days_until: int
    free_until: int


def next_payday(forecast: Forecast, account: str) -> Payday | None:
    """The next income on an account that is at least half of the largest in the five weeks from the next one on.

    None if no income arrives after today within the forecast.
    """
    run, today = forecast.run_of[account], forecast.moment.now
    events, incomes = forecast.events, {flow.id for flow in forecast.moment.plan.flows if flow.kind == "income"}
    is_income = np.array([origin.flow in incomes for origin in events.origins], dtype=np.bool_)
    columns = events.columns
    is_here = columns.account == events.accounts.index(account)
    # Of an income, a part may go to another account: what takes money away is no payday here.
    coming = np.flatnonzero(is_here & (columns.day > today) & is_income[columns.origin] & (columns.amount > 0))
    if not len(coming):
        return None
    # A small income does not carry the household on: what is free is counted until one that does.
    soon = columns.amount[coming][columns.day[coming] <= columns.day[coming[0]] + _PAYDAYS_WITHIN]
    event = events[int(coming[columns.amount[coming] * 2 >= soon.max()][0])]
    low = lowest(run, last=event.day - 1)
    name = forecast.moment.plan.flow_by_id[event.flow or ""].name
    return Payday(account, event.day, name, event.amount, event.day - today, low.headroom if low is not None else 0)


@dataclass(frozen=True, slots=True)
class BillsAhead:
    """Bills and loan payments out of an account in the coming days, today the first of them."""

    days: int
    count: int
    amount: int


@dataclass(frozen=True, slots=True)
class PayPeriod:
    """From one payday to the day before the next: what came, what is to be paid, and what is left at its end."""

    first: int
    last: int
    name: str
    amount: int
    to_pay: int
    left: int


def bills_ahead(forecast: Forecast, account: str, spans: tuple[int, ...] = (14, 30, 90)) -> list[BillsAhead]:
    """What is due within some days from today."""
    plan, now = forecast.moment.plan, forecast.moment.now
    due = [
        (event.day, -event.amount) for event in forecast.events
        if event.account == account and event.amount < 0 and event.status != "settled"
        and event.flow is not None and plan.flow_by_id[event.flow].kind not in ("income", "transfer")
    ]  # fmt: skip
    bills_aheads = []
    for days in spans:
        within = [amount for day, amount in due if day < now + days]
        bills_aheads.append(BillsAhead(days, len(within), sum(within)))
    return bills_aheads


def pay_periods(forecast: Forecast, account: str, most: int = 6) -> list[PayPeriod]:
    """The coming paydays of an account, each until the day before the next one."""
    plan, run = forecast.moment.plan, forecast.run_of[account]
    paid = [
        event for event in forecast.events
        if event.account == account and event.amount > 0 and event.day > forecast.moment.now
        and event.flow is not None and plan.flow_by_id[event.flow].kind == "income"
    ]  # fmt: skip
    by_day: dict[int, tuple[str, int]] = {}
    for event in paid:
        name, amount = by_day.get(event.day, ("", 0))
        by_day[event.day] = (f"{name}, {event.name}" if name else event.name, amount + event.amount)
    days = sorted(by_day)
    pay_periods = []
    for first, following in pairwise(days):
        out = sum(-event.amount for event in forecast.events
                  if event.account == account and event.amount < 0 and first <= event.day < following)  # fmt: skip
        left = [balance for day, balance in run.levels if day < following][-1]
        pay_periods.append(PayPeriod(first, following - 1, *by_day[first], out, left))
        if len(pay_periods) == most:
            break
    return pay_periods


@dataclass(frozen=True, slots=True)
class HeldPeriod:
    """What an allowance's period holds back from an account within the events shown; `amount` is positive."""

    account: str
    name: str
    begins: int
    first: int
    last: int
    days: int
    amount: int


def held_periods(events: EventTable) -> list[HeldPeriod]:
    """What allowances hold back, each period together, in the order of their first days."""
    columns = events.columns
    column = np.array([origin.allowance is not None for origin in events.origins], dtype=np.bool_)
    wanted = np.flatnonzero(column[columns.origin] & (columns.amount < 0)).tolist() if len(columns.day) else []
    periods: dict[tuple[int, int, int], list[tuple[int, int]]] = {}
    for at in wanted:
        key = (int(columns.account[at]), int(columns.origin[at]), int(columns.nominal[at]))
        periods.setdefault(key, []).append((int(columns.day[at]), -int(columns.amount[at])))
    return [
        HeldPeriod(events.accounts[account], events.origins[origin].name, begins, parts[0][0], parts[-1][0],
                   len(parts), sum(amount for _, amount in parts))
        for (account, origin, begins), parts in periods.items()
    ]  # fmt: skip
