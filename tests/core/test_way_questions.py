"""What is asked about a way out of debt, against the ledger of RULES §9 run again for every answer."""

from datetime import date
from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import assume, event, given, settings
from hypothesis import strategies as st
from payoff_ledger import Json, half_up, number, pay_off, text
from seen import seen

from effort import examples
from next_penny.core.accounts.savings import earned
from next_penny.core.books.moment import Moment
from next_penny.core.dates.calendar import month_end, month_number
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.payoff.adopting import adoption, drop
from next_penny.core.payoff.affordable import Affordable, MonthlyRoom
from next_penny.core.payoff.comparing import compared, saves_more
from next_penny.core.payoff.consolidation import NewCard, NewLoan, consolidate
from next_penny.core.payoff.debts import Minimum as PlainMinimum
from next_penny.core.payoff.paid_now import lowered, paid_above_minimums
from next_penny.core.payoff.progress import progress
from next_penny.core.payoff.questions import debt_or_savings, extra_for, worth_of
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.way_out import Asked, Strategy, Wish
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import CardTerms, DueRule, Minimum, RateStep
from next_penny.core.plan.terms.savings import SavingsTerms
from next_penny.core.problems import PlanError

TODAY = date(2027, 3, 1)
START = month_number(TODAY)
OPENED = Opening(date(2027, 1, 1), 9_000_00)
ORDERS: tuple[Strategy, ...] = ("smallest_balance", "highest_rate")

cards = st.lists(
    st.fixed_dictionaries({
        "balance": st.integers(1_00, 6_000_00), "annual_rate": st.sampled_from(["0", "9.9", "17.5", "24"]),
        "percent": st.sampled_from(["2", "3.5", "10"]), "floor": st.integers(10_00, 120_00),
    }),
    min_size=1, max_size=4,
)  # fmt: skip
extras = st.sampled_from([0, 40_00, 250_00])


def household(drawn: list[Json]) -> Moment:
    """Cards that close on the 20th and are due on the 10th, and savings that earn 3 % a year."""
    own = [
        Account(
            f"c{place}", f"Card {place}", "credit_card", "USD", Opening(OPENED.date, -card["balance"]),
            card=CardTerms(
                20_000_00, 20, DueRule(day=10), (RateStep(OPENED.date, Decimal(card["annual_rate"])),),
                Minimum(Decimal(card["percent"]), plus_interest=True, floor=card["floor"]), pays="minimum",
                from_account="checking",
            ),
        )
        for place, card in enumerate(drawn)
    ]  # fmt: skip
    savings = Account("savings", "Savings", "savings", "USD", OPENED, savings=SavingsTerms(apy=Decimal(3)))
    checking = Account("checking", "Checking", "checking", "USD", OPENED)
    return seen(Plan(Household(), (checking, savings, *own)), (), TODAY)


def wish_of(drawn: list[Json], **more: Any) -> Json:
    """The same as the ledger takes it."""
    debts = [
        {"id": f"c{place}", "balance": card["balance"], "annual_rate": card["annual_rate"],
         "minimum": {"percent": card["percent"], "plus_interest": True, "floor": card["floor"]}}
        for place, card in enumerate(drawn)
    ]  # fmt: skip
    return {"start": text(START), "debts": debts, **more}


def interest_of(told: Json) -> int:
    return sum(row["interest"] for month in told["months"] for row in month["debts"].values())


def way_of(drawn: list[Json], strategy: Strategy, extra: int) -> Way:
    return Way(household(drawn), Asked(START, strategy, Wish(extra_monthly=extra)))


@given(cards, st.sampled_from(ORDERS), extras)
@settings(max_examples=examples(120))
def test_every_order_of_a_household_is_the_ledgers_and_none_is_cheaper_than_the_cheapest(
    drawn: list[Json], strategy: Strategy, extra: int
) -> None:
    way = way_of(drawn, strategy, extra)
    for order in ("smallest_balance", "highest_rate", "minimums"):
        told = pay_off(wish_of(drawn, extra_monthly=extra), order)
        assert (way.runs[order].total_interest, len(way.runs[order])) == (interest_of(told), len(told["months"]))
        assert way.cheapest.total_interest <= way.runs[order].total_interest
    paid = sum(month.paid for months in way.cheapest.months.values() for month in months)
    assert paid == sum(card["balance"] for card in drawn) + way.cheapest.total_interest


@given(cards, st.sampled_from(ORDERS), extras)
@settings(max_examples=examples(80))
def test_orders_are_held_against_minimums_alone_and_the_picture_is_the_ledgers(
    drawn: list[Json], strategy: Strategy, extra: int
) -> None:
    way = way_of(drawn, strategy, extra)
    ran = {order: pay_off(wish_of(drawn, extra_monthly=extra), order) for order in (*ORDERS, "minimums")}
    least, found = ran["minimums"], {each.strategy: each for each in compared(way.runs)}
    for order, told in ran.items():
        interest, length = interest_of(told), len(told["months"])
        assert found[order][1:] == (  # type: ignore[index]
            START + length - 1, length, interest, interest_of(least) - interest, len(least["months"]) - length,
            number(told["cleared"][0]["month"]),
        )  # fmt: skip
    told = ran[strategy]
    clears = [debt["id"] for debt in told["cleared"]]
    months = {id: number(debt["month"]) for debt in told["cleared"] for id in [debt["id"]]}
    assert [debt.id for debt in way.debts_in_order] == sorted(sorted(clears), key=lambda id: months[id])
    assert way.wished == [extra] * len(told["months"])
    first, *ahead = way.owed_by_month(0)
    in_order = [debt.id for debt in way.debts_in_order]
    assert (first.month, first.owed, first.is_planned) == (
        START - 1, [drawn[int(id[1:])]["balance"] for id in in_order], False
    )  # fmt: skip
    assert [(each.month, each.owed, each.is_planned) for each in ahead] == [
        (START + place, [month["debts"].get(id, {"closing": 0})["closing"] for id in in_order], True)
        for place, month in enumerate(told["months"])
    ]
    ends = {order: each for order, each in way.runs.items() if order != strategy}
    saved = saves_more(way.run, list(ends.values()))
    assert saved == min(each.total_interest for each in ends.values()) - interest_of(told)


rooms = st.lists(st.integers(-3_00, 50_00), max_size=24)


@given(rooms, st.lists(st.integers(0, 4_00), max_size=24))
@settings(max_examples=examples(400))
def test_what_a_forecast_bears_is_the_most_that_breaks_no_month(headroom: list[int], own: list[int]) -> None:
    affordable = Affordable(tuple(MonthlyRoom(START + at, 0, least) for at, least in enumerate(headroom)))

    def bears(amounts: list[int]) -> bool:
        return all(sum(amounts[: at + 1]) <= least for at, least in enumerate(headroom) if amounts[at])

    def even(begin: int, amount: int) -> list[int]:
        return [amount * (at >= begin) for at in range(len(headroom))]

    if headroom:
        # Looked for one by one in the neighbourhood of what is told, from zero on.
        told = affordable.even
        assert told == 0 or bears(even(0, told))
        assert not bears(even(0, told + 1))
        if told:
            assert affordable.later is None
        else:
            firsts = [at for at in range(1, min(13, len(headroom))) if bears(even(at, 1))]
            assert (affordable.later is None) == (not firsts)
            if affordable.later:
                month, amount = affordable.later
                assert month == START + firsts[0]
                assert bears(even(firsts[0], amount))
                assert not bears(even(firsts[0], amount + 1))
    taken = 0
    for at, early in enumerate(affordable.early):
        assert early == max(0, headroom[at] - taken)
        taken += early
    upto = [sum(own[: at + 1]) for at in range(len(own))]
    assert affordable.strained(own) == [
        START + at for at, (least, amount) in enumerate(zip(headroom, own, strict=False)) if amount and upto[at] > least
    ]


@given(cards, st.sampled_from(ORDERS), st.integers(0, 30))
@settings(max_examples=examples(120))
def test_the_extra_that_is_told_is_enough_and_a_cent_less_is_not(
    drawn: list[Json], strategy: Strategy, months: int
) -> None:
    way = way_of(drawn, strategy, 0)
    extra = extra_for(way, START + months)
    assert len(pay_off(wish_of(drawn, extra_monthly=extra), strategy)["months"]) <= months + 1
    if extra:
        assert len(pay_off(wish_of(drawn, extra_monthly=extra - 1), strategy)["months"]) > months + 1
    with pytest.raises(PlanError) as refused:
        extra_for(way, START - 1)
    assert [problem.loc for problem in refused.value.problems] == [("by",)]


@given(cards, st.sampled_from(ORDERS), extras, st.integers(1, 3_000_00), st.integers(0, 5))
@settings(max_examples=examples(120))
def test_what_a_sum_is_worth_and_what_savings_would_have_earned(
    drawn: list[Json], strategy: Strategy, extra: int, amount: int, later: int
) -> None:
    way, month = way_of(drawn, strategy, extra), START + later
    without = pay_off(wish_of(drawn, extra_monthly=extra), strategy)
    once = [{"month": text(month), "amount": amount}]
    paid = pay_off(wish_of(drawn, extra_monthly=extra, one_time=once), strategy)
    found = debt_or_savings(way, way.moment.plan.account_by_id["savings"], amount, month)
    assert found.saves_interest == interest_of(without) - interest_of(paid)
    assert found.debt_free == START + len(paid["months"]) - 1
    ends = month_end(START + len(without["months"]) - 1)
    assert found.until.toordinal() == ends
    days = max(0, ends - max(TODAY, date(month // 12, month % 12 + 1, 1)).toordinal())
    exact = amount * (Decimal("1.03") ** (Decimal(days) / 365) - 1)
    assert abs(found.yield_lost - exact) <= Decimal("0.5000001")
    # What is credited until then stays: less than a hundredth.
    assert OPENED.balance - amount <= found.lowest.balance <= OPENED.balance * 102 // 100 - amount
    worths = worth_of(way, amount, month)
    assert sorted(worth.debt.id for worth in worths) == sorted(f"c{place}" for place in range(len(drawn)))
    saved = [worth.saves_interest or 0 for worth in worths]
    assert saved == sorted(saved, reverse=True)
    for worth in worths:
        assert 0 <= worth.used <= amount
        rate = Fraction(next(debt.annual_rate for debt in way.debts.debts if debt.id == worth.debt.id))
        assert worth.saves_interest is None or worth.saves_interest >= 0 or rate == 0 or strategy == "smallest_balance"
    if len(drawn) == 1:
        assert worths[0].saves_interest == found.saves_interest


@given(cards, st.integers(1, 4), st.sampled_from(["0", "5", "12"]), st.integers(6, 72), st.integers(0, 400_00), extras)
@settings(max_examples=examples(120))
def test_debts_that_one_replaces_cost_what_the_ledger_says_of_the_one(
    drawn: list[Json], count: int, rate: str, payments: int, fees: int, extra: int
) -> None:
    way = way_of(drawn, "highest_rate", extra)
    replaced, rest = drawn[:count], drawn[count:]
    moved = sum(card["balance"] for card in replaced)
    chosen = tuple(f"c{place}" for place in range(len(replaced)))
    loan = consolidate(way, chosen, NewLoan(Decimal(rate), payments, fees, fees_financed=True))
    card = consolidate(way, chosen, NewCard((RateStep(OPENED.date, Decimal(rate)),),
                                            PlainMinimum(50_00, Decimal(5)), Decimal(3)))  # fmt: skip
    before = pay_off(wish_of(drawn, extra_monthly=extra), "highest_rate")
    others = wish_of([*replaced, *rest])["debts"][len(replaced) :]
    fee = half_up(Fraction(moved * 3, 100))
    wanted = [
        (loan, fees, {"balance": moved + fees, "minimum": {"fixed": loan.payment}}),
        (card, fee, {"balance": moved + fee, "minimum": {"percent": "5", "floor": 50_00}}),
    ]
    for found, cost, terms in wanted:
        one = {"id": "one", "annual_rate": rate, **terms}
        after = pay_off({"start": text(START), "debts": [*others, one], "extra_monthly": extra}, "highest_rate")
        assert (found.moved, found.fees, found.fees_in_cash) == (moved, cost, 0)
        assert found.costs == interest_of(after) + cost
        assert found.costs_before == interest_of(before)
        assert found.saves == found.costs_before - found.costs
        first = after["months"][0]["debts"]
        assert found.minimums == sum(row["minimum"] for row in first.values())
        assert found.minimums_before == sum(row["minimum"] for row in before["months"][0]["debts"].values())
    event(f"the loan saves: {(loan.saves or 0) > 0}")


@given(cards, st.sampled_from(ORDERS), extras)
@settings(max_examples=examples(60))
def test_a_plan_just_adopted_is_on_its_way_and_dropping_it_leaves_everything_as_it_was(
    drawn: list[Json], strategy: Strategy, extra: int
) -> None:
    way = way_of(drawn, strategy, extra)
    assume(way.run.debt_free is not None)
    before = way.moment
    after = apply_to_moment(before, adoption(way), lambda id: None)
    found = progress(after)
    assert found is not None
    assert (found.planned_debt_free, found.ahead) == (way.run.debt_free, 0)
    for debt in found.debts:
        assert (debt.owed, debt.expected, debt.paid, debt.planned) == (debt.original, debt.original, 0, 0)
        assert debt.interest_planned == sum(month.interest for month in way.run.months[debt.account.id])
    assert found.percent == 0
    dropped = apply_to_moment(after, drop(after), lambda id: None)
    assert (dropped.plan.accounts, dropped.plan.way_out) == (before.plan.accounts, None)


def test_what_is_paid_now_beyond_the_minimums_is_told_where_a_plan_pays_less() -> None:
    drawn = [{"balance": 2_000_00, "annual_rate": "0", "percent": "2", "floor": 50_00},
             {"balance": 9_000_00, "annual_rate": "24", "percent": "2", "floor": 50_00}]  # fmt: skip
    moment = household(drawn)
    card = moment.plan.account_by_id["c0"]
    assert card.card is not None
    fixed = Account(card.id, card.name, card.kind, card.currency, card.opening,
                    card=CardTerms(20_000_00, 20, DueRule(day=10), card.card.rates, card.card.minimum, pays="fixed",
                                   fixed_amount=300_00, from_account="checking"))  # fmt: skip
    accounts = tuple(fixed if account.id == "c0" else account for account in moment.plan.accounts)
    way = Way(seen(Plan(Household(), accounts), (), TODAY), Asked(START, "highest_rate", Wish(extra_monthly=250_00)))
    # 300.00 is paid now, where 50.00 is the least.
    assert paid_above_minimums(way) == 250_00
    first = next(lowered(way))
    assert (first.account.id, first.now, first.month, first.then) == ("c0", 300_00, START, 50_00)
    # A card that is paid by its minimum is paid less as that shrinks: that is as now.
    shrinking = household([{"balance": 4_000_00, "annual_rate": "12", "percent": "5", "floor": 10_00}])
    by_minimum = Way(shrinking, Asked(START, "minimums", Wish()))
    paid = [month.paid for month in by_minimum.run.months["c0"]]
    assert paid[1] < paid[0]
    assert list(lowered(by_minimum)) == []


@pytest.mark.parametrize(
    ("savings", "days", "gain"),
    [
        # 0.01 % a day on 10,000.00 for ten days is 10.0045; 3.65 % a year by its yield half a year and a whole one.
        (SavingsTerms(rate=Decimal("3.65")), 10, 10_00), (SavingsTerms(rate=Decimal("3.65")), 0, 0),
        (SavingsTerms(apy=Decimal("3.65")), 365, 365_00), (SavingsTerms(apy=Decimal("21")), 730, 4_641_00),
        (SavingsTerms(rate=Decimal("36.5")), 1, 10_00), (SavingsTerms(rate=Decimal("36.5")), 2, 20_01), (None, 365, 0),
    ],
)  # fmt: skip
def test_what_a_sum_would_have_earned_compounds_by_the_day(savings: SavingsTerms | None, days: int, gain: int) -> None:
    account = Account("s", "S", "savings", "USD", Opening(TODAY, 0), savings=savings)
    assert earned(account, 10_000_00, days) == gain
