"""What past occurrences and periods say of how things vary (docs/rules.md, How sure it is)."""

from bisect import bisect_left, bisect_right
from collections import defaultdict
from collections.abc import Iterator
from contextlib import suppress
from datetime import date, timedelta

from next_penny.core.books.moment import Moment
from next_penny.core.forecast.chances.habits import MOST, MOST_PERIODS, Habit, Habits, Ratio
from next_penny.core.loans.lent.books import LentBooks
from next_penny.core.loans.lent.standing import lent_standing
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.rates import NoRate
from next_penny.core.review.expecting import Period, Sources, periods_over
from next_penny.core.review.forward.proposals import used_between
from next_penny.core.review.occurrences import Became, occurrences_over
from next_penny.core.review.sums import recorded_over

# Older than this nothing is like today.
_YEARS_BACK = 12
_FIRST_STRETCH = 366


def habits(moment: Moment, sources: Sources) -> Habits:
    """What is remembered of every flow's amounts and days, and of every allowance's use."""
    since = _since(moment)
    by_flow = _newest(moment, sources, since)
    flows = {
        flow.id: _of_flow(moment, flow, by_flow[flow.id])
        for flow in moment.plan.all_flows
        if by_flow[flow.id] or moment.plan.lent_by(flow)
    }
    return Habits(flows, dict(_of_allowances(moment, sources, since)))


def _newest(moment: Moment, sources: Sources, since: date) -> defaultdict[str, list[Became]]:
    """By flow, what became of it by day: back to the first day, or as far as enough of it was settled.

    A household's days are many, and what is asked of a flow is its newest: so they are read from today backwards, in
    stretches that grow, each of the flows of which more is wanted.
    """
    by_flow: defaultdict[str, list[Became]] = defaultdict(list)
    wanted = {flow.id for flow in moment.plan.all_flows}
    last, days = moment.today, _FIRST_STRETCH
    while wanted and last >= since:
        first = max(since, last - timedelta(days=days - 1))
        older: defaultdict[str, list[Became]] = defaultdict(list)
        for outcome in occurrences_over(moment, sources, first, last, of=wanted):
            if outcome.row.source in wanted:
                older[outcome.row.source].append(outcome)
        for id, rows in older.items():
            by_flow[id] = rows + by_flow[id]
        wanted -= {id for id, rows in by_flow.items() if sum(map(_is_settled, rows)) >= MOST}
        last, days = first - timedelta(days=1), 2 * days
    return by_flow


def _is_settled(outcome: Became) -> bool:
    return outcome.status == "settled" and bool(outcome.expected)


def _since(moment: Moment) -> date:
    """The first day of which anything can be remembered, and is looked at."""
    opened = min((account.opening.date for account in moment.plan.accounts), default=moment.today)
    return max(opened, moment.today - timedelta(days=366 * _YEARS_BACK))


def _of_flow(moment: Moment, flow: Flow, became: list[Became]) -> Habit:
    if moment.plan.lent_by(flow) is not None:
        return _of_lent(moment, flow, [outcome for outcome in became if outcome.status == "settled" and outcome.days])
    settled = [outcome for outcome in became if _is_settled(outcome)][-MOST:]
    return Habit(
        tuple(_ratio(outcome) for outcome in settled if outcome.is_in_its_currency(moment.plan)),
        tuple(_late(outcome) for outcome in settled),
    )


def _of_lent(moment: Moment, flow: Flow, received: list[Became]) -> Habit:
    """Of money lent the books know what came: which of its due days brought nothing, or not all."""
    account = moment.plan.lent_by(flow)
    assert account is not None
    due = [planned for planned in LentBooks(moment, account, flow).planned(moment.now) if planned.lands < moment.now][
        -MOST:
    ]
    still_open = {one_due.nominal for one_due in lent_standing(moment, account).open}
    missed = Ratio(sum(planned.nominal in still_open for planned in due), len(due)) if due else None
    return Habit(late=tuple(_late(outcome) for outcome in received[-MOST:]), missed=missed)


def _ratio(outcome: Became) -> Ratio:
    return (
        Ratio(outcome.actual, outcome.expected) if outcome.expected > 0 else Ratio(-outcome.actual, -outcome.expected)
    )


def _late(outcome: Became) -> int:
    """How many days after its day it came; below zero before it."""
    return (max(outcome.days) - outcome.row.lands).days


def _of_allowances(moment: Moment, sources: Sources, since: date) -> Iterator[tuple[str, Habit]]:
    if not moment.plan.allowances:
        return
    yesterday, ids = moment.today - timedelta(days=1), {allowance.id for allowance in moment.plan.allowances}
    by_id: defaultdict[str, list[Period]] = defaultdict(list)
    for period in sorted(periods_over(moment, sources, since, yesterday, ids), key=lambda one_period: one_period.last):
        if period.limit:
            by_id[period.id].append(period)
    newest = {id: found_periods[-MOST_PERIODS:] for id, found_periods in by_id.items()}
    first = min((found_periods[0].first for found_periods in newest.values()), default=moment.today)
    recorded = sorted(recorded_over(moment, sources, first, yesterday), key=lambda entry: entry.date)
    days = [entry.date for entry in recorded]
    for id, periods in newest.items():
        # What cannot be told in the household's currency is not remembered.
        with suppress(NoRate):
            yield id, Habit(tuple(_use(moment, one_period, recorded, days) for one_period in periods))


def _use(moment: Moment, period: Period, recorded: list[Entry], days: list[date]) -> Ratio:
    """What was used of a period's limit, in the household's currency."""
    plan, here = moment.plan, moment.plan.household.currency
    within = recorded[bisect_left(days, period.first) : bisect_right(days, period.last)]
    limit = plan.converted(period.limit, plan.account_by_id[period.account].currency, here, period.last)
    return Ratio(used_between(plan, period.categories, period.first, period.last, within), limit)
