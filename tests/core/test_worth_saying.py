"""What of a change is worth saying, and what the history tells of the lowest point, at the edges of each."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import pytest
from households import TODAY
from seen import seen

from next_penny.core.edits.notes import change_notes
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.flows import Change, Flow, Revision, Split
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.goals import Goal
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.terms.cards import CardTerms, DueRule
from next_penny.core.problems import PlanError
from next_penny.core.reconciling.readings import check_day
from next_penny.core.review.history import Low, Lowest, Step, moved_since, newest_done, told_since

OPENED = Opening(date(2027, 1, 1), 0)
CHECKING = Account("a", "Joint", "checking", "USD", OPENED)
CARD = Account(
    "v", "Wharf", "credit_card", "USD", replace(OPENED, balance=-90_00), card=CardTerms(90_00, 10, DueRule(day=28))
)
ESCROW = Account("e", "Escrow", "escrow", "USD", OPENED)
RENT = Flow("rent", "Rent", "bill", 50_00, "a", rules=("FREQ=MONTHLY;BYMONTHDAY=10",), start=date(2027, 3, 10),
            splits=(Split(50_00, category="home"),))  # fmt: skip
PLAN = Plan(Household(), (CHECKING, CARD, ESCROW), flows=(RENT,))
TITHE = Goal("g", "Tithe", "give", "month", share=Decimal(60), categories=("home",))
SAVE = Goal("s", "Save", "save", "month", share=Decimal(40))


def with_account(account: Account) -> Plan:
    return replace(PLAN, accounts=tuple(account if each.id == account.id else each for each in PLAN.accounts))


def with_rent(**changed: object) -> Plan:
    return replace(PLAN, flows=(replace(RENT, **changed),))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("after", "says"),
    [
        (PLAN, None), (with_account(replace(CARD, opening=replace(CARD.opening, balance=-90_01))),
                       "“Wharf” owes $0.01 more than its limit."),
        (with_account(replace(ESCROW, opening=replace(OPENED, balance=-1))),
         "“Escrow” is $0.01 short of what was paid from it: the lender advances that."),
        (with_account(replace(ESCROW, opening=replace(OPENED, balance=1))), None),
        (with_account(replace(CHECKING, closed=TODAY)), "“Joint” is closed, and “Rent” is still expected on it."),
        (replace(with_rent(until=TODAY + timedelta(days=30)), accounts=(replace(CHECKING, closed=TODAY + timedelta(days=9)), CARD, ESCROW)),
         "“Joint” is closed, and “Rent” is still expected on it."),
        (replace(with_rent(until=TODAY + timedelta(days=30)), accounts=(replace(CHECKING, closed=TODAY + timedelta(days=10)), CARD, ESCROW)),
         None),
        (with_rent(revisions=(Revision(date(2027, 6, 1), amount=50_00),)), None),
        (with_rent(revisions=(Revision(date(2027, 6, 1), amount=49_99),)),
         "The parts of “Rent” are more than its amount on June 1, 2027: they are cut to it."),
        (with_rent(changes=(Change(date(2027, 5, 10), amount=50_00),)), None),
        (with_rent(changes=(Change(date(2027, 5, 10), amount=49_99),), revisions=(Revision(date(2027, 6, 1), amount=1),)),
         "The parts of “Rent” are more than its amount on May 10, 2027: they are cut to it."),
        (with_rent(seasonal=((7, 50_00),)), None),
        (with_rent(seasonal=((7, 49_99),)), "The parts of “Rent” are more than its amount in some months: they are cut to it."),
        (with_rent(start=date(2027, 2, 10)), "One date of “Rent” before today will be past due: should it begin later?"),
        (with_rent(start=date(2027, 1, 10)), "2 dates of “Rent” before today will be past due: should it begin later?"),
        (with_rent(start=TODAY, rules=("FREQ=MONTHLY;BYMONTHDAY=1",)), None),
        (replace(PLAN, goals=(TITHE, SAVE)), None),
        (replace(PLAN, goals=(TITHE, replace(SAVE, share=Decimal("40.5")))),
         "“Tithe” and “Save” together ask for 100.5 percent of a month's income."),
        (replace(PLAN, goals=(TITHE, replace(SAVE, share=Decimal("40.5"), per="year"))), None),
    ],
)  # fmt: skip
def test_what_a_change_brings_about_is_said_where_it_was_not_so_before(after: Plan, says: str | None) -> None:
    assert change_notes(seen(PLAN, (), TODAY), seen(after, (), TODAY)) == ([says] if says else [])
    # What was so already is not said again, but for dates that a flow puts before today.
    assert change_notes(seen(after, (), TODAY), seen(replace(after), (), TODAY)) == []


ONE, OTHER = Low(date(2027, 4, 1), 5_00), Low(date(2027, 4, 2), 5_00)


def step(id: int, *, is_undone: bool = False, moves: bool = True) -> Step:
    return Step(id, "Said", None, is_undone, Lowest(ONE, OTHER if moves else ONE))


def test_what_moved_the_lowest_point_since_one_looked() -> None:
    steps = [step(5, is_undone=True), step(4), step(3, moves=False), step(2, is_undone=True), step(1)]
    assert newest_done(steps) == 4
    assert newest_done(steps[:1]) == 0
    # Those made since then, and those made before it that were undone since.
    assert [each.id for each in moved_since(steps, 2)] == [4, 2]
    assert [each.id for each in moved_since(steps, 5)] == [5, 2]
    assert [each.id for each in moved_since(steps, 0)] == [4, 1]
    assert replace(step(1), lowest=None).moved is False
    assert told_since(ONE, ONE, "USD", TODAY) is told_since(ONE, None, "USD", TODAY) is None
    for today, since in ((ONE.day, "when you last looked"), (ONE.day + timedelta(days=1), "that day is past")):
        assert told_since(ONE, OTHER, "USD", today) == (
            "What can be spent in all was, at its lowest in a year ahead, $5.00 on April 1, 2027 "
            f"({since}); now it is $5.00 on April 2, 2027."
        )


@pytest.mark.parametrize(("day", "is_refused"), [(TODAY, False), (TODAY + timedelta(days=1), True),
                                                 (OPENED.date, False), (OPENED.date - timedelta(days=1), True)])  # fmt: skip
def test_a_true_balance_is_of_a_day_on_which_the_account_was_open(day: date, is_refused: bool) -> None:
    if is_refused:
        with pytest.raises(PlanError) as refused:
            check_day(CHECKING, day, TODAY)
        assert refused.value.problems[0].loc == ("date",)
    else:
        check_day(CHECKING, day, TODAY)
