"""What is read off balances day by day: what to put in, net worth, what rates did, what a change does (RULES §13)."""

from collections import defaultdict
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

from households import TODAY, Document, documents, moment_from
from hypothesis import given, settings
from hypothesis import strategies as st
from ledger import half_up

from effort import examples
from next_penny.core.ahead.effects import StretchEffect, reach, stretch_effects
from next_penny.core.ahead.put_in import put_in
from next_penny.core.ahead.revaluation import revaluation
from next_penny.core.ahead.side_by_side import seen, years_end
from next_penny.core.ahead.stretch import Stretch
from next_penny.core.ahead.worth import whole_span, worth_over
from next_penny.core.books.books import Books
from next_penny.core.dates.calendar import month_end
from next_penny.core.flows.assumed import apply_to_moment, moment_of
from next_penny.core.flows.makers import expected
from next_penny.core.forecast.low_points import stretches
from next_penny.core.forecast.projection import AccountRun, Forecast, project
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.plan import Plan

UNTIL = date(2027, 6, 30)
days_near = st.integers(-60, 100).map(lambda ahead: TODAY + timedelta(days=ahead))


def day_by_day(first: date, last: date) -> list[date]:
    return [first + timedelta(days=ahead) for ahead in range((last - first).days + 1)]


def by_day(run: AccountRun, until: date) -> dict[date, int]:
    """The end-of-day balance of each day from today on, from the day on which the account is open."""
    levels, found, balance = dict(run.levels), {}, None
    for day in day_by_day(TODAY, until):
        balance = levels.get(day.toordinal(), balance)
        if balance is not None:
            found[day] = balance
    return found


@given(documents())
@settings(max_examples=examples(150))
def test_what_is_put_in_by_month_keeps_every_day_at_its_floor(document: Document) -> None:
    moment = moment_from(document)
    dollars = tuple(account for account in moment.plan.accounts if account.currency == "USD")
    forecast = project(moment, UNTIL)
    wanted, closing = [0] * 4, [0] * 4
    for account in dollars:
        put = 0
        for day, balance in by_day(forecast.run_of[account.id], UNTIL).items():
            if balance + put < account.floor:
                wanted[day.month - 3] += account.floor - balance - put
                put = account.floor - balance
            if (day + timedelta(days=1)).day == 1:
                closing[day.month - 3] += balance + put
    found = put_in(Stretch(moment, dollars, TODAY.toordinal(), UNTIL.toordinal(), ()))
    assert (list(found.amounts), list(found.closing)) == (wanted, closing)


def worth_of(document: Document, amount: int, currency: str, day: date) -> int:
    """In dollars at the newest rate by a day (of one day's the first), or the oldest; a yen has no decimals."""
    if currency == "USD":
        return amount
    known = sorted(document["rates"], key=lambda rate: rate["date"])
    by_then = [rate for rate in known if rate["date"] <= day.isoformat()]
    rate = max(by_then, key=lambda rate: rate["date"]) if by_then else known[0]
    each = Fraction(rate["rate"]) if rate["from"] == "JPY" else 1 / Fraction(rate["rate"])
    return half_up(amount * each * 100)


def recorded(document: Document, account: str, first: date | None, last: date) -> list[tuple[date, int]]:
    return [
        (date.fromisoformat(entry["date"]), leg["amount"])
        for entry in document["entries"]
        for leg in entry["legs"]
        if leg.get("account") == account
        and (first is None or entry["date"] >= first.isoformat())
        and entry["date"] <= last.isoformat()
    ]


def without_assumed(document: Document) -> Document:
    return {**document, "flows": [{**flow, "always_happens": False} for flow in document["flows"]]}


@given(documents(), days_near, st.integers(0, 120))
@settings(max_examples=examples(150))
def test_net_worth_is_each_account_at_the_rate_of_each_month_end(document: Document, first: date, length: int) -> None:
    document, last = without_assumed(document), first + timedelta(days=length)
    moment = moment_from(document)
    forecast = project(moment, max(last, TODAY))
    ends = [day for day in day_by_day(first, last) if (day + timedelta(days=1)).day == 1 or day in (TODAY, last)]
    found = worth_over(moment, first, last)
    assert list(map(date.fromordinal, found.days)) == ends
    owned, owed, still = [0] * len(ends), [0] * len(ends), 0
    for account in document["accounts"]:
        opened, opening = date.fromisoformat(account["opening"]["date"]), account["opening"]["balance"]
        ahead = by_day(forecast.run_of[account["id"]], max(last, TODAY))
        for at, day in enumerate(ends):
            past = opening + sum(amount for _, amount in recorded(document, account["id"], None, day))
            balance = ahead.get(day, 0) if day > TODAY else past if day >= opened else 0
            if day == TODAY:
                still += worth_of(document, ahead.get(day, 0) - balance, account["currency"], day)
            worth = worth_of(document, balance, account["currency"], day)
            owned[at] += max(0, worth)
            owed[at] += max(0, -worth)
    assert (list(found.owned), list(found.owed), found.expected_today) == (owned, owed, still)
    assert [sum(each) for each in zip(*(kind.balances for kind in found.kinds), strict=True)] == list(found.together)
    begun = min(TODAY, *(date.fromisoformat(account["opening"]["date"]) for account in document["accounts"]))
    assert whole_span(moment) == (begun, date.fromordinal(month_end((TODAY.year + 5) * 12 + TODAY.month - 1)))


@given(documents(), days_near, st.integers(0, 90))
@settings(max_examples=examples(150))
def test_what_rates_did_is_what_no_movement_did(document: Document, first: date, length: int) -> None:
    document, last = without_assumed(document), first + timedelta(days=length)
    moment, until = moment_from(document), min(last, TODAY)
    found = revaluation(moment, first, last, moment.plan.accounts)
    assert revaluation(moment, first, last, [each for each in moment.plan.accounts if each.currency == "USD"]) is None
    if first > TODAY:
        assert found is None
        return
    wanted = 0
    for account in document["accounts"]:
        opened, balance = date.fromisoformat(account["opening"]["date"]), account["opening"]["balance"]
        if account["currency"] == "USD" or opened > until:
            continue
        before = first - timedelta(days=1)
        begun = opened if opened >= first else before
        began = balance + sum(amount for _, amount in recorded(document, account["id"], None, before))
        moved = recorded(document, account["id"], max(first, opened), until)
        wanted -= worth_of(document, balance if opened >= first else began, "JPY", begun)
        wanted -= sum(worth_of(document, amount, "JPY", day) for day, amount in moved)
        ended = balance + sum(amount for _, amount in recorded(document, account["id"], None, until))
        wanted += worth_of(document, ended, "JPY", until)
    assert found == wanted


@given(documents(), st.integers(0, 3), st.integers(1, 9_00))
@settings(max_examples=examples(100))
def test_a_change_is_looked_at_until_its_third_other_date(document: Document, place: int, more: int) -> None:
    moment = moment_from(document)
    if place >= len(moment.plan.flows):
        return
    flow = moment.plan.flows[place]
    change = PlanChange("flow", flow.id, replace(flow, amount=flow.amount + more))
    after = apply_to_moment(moment, [change], lambda _: None)
    sets = []
    for each in (moment, after):
        rows = expected(each, each.plan.flow_by_id[flow.id], TODAY.toordinal() + 4_000)
        sets.append(set(zip(*(column.tolist() for column in rows), strict=True)))
    differing = sorted(sets[0] ^ sets[1])
    third = sorted({nominal for nominal, _, _ in differing})[:3]
    lands = [lands for nominal, lands, _ in differing if nominal in third]
    assert reach(moment, after, [change]).toordinal() == max([TODAY.toordinal(), *lands])


@given(documents(), st.integers(0, 3))
@settings(max_examples=examples(60))
def test_ways_beside_each_other_show_what_is_held_at_each_years_end(document: Document, years: int) -> None:
    document, moment = {**document, "rates": document["rates"][:1]}, moment_from(document)
    until = years_end(TODAY, years)
    found, forecast = seen(moment, ["a", "b"], until), project(moment, until)
    assert until == date(TODAY.year + years, 12, 31)
    held = [{each.toordinal(): balance for each, balance in by_day(forecast.run_of[id], until).items()} for id in "ab"]
    for year, balance in found.year_ends:
        assert balance == sum(each.get(date(year, 12, 31).toordinal(), 0) for each in held)
    assert [each.year for each in found.year_ends][-1:] == [until.year]
    lowest = min(sum(each.get(day, 0) for each in held) for day in range(TODAY.toordinal(), until.toordinal() + 1)
                 if any(day in each for each in held))  # fmt: skip
    assert found.lowest is not None
    assert found.lowest.balance == lowest


@given(documents(), st.integers(-400_00, 400_00))
@settings(max_examples=examples(150))
def test_a_change_brings_takes_deepens_or_eases_each_stretch(document: Document, more: int) -> None:
    changed = [
        {**account, "opening": {**account["opening"], "balance": account["opening"]["balance"] + more}}
        if account["id"] == "a" else account
        for account in document["accounts"]
    ]  # fmt: skip
    one, other = project(moment_from(document), UNTIL), project(moment_from({**document, "accounts": changed}), UNTIL)
    wanted = []
    for account in one.moment.plan.accounts:
        for below in ("floor", "cushion"):
            was, now = (below_by_day(forecast, account.id, below) for forecast in (one, other))
            for first, last, deepest, short in now:
                over = [each for each in was if each[0] <= last and first <= each[1]]
                most = max((each[3] for each in over), default=0)
                if most != short:
                    what = "comes" if not over else "deepens" if short > most else "eases"
                    wanted.append((account.id, what, below, first, last, deepest, most, short))
            for first, last, deepest, short in was:
                if not any(each[0] <= last and first <= each[1] for each in now):
                    wanted.append((account.id, "goes", below, first, last, deepest, short, 0))
    found = stretch_effects(one, other)
    assert sorted(map(tuple, found)) == sorted(wanted)
    assert found == sorted(found, key=lambda effect: (effect.first, effect.account, effect.below != "floor"))
    assert all(isinstance(effect, StretchEffect) for effect in found)


def below_by_day(forecast: Forecast, account: str, below: str) -> list[tuple[int, int, int, int]]:
    """(first, last, deepest, short by) of each stretch of days below the floor or the cushion of an account."""
    run, found = forecast.run_of[account], defaultdict[int, list[tuple[int, int]]](list)
    floor, cushion = run.account.floor, run.account.cushion
    bound = floor if below == "floor" else cushion if cushion > floor else None
    begins = None
    for day, balance in by_day(run, UNTIL).items():
        if bound is None or balance >= bound:
            begins = None
            continue
        begins = day.toordinal() if begins is None else begins
        found[begins].append((balance, day.toordinal()))
    rows = []
    for first, held in found.items():
        balance, deepest = min(held)
        assert bound is not None
        rows.append((first, held[-1][1], deepest, bound - balance))
    assert rows == [(each.first, each.last, each.deepest, each.short_by)
                    for each in stretches(run, UNTIL.toordinal()) if each.below == below]  # fmt: skip
    return rows


def test_an_account_is_short_from_the_day_on_which_it_opens() -> None:
    opens = TODAY + timedelta(days=3)
    accounts = (Account("a", "A", "checking", "USD", Opening(opens, 5_00), floor=8_00, cushion=8_00),
                Account("v", "V", "credit_line", "USD", Opening(TODAY, -9_00), floor=8_00, cushion=8_00))  # fmt: skip
    over = Stretch(moment_of(Plan(accounts=accounts), Books(), TODAY), accounts, TODAY.toordinal(),
                   TODAY.toordinal() + 5, ())  # fmt: skip
    assert over.below("floor").tolist() == over.below("cushion").tolist() == [False] * 3 + [True] * 3
    assert {id: column.tolist() for id, column in over.shortages().items()} == {"a": [0, 0, 0, 3_00, 3_00, 3_00]}
    assert over.together.tolist() == [-9_00 * (day >= 0) + 5_00 * (day >= 3) for day in range(-1, 6)]
