"""The way out of debt as a household carries it out: its own forecast bears what is adopted."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

from hypothesis import example, given, settings
from hypothesis import strategies as st
from payoff_ledger import Json, half_up, pay_off, rate_in, text
from seen import seen

from effort import examples
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import add_months, month_end, month_number
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.forecast.projection import project
from next_penny.core.payoff.adopting import adoption
from next_penny.core.payoff.comparing import needs_monthly
from next_penny.core.payoff.household import debts_of, owed_by_month, without_extras
from next_penny.core.payoff.outcome import months_a_line, taken_together
from next_penny.core.payoff.run import run
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.way_out import Asked, Strategy, Wish
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.formats.documents.kept.way_out import CalculatorDocument

TODAY = date(2027, 3, 1)


def loan(id: str, principal: int, payments: int, first: date, rate: str = "0") -> Account:
    terms = LoanTerms(principal, Decimal(rate), add_months(first, -1), first, payments, from_account="checking")
    return Account(id, id, "loan", "USD", Opening(terms.disbursed, -principal), loan=terms)


def household(balance: int, income: int, payday: int, *loans: Account, floor: int = 0) -> Moment:
    opening = Opening(date(2027, 1, 1), balance + floor)
    checking = Account("checking", "Checking", "checking", "USD", opening, floor=floor, cushion=floor)
    pay = Flow("pay", "Pay", "income", income, to_account="checking", rules=(f"FREQ=MONTHLY;BYMONTHDAY={payday}",),
               start=date(2027, 3, payday))  # fmt: skip
    return seen(Plan(Household(), (checking, *loans), flows=(pay,)), (), TODAY)


def lowest(moment: Moment, until: date) -> int:
    (checking,) = project(moment, until, ["checking"]).runs
    return min(balance for _, balance in checking.levels) - checking.account.floor


def capped(moment: Moment, strategy: Strategy, extra: int) -> Way:
    return Way(moment, Asked(month_number(TODAY), strategy, Wish(extra_monthly=extra), cap="affordable"))


def test_what_a_cleared_debt_frees_is_paid_no_sooner_than_it_was_due() -> None:
    moment = household(1000_00, 200_00, 25, loan("a", 2400_00, 24, date(2027, 4, 1)),
                       loan("b", 1000_00, 10, date(2027, 3, 28)))  # fmt: skip
    way = capped(moment, "smallest_balance", 5000_00)
    assert dict(way.run.cleared)["b"] < dict(way.run.cleared)["a"]
    after = apply_to_moment(moment, adoption(way), lambda id: None)
    assert way.run.debt_free is not None
    assert lowest(after, date.fromordinal(month_end(way.run.debt_free))) >= 0
    # Without waiting for its day, what b leaves free on the 28th would have gone out on the 1st.
    a, b = way.run.months["a"], way.run.months["b"]
    assert sum(month.paid for month in a) == 2400_00
    assert sum(month.paid for month in b) == 1000_00


def test_an_account_that_is_opened_later_bears_nothing_before() -> None:
    moment = household(0, 0, 25, loan("a", 2400_00, 24, date(2027, 4, 1)))
    later = replace(moment.plan.accounts[0], id="later", opening=Opening(date(2027, 5, 10), 500_00))
    moment = seen(replace(moment.plan, accounts=(*moment.plan.accounts, later)), (), TODAY)
    asked = Asked(month_number(TODAY), "highest_rate", Wish(extra_monthly=100_00), None, "later", cap="affordable")
    extras = [month.paid - month.minimum for month in Way(moment, asked).run.months["a"][:5]]
    assert extras == [0, 0, 0, 100_00, 100_00]  # March to July, paid on the 1st
    assert Way(moment, replace(asked, until=date(2027, 5, 1))).affordable.even == 0


def test_what_is_paid_by_hand_on_the_opening_day_counts_with_the_first_payment() -> None:
    by_hand = Entry("e", date(2027, 2, 10), "By hand", (Leg(-100_00, "checking"), Leg(100_00, "a")))
    checking = Account("checking", "Checking", "checking", "USD", Opening(date(2027, 1, 1), 50_000_00))
    plan = Plan(Household(), (checking, loan("a", 12_000_00, 60, date(2027, 3, 10), "6")))
    moment = seen(plan, (by_hand,), date(2027, 2, 25))
    months = Way(moment, Asked(month_number(TODAY), "minimums", Wish())).run.months["a"]
    assert [(each.opening, each.interest, each.minimum) for each in months[:2]] == [
        (11_900_00, 60_00, 231_99), (11_728_01, 58_64, 231_99)]  # fmt: skip
    assert sum(each.minimum for each in months) == sum(
        -amount for amount in project(moment, date(2032, 12, 31), ["checking"]).events.columns.amount.tolist())  # fmt: skip


def test_the_picture_begins_with_what_was_owed_in_the_months_before() -> None:
    moment = household(0, 0, 25, loan("a", 1200_00, 12, date(2026, 11, 10)))
    (flow,) = (flow for flow in moment.plan.all_flows if flow.kind == "loan_payment")
    paid = [Entry(f"e{month}", date(2026, month, 10), "A", (Leg(-100_00, "checking"), Leg(100_00, "a")), flow.id,
                  date(2026, month, 10)) for month in (11, 12)]  # fmt: skip
    moment = seen(moment.plan, paid, TODAY)
    debts = debts_of(moment, month_number(TODAY))
    told = [(month, owed) for month, (owed,) in owed_by_month(moment, debts, 3)]
    december = month_number(date(2026, 12, 1))
    assert told == [(december, 1000_00), (december + 1, 1000_00), (december + 2, 1000_00)]
    assert len(owed_by_month(moment, debts, 24)) == 5  # it was opened in October


balances = st.sampled_from([0, 1, 4_99, 250_000]) | st.integers(10_000, 3_000_000)
rates = st.integers(0, 2990).map(lambda hundredths: f"{hundredths / 100}")


@st.composite
def wishes(draw: st.DrawFn) -> Json:
    """One to five debts with every kind of minimum, rates that change, and money that comes at odd times."""
    debts = []
    for place in range(draw(st.integers(1, 5))):
        balance = draw(balances)
        fixed = {"fixed": max(1, balance // draw(st.integers(5, 90)))}
        share = {"percent": draw(st.sampled_from(["0", "2.5", "7"])), "plus_interest": draw(st.booleans()),
                 "floor": draw(st.sampled_from([0, 25_00]))}  # fmt: skip
        steps = [{"from": f"{draw(st.integers(2027, 2030))}-{draw(st.integers(1, 12)):02d}-17", "annual_rate": draw(rates)}
                 for _ in range(draw(st.integers(0, 2)))]  # fmt: skip
        debts.append({"id": f"d{place}", "balance": balance, "annual_rate": draw(rates), "rate_changes": steps,
                      "minimum": draw(st.sampled_from([fixed, share]))})  # fmt: skip
    ids = draw(st.permutations([debt["id"] for debt in debts]))
    return {"start": "2027-04", "debts": debts, "order": ids[: draw(st.integers(0, 5))],
            "extra_monthly": draw(st.sampled_from([0, 50_00, 400_00])), "roll_freed": draw(st.booleans()),
            "one_time": [{"month": "2028-05", "amount": draw(st.integers(1, 200_000))}],
            "extra_changes": [{"from": "2029-02", "amount": 123_45}]}  # fmt: skip


@given(wishes(), st.sampled_from(["smallest_balance", "highest_rate", "custom", "minimums"]),
       st.none() | st.lists(st.integers(1, 28), min_size=5, max_size=5))  # fmt: skip
def test_a_run_is_the_ledger_of_the_rules(wish: Json, strategy: Strategy, dues: list[int] | None) -> None:
    document = CalculatorDocument.model_validate({**wish, "strategy": strategy})
    due = {f"d{place}": day for place, day in enumerate(dues)} if dues is not None else None
    debts = [debt.to_core() for debt in document.debts]
    on = None if due is None else lambda id, month: due[id]
    found = run(debts, document.start, document.wish(strategy), last_due=on)
    told = pay_off(wish, strategy, due=due)
    assert sorted(found.never) == sorted(id for id, owed in told["owed"].items() if owed)
    for debt in debts:
        months = found.months[debt.id][:60] if debt.balance else []
        rows = [month["debts"][debt.id] for month in told["months"][:60] if debt.id in month["debts"]]
        assert [month._asdict() for month in months] == rows[: len(months)]
        assert len(months) == len(rows) or found.never
    if not found.never:
        assert [(id, text(month)) for id, month in found.cleared] == [
            (each["id"], each["month"]) for each in told["cleared"]
        ]
        assert found.total_paid == sum(debt.balance for debt in debts) + found.total_interest
        # Read several months at a time, so that all of it fits a page; the last line has what is left of them.
        size, ids, told_months = months_a_line(found), sorted(found.months), told["months"]
        assert (len(found) - 1) // size < 40 or size == 60
        assert len(found) == len(told_months) or not any(debt.balance for debt in debts)
        for place, line in enumerate(taken_together(found, size, ids)):
            part = [month["debts"] for month in told_months[place * size : (place + 1) * size]]
            for column, id in enumerate(ids):
                rows = [debts_of_month[id] for debts_of_month in part if id in debts_of_month]
                assert line.paid[column] == sum(row["minimum"] + row["extra"] for row in rows)
                assert line.owed[column] == (part[-1][id]["closing"] if part and id in part[-1] else 0)
            assert line.until == found.start + min((place + 1) * size, len(found)) - 1
        assert found.owed[-1:] in ([], [0])


@given(wishes())
def test_what_a_debt_needs_a_month_clears_it_in_thirty_years_and_a_cent_less_does_not(wish: Json) -> None:
    document = CalculatorDocument.model_validate({**wish, "strategy": "custom"})
    for debt, told in zip((debt.to_core() for debt in document.debts), wish["debts"], strict=True):

        def owed_after(monthly: int, told: Json = told, balance: int = debt.balance) -> int:
            for month in range(document.start, document.start + 360):
                balance += half_up(balance * rate_in(told, month) / 1200) - monthly
                if balance <= 0:
                    return 0
            return balance

        needed = needs_monthly(debt, document.start)
        assert owed_after(needed) == 0
        assert needed == 0 or owed_after(needed - 1) > 0


amounts = st.integers(1, 40).map(lambda hundreds: hundreds * 100_00)


@given(
    st.lists(st.tuples(amounts, st.integers(2, 30), st.integers(1, 28), st.sampled_from(["0", "4.5", "12"])),
             min_size=1, max_size=3),
    st.integers(0, 3000_00), st.integers(50_00, 1500_00), st.integers(1, 28),
    st.sampled_from(["smallest_balance", "highest_rate"]), st.sampled_from([0, 75_00, 9000_00]),
    st.sampled_from([0, 600_00]),
)  # fmt: skip
@example([(100_00, 2, 1, "0"), (100_00, 30, 1, "0")], 0, 53_34, 1, "smallest_balance", 75_00, 0)
@settings(max_examples=examples(160))
def test_a_capped_plan_that_is_adopted_breaks_no_floor(
    debts: list[tuple[int, int, int, str]],
    balance: int,
    income: int,
    payday: int,
    strategy: Strategy,
    extra: int,
    floor: int,
) -> None:
    loans = [loan(f"l{place}", principal, payments, date(2027, 3, day), rate)
             for place, (principal, payments, day, rate) in enumerate(debts)]  # fmt: skip
    moment = household(balance, income, payday, *loans, floor=floor)
    way = capped(moment, strategy, extra)
    # A floor is nothing but so much less to spend.
    assert way.run.months == capped(household(balance, income, payday, *loans), strategy, extra).run.months
    if way.run.debt_free is None:
        return
    until = date.fromordinal(month_end(way.run.debt_free))
    if lowest(without_extras(moment, way.debts), until) < 0:
        return
    after = apply_to_moment(moment, adoption(way), lambda id: None)
    assert lowest(after, until) >= 0
    paid = sum(month.paid for months in way.run.months.values() for month in months)
    assert paid == sum(debt.balance for debt in way.debts.debts) + way.run.total_interest
