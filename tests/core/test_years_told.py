"""A year of loans, of what is owned, of goals and of bills that come once in it, by worked cases at their edges."""

from datetime import date, timedelta
from decimal import Decimal

import pytest
from households import TODAY
from reviewed_households import Remembers
from seen import seen

from next_penny.core.loans.schedule import as_scheduled
from next_penny.core.loans.standing import standing
from next_penny.core.mortgage.loan_years import Property, coming_year, expected_interest, years_ahead
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow, SavingGoal
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.loans import LoanTerms
from next_penny.core.plan.terms.savings import SavingsTerms
from next_penny.core.reconciling.interest import Counted, Movement, Otherwise, Statement
from next_penny.core.reconciling.interest_wording import explanation, verdict
from next_penny.core.review.forward.year_end import year_end

OPENED = Opening(date(2026, 1, 1), 90_000_00)
JOINT = Account("a", "Joint", "checking", "USD", OPENED)
ESCROW = Account("e", "Escrow", "escrow", "USD", OPENED)
HOUSE = Account("h", "House", "asset", "USD", OPENED)
TERMS = LoanTerms(
    1_200_00, Decimal(12), TODAY, date(2027, 4, 1), 12, from_account="a", escrow_account="e", property="h"
)
LOAN = Account("l", "Loan", "loan", "USD", Opening(TODAY, -1_200_00), loan=TERMS)
TAX = Flow("tax", "Tax", "bill", 300_00, "e", rules=("FREQ=YEARLY;BYMONTH=9;BYMONTHDAY=1",), start=date(2027, 9, 1),
           category="home", purpose="tax")  # fmt: skip
ROOF = Flow("roof", "Roof", "bill", 10_00, "a", dates=(TODAY, date(2028, 2, 29), date(2028, 3, 1)), property="h")
LET = Flow("let", "Rent", "income", 70_00, to_account="a", dates=(date(2027, 6, 1),), property="h")


def test_a_loans_years_and_what_its_house_is_expected_to_cost() -> None:
    plan = Plan(Household(), (JOINT, ESCROW, HOUSE, LOAN), (Category("home", "Home"),), (TAX, ROOF, LET))
    moment, rows = seen(plan, (), TODAY), as_scheduled(TERMS).rows
    assert years_ahead(moment) == range(2027, 2029)
    assert years_ahead(seen(Plan(Household(), (JOINT,)), (), TODAY)) == range(2027, 2028)
    for year in (2026, 2027, 2028):
        of_year = sum(row.interest for row in rows if date.fromordinal(row.due).year == year)
        assert expected_interest(standing(moment, LOAN), year).to_come == of_year
    # From today until the day before it comes round: its own taxes, and what is paid from its escrow.
    assert coming_year(moment, Property(HOUSE, (LOAN,))) == {
        "tax": 300_00, "other": 20_00, "rent": 70_00, "interest": sum(row.interest for row in rows[:11])
    }  # fmt: skip


def goal_year(goal: Goal, spent: dict[date, int], year: int = 2027) -> tuple[int, int] | None:
    """How often a goal of at most so much was met in a year, of how many periods; None where it has none."""
    entries = [Entry(day.isoformat(), day, "P", (Leg(-amount, "a"), Leg(amount, category="home")))
               for day, amount in spent.items()]  # fmt: skip
    plan = Plan(Household(), (JOINT,), (Category("home", "Home"),), goals=(goal,))
    found = year_end(seen(plan, entries, TODAY + timedelta(days=9)), Remembers(entries), year).goals
    return (found[0].met, found[0].periods) if found else None


AT_MOST = Goal("g", "Less", "spend_at_most", "month", amount=5_00)


@pytest.mark.parametrize(
    ("goal", "year", "met"),
    [
        # January had 5.00, February 5.01, March has nothing so far; 2026 had twelve months without any.
        (AT_MOST, 2027, (2, 3)), (AT_MOST, 2026, (12, 12)),
        (Goal("g", "Less", "spend_at_most", "year", amount=10_01), 2027, (1, 1)),
        (Goal("g", "Less", "spend_at_most", "year", amount=10_00), 2027, (0, 1)),
        (Goal("g", "Less", "spend_at_most", "month", date(2027, 2, 28), amount=5_00), 2027, (2, 2)),
        (Goal("g", "Less", "spend_at_most", "month", until=date(2027, 1, 31), amount=5_00), 2027, (1, 1)),
        (Goal("g", "Less", "spend_at_most", "month", date(2027, 3, 11), amount=5_00), 2027, None),
        (Goal("g", "Less", "spend_at_most", "month", date(2027, 3, 10), amount=5_00), 2027, (1, 1)),
        (Goal("g", "Less", "spend_at_most", None, date(2026, 12, 1), date(2027, 1, 31), amount=5_00), 2027, (1, 1)),
        (Goal("g", "Less", "spend_at_most", None, date(2026, 12, 1), date(2027, 1, 31), amount=5_00), 2026, None),
    ],
)  # fmt: skip
def test_of_a_year_those_periods_of_a_goal_count_that_have_begun(
    goal: Goal, year: int, met: tuple[int, int] | None
) -> None:
    assert goal_year(goal, {date(2027, 1, 31): 5_00, date(2027, 2, 1): 5_01}, year) == met


@pytest.mark.parametrize(
    ("changed", "is_unprepared"),
    [
        ({}, True), ({"start": date(2028, 3, 1)}, True), ({"start": date(2028, 3, 2)}, False),
        ({"rules": ("FREQ=YEARLY;BYMONTH=3,9;BYMONTHDAY=1",)}, False), ({"category": "limited"}, False),
        ({"rules": ("FREQ=YEARLY;BYMONTH=3,9;BYMONTHDAY=2",)}, False), ({"count": 1}, True), ({"kind": "transfer"}, False),
        ({"rules": (), "dates": (date(2027, 9, 1),)}, False), ({"id": "saved"}, False),
    ],
)  # fmt: skip
def test_a_bill_of_once_a_year_that_nothing_stands_behind_is_named(
    changed: dict[str, object], is_unprepared: bool
) -> None:
    fields = {"id": "tax", "name": "Tax", "kind": "bill", "amount": 300_00, "from_account": "a", "category": "home",
              "rules": ("FREQ=YEARLY;BYMONTH=9;BYMONTHDAY=1",), "start": date(2027, 3, 1), **changed}  # fmt: skip
    if fields["start"] > TODAY:  # type: ignore[operator]
        fields["rules"] = (f"FREQ=YEARLY;BYMONTH=3;BYMONTHDAY={fields['start'].day}",)  # type: ignore[attr-defined]
    saving = Flow("put", "Put by", "transfer", 1_00, "a", "e", dates=(date(2027, 5, 1),),
                  saves_for=SavingGoal("S", 1_00, date(2027, 6, 1), "saved"))  # fmt: skip
    to = {"to_account": "e"} if fields["kind"] == "transfer" else {}
    plan = Plan(
        Household(), (JOINT, ESCROW), (Category("home", "Home"), Category("limited", "L")),
        (Flow(**fields, **to), saving), (Allowance("x", "X", 1_00, "a", categories=("limited",)),),  # type: ignore[arg-type]
    )  # fmt: skip
    found = year_end(seen(plan, (), TODAY), Remembers(()), 2027).unprepared
    assert [(each.flow, each.amount) for each in found] == ([("tax", 300_00)] if is_unprepared else [])


SAID = Statement(date(2027, 1, 1), date(2027, 1, 31), 0, (), 10_00, apy=Decimal(4))
PLAIN, DAILY = SavingsTerms(apy=Decimal(4), compounding="none"), SavingsTerms(apy=Decimal(4), rounding="daily")
WAY = "a year of 365 days, no interest on interest, money earns from its day on, rounded when it is credited"


@pytest.mark.parametrize(
    ("counts", "says"),
    [
        ([Counted(PLAIN, 10_00, 0), Counted(DAILY, 10_00, 0)], "$10.00 is right, however it is counted."),
        ([Counted(PLAIN, 10_00, 0), Counted(DAILY, 9_99, 1)], f"$10.00 is right, counted by {WAY}."),
        ([Counted(PLAIN, 10_00, 0), Counted(DAILY, 10_00, 0), Counted(PLAIN, 9, 9_91)],
         f"$10.00 is right, counted by {WAY}. Interest on interest and when it is rounded cannot be told from this sum "
         "alone."),
        ([Counted(PLAIN, 9_99, 1)], f"$10.00 is $0.01 off: rounding. Counted by {WAY} it is $9.99."),
        ([Counted(PLAIN, 10_01, -1)], f"$10.00 is $0.01 off: rounding. Counted by {WAY} it is $10.01."),
        ([Counted(PLAIN, 9_98, 2)], f"No way of counting gives $10.00: the bank paid $0.02 more than the nearest, $9.98, by {WAY}."),
        ([Counted(PLAIN, 10_02, -2)],
         f"No way of counting gives $10.00: the bank paid $0.02 less than the nearest, $10.02, by {WAY}."),
    ],
)  # fmt: skip
def test_what_a_bank_paid_is_judged_in_a_sentence(counts: list[Counted], says: str) -> None:
    assert verdict(SAID, counts, "USD") == says


def test_what_else_would_explain_it_is_a_deposit_or_a_withdrawal() -> None:
    day = date(2027, 1, 5)
    for amount, what in ((5_00, "deposit"), (-5_00, "withdrawal")):
        move = Movement(day, amount)
        assert explanation(Otherwise(move, is_missing=False), "USD") == (
            f"The {what} of $5.00 on January 5, 2027, counted a day later, would explain it."
        )
        assert explanation(Otherwise(move, is_missing=True), "USD") == (
            f"A {what} of about $5.00 on January 5, 2027 that is missing here would explain it."
        )
