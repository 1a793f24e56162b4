"""How long the forecast takes against python-dateutil listing the same dates, in one run.

.venv/bin/python benchmarks/forecast.py
"""

import gc
import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from functools import partial
from statistics import median

from dateutil.rrule import rrulestr

from next_penny.api.ahead.forecast import ForecastAnswer, forecast_fields
from next_penny.api.http.answers import whole
from next_penny.core.books.books import books_from_entries
from next_penny.core.books.moment import Moment
from next_penny.core.flows.assumed import moment_of
from next_penny.core.forecast.projection import project
from next_penny.core.forecast.trials import Trial
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import CardTerms, DueRule, Minimum, RateStep
from next_penny.core.plan.terms.savings import SavingsTerms
from next_penny.core.plan.terms.sweeps import SweepTerms
from next_penny.demo.household import demo_plan

TODAY = date(2027, 3, 1)
_ROUNDS = 9
RULES = (
    "FREQ=WEEKLY;INTERVAL=2;BYDAY=FR", "FREQ=MONTHLY;BYMONTHDAY=15,-1", "FREQ=MONTHLY;BYDAY=2TU",
    "FREQ=MONTHLY;BYMONTHDAY=1", "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=20", "FREQ=YEARLY;BYMONTH=9;BYMONTHDAY=12",
    "FREQ=WEEKLY;BYDAY=TH", "FREQ=MONTHLY;BYMONTHDAY=28", "FREQ=MONTHLY;BYMONTHDAY=5",
    "FREQ=YEARLY;INTERVAL=2;BYMONTH=4;BYMONTHDAY=3",
)  # fmt: skip
ROLLS = ("none", "before", "after", "nearest")


def household(flows: int, accounts: int) -> Plan:
    held = tuple(Account(f"a{n}", f"Account {n}", "checking", "USD", Opening(TODAY, 1_000_00)) for n in range(accounts))
    planned = tuple(
        Flow(
            f"f{n}", f"Flow {n}", "income" if n % 3 == 0 else "bill", 10_00 + n, rules=(RULES[n % len(RULES)],),
            roll=ROLLS[n % 4], start=TODAY + timedelta(days=n % 28),
            **{"to_account" if n % 3 == 0 else "from_account": f"a{n % accounts}"},
        )
        for n in range(flows)
    )  # fmt: skip
    return Plan(Household(country="US"), accounts=held, flows=planned)


def acting(plan: Plan) -> Plan:
    """The household with three cards, two savings accounts, a sweep and a covering line, all with something on them."""
    terms = CardTerms(5_000_00, 12, DueRule(days_after=25), (RateStep(TODAY, Decimal("21.9")),),
                      Minimum(Decimal(2), True, 25_00), "minimum", from_account="a0")  # fmt: skip
    cards = [
        Account(f"card{n}", f"Card {n}", "credit_card", "USD", Opening(TODAY, -900_00), card=terms) for n in range(3)
    ]
    line = Account("line", "Line", "credit_line", "USD", Opening(TODAY, 0),
                   card=replace(terms, is_line=True, covers="a1"))  # fmt: skip
    earning, sweep = SavingsTerms(apy=Decimal("3.9")), SweepTerms("a4", 0, 5_000_00, ("FREQ=WEEKLY;BYDAY=FR",), TODAY)
    changed = {"a2": {"savings": earning}, "a4": {"savings": earning}, "a3": {"sweep": sweep}}
    held = [replace(account, **changed.get(account.id, {})) for account in plan.accounts]  # type: ignore[arg-type]
    moved = [replace(flow, from_account=f"card{n % 3}") if flow.kind == "bill" and n % 5 == 0 else flow
             for n, flow in enumerate(plan.flows)]  # fmt: skip
    return replace(plan, accounts=(*held, *cards, line), flows=tuple(moved))


def best_of(runs: int, work: Callable[[], object]) -> float:
    times = []
    for _ in range(runs):
        gc.collect()
        begin = time.perf_counter()
        work()
        times.append(time.perf_counter() - begin)
    return min(times)


def dateutil_dates(plan: Plan, until: date) -> int:
    end = datetime(until.year, until.month, until.day)
    listed = 0
    for flow in plan.flows:
        assert flow.start is not None
        start = datetime(flow.start.year, flow.start.month, flow.start.day)
        listed += sum(len(rrulestr(rule, dtstart=start).between(start, end, inc=True)) for rule in flow.rules)
    return listed


def afresh(plan: Plan, until: date) -> None:
    """A forecast with nothing remembered from the one before."""
    project(Moment(plan, TODAY), until)


def answered_afresh(plan: Plan, until: date) -> None:
    """All of what GET /api/forecast answers, sentences and text, with nothing remembered."""
    _ = whole(ForecastAnswer, forecast_fields(project(Moment(plan, TODAY), until))).text


def trial_of_a_year() -> str:
    """A trial forecast of a year of the demo household, with its cards, one flow changed each time.

    First one on an account that no rule reads, then one that a card pays, as remedies try them.
    """
    plan, entries = demo_plan(TODAY)
    moment = moment_of(plan, books_from_entries(entries, TODAY), TODAY)
    before = Trial(moment, date(TODAY.year + 1, TODAY.month, TODAY.day))
    _ = before.balances
    amounts = iter(range(1, 1_000))

    def once(flow: Flow) -> None:
        change = PlanChange("flow", flow.id, replace(flow, amount=flow.amount + next(amounts)))
        _ = before.with_changes([change]).balances

    alone, read = (best_of(25, partial(once, plan.flow_by_id[id])) * 1000 for id in ("gran", "films"))
    return f"a trial of a year of the demo, one flow changed: {alone:.1f} ms, {read:.1f} ms where a rule reads it"


def turn_about(works: Sequence[Callable[[], object]]) -> list[list[float]]:
    """How long each takes in every round, one after the other, so that a machine's slow minutes meet all alike."""
    rounds = [[best_of(1, work) for work in works] for _ in range(_ROUNDS)]
    return [list(times) for times in zip(*rounds, strict=True)]


def main() -> None:
    print(trial_of_a_year())
    plan = household(flows=100, accounts=10)
    cards = acting(plan)
    for years in (5, 10, 20):
        until = date(TODAY.year + years, TODAY.month, TODAY.day)
        theirs, *ours = turn_about((
            partial(dateutil_dates, plan, until), partial(afresh, plan, until),
            partial(answered_afresh, plan, until), partial(afresh, cards, until),
        ))  # fmt: skip
        ratios = [median(one / other for one, other in zip(times, theirs, strict=True)) for times in ours]
        events, acted = (len(project(Moment(one_plan, TODAY), until).events) for one_plan in (plan, cards))
        listing = f"{dateutil_dates(plan, until)} dates listed by dateutil in {median(theirs) * 1000:.0f} ms"
        print(
            f"{years:2} years: {listing}; of that, medians of {_ROUNDS}: {events} events {ratios[0]:.2f}, "
            f"the whole answer {ratios[1]:.2f}, {acted} events with cards, savings, a sweep and a line {ratios[2]:.2f}"
        )


if __name__ == "__main__":
    main()
