"""Bad input: each problem a sentence at the right field."""

import re
from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from next_penny.core.checks.entries import check_entry
from next_penny.core.checks.in_use import why_in_use
from next_penny.core.checks.plan import check
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Flow, Growth, Revision, Split
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan

OPENED = Opening(date(2027, 1, 1), 0)
A, B, EURO = (
    Account("a", "A", "checking", "USD", OPENED),
    Account("b", "B", "savings", "USD", OPENED),
    Account("e", "E", "cash", "EUR", OPENED),
)
RENT = Flow("rent", "Rent", "bill", 900_00, from_account="a", rules=("FREQ=MONTHLY",), start=date(2027, 1, 1))
MOVE = replace(RENT, kind="transfer", to_account="b")
PLAN = Plan(accounts=(A, B, EURO), categories=(Category("home", "Home"),), flows=(RENT,))


def flows(*changed: Flow) -> Plan:
    return replace(PLAN, flows=changed)


@pytest.mark.parametrize(
    ("plan", "loc", "says"),
    [
        (replace(PLAN, household=Household(currency="XXX")), ("currency",), "not a currency"),
        (replace(PLAN, household=Household(country="ZZ")), ("country",), "Bank holidays of “ZZ” are not known"),
        (replace(PLAN, accounts=(A, B, EURO, A)), ("accounts", 3, "id"), "used twice"),
        (replace(PLAN, accounts=(replace(A, floor=500, cushion=300), B, EURO)), ("accounts", 0, "cushion"),
         r"cushion \(\$3.00\) is below the floor \(\$5.00\)"),
        (replace(PLAN, accounts=(replace(A, currency="QQQ"), B, EURO)), ("accounts", 0, "currency"), "is not a currency"),
        (replace(PLAN, accounts=(replace(A, name=" "), B, EURO)), ("accounts", 0, "name"), "name"),
        (flows(replace(RENT, from_account="x")), ("flows", 0, "from_account"), "no account “x”"),
        (flows(replace(RENT, from_account=None)), ("flows", 0, "from_account"), "which account pays"),
        (flows(replace(RENT, to_account="b")), ("flows", 0, "to_account"), "names only the account"),
        (flows(replace(MOVE, to_account="a")), ("flows", 0, "to_account"), "goes to another account"),
        (flows(replace(MOVE, to_account="e")), ("flows", 0, "to_account"), "no exchange rate from USD to EUR"),
        (flows(replace(RENT, category="x")), ("flows", 0, "category"), "no category “x”"),
        (flows(replace(RENT, rules=())), ("flows", 0, "rules"), "Say when it happens"),
        (flows(replace(RENT, until=date(2026, 1, 1))), ("flows", 0, "until"), "ends before it starts"),
        (flows(replace(RENT, until=date(2029, 1, 1), count=3)), ("flows", 0, "count"), "not both"),
        (flows(replace(RENT, rules=("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30;SKIP=OMIT",))), ("flows", 0, "rules", 0),
         "never gives a date"),
        (flows(replace(RENT, rules=("FREQ=MONTHLY;BYMONTHDAY=20",), until=date(2027, 1, 10))), ("flows", 0, "rules", 0),
         "never gives a date before its end"),
        (flows(replace(RENT, rules=("MONTHLY",))), ("flows", 0, "rules", 0), "NAME=value"),
        (flows(replace(RENT, amount=-5)), ("flows", 0, "amount"), "without a sign"),
        (flows(replace(RENT, splits=(Split(950_00, category="home"),))), ("flows", 0, "splits"), "more than the whole"),
        (flows(replace(RENT, splits=(Split(5, account="a"),))), ("flows", 0, "splits", 0, "account"), "another account"),
        (flows(replace(RENT, revisions=(Revision(date(2028, 1, 1)),) * 2)), ("flows", 0, "revisions"), "two revisions"),
        (flows(replace(RENT, growth=Growth(Decimal(5000), date(2027, 1, 1)))),
         ("flows", 0, "growth", "percent"), "between -100 and 1000"),
    ],
)  # fmt: skip
def test_a_plan_that_cannot_be(plan: Plan, loc: tuple[str | int, ...], says: str) -> None:
    problems = check(plan)
    assert [problem.loc for problem in problems] == [loc]
    assert re.search(says, problems[0].message)


def test_a_plan_that_can() -> None:
    assert check(PLAN) == []
    assert check(flows(MOVE)) == []


@pytest.mark.parametrize(
    ("legs", "loc", "says"),
    [
        ((Leg(-100, account="a"), Leg(90, category="home")), ("legs",), "they leave -\\$0.10 over"),
        ((Leg(-100, account="x"), Leg(100, category="home")), ("legs", 0, "account"), "no account"),
        ((Leg(-100, account="a"), Leg(100, category="x")), ("legs", 1, "category"), "no category"),
        ((Leg(-100, account="a"), Leg(100)), ("legs", 1), "one account or on one category"),
        ((Leg(0, category="home"),), ("legs",), "at least one account"),
    ],
)
def test_an_entry_that_cannot_be(legs: tuple[Leg, ...], loc: tuple[str | int, ...], says: str) -> None:
    problems = check_entry(PLAN, Entry("e", date(2027, 2, 1), "Shop", legs))
    assert [problem.loc for problem in problems] == [loc]
    assert re.search(says, problems[0].message)


def test_what_is_in_use_says_by_what() -> None:
    assert why_in_use(PLAN, "account", "a") == "This account is used by “Rent”: move or delete it first."
    assert why_in_use(PLAN, "account", "b") is None
    assert why_in_use(flows(replace(RENT, category="home")), "category", "home") is not None
