"""What overspending an allowance costs: how much lower it makes the lowest point ahead."""

from datetime import date

from next_penny.core.books import Books
from next_penny.core.dates.calendar import add_months
from next_penny.core.flows.allowances import AllowanceStatus
from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import project
from next_penny.core.overlay import PlanChange
from next_penny.core.plan import Entry, Leg, Plan
from next_penny.core.recorded import overlay_books


def overspending_cost(plan: Plan, books: Books, status: AllowanceStatus, today: date) -> int:
    """How much higher the account's lowest point over a year would be had only the limit been spent, minor units."""
    over = -status.period.left
    if over <= 0:
        return 0
    allowance = status.allowance
    legs = (Leg(over, account=allowance.account), Leg(-over, category=allowance.categories[0]))
    kept = overlay_books(books, [PlanChange("entry", "", Entry("", today, "", legs))], lambda id: None, today)
    lows = [
        lowest(project(plan, each, today, add_months(today, 12), [allowance.account]).runs[0]) for each in (kept, books)
    ]
    return lows[0].balance - lows[1].balance if lows[0] is not None and lows[1] is not None else 0
