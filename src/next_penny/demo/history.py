"""The demo household's past: what its flows did, near enough as planned, and one bill past due."""

import random
from calendar import monthrange
from collections.abc import Iterator
from datetime import date, timedelta

from next_penny.core.books.moment import Moment
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.flows.makers import past_due
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan

# The bill that was forgotten, and the direct debit not confirmed yet: their latest before today is left unsettled.
_UNSETTLED = ("flute", "internet")
# What the tax return asks for.
_TAGS = {"after-school": ("child care",)}
# Hours and fuel are less sure than the rest: from so many percent of what was planned to so many.
_VARIES = {"odell-pay": (74, 124), "fuel": (50, 130)}
_SHOPPING_DAYS = (1, 4)
_GROCERS = ("Quayside Grocer", "Tollgate Larder", "The Full Basket")
_TREATS = ("The Drowsy Heron", "Lighthouse Picture House", "Fenwick's Pastries", "Sandry Ferries")


def recorded_history(plan: Plan, today: date) -> tuple[Entry, ...]:
    """Settle every occurrence before today but the forgotten one; estimates vary, the same way at every start."""
    chance = random.Random(20_27)  # noqa: S311 - not for secrets
    moment = Moment(plan, today)
    entries = [entry for flow in plan.flows for entry in _settled(moment, flow, chance)]
    opened = plan.account_by_id["joint"].opening.date
    entries += _groceries(plan, opened, today, chance)
    entries += _shopping(max(opened, outings_begin(today)), today, chance, "outings", _TREATS, (5, 6), (17_00, 33_00))
    entries += _dog_walks(today)
    return tuple(sorted(entries, key=lambda entry: (entry.date, entry.id)))


def outings_begin(today: date) -> date:
    """The Saturday, ten weeks or more ago, since which outings have an allowance of their own."""
    begin = today - timedelta(days=70)
    return begin - timedelta(days=(begin.weekday() - 5) % 7)


def _settled(moment: Moment, flow: Flow, chance: random.Random) -> Iterator[Entry]:
    maker, past = maker_of(moment, flow), past_due(moment, flow)
    rows = list(zip(past.nominal.tolist(), past.landing.tolist(), past.amount.tolist(), strict=True))
    for nominal, landing, planned in rows[:-1] if flow.id in _UNSETTLED else rows:
        amount, day = _paid(flow, planned, chance), date.fromordinal(landing)
        yield Entry(
            id=f"{flow.id}-{date.fromordinal(nominal)}",
            date=day,
            payee=maker.payee(date.fromordinal(nominal)),
            legs=tuple(maker.legs(date.fromordinal(nominal), amount, day, None)),
            flow=flow.id,
            nominal=date.fromordinal(nominal),
            tags=_TAGS.get(flow.id, ()),
        )


def _paid(flow: Flow, planned: int, chance: random.Random) -> int:
    """What an estimate came to, some of them further off than others; everything else is as planned."""
    least, most = _VARIES.get(flow.id, (90, 109))
    return planned * chance.randint(least, most) // 100 + chance.randint(0, 99) if flow.estimate else planned


def _dog_walks(today: date) -> Iterator[Entry]:
    """Paid every second Wednesday of late, and in nobody's plan yet."""
    latest = today - timedelta(days=(today.weekday() - 2) % 7 or 7)
    for place in range(6):
        day = latest - timedelta(days=14 * place)
        legs = (Leg(-24_00, account="joint"), Leg(24_00, category="sundries"))
        yield Entry(f"dog-{day}", day, "Bramble & Burr, dog walks", legs)


def _groceries(plan: Plan, first: date, today: date, chance: random.Random) -> Iterator[Entry]:
    """Bought twice a week up to yesterday; in a whole month about what is allowed."""
    allowed = plan.allowance_by_id["groceries"].limit
    for offset in range((today - first).days):
        day = first + timedelta(days=offset)
        if day.weekday() in _SHOPPING_DAYS:
            month = [
                day.replace(day=1) + timedelta(days=one_offset)
                for one_offset in range(monthrange(day.year, day.month)[1])
            ]
            times = sum(one_day.weekday() in _SHOPPING_DAYS for one_day in month)
            price = allowed // times * chance.randint(79, 96) // 100 + chance.randint(0, 99)
            legs = (Leg(-price, account="joint"), Leg(price, category="groceries"))
            yield Entry(f"groceries-{day}", day, chance.choice(_GROCERS), legs)


def _shopping(
    first: date,
    today: date,
    chance: random.Random,
    category: str,
    shops: tuple[str, ...],
    weekdays: tuple[int, ...],
    prices: tuple[int, int],
) -> Iterator[Entry]:
    """What was bought on some weekdays up to yesterday, here and there."""
    for offset in range((today - first).days):
        day = first + timedelta(days=offset)
        if day.weekday() not in weekdays:
            continue
        price = chance.randint(*prices)
        legs = (Leg(-price, account="joint"), Leg(price, category=category))
        yield Entry(f"{category}-{day}", day, chance.choice(shops), legs)
