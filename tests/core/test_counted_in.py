"""What each figure counts in: a floor, a movement by hand, the first day and the last, each tried by itself."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest
from seen import seen

from next_penny.core.ahead.afford import afford
from next_penny.core.ahead.calendar_days import calendar_days
from next_penny.core.ahead.revaluation import revaluation
from next_penny.core.ahead.stretch import stretch
from next_penny.core.bank_lines.payees import names
from next_penny.core.dates.business_days import business_calendar
from next_penny.core.dates.calendar import month_number
from next_penny.core.dates.recurrence import Recurrence
from next_penny.core.dates.rules import parse_rule
from next_penny.core.flows.candidates import candidate_from, candidates
from next_penny.core.flows.occurrences import next_landings
from next_penny.core.flows.summary import summarize, yearly_by_kind
from next_penny.core.forecast.cards.standing import card_standing
from next_penny.core.forecast.low_points import headrooms
from next_penny.core.forecast.projection import project
from next_penny.core.forecast.tideline import tideline
from next_penny.core.loans.alternatives.payoff import payoff_amount
from next_penny.core.loans.alternatives.variants import LoanWish, vary
from next_penny.core.loans.overview import overview
from next_penny.core.loans.schedule import as_scheduled
from next_penny.core.loans.standing import standing
from next_penny.core.mortgage.escrow import Disbursement, problems
from next_penny.core.payoff.debts import Minimum, PlainDebt
from next_penny.core.payoff.outcome import DebtMonth
from next_penny.core.payoff.parts.card import CardPart
from next_penny.core.payoff.run import run
from next_penny.core.payoff.way import Way
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow
from next_penny.core.plan.kept.way_out import Asked, MonthAmount, Wish
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.core.plan.terms.cards import CardTerms, DueRule
from next_penny.core.plan.terms.loans import LoanTerms

OPENED, TODAY = date(2027, 1, 1), date(2027, 3, 10)


def checking(balance: int = 1_000_00, floor: int = 0) -> Account:
    return Account("a", "A", "checking", "USD", Opening(OPENED, balance), floor=floor, cushion=max(0, floor))


def once(id: str, kind: str, amount: int, day: date) -> Flow:
    side = {"to_account" if kind == "income" else "from_account": "a"}
    return Flow(id, id, kind, amount, dates=(day,), known_since=OPENED, **side)  # type: ignore[arg-type]


def test_headroom_is_what_is_above_the_floor() -> None:
    plan = Plan(accounts=(checking(floor=120_00),), flows=(once("b", "bill", 30_00, date(2027, 3, 20)),))
    forecast = project(seen(plan, (), TODAY), date(2027, 4, 1))
    assert headrooms(forecast, forecast.events) == [1_000_00 - 30_00 - 120_00]


def test_a_years_total_is_of_all_flows_of_a_kind_in_a_currency() -> None:
    flows = (once("b", "bill", 30_00, date(2027, 3, 20)), once("c", "bill", 5_00, date(2028, 3, 9)),
             once("d", "bill", 7_00, date(2028, 3, 10)), once("e", "income", 1_00, TODAY))  # fmt: skip
    moment = seen(Plan(accounts=(checking(),), flows=flows), (), TODAY)
    told = yearly_by_kind(summarize(moment, flow) for flow in flows)
    assert told == {("bill", "USD"): 35_00, ("income", "USD"): 1_00}


def test_a_loans_picture_steps_down_by_what_is_paid_by_hand_on_its_day() -> None:
    terms = LoanTerms(1_200_00, Decimal(0), date(2027, 2, 27), date(2027, 3, 27), 12, from_account="a")
    loan = Account("l", "L", "loan", "USD", Opening(date(2027, 2, 27), -1_200_00), loan=terms)
    pays = Flow("p", "P", "loan_payment", 0, from_account="a", to_account="l", known_since=OPENED)
    by_hand = Entry("x", date(2027, 3, 15), "X", (Leg(-50_00, account="a"), Leg(50_00, account="l")))
    told = overview(seen(Plan(accounts=(checking(5_000_00), loan), flows=(pays,)), (by_hand,), TODAY))
    steps = [(date.fromordinal(day), owed) for day, owed in told.balances]
    assert steps[:4] == [
        (TODAY, 1_200_00), (date(2027, 3, 15), 1_150_00), (date(2027, 3, 27), 1_050_00), (date(2027, 4, 27), 950_00),
    ]  # fmt: skip
    assert told.loans[0].months_left == 11
    # With 50.00 less to pay, the last payment is half of one, and comes as before.
    assert steps[-1] == (date(2028, 2, 27), 0)


@pytest.mark.parametrize(("arrives", "works"), [(date(2027, 6, 30), date(2027, 6, 30)), (date(2027, 7, 1), None)])
def test_what_can_be_afforded_on_the_last_day_that_is_looked_at_can_be_afforded(
    arrives: date, works: date | None
) -> None:
    plan = Plan(accounts=(checking(100_00),), flows=(once("i", "income", 500_00, arrives),))
    told = afford(seen(plan, (), TODAY), plan.accounts[0], 300_00, TODAY, date(2027, 6, 30), monthly=False)
    assert (told.ok, told.works_from) == (False, works and works.toordinal())


def test_the_next_dates_come_from_rules_before_the_first_listed_date() -> None:
    rules = (parse_rule("FREQ=MONTHLY;BYMONTHDAY=15"),)
    schedule = Recurrence(rules, dates=(date(2029, 1, 2),), start=date(2027, 1, 1))
    told = next_landings(schedule, business_calendar(None), "none", TODAY, 2)
    assert [landing.lands for landing in told] == [date(2027, 3, 15), date(2027, 4, 15)]


def test_a_month_that_begins_with_money_is_not_as_low_as_the_one_before() -> None:
    flows = (once("b", "bill", 950_00, date(2027, 3, 20)), once("i", "income", 400_00, date(2027, 4, 1)),
             once("c", "bill", 10_00, date(2027, 4, 9)))  # fmt: skip
    forecast = project(seen(Plan(accounts=(checking(),), flows=flows), (), TODAY), date(2027, 5, 31))
    lows = tideline(forecast, ["a"], {}).lows
    assert [(date.fromordinal(low.day), low.balance) for low in lows] == [
        (date(2027, 3, 20), 50_00), (date(2027, 4, 9), 440_00), (date(2027, 5, 1), 440_00),
    ]  # fmt: skip


def test_the_last_days_of_months_are_a_rhythm_of_their_own() -> None:
    days = [date(2026, 12, 31), date(2027, 1, 31), date(2027, 2, 28)]
    entries = [Entry(f"e{at}", day, "Mill", (Leg(-5_00, account="a"), Leg(5_00, category="c")))
               for at, day in enumerate(days)]  # fmt: skip
    told = candidate_from(entries)
    assert told is not None
    assert (told.rule, told.first) == ("FREQ=MONTHLY;BYMONTHDAY=-1", date(2027, 3, 31))


@pytest.mark.parametrize(("opening", "interest", "paid"), [(60_00, 1_20, 61_20), (500_00, 10_00, 100_00)])
def test_a_fixed_card_payment_is_never_more_than_what_is_owed_with_its_interest(
    opening: int, interest: int, paid: int
) -> None:
    terms = CardTerms(5_000_00, 20, DueRule(day=10), pays="fixed", fixed_amount=100_00, from_account="a")
    card = Account("k", "K", "credit_card", "USD", Opening(OPENED, -opening), card=terms)
    month = DebtMonth(opening, interest, 25_00, 0, opening + interest - 25_00)
    assert CardPart(card, terms).paid_as_now(month, 0) == paid


def test_a_card_that_opens_later_closes_first_after_that() -> None:
    terms = CardTerms(5_000_00, 20, DueRule(day=10), from_account="a")
    card = Account("k", "K", "credit_card", "USD", Opening(date(2027, 6, 25), 0), card=terms)
    told = card_standing(seen(Plan(accounts=(checking(), card)), (), TODAY), card)
    assert told.next_closing == date(2027, 7, 20)


def test_the_extra_comes_from_where_most_debts_are_paid_from() -> None:
    def loan(id: str, payer: str) -> Account:
        terms = LoanTerms(1_200_00, Decimal(0), OPENED, date(2027, 2, 1), 12, from_account=payer)
        return Account(id, id, "loan", "USD", Opening(OPENED, -1_200_00), loan=terms)

    other = replace(checking(), id="b", name="B")
    accounts = (checking(), other, loan("l", "a"), loan("m", "b"), loan("n", "b"))
    way = Way(seen(Plan(accounts=accounts), (), TODAY), Asked(month_number(TODAY), "smallest_balance", Wish()))
    assert way.payer.id == "b"


@pytest.mark.parametrize("principal", [1_000_00, 1_000_01, 1_000_03, 1_000_07, 1_234_56])
def test_a_loan_taken_up_on_its_schedule_goes_on_as_agreed(principal: int) -> None:
    terms = LoanTerms(principal, Decimal(7), date(2026, 10, 5), date(2026, 11, 5), 18, from_account="a")
    agreed = as_scheduled(terms)
    joined = Account("l", "L", "loan", "USD", Opening(date(2027, 2, 1), -agreed.balance[2]), loan=terms)
    pays = Flow("p", "P", "loan_payment", 0, from_account="a", to_account="l", known_since=OPENED)
    shown = standing(seen(Plan(accounts=(checking(), joined), flows=(pays,)), (), TODAY), joined).shown
    assert (shown.due, shown.levels) == (agreed.due[3:], agreed.levels[3:])


def test_what_came_a_day_late_once_still_comes_every_week() -> None:
    days = [date(2027, 2, 5), date(2027, 2, 12), date(2027, 2, 20), date(2027, 2, 26)]
    entries = [Entry(f"e{at}", day, "Mill", (Leg(-5_00, account="a"), Leg(5_00, category="c")))
               for at, day in enumerate(days)]  # fmt: skip
    (told,) = candidates(Plan(accounts=(checking(),)), entries, (), TODAY)
    assert (told.rule, told.first) == ("FREQ=WEEKLY;BYDAY=FR", date(2027, 3, 5))
    # Two days late is no rhythm that could be proposed by itself.
    entries[2] = replace(entries[2], date=date(2027, 2, 21))
    assert candidates(Plan(accounts=(checking(),)), entries, (), TODAY) == []


def test_a_sum_that_is_aimed_at_a_debt_goes_there_in_its_month() -> None:
    debts = [PlainDebt(f"d{at}", f"D{at}", balance, Decimal(0), Minimum(10_00))
             for at, balance in enumerate((100_00, 900_00))]  # fmt: skip
    wish = Wish("smallest_balance", extra_monthly=5_00, aimed={"d1": MonthAmount(24_326, 40_00)})
    told = run(debts, 24_324, wish)
    assert [month.extra for month in told.months["d1"][:4]] == [0, 0, 40_00, 0]
    assert [month.extra for month in told.months["d0"][:4]] == [5_00] * 4


def test_a_payoff_is_what_is_owed_with_its_interest_since_the_last_due_day() -> None:
    terms = LoanTerms(1_000_00, Decimal(12), OPENED, date(2027, 2, 1), 12)
    found = payoff_amount(as_scheduled(terms), date(2027, 1, 16))
    # Half a month of 1 %.
    assert (found.balance, found.accrued_interest, found.total) == (1_000_00, 5_00, 1_005_00)


@pytest.mark.parametrize(
    ("per_year", "first"), [(12, date(2027, 4, 1)), (26, date(2027, 3, 24)), (52, date(2027, 3, 17))]
)
def test_a_loan_begun_anew_is_first_due_in_its_own_rhythm(per_year: int, first: date) -> None:
    terms = LoanTerms(1_000_00, Decimal(12), OPENED, date(2027, 2, 1), 12)
    wish = LoanWish(refinance=True, annual_rate=Decimal(6), payments_per_year=per_year)
    begun = vary(terms, wish, TODAY, as_scheduled(terms))
    assert (begun.disbursed, begun.first_payment) == (TODAY, first)


def test_what_comes_about_every_three_months_is_proposed_so() -> None:
    days = [date(2026, 10, 10), date(2027, 1, 20)]
    told = candidate_from([Entry(f"e{at}", day, "Mill", (Leg(-5_00, account="a"), Leg(5_00, category="c")))
                           for at, day in enumerate(days)])  # fmt: skip
    assert told is not None
    assert told.rule.startswith("FREQ=MONTHLY;INTERVAL=3;")


def test_a_calendars_day_tells_what_only_went_from_one_of_its_accounts_to_another() -> None:
    other = replace(checking(), id="b", name="B")
    moved = Entry("x", TODAY, "X", (Leg(-80_00, account="a"), Leg(50_00, account="b"), Leg(30_00, category="c")))
    spent = Entry("y", TODAY, "Y", (Leg(-7_00, account="a"), Leg(7_00, category="c")))
    plan = Plan(accounts=(checking(), other), categories=(Category("c", "C"),))
    moment = seen(plan, (moved, spent), TODAY)
    (day,) = calendar_days(stretch(moment, list(plan.accounts), TODAY, TODAY, [moved, spent]), None)
    assert sorted((item.net, item.passed) for item in day.items) == [(-30_00, 50_00), (-7_00, 0)]


def test_the_rates_alone_gain_what_neither_opening_nor_movements_explain() -> None:
    abroad = Account("e", "E", "cash", "EUR", Opening(OPENED, 100_00))
    rates = tuple(Rate(date(2027, month, 1), "EUR", "USD", Decimal(rate))
                  for month, rate in ((1, "1.00"), (2, "1.10"), (3, "1.20")))  # fmt: skip
    came = Entry("x", date(2027, 2, 15), "X", (Leg(50_00, account="e"), Leg(-50_00, category="c")))
    plan = Plan(accounts=(checking(), abroad), categories=(Category("c", "C", kind="income"),), rates=rates)
    moment = seen(plan, (came,), TODAY)
    # 150.00 at 1.20, less 100.00 at 1.00 and 50.00 at 1.10.
    assert revaluation(moment, date(2027, 1, 10), TODAY, plan.accounts) == 25_00
    assert revaluation(moment, date(2027, 1, 10), TODAY, plan.accounts[:1]) is None


def test_a_payee_is_named_by_its_words_next_to_each_other() -> None:
    assert names("card 0412 Mill & Sons, Upper Lea", "Mill Sons")
    assert not names("Mill and Sons", "Mill Sons")
    assert not names("card 0412", "")


def test_an_analysis_says_which_months_it_covers() -> None:
    (problem,) = problems(24_326, [Disbursement(24_338, 1)], Decimal(2))
    assert problem.message.startswith("The analysis covers March 2027 to February 2028")
