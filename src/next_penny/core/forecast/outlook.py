"""Are we all right until the next payday: when it is, and what is free above the floor until then."""

from dataclasses import dataclass

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
    incomes = {flow.id: flow for flow in forecast.moment.plan.flows if flow.kind == "income"}
    for event in forecast.events:
        flow = incomes.get(event.flow or "")
        if event.account == account and event.day > today and flow is not None:
            low = lowest(run, last=event.day - 1)
            free = low.headroom if low is not None else 0
            return Payday(account, event.day, flow.name, event.amount, event.day - today, free)
    return None
