"""Months, figures, trials, remedies and can-we-afford-it, against sums over days and forecasts run again."""

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from itertools import groupby

import pytest
from acting_households import acting_documents
from households import TODAY, Document, documents, iso, read
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from ledger import Ledger, half_up
from seen import seen

from effort import examples
from next_penny.core.ahead.afford import afford
from next_penny.core.ahead.figures import figures
from next_penny.core.ahead.months import grid
from next_penny.core.ahead.remedies import remedies
from next_penny.core.ahead.stretch import stretch
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.forecast.low_points import stretches
from next_penny.core.forecast.projection import AccountRun, project
from next_penny.core.forecast.trials import Trial
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.flows import Flow
from next_penny.core.problems import GivenUp, PlanError, waiting
from next_penny.demo.household import demo_plan

UNTIL = TODAY + timedelta(days=120)


def balances(document: Document, account: str, last: date) -> dict[date, int]:
    """End-of-day balances from half a year ago on: as recorded before today, as the ledger walks from today on."""
    held = next(each for each in document["accounts"] if each["id"] == account)
    opened, found = date.fromisoformat(held["opening"]["date"]), {}
    day = TODAY - timedelta(days=200)
    while day < TODAY:
        legs = (leg for entry in document["entries"] if entry["date"] <= iso(day) for leg in entry["legs"])
        recorded = held["opening"]["balance"] + sum(leg["amount"] for leg in legs if leg.get("account") == account)
        found[day] = recorded if opened <= day else 0
        day += timedelta(days=1)
    later = Ledger(document, TODAY).balances(account, last)
    while day <= last:
        found[day] = later.get(day, 0)
        day += timedelta(days=1)
    return found


@given(documents(), st.sampled_from([["a"], ["b", "a"], ["c"]]), st.integers(-120, 60), st.integers(1, 100))
def test_figures_of_any_stretch_are_sums_over_its_days(
    document: Document, ids: list[str], back: int, days: int
) -> None:
    for flow in document["flows"]:
        flow["always_happens"] = False
    plan, entries = read(document)
    moment = seen(plan, entries, TODAY)
    first = TODAY + timedelta(days=back)
    last = first + timedelta(days=days - 1)
    accounts = [plan.account_by_id[id] for id in ids]
    found = figures(stretch(moment, accounts, first, last, entries))
    by_day = [balances(document, id, max(last, TODAY)) for id in ids]
    inside = [first + timedelta(days=number) for number in range(days)]
    together = {day: sum(each[day] for each in by_day) for day in [first - timedelta(days=1), *inside]}
    held = [together[day] for day in inside]
    assert (found.opening, found.closing) == (together[first - timedelta(days=1)], together[last])
    assert found.opening + found.money_in - found.money_out == found.closing
    assert (found.lowest.balance, found.highest.balance) == (min(held), max(held))
    assert found.lowest.day == inside[held.index(min(held))].toordinal()
    mean = Fraction(sum(held), days)
    assert found.average == (half_up(mean) if mean >= 0 else -half_up(-mean))
    opened = {id: plan.account_by_id[id].opening.date for id in ids}
    for bound, counted in (("floor", found.days_below_floor), ("cushion", found.days_below_cushion)):
        assert counted == sum(
            any(opened[id] <= day and each[day] < getattr(plan.account_by_id[id], bound)
                for id, each in zip(ids, by_day, strict=True))
            for day in inside
        )  # fmt: skip


@given(documents(), st.sampled_from([["a"], ["a", "b"], ["c"]]), st.integers(-4, 3), st.integers(1, 7))
def test_months_open_with_what_the_one_before_closed_with_and_their_cells_sum(
    document: Document, ids: list[str], back: int, count: int
) -> None:
    plan, entries = read(document)
    moment = seen(plan, entries, TODAY)
    first = add_months(TODAY, back)
    last = add_months(first, count) - timedelta(days=1)
    over = stretch(moment, [plan.account_by_id[id] for id in ids], first, last, entries)
    found = grid(over)
    for at, month in enumerate(found.months):
        assert month.closing == month.opening + month.net
        assert at == 0 or month.opening == found.months[at - 1].closing
        assert sum(row.cells[at].amount for row in found.rows) == month.net
        begin = add_months(first, at)
        alone = figures(replace(over, first=begin.toordinal(), last=add_months(begin, 1).toordinal() - 1))
        assert (alone.opening, alone.money_in, alone.money_out) == (month.opening, month.money_in, month.money_out)
        assert (alone.lowest.day, alone.lowest.balance) == (month.lowest_day, month.lowest)
        assert (month.short.amount > 0) == (alone.days_below_floor > 0)
        if month.short.account is not None:
            short = plan.account_by_id[month.short.account]
            held = over.balances(short)[
                1 + begin.toordinal() - over.first : 1 + add_months(begin, 1).toordinal() - over.first
            ]
            open_days = held[max(0, (short.opening.date - begin).days) :]
            assert month.short.amount == short.floor - int(open_days.min())
        # What an account begins with is no income: the sums that are shown are without it.
        opened = [each for each in over.accounts if begin <= each.opening.date < add_months(begin, 1)]
        assert month.begun == sum(each.opening.balance for each in opened)
        assert (
            found.money_in.amounts[at] + found.money_out.amounts[at] == found.net.amounts[at] == month.net - month.begun
        )
        assert sum(row.cells[at].amount for row in found.rows if not row.key.is_beginning) == month.net - month.begun
    groups = [row.key.group for row in found.rows if row.key.group]
    assert len([group for group, _ in groupby(groups)]) == len(set(groups)) == len(found.groups)
    for row in found.rows:
        assert row.sums.total == sum(cell.amount for cell in row.cells)


@given(documents() | acting_documents())
def test_a_trial_has_the_balances_of_the_forecast(document: Document) -> None:
    plan, entries = read(document)
    moment = seen(plan, entries, TODAY)
    trial = Trial(moment, UNTIL)
    for run in project(moment, UNTIL).runs:
        levels = dict(run.levels)
        held = None
        for day in range(TODAY.toordinal(), UNTIL.toordinal() + 1):
            held = levels.get(day, held)
            if held is not None:
                assert trial.balance_on(run.account, day) == held


def short_days(run: AccountRun, last: int) -> set[int]:
    """The days on which an account is below its floor."""
    if run.account.is_debt or not run.levels:
        return set()
    ends = [*(day for day, _ in run.levels[1:]), last + 1]
    return {
        each for (day, balance), end in zip(run.levels, ends, strict=True) if balance < run.account.floor
        for each in range(day, end)
    }  # fmt: skip


def check_remedies(document: Document, late: list[int]) -> None:
    """Every remedy holds and hurts nobody; every single transfer, move and leaving out that works is offered."""
    for flow, days in zip(document["flows"], late, strict=False):
        flow |= {"late_days": days, "may_skip": days % 2 == 1, "may_pause": days % 3 == 0}
    # Of these nothing is known but what is owed: nothing can be drawn on them, and nothing put on them.
    opening = {"date": iso(TODAY), "balance": -50_00}
    for kind in ("credit_card", "credit_line")[: late[0] % 3]:
        document["accounts"].append({"id": kind, "name": kind, "kind": kind, "currency": "USD", "opening": opening})
    plan, entries = read(document)
    moment = seen(plan, entries, TODAY)
    before = {run.account.id: run for run in project(moment, UNTIL).runs}
    short = {id: short_days(run, UNTIL.toordinal()) for id, run in before.items()}
    for id, run in before.items():
        below = [each for each in stretches(run, UNTIL.toordinal()) if each.below == "floor"]
        if not below:
            continue
        stretch_days = set(range(below[0].first, below[0].last + 1))

        def works(changes: list[PlanChange], days: set[int] = stretch_days, of: str = id) -> bool:
            after = {each.account.id: short_days(each, UNTIL.toordinal())
                     for each in project(apply_to_moment(moment, changes, lambda _: None), UNTIL).runs}  # fmt: skip
            return not (after[of] & days) and all(after[each] <= short[each] for each in short)

        found = remedies(moment, run.account, below[0], UNTIL)
        assert all(works(list(each.changes)) for each in found)
        assert [(each.steps, each.cost, each.moved) for each in found] == sorted(
            (each.steps, each.cost, each.moved) for each in found)  # fmt: skip
        day = date.fromordinal(below[0].first)
        for other in plan.accounts:
            same = other.currency == run.account.currency and other.id != id and other.opening.date <= day
            same &= not other.is_debt
            moved = Flow("x", "x", "transfer", below[0].short_by, other.id, id, dates=(day,))
            if same and works([PlanChange("flow", "x", moved)]):
                assert any(each.kind == "transfer" and other.id in each.changes[0].id for each in found)


@settings(max_examples=examples(60), suppress_health_check=[HealthCheck.filter_too_much])
@given(documents(), st.lists(st.integers(0, 9), min_size=5, max_size=5))
def test_remedies_mend_a_stretch_and_harm_no_other_account(document: Document, late: list[int]) -> None:
    check_remedies(document, late)


@pytest.mark.slow
@settings(max_examples=2000, deadline=None, suppress_health_check=list(HealthCheck))
@given(documents(), st.lists(st.integers(0, 9), min_size=5, max_size=5))
def test_two_thousand_households_are_offered_no_remedy_that_fails(document: Document, late: list[int]) -> None:
    check_remedies(document, late)


def runs_with(moment: Moment, id: str, amount: int, days: list[date], until: date) -> set[int]:
    flow = Flow("x", "x", "bill", amount, id, dates=tuple(days))
    seen_with = apply_to_moment(moment, [PlanChange("flow", "x", flow)], lambda _: None)
    (run,) = project(seen_with, until, [id]).runs
    return short_days(run, until.toordinal())


@settings(max_examples=examples(40), deadline=None)
@given(documents() | acting_documents(), st.integers(1, 400_00), st.integers(0, 50), st.booleans())
def test_what_can_be_afforded_is_what_the_forecast_run_with_it_bears(
    document: Document, amount: int, ahead: int, monthly: bool
) -> None:
    plan, entries = read(document)
    moment, until = seen(plan, entries, TODAY), TODAY + timedelta(days=70)
    on = TODAY + timedelta(days=ahead)
    account = next((each for each in plan.accounts if not each.is_debt and each.opening.date <= on), None)
    assume(account is not None)
    assert account is not None
    found = afford(moment, account, amount, on, until, monthly=monthly)

    def fails(begin: date) -> list[int]:
        days = [add_months(begin, number) for number in range(12 if monthly else 1)]
        short = runs_with(moment, account.id, amount, [day for day in days if day <= until], until)
        return sorted(day for day in short if day >= begin.toordinal())

    assert found.fails_on == (fails(on)[0] if fails(on) else None)
    assert found.ok == (found.fails_on is None)
    days = [on + timedelta(days=number) for number in range((until - on).days + 1)]
    assert found.works_from == next((day.toordinal() for day in days if not fails(day)), None)


def test_what_cannot_be_asked_is_refused_in_a_sentence() -> None:
    document: Document = {
        "format": "next-penny-plan", "version": 1, "currency": "USD",
        "accounts": [{"id": "a", "name": "A", "kind": "checking", "opening": {"date": "2027-01-01", "balance": 0}},
                     {"id": "e", "name": "E", "kind": "cash", "currency": "EUR",
                      "opening": {"date": "2027-01-01", "balance": 0}}],
    }  # fmt: skip
    plan, entries = read(document)
    moment = seen(plan, entries, TODAY)
    with pytest.raises(PlanError, match="ends before it starts"):
        stretch(moment, plan.accounts[:1], TODAY, TODAY - timedelta(days=1), ())
    with pytest.raises(PlanError, match="EUR and USD"):
        stretch(moment, plan.accounts, TODAY, TODAY, ())
    with pytest.raises(PlanError, match="has passed"):
        afford(moment, plan.accounts[0], 5, TODAY - timedelta(days=1), TODAY, monthly=False)
    with pytest.raises(PlanError, match="above nothing"):
        afford(moment, plan.accounts[0], 0, TODAY, TODAY, monthly=False)


@given(acting_documents(), st.data())
def test_a_trial_told_from_another_is_the_forecast_run_again(document: Document, data: st.DataObject) -> None:
    plan, entries = read(document)
    moment = seen(plan, entries, TODAY)
    assume(plan.flows)
    trial = Trial(moment, UNTIL)
    chosen = data.draw(st.lists(st.sampled_from(plan.flows), min_size=1, max_size=3, unique_by=lambda flow: flow.id))
    changes = []
    for flow in chosen:
        other = data.draw(st.sampled_from(["amount", "until", "notes", "id", "from_account"]))
        value = {"amount": flow.amount + 700, "until": TODAY + timedelta(days=20), "notes": "other",
                 "id": f"{flow.id}-again", "from_account": data.draw(st.sampled_from(plan.accounts)).id}[other]  # fmt: skip
        if other == "from_account" and (flow.kind != "bill" or flow.splits or flow.revisions):
            continue
        changed = replace(flow, **{other: value})
        changes.append(PlanChange("flow", changed.id, changed))
    again = Trial(apply_to_moment(moment, changes, lambda id: None), UNTIL)
    told = trial.with_changes(changes)
    assert (told.balances == again.balances).all()
    assert (told.is_short == again.is_short).all()
    assert told.worth() == again.worth()


def test_what_nobody_waits_for_is_given_up_and_what_is_remembered_is_bounded() -> None:
    whole, _ = demo_plan(TODAY)
    plan = replace(whole, flows=whole.flows[:5], allowances=whole.allowances[:1])  # what acts over balances stays
    moment = seen(plan, (), TODAY)
    for days in range(1000):
        project(moment, TODAY + timedelta(days=days % 500), ["joint"] if days % 2 else None)
    once = seen(plan, (), TODAY)
    project(once, TODAY + timedelta(days=500))
    assert len(moment.cache) <= 10 * len(once.cache)
    asked = iter([False, False, True])
    with waiting(lambda: next(asked)), pytest.raises(GivenUp):
        project(moment, TODAY + timedelta(days=700))
