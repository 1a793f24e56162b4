"""What is wrong with the amounts of flows: signs, growth without end, pay by the hour."""

from collections.abc import Iterator
from fractions import Fraction

from next_penny.core.checks.common import TOO_LARGE
from next_penny.core.dates.calendar import LATEST
from next_penny.core.money import LARGEST_AMOUNT
from next_penny.core.plan.flows import Flow
from next_penny.core.problems import Loc, Problem

# More hours than any payday covers.
MOST_HOURS = 2000


# An amount that grows yearly is looked at over so many years.
_GROWS_YEARS = 100


def flow_amount_problems(flow: Flow) -> Iterator[Problem]:
    amounts: list[tuple[Loc, int | None]] = [(("amount",), flow.amount)]
    amounts += [(("seasonal", str(month)), amount) for month, amount in flow.seasonal]
    amounts += [(("revisions", n, "amount"), revision.amount) for n, revision in enumerate(flow.revisions)]
    amounts += [(("changes", n, "amount"), change.amount) for n, change in enumerate(flow.changes)]
    amounts += [(("splits", n, "amount"), split.amount) for n, split in enumerate(flow.splits)]
    for loc, amount in amounts:
        if amount is not None and amount < 0:
            yield Problem(loc, "Give the amount without a sign: the kind says which way the money moves.", "negative")
    if flow.splits and sum(split.amount for split in flow.splits) > flow.base_amount:
        yield Problem(("splits",), "The parts are more than the whole amount.", "parts_over_whole")
    yield from _hourly(flow)
    if flow.follows and not flow.estimate:
        yield Problem(("follows",), "Only an estimate follows what was settled.", "not_used")
    yield from _growth(flow)


def _growth(flow: Flow) -> Iterator[Problem]:
    growth = flow.growth
    if growth is None:
        return
    if not -100 < growth.percent <= 1000:
        yield Problem(("growth", "percent"), "Yearly growth is between -100 and 1000 percent.", "range")
        return
    largest = max([flow.base_amount, *(revision.base or 0 for revision in flow.revisions)])
    ends = min(flow.until or LATEST, LATEST).year
    factor = (1 + Fraction(growth.percent) / 100) ** max(0, min(_GROWS_YEARS, ends - growth.start.year))
    if largest * factor > LARGEST_AMOUNT:
        message = f"At {growth.percent.normalize():f}% a year this grows beyond all that can be counted: lower it."
        yield Problem(("growth", "percent"), message, "range")


def _hourly(flow: Flow) -> Iterator[Problem]:
    pays = [(("hourly",), flow.hourly), *((("revisions", n, "hourly"), r.hourly) for n, r in enumerate(flow.revisions))]
    for loc, pay in pays:
        if pay is None:
            continue
        if flow.kind != "income":
            yield Problem(loc, "Only income is paid by the hour.", "not_used")
        if pay.rate < 0:
            yield Problem((*loc, "rate"), "A rate is zero or more.", "negative")
        if not 0 <= pay.hours <= MOST_HOURS:
            yield Problem((*loc, "hours"), f"Hours are from 0 to {MOST_HOURS}.", "range")
        if not 0 < pay.share <= 100:
            yield Problem((*loc, "share"), "The share taken home is above 0 and at most 100 percent.", "range")
        elif 0 <= pay.hours <= MOST_HOURS and pay.pay() > LARGEST_AMOUNT:
            yield Problem((*loc, "rate"), TOO_LARGE, "range")
    for number, change in enumerate(flow.changes):
        if change.hours is not None and not 0 <= change.hours <= MOST_HOURS:
            yield Problem(("changes", number, "hours"), f"Hours are from 0 to {MOST_HOURS}.", "range")
        if change.hours is not None and flow.hourly is None:
            yield Problem(("changes", number, "hours"), "This is not paid by the hour.", "not_used")
