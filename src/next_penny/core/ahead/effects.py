"""What changes do to the days below floor and cushion, stretch by stretch, as far as they reach."""

from collections.abc import Iterable, Sequence
from datetime import date
from typing import Literal, NamedTuple

from next_penny.core.ahead.stretch import spendable
from next_penny.core.books.moment import Moment
from next_penny.core.flows.makers import expected
from next_penny.core.forecast.low_points import LowPoint, Stretch, Threshold, stretches
from next_penny.core.forecast.projection import Forecast, year_ahead
from next_penny.core.forecast.tideline import lowest_ahead, tideline
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.flows import Flow

# So many dates of a changed flow are looked at, within so many days: to a year, else to eleven.
_FIRST_DATES, _STRETCHES_OF_DAYS = 3, (400, 4_000)
# Where a change has no dates of its own, so many days show what it does.
_USUAL_DAYS = 92


def reach(before: Moment, after: Moment, changes: Iterable[PlanChange]) -> date:
    """The day by which at least the first three dates that changes bring, move or take away have come."""
    days = [before.now]
    for change in changes:
        if isinstance(change.item, Entry):
            days.append(change.item.date.toordinal())
        elif change.kind == "flow":
            days.append(_third_date(before, after, change.id))
        elif change.kind == "account" and (flow := _paying(before, after, change.id)) is not None:
            days.append(_third_date(before, after, flow))
        elif change.kind in ("account", "allowance"):
            days.append(before.now + _USUAL_DAYS)
    return date.fromordinal(min(max(days), before.now + _STRETCHES_OF_DAYS[-1]))


def _paying(before: Moment, after: Moment, account: str) -> str | None:
    flow = after.plan.loan_flow(account) or before.plan.loan_flow(account)
    return flow.id if flow is not None else None


def _third_date(before: Moment, after: Moment, flow: str) -> int:
    """Where the third date lands that is another after the changes; the last one where there are fewer."""
    landings: list[int] = []
    for days in _STRETCHES_OF_DAYS:
        one, other = (_dates(moment, flow, moment.now + days) for moment in (before, after))
        differing = sorted(one ^ other, key=lambda key: key[0])
        nominals = dict.fromkeys(nominal for nominal, _, _ in differing)
        wanted = set(list(nominals)[:_FIRST_DATES])
        landings = [lands for nominal, lands, _ in differing if nominal in wanted]
        if len(wanted) == _FIRST_DATES:
            break
    return max(landings, default=before.now)


def _dates(moment: Moment, flow: str, until: int) -> set[tuple[int, int, int]]:
    existing: Flow | None = moment.plan.flow_by_id.get(flow)
    if existing is None or flow in moment.plan.maker_accounts:
        return set()
    rows = expected(moment, existing, until)
    return set(zip(rows.nominal.tolist(), rows.landing.tolist(), rows.amount.tolist(), strict=True))


class StretchEffect(NamedTuple):
    """A stretch below a threshold that comes, goes, deepens or eases. Days are numbers, shortages minor units.

    first, last and deepest are those after the changes; of one that goes, those before.
    """

    account: str
    what: Literal["comes", "goes", "deepens", "eases"]
    below: Threshold
    first: int
    last: int
    deepest: int
    short_before: int
    short_after: int


def stretch_effects(before: Forecast, after: Forecast) -> list[StretchEffect]:
    """Which stretches of each account changes bring, take away, deepen or ease, in order of day."""
    effects: list[StretchEffect] = []
    for run in after.runs:
        account_run = before.run_of.get(run.account.id)
        was = stretches(account_run, before.until.toordinal()) if account_run is not None else []
        effects += _between(run.account.id, was, stretches(run, after.until.toordinal()))
    return sorted(
        effects,
        key=lambda stretch_effect: (stretch_effect.first, stretch_effect.account, stretch_effect.below != "floor"),
    )


def _between(account: str, before: Sequence[Stretch], after: Sequence[Stretch]) -> Iterable[StretchEffect]:
    for now in after:
        over = [was for was in before if _overlap(was, now)]
        short = max((was.short_by for was in over), default=0)
        if now.short_by != short:
            what: Literal["comes", "deepens", "eases"]
            what = "comes" if not over else "deepens" if now.short_by > short else "eases"
            yield StretchEffect(account, what, now.below, now.first, now.last, now.deepest, short, now.short_by)
    for was in before:
        if not any(_overlap(was, now) for now in after):
            yield StretchEffect(account, "goes", was.below, was.first, was.last, was.deepest, was.short_by, 0)


def _overlap(one: Stretch, other: Stretch) -> bool:
    return one.below == other.below and one.first <= other.last and other.first <= one.last


def lowest_of_the_year(moment: Moment) -> LowPoint | None:
    """The lowest end-of-day balance of the spendable accounts together, from today over a year; None without any."""
    chosen = [account.id for account in spendable(moment)]
    if not chosen:
        return None
    return lowest_ahead(tideline(year_ahead(moment), chosen, {}))
