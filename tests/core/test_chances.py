"""How sure it is: each path against a walk over every day, worked cases, and what happens against what was said."""

import random
from copy import deepcopy
from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest
from acting_households import acting_documents
from acting_ledger import ActingLedger
from households import TODAY, Document, moment_from
from hypothesis import given, settings
from hypothesis import strategies as st

from effort import examples
from next_penny.core.books.moment import Moment
from next_penny.core.flows.allowances import limit_on, periods, spans
from next_penny.core.forecast.chances.chance import chance, odds
from next_penny.core.forecast.chances.draws import drawn
from next_penny.core.forecast.chances.habits import NO_HABITS, Habit, Habits, Ratio
from next_penny.core.forecast.chances.holding import drawn_limits
from next_penny.core.forecast.chances.telling import Thing
from next_penny.core.forecast.chances.varying import draw_flow
from next_penny.core.forecast.chances.walking import Scene, walk
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.lent import LentTerms, Repays, Sureness
from next_penny.core.plan.terms.sweeps import SweepTerms

UNTIL = TODAY + timedelta(days=100)
PATHS = np.arange(3)
ratios = st.lists(st.integers(0, 300).map(lambda part: Ratio(part, 100)), min_size=4, max_size=6).map(tuple)
lates = st.lists(st.integers(-5, 9), min_size=4, max_size=6).map(tuple)


@st.composite
def cases(draw: st.DrawFn) -> tuple[Document, Habits]:
    document = draw(acting_documents())
    for allowance in document["allowances"]:
        allowance["carry"] = "none" if draw(st.booleans()) else allowance["carry"]
    for flow in document["flows"]:
        flow["estimate"] = flow["estimate"] or draw(st.booleans())
        if flow["kind"] == "bill" and document["allowances"] and draw(st.booleans()):
            flow["category"] = "food"
    flows = {
        flow["id"]: Habit(draw(ratios), draw(st.just(()) | lates))
        for flow in document["flows"] if draw(st.booleans())
    }  # fmt: skip
    return document, Habits(flows, {"eat": Habit(draw(ratios))} if draw(st.booleans()) else {})


def as_drawn(scene: Scene, document: Document, path: int) -> Document:
    """The household as a path has it: what was drawn set by hand for each date, and each period."""
    told, now = deepcopy(document), TODAY.toordinal()
    for flow in told["flows"]:
        if flow["id"] in scene.flows:
            found = draw_flow(scene.moment, scene.flows[flow["id"]], scene.until + 40, scene.seed, PATHS)
            held = {change["nominal"]: change for change in flow["changes"]}
            for row, (nominal, landing) in enumerate(zip(found.coming.nominal, found.coming.landing, strict=True)):
                key = date.fromordinal(int(nominal)).isoformat()
                change = held.setdefault(key, {"nominal": key, "left_out": False, "amount": None, "moved_to": None})
                change["amount"] = int(found.amount[row, path])
                if landing >= now:
                    change["moved_to"] = date.fromordinal(int(found.day[row, path])).isoformat()
            flow["changes"] = list(held.values())
    for held_back in scene.allowances:
        if held_back.varying.ratios:
            ahead = list(periods(scene.moment, held_back.varying.allowance, scene.until))
            uses = drawn_limits(scene.moment, held_back, ahead, scene.seed, PATHS)[:, path]
            told["allowances"][0] |= {"carry": "none", "revisions": [
                {"from": date.fromordinal(period.first).isoformat(), "limit": max(int(use), period.used)}
                for period, use in zip(ahead, uses, strict=True)
            ]}  # fmt: skip
    return told


def agrees(document: Document, habits: Habits) -> None:
    moment = moment_from(document)
    if any(limit_on(each, span.first) != span.limit for each in moment.plan.allowances
           for span in spans(moment, each, moment.now - 31, UNTIL.toordinal() + 31)):  # fmt: skip
        # Of a period that is cut short a limit by hand would be cut again.
        habits = replace(habits, allowances={})
    for account in moment.plan.accounts:
        scene = Scene(moment, UNTIL.toordinal(), (account,), habits, 7)
        balances = walk(scene, scene.moved(PATHS), len(PATHS))
        for path in PATHS:
            by_day = ActingLedger(as_drawn(scene, document, path), TODAY, UNTIL).end_of_days(account.id)
            assert {day: int(balances[(day - TODAY).days, path]) for day in by_day} == by_day


@settings(max_examples=examples(40))
@given(cases())
def test_each_path_is_the_forecast_of_what_was_drawn(case: tuple[Document, Habits]) -> None:
    agrees(*case)


@pytest.mark.slow
@settings(max_examples=1500)
@given(cases())
def test_many_more_paths(case: tuple[Document, Habits]) -> None:
    agrees(*case)


PLAIN = Account("a", "A", "checking", "USD", Opening(TODAY - timedelta(days=400), 1_000_00), floor=100_00)


def bill(id: str, amount: int, *days: int, **more: object) -> Flow:
    dates = tuple(TODAY + timedelta(days=day) for day in days)
    return Flow(id, id.title(), "bill", amount, "a", dates=dates, **more)  # type: ignore[arg-type]


def test_figures_are_those_of_the_paths_sorted() -> None:
    """A household of two bills, against percentiles, shares and a covariance by hand from the same draws."""
    fuel, rent = bill("fuel", 500_00, 10, 20, estimate=True), bill("rent", 200_00, 15)
    held = Habits({"fuel": Habit(tuple(Ratio(part, 100) for part in (50, 80, 100, 130, 140)))})
    moment = Moment(Plan(accounts=(PLAIN,), flows=(fuel, rent)), TODAY)
    found = chance(moment, [PLAIN], TODAY + timedelta(days=30), held, paths=401, seed=3)
    days = np.array([(TODAY + timedelta(days=day)).toordinal() for day in (10, 20)])
    which = drawn(3, "amount fuel", days, np.arange(401), 5)
    paid = np.array([250_00, 400_00, 500_00, 650_00, 700_00])[which]
    ends = np.sort(1_000_00 - 200_00 - paid.sum(axis=0))
    # Nearest rank: of 401, the 41st, 201st and 361st; of the shortages, the 381st.
    assert found.bands[:, 30].tolist() == [ends[40], ends[200], ends[360]]
    assert found.bands[:, 9].tolist() == [1_000_00] * 3
    assert found.below == int((ends < 100_00).sum())
    assert [(each.month, each.below) for each in found.months] == [(2027 * 12 + 2, found.below)]
    assert found.goes_badly == ends[40]
    assert found.safe_with == max(0, 100_00 - int(ends[20]))
    assert [(each.id, round(each.share, 9)) for each in found.causes] == [("fuel", 1)]
    assert found.things == (
        Thing("fuel", False, "Fuel", "5 times, −50 % to +40 %", (50, 80, 100, 130, 140), False, None),
    )
    again = chance(moment, [PLAIN], TODAY + timedelta(days=30), held, paths=401, seed=3)
    assert (again.bands == found.bands).all()
    # Another bill leaves every draw as it was.
    more = replace(moment.plan, flows=(*moment.plan.flows, bill("gas", 1_00, 2, estimate=True)))
    third = chance(Moment(more, TODAY), [PLAIN], TODAY + timedelta(days=30), held, paths=401, seed=3)
    assert abs(third.bands[:, 30] - found.bands[:, 30]).max() <= 1_10


@pytest.mark.parametrize(
    ("count", "said"),
    [(0, "never"), (1, "less than 1 in 1000"), (2, "1 in 1000"), (100, "1 in 20"), (250, "1 in 8"), (430, "1 in 5"),
     (799, "1 in 3"), (800, "4 in 10"), (900, "1 in 2"), (1000, "1 in 2"), (1100, "6 in 10"), (1400, "7 in 10"),
     (1900, "9 in 10"), (1901, "more than 19 in 20"), (1999, "more than 19 in 20"), (2000, "always")],
)  # fmt: skip
def test_a_share_of_2000_paths_is_said_as_people_say_it(count: int, said: str) -> None:
    assert odds(count, 2000) == said


@pytest.mark.parametrize(
    ("habit", "said", "assumed", "known_in"),
    [
        (Habit(), "never settled so far: taken as 10 % less, as planned or 10 % more", True, 3),
        (Habit((Ratio(9, 9),)), "settled once so far: taken as 10 % less, as planned or 10 % more", True, 2),
        (Habit((Ratio(9, 9),) * 3, (0, 1, 2)), "settled 3 times so far: taken as 10 % less, as planned or 10 % more",
         True, 1),
        (Habit((Ratio(1, 1),) * 4, (-1, 0, 2, 6)), "4 times, 1 day early to 6 days late", False, None),
        (Habit((Ratio(82, 100), Ratio(131, 100), Ratio(1, 1), Ratio(1, 1)), (0, 0, 0, 1)),
         "4 times, −18 % to +31 %; 4 times, on its day to 1 day late", False, None),
    ],
)  # fmt: skip
def test_what_varies_is_said_with_what_is_known_of_it(
    habit: Habit, said: str, assumed: bool, known_in: int | None
) -> None:
    fuel = bill("fuel", 50_00, 10, 41, 71, 102, estimate=True)
    moment = Moment(Plan(accounts=(PLAIN,), flows=(fuel,)), TODAY)
    (thing,) = chance(moment, [PLAIN], TODAY + timedelta(days=120), Habits({"fuel": habit}), paths=20).things
    assert (thing.based_on, thing.is_assumed, thing.known_in) == (said, assumed, known_in)


@pytest.mark.parametrize(
    ("missed", "sure", "said", "known_in"),
    [
        (None, "doubtful", "doubtful: taken not to come half the time", 4), (None, "counted", None, None),
        (Ratio(1, 3), "doubtful", "doubtful: taken not to come half the time", 1), (Ratio(3, 3), "counted", None, None),
        (Ratio(1, 4), "counted", "1 of 4 times it did not come, or not all of it", None),
        (Ratio(0, 4), "doubtful", None, None), (Ratio(5, 5), "left_out", None, None),
    ],
)  # fmt: skip
def test_money_lent_is_missed_as_often_as_it_was(
    missed: Ratio | None, sure: Sureness, said: str | None, known_in: int | None
) -> None:
    repays = Repays(10_00, ("FREQ=MONTHLY;BYMONTHDAY=20",), TODAY + timedelta(days=31))
    lent = Account(
        "l", "L", "owed_to_us", "USD", Opening(TODAY, 900_00), lent=LentTerms("Bo", "a", repays=repays, sure=sure)
    )
    found = chance(Moment(Plan(accounts=(PLAIN, lent)), TODAY), [PLAIN], TODAY + timedelta(days=300),
                   Habits({"l-repayment": Habit(missed=missed)}), paths=400)  # fmt: skip
    assert [(thing.based_on, thing.known_in) for thing in found.things] == ([(said, known_in)] if said else [])
    # Nine times ten is due by then; each path has a count of them, and none that always comes has another.
    ends = {int(band) for band in found.bands[:, -1]}
    assert ends <= {1_000_00 + 10_00 * times for times in range(10)}
    assert (len(ends) > 1) == (said is not None)


@pytest.mark.parametrize(
    ("count", "said"),
    [(1, "“F0”."), (2, "“F0” and “F1”."), (4, "“F0”, “F1”, “F2” and “F3”."), (5, "“F0”, “F1”, “F2”, “F3” and 1 more.")],
)
def test_what_is_only_assumed_is_named_up_to_four_times(count: int, said: str) -> None:
    flows = tuple(bill(f"f{at}", 10_00, 10, estimate=True) for at in range(count))
    found = chance(Moment(Plan(accounts=(PLAIN,), flows=flows), TODAY), [PLAIN], UNTIL, NO_HABITS, paths=5)
    assert f"Only assumed, for too little is known of it yet: {said}" in found.notes


@pytest.mark.parametrize(
    ("balance", "own", "other"),
    [(1_000_00, 400_00, 850_00), (120_00, 100_00, 270_00), (300_00, 250_00, 300_00), (0, 100_00, 150_00)],
)
def test_a_sweep_brings_each_path_to_its_bounds(balance: int, own: int, other: int) -> None:
    """Fuel is 50.00 in every path, of an estimate of 100.00; a month's end later what is above or below is moved."""
    swept = Account("a", "A", "checking", "USD", Opening(TODAY - timedelta(days=9), balance),
                    sweep=SweepTerms("s", 100_00, 400_00, ("FREQ=MONTHLY;BYMONTHDAY=20",)))  # fmt: skip
    saved = Account("s", "S", "savings", "USD", Opening(TODAY - timedelta(days=9), 300_00))
    plan = Plan(accounts=(swept, saved), flows=(bill("fuel", 100_00, 10, estimate=True),))
    held = Habits({"fuel": Habit((Ratio(1, 2),) * 4)})
    until = TODAY + timedelta(days=25)
    for account, ends in ((swept, own), (saved, other)):
        assert chance(Moment(plan, TODAY), [account], until, held, paths=30).bands[:, -1].tolist() == [ends] * 3


def test_draws_are_even_and_each_its_own() -> None:
    found = drawn(1, "amount fuel", np.arange(700_000, 700_050), np.arange(2000), 7)
    counts = np.bincount(found.ravel(), minlength=7) / found.size
    assert abs(counts - 1 / 7).max() < 0.004
    other = drawn(1, "amount rent", np.arange(700_000, 700_050), np.arange(2000), 7)
    assert abs(np.corrcoef(found.ravel(), other.ravel())[0, 1]) < 0.01
    assert abs(np.corrcoef(found[:-1].ravel(), found[1:].ravel())[0, 1]) < 0.01


@given(acting_documents())
def test_where_nothing_varies_every_path_is_the_forecast(document: Document) -> None:
    for flow in document["flows"]:
        flow["estimate"], flow["follows"] = False, 0
    moment = moment_from(document)
    ledgers = [ActingLedger(document, TODAY, UNTIL).end_of_days(account.id) for account in moment.plan.accounts]
    scene = Scene(moment, UNTIL.toordinal(), moment.plan.accounts, NO_HABITS, 7)
    together = walk(scene, scene.moved(PATHS), len(PATHS))
    for day in set.intersection(*map(set, ledgers)):
        assert together[(day - TODAY).days, 0] == sum(ledger[day] for ledger in ledgers)
    for account in moment.plan.accounts:
        found = chance(moment, [account], UNTIL, NO_HABITS, paths=50)
        ledger = ActingLedger(document, TODAY, UNTIL).end_of_days(account.id)
        for day, balance in ledger.items():
            assert found.bands[:, (day - TODAY).days].tolist() == [balance] * 3
        assert found.causes == ()
        if account.is_debt:
            assert found.safe_with is None
            continue
        short = max(0, account.floor - min(ledger.values(), default=account.floor))
        if found.safe_with == 0:
            assert short == 0
        else:
            # Where rules read the balance, more money may go elsewhere: then nothing up to twice the shortage helps.
            gift = given_to(account.id, found.safe_with or 2 * short)
            gifts = {"id": "gifts", "name": "Gifts", "kind": "income"}
            added = {
                **document,
                "entries": [*document["entries"], gift],
                "categories": [*document["categories"], gifts],
            }
            after = ActingLedger(added, TODAY, UNTIL).end_of_days(account.id)
            assert (min(after.values()) < account.floor) == (found.safe_with is None)


def given_to(account: str, amount: int) -> Document:
    legs = [{"account": account, "amount": amount}, {"category": "gifts", "amount": -amount}]
    return {"id": "gift", "date": TODAY.isoformat(), "payee": "Gift", "legs": legs, "flow": None, "nominal": None}


def test_of_what_is_said_to_happen_one_in_ten_times_a_tenth_does() -> None:
    """Households live on by the values that they remember: at 10 % of all end-of-day balances lie below the band."""
    dice, below, above, events = random.Random(27), 0, 0, 0
    for number in range(140):
        part = [dice.randint(60, 150) for _ in range(12)]
        use = [dice.randint(40, 130) for _ in range(12)]
        fuel = bill("fuel", dice.randint(40_00, 90_00), *range(3, 360, 14), estimate=True)
        eat = Allowance("eat", "Eating", dice.randint(200_00, 600_00), "a", start=TODAY - timedelta(days=300))
        plan = Plan(accounts=(PLAIN,), flows=(fuel, bill("rent", 30_00, *range(5, 360, 30))), allowances=(eat,))
        held = Habits(
            {"fuel": Habit(tuple(Ratio(each, 100) for each in part))},
            {"eat": Habit(tuple(Ratio(each, 100) for each in use))},
        )
        found = chance(Moment(plan, TODAY), [PLAIN], TODAY + timedelta(days=364), held, paths=400, seed=number)
        # What it lives through: by dice of its own, added up by hand month by month.
        balance, lived = 1_000_00, []
        whole = list(spans(Moment(plan, TODAY), eat, TODAY.toordinal(), TODAY.toordinal() + 364))
        spent = {span.last: round(eat.limit * dice.choice(use) / 100) for span in whole}
        for day in range(365):
            on = TODAY + timedelta(days=day)
            balance -= sum(round(fuel.amount * dice.choice(part) / 100) for each in fuel.dates if each == on)
            balance -= sum(30_00 for each in plan.flows[1].dates if each == on)
            balance -= spent.get(on.toordinal(), 0)
            lived.append(balance)
        for day in range(20, 365, 20):
            # At a month's end all that was spent is in both.
            at = (date.fromordinal(min(each for each in spent if each >= TODAY.toordinal() + day)) - TODAY).days
            if at < 365:
                below += lived[at] < found.bands[0, at]
                above += lived[at] > found.bands[2, at]
                events += 1
    assert events >= 2000
    assert 0.08 <= below / events <= 0.12
    assert 0.08 <= above / events <= 0.12
