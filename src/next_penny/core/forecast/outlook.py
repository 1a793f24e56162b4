"""Are we all right until the next payday: when it is, and what is free above the floor until then."""

from dataclasses import dataclass

import numpy as np

from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import Forecast


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
    """The first income flow that arrives after today on an account of the forecast; None if none does."""
    run, today = forecast.run_of[account], forecast.moment.now
    events, incomes = forecast.events, {flow.id for flow in forecast.moment.plan.flows if flow.kind == "income"}
    is_income = np.array([origin.flow in incomes for origin in events.origins], dtype=np.bool_)
    columns = events.columns
    is_here = columns.account == events.accounts.index(account)
    coming = np.flatnonzero(is_here & (columns.day > today) & is_income[columns.origin])
    if not len(coming):
        return None
    event = events[int(coming[0])]
    low = lowest(run, last=event.day - 1)
    name = forecast.moment.plan.flow_by_id[event.flow or ""].name
    return Payday(account, event.day, name, event.amount, event.day - today, low.headroom if low is not None else 0)
