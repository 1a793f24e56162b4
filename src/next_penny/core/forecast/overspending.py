"""What overspending an allowance costs: how much lower it makes the lowest point ahead."""

from next_penny.core.books.moment import Moment
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.flows.allowances import AllowanceStatus
from next_penny.core.forecast.low_points import lowest
from next_penny.core.forecast.projection import in_a_year, project
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg


def overspending_cost(moment: Moment, status: AllowanceStatus) -> int:
    """How much higher the account's lowest point over a year would be had only the limit been spent, minor units."""
    over, allowance = -status.period.left, status.allowance
    if over <= 0:
        return 0
    legs = (Leg(over, account=allowance.account), Leg(-over, category=allowance.categories[0]))
    returned = PlanChange("entry", "", Entry("", moment.today, "", legs))
    within_limit = moment.replaced(recorded=apply_to_books(moment.books, [returned], lambda id: None, moment.today))
    lows = [lowest(project(spent, in_a_year(moment), [allowance.account]).runs[0]) for spent in (within_limit, moment)]
    return lows[0].balance - lows[1].balance if lows[0] is not None and lows[1] is not None else 0
