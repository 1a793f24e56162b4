"""At every field that has bounds: the last value that is taken, and the first that is refused, at that field."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

import pytest

from next_penny.core.checks.plan import check
from next_penny.core.money import LARGEST_AMOUNT
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance, LimitRevision
from next_penny.core.plan.categories import Category
from next_penny.core.plan.flows import Change, Flow, Growth, Hourly, Revision, Split
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.core.plan.terms.cards import BegunWith, CardTerms, DueRule, Minimum, RateStep, StatementChange
from next_penny.core.plan.terms.lent import LentTerms, Repays
from next_penny.core.plan.terms.loans import (
    DatedAmount,
    Extra,
    Fee,
    Insurance,
    Lender,
    LoanTerms,
    RateChange,
    YearBefore,
)
from next_penny.core.plan.terms.savings import CreditChange, SavingsTerms
from next_penny.core.plan.terms.sweeps import SweepTerms

OPENED = date(2027, 1, 4)
BEFORE, AFTER = OPENED - timedelta(days=1), OPENED + timedelta(days=1)
MONTHLY = ("FREQ=MONTHLY;BYMONTHDAY=20",)
LOAN = LoanTerms(100_000_00, Decimal(6), OPENED, date(2027, 2, 4), 360)
CARD = CardTerms(1_000_00, 25, DueRule(day=15), from_account="a")
ACCOUNTS = {
    "a": Account("a", "A", "checking", "USD", Opening(OPENED, 0)),
    "loan": Account("loan", "Loan", "loan", "USD", Opening(OPENED, -100_000_00), loan=LOAN),
    "card": Account("card", "Card", "credit_card", "USD", Opening(OPENED, 0), card=CARD),
    "savings": Account("savings", "S", "savings", "USD", Opening(OPENED, 0), savings=SavingsTerms(apy=Decimal(4))),
    "sweep": Account("sweep", "W", "checking", "USD", Opening(OPENED, 0), sweep=SweepTerms("a", 0, 100, MONTHLY)),
    "lent": Account("lent", "L", "owed_to_us", "USD", Opening(OPENED, 500_00),
                    lent=LentTerms("Bo", "a", repays=Repays(10_00, MONTHLY, OPENED))),
}  # fmt: skip
BILL = Flow("bill", "Bill", "bill", 100_00, from_account="a", rules=MONTHLY, start=OPENED)
PAY = Flow(
    "pay",
    "Pay",
    "income",
    0,
    to_account="a",
    rules=MONTHLY,
    start=OPENED,
    hourly=Hourly(10_00, Decimal(80), Decimal(8)),
)
EAT = Allowance("eat", "Eating", 100_00, "a", categories=("food",))
GIVE = Goal("give", "Give", "give", "month", amount=1, categories=("food",))
SPAN = Goal("span", "Span", "save", None, OPENED, AFTER, amount=1)
LIMIT = Goal("limit", "Limit", "spend_at_most", "year", amount=0)
PLAN = Plan(
    accounts=tuple(ACCOUNTS.values()), categories=(Category("food", "Food"),), flows=(BILL, PAY),
    allowances=(EAT,), goals=(GIVE, SPAN, LIMIT), rates=(Rate(OPENED, "EUR", "USD", Decimal(1)),),
)  # fmt: skip
LISTS = {"flows": PLAN.flows, "allowances": PLAN.allowances, "goals": PLAN.goals, "rates": PLAN.rates}


def plan_with(what: str, field: str, value: Any) -> tuple[Plan, tuple[str | int, ...]]:
    """The plan with another value at a field of an account's part or of an item of a list, and where that is."""
    if what in ACCOUNTS:
        number, account = list(ACCOUNTS).index(what), ACCOUNTS[what]
        if not hasattr(account, what):
            return _with_account(number, replace(account, **{field: value})), ("accounts", number, field)
        part = replace(getattr(account, what), **{field: value})
        return _with_account(number, replace(account, **{what: part})), ("accounts", number, what, field)
    for name, items in LISTS.items():
        for number, item in enumerate(items):
            if what in (name, getattr(item, "id", None)):
                changed = (*items[:number], replace(item, **{field: value}), *items[number + 1 :])
                return replace(PLAN, **{name: changed}), (name, number, field)
    raise AssertionError(what)


def _with_account(number: int, account: Account) -> Plan:
    return replace(PLAN, accounts=(*PLAN.accounts[:number], account, *PLAN.accounts[number + 1 :]))


def rates(*percents: str) -> list[tuple[RateChange, ...]]:
    return [(RateChange(AFTER, Decimal(percent)),) for percent in percents]


def extras(*changed: dict[str, Any]) -> list[tuple[Extra, ...]]:
    return [(replace(Extra(1), **one_changed),) for one_changed in changed]


def minimums(*changed: dict[str, Any]) -> list[Minimum]:
    return [Minimum(**one_changed) for one_changed in changed]


def statements(**changed: Any) -> tuple[StatementChange, ...]:
    return (replace(StatementChange(date(2027, 1, 25)), **changed),)


HUNDRED = Decimal("100.01")
# What has the field, the field, values that are taken, values that are refused, and where below the field.
BOUNDS: list[tuple[str, str, list[Any], list[Any], tuple[str | int, ...]]] = [
    ("loan", "principal", [1_00], [0, -1], ()),
    ("loan", "annual_rate", [Decimal(0), Decimal(200)], [Decimal("-0.01"), Decimal("200.01")], ()),
    ("loan", "payments", [1, 1200], [0, 1201], ()),
    ("loan", "payment", [599_56], [0, -1], ()),
    ("loan", "first_payment", [OPENED], [BEFORE], ()),
    ("loan", "balloon", [0, 100_000_00], [-1, 100_000_01], ()),
    ("loan", "interest_only", [0, 359], [-1, 360], ()),
    ("loan", "rate_changes", rates("0", "200"), rates("-0.01", "200.01"), (0, "annual_rate")),
    ("loan", "payment_changes", [(DatedAmount(AFTER, 1),)], [(DatedAmount(AFTER, 0),)], (0, "amount")),
    ("loan", "escrow", [(DatedAmount(AFTER, 0),)], [(DatedAmount(AFTER, -1),)], (0, "amount")),
    ("loan", "escrow", [(DatedAmount(AFTER, 1), DatedAmount(OPENED, 1))], [(DatedAmount(AFTER, 1),) * 2], ()),
    ("loan", "lenders", [(Lender(AFTER, "New", fee=0),)], [(Lender(AFTER, "New", fee=-1),)], (0, "fee")),
    ("loan", "extras", extras({"every": 1}), extras({"every": 0}), (0, "every")),
    ("loan", "extras", extras({"every": 1, "amount": 0}), extras({"every": 1, "amount": -1}), (0, "amount")),
    ("loan", "extras", extras({"date": OPENED}), extras({"date": BEFORE}, {"date": AFTER, "every": 1}, {}),
     (0, "date")),
    ("loan", "extras", extras({"yearly_in": 1}, {"yearly_in": 12}), extras({"yearly_in": 0}, {"yearly_in": 13}),
     (0, "yearly_in")),
    ("loan", "extras", extras({"every": 2, "start": AFTER, "until": AFTER}),
     extras({"every": 2, "start": AFTER, "until": OPENED}), (0, "to")),
    ("loan", "years_before", [(YearBefore(2027, 0, 0),)], [(YearBefore(2026),), (YearBefore(2028),)], (0, "year")),
    ("loan", "years_before", [(YearBefore(2027, 0, 0),)], [(YearBefore(2027, -1),), (YearBefore(2027, 0, -1),)],
     (0, "interest")),
    ("loan", "years_before", [()], [(YearBefore(2027), YearBefore(2027))], (1, "year")),
    ("loan", "fees", [(Fee("F", 0),)], [(Fee("F", -1),)], (0, "amount")),
    ("loan", "fees", [(Fee("F", 99_999_99),)], [(Fee("F", 100_000_00),)], ()),
    ("loan", "insurance", [Insurance(0, Decimal(80), 1)], [Insurance(-1, Decimal(80), 1)], ("amount",)),
    ("loan", "insurance", [Insurance(1, Decimal(100), 1)],
     [Insurance(1, Decimal(0), 1), Insurance(1, HUNDRED, 1)], ("until_share",)),
    ("loan", "insurance", [Insurance(1, Decimal("0.01"), 1)], [Insurance(1, Decimal(80), 0)], ("original_value",)),
    ("card", "limit", [0], [-1], ()),
    ("card", "closing_day", [1, 31], [0, 32], ()),
    ("card", "due", [DueRule(day=1), DueRule(day=31)], [DueRule(day=0), DueRule(day=32)], ("day",)),
    ("card", "due", [DueRule(days_after=1), DueRule(days_after=28)],
     [DueRule(days_after=0), DueRule(days_after=29)], ("days_after",)),
    ("card", "rates", [(RateStep(OPENED, Decimal(0)), RateStep(AFTER, Decimal(1000)))],
     [(RateStep(OPENED, Decimal("-0.1")),), (RateStep(OPENED, Decimal("1000.1")),)], (0, "annual_rate")),
    ("card", "rates", [()], [(RateStep(OPENED, Decimal(1)),) * 2], ()),
    ("card", "minimum", minimums({"percent": Decimal(0)}, {"percent": Decimal(100)}),
     minimums({"percent": Decimal("-0.1")}, {"percent": HUNDRED}), ("percent",)),
    ("card", "minimum", minimums({"floor": 0}), minimums({"floor": -1}), ("floor",)),
    ("card", "fixed_amount", [0], [-1], ()),
    ("card", "changes", [statements(moved_to=date(2027, 1, 26))], [statements(moved_to=date(2027, 1, 25))],
     (0, "moved_to")),
    ("card", "changes", [statements(amount=0)], [statements(amount=-1)], (0, "amount")),
    ("card", "changes", [statements(interest=0)], [statements(interest=-1)], (0, "interest")),
    ("card", "changes", [statements()], [statements(closing=date(2027, 1, 24))], (0, "closing")),
    ("card", "begun_with", [BegunWith(date(2026, 12, 25), 0, OPENED), BegunWith(date(2026, 12, 25), 1, date(2027, 1, 25))],
     [BegunWith(date(2026, 12, 25), 0, BEFORE), BegunWith(date(2026, 12, 25), 0, date(2027, 1, 26))], ("due",)),
    ("card", "begun_with", [None], [BegunWith(date(2026, 12, 25), -1, OPENED)], ("balance",)),
    ("savings", "apy", [Decimal(0), Decimal(100)], [Decimal("-0.01"), HUNDRED], ()),
    ("savings", "changes", [(CreditChange(2027 * 12, 0),)], [(CreditChange(2027 * 12, -1),)], (0, "amount")),
    ("savings", "changes", [(CreditChange(2027 * 12, moved_to=date(2027, 1, 31)),)],
     [(CreditChange(2027 * 12, moved_to=date(2027, 1, 30)),)], (0, "moved_to")),
    ("savings", "changes", [(CreditChange(2027 * 12), CreditChange(2027 * 12 + 1))], [(CreditChange(2027 * 12),) * 2], ()),
    ("sweep", "most", [0], [-1], ()),
    ("lent", "annual_rate", [Decimal(0), Decimal(100)], [Decimal("-0.01"), HUNDRED], ()),
    ("lent", "repays", [Repays(1, MONTHLY, OPENED), Repays(LARGEST_AMOUNT, MONTHLY, OPENED)],
     [Repays(0, MONTHLY, OPENED), Repays(LARGEST_AMOUNT + 1, MONTHLY, OPENED)], ("amount",)),
    ("a", "cushion", [0], [-1], ()),
    ("a", "closed", [OPENED], [BEFORE], ()),
    ("bill", "amount", [0], [-1], ()),
    ("bill", "until", [date(2027, 1, 20)], [BEFORE], ()),
    ("bill", "splits", [(Split(100_00, category="food"),)], [(Split(100_01, category="food"),)], ()),
    ("bill", "splits", [(Split(0, category="food"),)], [(Split(-1, category="food"),)], (0, "amount")),
    ("bill", "growth", [Growth(Decimal("-99.99"), OPENED), Growth(Decimal(20), OPENED)],
     [Growth(Decimal(-100), OPENED), Growth(Decimal("1000.01"), OPENED), Growth(Decimal(1000), OPENED)], ("percent",)),
    ("bill", "revisions", [(Revision(AFTER, amount=0),)], [(Revision(AFTER, amount=-1),)], (0, "amount")),
    ("pay", "hourly", [Hourly(0, Decimal(80), Decimal(8))], [Hourly(-1, Decimal(80), Decimal(8))], ("rate",)),
    ("pay", "hourly", [Hourly(1, Decimal(80), Decimal(0))], [Hourly(1, Decimal(80), Decimal("-0.25"))], ("hours",)),
    ("pay", "hourly", [Hourly(1, Decimal(100), Decimal(1)), Hourly(1, Decimal("0.01"), Decimal(1))],
     [Hourly(1, Decimal(0), Decimal(1)), Hourly(1, HUNDRED, Decimal(1))], ("share",)),
    ("pay", "changes", [(Change(date(2027, 1, 20), hours=Decimal(0)),)],
     [(Change(date(2027, 1, 20), hours=Decimal(-1)),)], (0, "hours")),
    ("eat", "limit", [0], [-1], ()),
    ("eat", "revisions", [(LimitRevision(AFTER, 0),)], [], ()),
    ("give", "amount", [1], [0, -1], ()),
    ("limit", "amount", [0], [-1], ()),
    ("span", "until", [OPENED, date(2057, 12, 31)], [BEFORE, date(2058, 1, 1)], ()),
    ("rates", "rate", [Decimal("0.000001"), Decimal(10**9) - 1], [Decimal(0), Decimal(-1), Decimal(10**9)], ()),
]  # fmt: skip


@pytest.mark.parametrize(("what", "field", "taken", "refused", "below"), BOUNDS)
def test_the_last_value_is_taken_and_the_next_is_refused_at_its_field(
    what: str, field: str, taken: list[Any], refused: list[Any], below: tuple[str | int, ...]
) -> None:
    assert list(check(PLAN)) == []
    for value in taken:
        plan, _ = plan_with(what, field, value)
        assert [(problem.loc, problem.message) for problem in check(plan)] == []
    for value in refused:
        plan, loc = plan_with(what, field, value)
        assert (*loc, *below) in [problem.loc for problem in check(plan)]
