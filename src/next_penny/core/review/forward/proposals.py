"""From a review back into the plan: the amount that would have fitted what was off several times in a row."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from datetime import date, timedelta
from fractions import Fraction
from typing import NamedTuple

from next_penny.core.books.moment import Moment
from next_penny.core.flows.allowances import limit_on, spans
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import next_occurrences
from next_penny.core.money import round_half_up
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.memory import Expected
from next_penny.core.plan.plan import Plan
from next_penny.core.review.expecting import Sources
from next_penny.core.review.measures import on_categories
from next_penny.core.review.occurrences import Became, occurrences_over
from next_penny.core.review.sums import recorded_over

# So many differences in a row that point one way are no accident; and so far back they are looked for.
IN_A_ROW = 3
_DAYS_BACK = 400
_MOST_PERIODS = 12


class Proposal(NamedTuple):
    """Another amount of a flow, or limit of an allowance, from a date on.

    planned: what is in force; times: how often in a row it was off one way; amounts: what these came to, newest first.
    """

    kind: str
    id: str
    name: str
    currency: str
    planned: int
    amount: int
    begins: date
    amounts: tuple[int, ...]

    @property
    def times(self) -> int:
        return len(self.amounts)


def proposals(moment: Moment, sources: Sources) -> list[Proposal]:
    """What would have fitted, flow by flow and allowance by allowance, the largest difference first."""
    proposals = [*_of_flows(moment, sources), *_of_allowances(moment, sources)]
    return sorted(proposals, key=lambda proposal: (-abs(proposal.amount - proposal.planned), proposal.name))


def _of_flows(moment: Moment, sources: Sources) -> Iterator[Proposal]:
    since = moment.today - timedelta(days=_DAYS_BACK)
    by_flow: defaultdict[str, list[Became]] = defaultdict(list)
    for outcome in occurrences_over(moment, sources, since, moment.today):
        if outcome.status == "settled" and outcome.is_in_its_currency(moment.plan):
            by_flow[outcome.row.source].append(outcome)
    for flow in moment.plan.flows:
        if not has_one_amount(flow):
            continue
        following = next_occurrences(moment, flow, moment.today, 1)
        if not following:
            continue
        planned = maker_of(moment, flow).amount_of(following[0].nominal.toordinal())
        settled = [one_outcome for one_outcome in by_flow[flow.id] if abs(one_outcome.expected) == planned]
        amounts = _one_way([abs(one_outcome.actual) for one_outcome in reversed(settled)], planned)
        currency = moment.plan.currency_of(flow)
        if amounts and (fitting := fitting_amount(amounts)) != planned:
            yield Proposal("flow", flow.id, flow.name, currency, planned, fitting, following[0].nominal, amounts)


def has_one_amount(flow: Flow) -> bool:
    """Whether one amount is to be found: not by season, by growth, by the hour, or from what was settled."""
    is_plain = not (flow.seasonal or flow.growth or flow.hourly or flow.follows)
    return is_plain and flow.kind in ("income", "bill", "transfer")


def _of_allowances(moment: Moment, sources: Sources) -> Iterator[Proposal]:
    """No limit of zero: months in which more came back than was spent say little of the next one."""
    recorded = recorded_over(moment, sources, moment.today - timedelta(days=_DAYS_BACK), moment.today)
    for allowance in moment.plan.allowances:
        following = next_limit(moment, allowance)
        if following is None:
            continue
        begins, limit = following
        amounts = _one_way(_used(moment, sources, allowance.id, limit, recorded), limit)
        if amounts and 0 < (fitting := fitting_amount(amounts)) != limit:
            currency = moment.plan.household.currency
            yield Proposal(
                "allowance", allowance.id, allowance.name, currency, limit, fitting, begins, amounts
            )  # fmt: skip


class NextLimit(NamedTuple):
    """The first day of an allowance's next period, and its limit."""

    begins: date
    limit: int


def next_limit(moment: Moment, allowance: Allowance) -> NextLimit | None:
    """The period after the running one; None where there is none, or its currency is not the household's.

    What was used is known in the household's currency alone.
    """
    running = next(iter(spans(moment, allowance, moment.now, moment.now)), None)
    currency = moment.plan.account_by_id[allowance.account].currency
    if running is None or currency != moment.plan.household.currency:
        return None
    begins = date.fromordinal(running.last + 1)
    if allowance.until is not None and allowance.until < begins:
        return None
    return NextLimit(begins, limit_on(allowance, begins.toordinal()))


def _used(moment: Moment, sources: Sources, id: str, limit: int, recorded: Sequence[Entry]) -> Iterator[int]:
    """What was used of an allowance in its periods that are over and had this limit, the newest first."""
    plan, since = moment.plan, moment.today - timedelta(days=_DAYS_BACK)
    rows = [row for row in sources.expected_between(since, moment.today) if row.is_allowance and row.source == id]
    for row in sorted(rows, key=_ended, reverse=True)[:_MOST_PERIODS]:
        if row.limit != limit:
            return
        yield used_of(plan, row, recorded)


def used_of(plan: Plan, row: Expected, recorded: Sequence[Entry]) -> int:
    """What was spent in the categories that an allowance had in a period, in the household's currency."""
    return used_between(plan, row.categories, row.nominal, row.lands, recorded)


def used_between(plan: Plan, named: Sequence[str], first: date, last: date, recorded: Sequence[Entry]) -> int:
    """What was spent in some categories from a day to a day, in the household's currency."""
    categories = frozenset(map(plan.merged, named))
    return sum(
        on_categories(plan, entry.legs, entry.date, "expense", categories)
        for entry in recorded if first <= entry.date <= last
    )  # fmt: skip


def _ended(row: Expected) -> date:
    return row.lands


def _one_way(amounts: Iterator[int] | Sequence[int], planned: int) -> tuple[int, ...]:
    """The newest amounts that are all more than was planned, or all less; none where these are too few."""
    run: list[int] = []
    for amount in amounts:
        if amount == planned or (run and (amount > planned) != (run[0] > planned)):
            break
        run.append(amount)
    return tuple(run) if len(run) >= IN_A_ROW else ()


def fitting_amount(amounts: Sequence[int]) -> int:
    """The amount that would have come to the same in all; below zero where more came back than was spent."""
    return round_half_up(Fraction(sum(amounts), len(amounts)))
