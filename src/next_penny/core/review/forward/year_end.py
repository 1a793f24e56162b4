"""The end of a year: where all accounts stood, what interest came and went, which goals were met, what to change."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import next_occurrences
from next_penny.core.plan.accounts import Account
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import interest_id
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.review.expecting import Sources
from next_penny.core.review.forward.proposals import (
    IN_A_ROW,
    Proposal,
    fitting_amount,
    has_one_amount,
    next_limit,
    used_of,
)
from next_penny.core.review.goals.progress import Days, calendar_period, progress_in
from next_penny.core.review.measures import converted
from next_penny.core.review.occurrences import occurrences_over
from next_penny.core.review.sums import recorded_over


class Standing(NamedTuple):
    """An account at the end of the day before a year, and at its end or today, in its own currency; debts negative."""

    account: Account
    begins: int
    ends: int


class Interest(NamedTuple):
    """What a card was charged or a savings account credited with in a year, in its own currency."""

    account: Account
    amount: int


class GoalYear(NamedTuple):
    """A goal over a year: of how many periods that ended or are running it met how many."""

    goal: Goal
    met: int
    periods: int


class Unprepared(NamedTuple):
    """A yearly bill that neither an allowance nor saving stands behind: its next date and amount."""

    flow: str
    name: str
    lands: date
    amount: int
    currency: str


@dataclass(frozen=True)
class YearEnd:
    """A calendar year, or its days up to today. Net worth is in the household's currency."""

    days: Days
    standings: tuple[Standing, ...]
    worth: tuple[int, int]
    interest: tuple[Interest, ...]
    goals: tuple[GoalYear, ...]
    off: tuple[Proposal, ...]
    unprepared: tuple[Unprepared, ...]


def year_end(moment: Moment, sources: Sources, year: int) -> YearEnd:
    """All of a year that has begun. Raises NoRate where an amount cannot be converted."""
    first, last = date(year, 1, 1), min(date(year, 12, 31), moment.today)
    standings = tuple(_standings(moment, first - timedelta(days=1), last))
    recorded = recorded_over(moment, sources, first, last)
    return YearEnd(
        Days(first, last), standings, _worth(moment, standings, first - timedelta(days=1), last),
        tuple(_interest(moment, recorded)), tuple(_goals(moment, sources, Days(first, last))),
        (*_off(moment, sources, first, last), *_off_limits(moment, sources, Days(first, last), recorded)),
        tuple(_unprepared(moment)),
    )  # fmt: skip


def _standings(moment: Moment, before: date, last: date) -> Iterator[Standing]:
    for account in moment.plan.accounts:
        begins, ends = (moment.balance_on(account, day.toordinal()) for day in (before, last))
        if begins or ends or account.opening.date <= last:
            yield Standing(account, begins, ends)


def _worth(moment: Moment, standings: Sequence[Standing], before: date, last: date) -> tuple[int, int]:
    """What all of it is worth at both ends, each balance at the newest rate by that day."""
    plan = moment.plan
    return (
        sum(converted(plan, standing.begins, standing.account.id, before) for standing in standings if standing.begins),
        sum(converted(plan, standing.ends, standing.account.id, last) for standing in standings if standing.ends),
    )


def _interest(moment: Moment, recorded: Sequence[Entry]) -> Iterator[Interest]:
    """Of cards and savings, by what is recorded or assumed of the flow that each makes; of loans, see their years."""
    for account in moment.plan.accounts:
        flow = interest_id(account.id)
        legs = [leg for entry in recorded if entry.flow == flow for leg in entry.legs if leg.account == account.id]
        if legs:
            yield Interest(account, sum(leg.amount for leg in legs))


def _goals(moment: Moment, sources: Sources, year: Days) -> Iterator[GoalYear]:
    for goal in moment.plan.goals:
        periods = [days for days in _periods(goal, year) if days.first <= year.last]
        if periods:
            yield GoalYear(
                goal, sum(progress_in(moment, sources, goal, days).is_met for days in periods), len(periods)
            )  # fmt: skip


def _periods(goal: Goal, year: Days) -> Iterator[Days]:
    """A goal's periods that end in a year, or that its last day is in, cut by its own begin and end."""
    if goal.per is None:
        if goal.start is not None and goal.until is not None and goal.until.year == year.first.year:
            yield Days(goal.start, goal.until)
        return
    day = year.first
    while day.year == year.first.year:
        whole = calendar_period(goal.per, day)
        days = Days(max(whole.first, goal.start or whole.first), min(whole.last, goal.until or whole.last))
        if days.first <= days.last:
            yield days
        day = whole.last + timedelta(days=1)


def _off(moment: Moment, sources: Sources, first: date, last: date) -> Iterator[Proposal]:
    """Flows whose settled dates came to more than a tenth more or less than was expected of them."""
    sums: defaultdict[str, list[tuple[int, int]]] = defaultdict(list)
    for outcome in occurrences_over(moment, sources, first, last):
        if outcome.status == "settled" and outcome.is_in_its_currency(moment.plan):
            sums[outcome.row.source].append((abs(outcome.expected), abs(outcome.actual)))
    for flow in moment.plan.flows:
        pairs, following = sums.get(flow.id), next_occurrences(moment, flow, moment.today, 1)
        if not pairs or not following or not has_one_amount(flow):
            continue
        expected, actual = (sum(pair[at] for pair in pairs) for at in (0, 1))
        planned = maker_of(moment, flow).amount_of(following[0].nominal.toordinal())
        fitting = fitting_amount([pair[1] for pair in pairs])
        if 10 * abs(actual - expected) > expected and fitting != planned:
            currency = moment.plan.currency_of(flow)
            amounts = tuple(pair[1] for pair in reversed(pairs))
            yield Proposal(
                "flow", flow.id, flow.name, currency, planned, fitting, following[0].nominal, amounts
            )  # fmt: skip


def _off_limits(moment: Moment, sources: Sources, year: Days, recorded: Sequence[Entry]) -> Iterator[Proposal]:
    """Allowances whose periods that ended in a year came to more than a tenth more or less than their limits."""
    rows = [row for row in sources.expected_between(*year) if row.is_allowance and row.nominal >= year.first]
    for allowance in moment.plan.allowances:
        own = [row for row in rows if row.source == allowance.id and row.lands <= year.last]
        following = next_limit(moment, allowance)
        if len(own) < IN_A_ROW or following is None:
            continue
        used = tuple(used_of(moment.plan, row, recorded) for row in own)
        expected, fitting = sum(row.limit or 0 for row in own), fitting_amount(used)
        if 10 * abs(sum(used) - expected) > expected and 0 < fitting != following.limit:
            currency = moment.plan.household.currency
            yield Proposal(
                "allowance", allowance.id, allowance.name, currency, following.limit, fitting, following.begins, used
            )  # fmt: skip


def _unprepared(moment: Moment) -> Iterator[Unprepared]:
    """Bills that come once in the coming year, and for which nothing is set aside or held back."""
    plan, today = moment.plan, moment.today
    saved_for = {flow.saves_for.flow for flow in plan.flows if flow.saves_for is not None}
    limited = {category for allowance in plan.allowances for category in allowance.categories}
    in_a_year = add_months(today, 12)
    for flow in plan.flows:
        if flow.kind != "bill" or not flow.rules or flow.id in saved_for or flow.category in limited:
            continue
        following = next_occurrences(moment, flow, today, 2)
        if following and following[0].lands <= in_a_year and (len(following) == 1 or following[1].lands > in_a_year):
            currency = plan.currency_of(flow)
            yield Unprepared(flow.id, flow.name, following[0].lands, following[0].amount, currency)
