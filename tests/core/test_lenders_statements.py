"""A loan's books against what its lender says: each mistake is found, and put right to the cent."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import mortgage_lender
import pytest
from households import read
from hypothesis import given
from hypothesis import strategies as st
from mortgage_lender import BOOKS, MISTAKES, RIGHT, Lender, household, without
from seen import seen

from next_penny.core.books.moment import Moment
from next_penny.core.flows.assumed import apply_to_moment
from next_penny.core.loans.schedule import Schedule, schedule
from next_penny.core.mortgage.loan_books import loan_books
from next_penny.core.mortgage.recorded_whole import suspect_range
from next_penny.core.mortgage.statement_check import Checked, check_statement
from next_penny.core.mortgage.suspects import Suspects
from next_penny.core.mortgage.whole_years import TwoWays, whole_figures
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.categories import Category
from next_penny.core.plan.changes import PlanChange
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import payment_id
from next_penny.core.plan.household import Household
from next_penny.core.plan.kept.statements import LastSplit, Statement
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.starter import LOAN_INTEREST
from next_penny.core.plan.terms.loans import LoanTerms, RateChange

TODAY = date(2027, 3, 20)
CHECKING = Account("a", "Checking", "checking", "USD", Opening(date(2026, 1, 1), 50_000_00))
TERMS = LoanTerms(180_000_00, Decimal("6"), date(2026, 1, 15), date(2026, 2, 15), 360, from_account="a")
LOAN = Account("l", "Home loan", "loan", "USD", Opening(TERMS.disbursed, -TERMS.principal), loan=TERMS)
PLAN = Plan(Household(), (CHECKING, LOAN), (LOAN_INTEREST, Category("home", "Home")))


def due(place: int) -> date:
    year, month = divmod(1 + place, 12)
    return date(2026 + year, month + 1, 15)


def settled(found: Schedule, count: int, extra: dict[int, int] | None = None) -> list[Entry]:
    """The first payments of a schedule as they are recorded, perhaps with more on some of them."""
    return [
        Entry(f"p{place}", due(place), "Lender",
              (Leg(-row.interest - row.principal - more, "a"), Leg(row.principal + more, "l"),
               Leg(row.interest, category=LOAN_INTEREST.id)), payment_id("l"), due(place))
        for place, row in enumerate(found.rows[:count]) for more in [(extra or {}).get(place, 0)]
    ]  # fmt: skip


def of_lender(found: Schedule, count: int) -> Statement:
    """What the lender says after so many payments: what is owed, and the interest of the year."""
    row, day = found.rows[count - 1], due(count - 1)
    year = sum(each.interest for place, each in enumerate(found.rows[:count]) if due(place).year == day.year)
    return Statement(day, principal_balance=row.balance, interest_to_date=year)


def checked(moment: Moment, entries: Sequence[Entry], statement: Statement) -> Checked:
    return check_statement(moment, loan_books(moment.plan, moment.plan.account_by_id["l"], entries), statement,
                           Suspects(moment.plan, entries))  # fmt: skip


def after(moment: Moment, entries: Sequence[Entry], changes: Sequence[PlanChange]) -> tuple[Moment, list[Entry]]:
    by_id = {entry.id: entry for entry in entries}
    changed = apply_to_moment(moment, changes, by_id.get)
    for change in changes:
        if isinstance(change.item, Entry):
            by_id[change.id] = change.item
    return changed, list(by_id.values())


def assert_found_and_put_right(plan: Plan, entries: Sequence[Entry], statement: Statement, kind: str) -> None:
    moment = seen(plan, entries, TODAY)
    found = checked(moment, entries, statement)
    assert not found.agrees
    assert found.causes[0].kind == kind
    assert all(cause.explains for cause in found.causes)
    for cause in found.causes:
        again = checked(*after(moment, entries, cause.changes), statement)
        still = {each.item for each in again.compared if each.difference}
        assert still.isdisjoint(cause.explains)
    assert checked(*after(moment, entries, found.causes[0].changes), statement).agrees


@given(st.integers(1, 14), st.sampled_from(["principal_balance", "interest_to_date"]), st.integers(1, 9_999_99))
def test_books_kept_as_the_schedule_has_them_agree_and_any_other_figure_differs(
    count: int, item: str, off: int
) -> None:
    found = schedule(TERMS)
    entries, statement = settled(found, count), of_lender(found, count)
    moment = seen(PLAN, entries, TODAY)
    assert checked(moment, entries, statement).agrees
    odd = replace(statement, **{item: getattr(statement, item) + off})  # type: ignore[arg-type]
    (differing,) = [each for each in checked(moment, entries, odd).compared if each.difference]
    assert (differing.item, differing.difference) == (item, off)


@given(st.integers(3, 14), st.data())
def test_a_payment_recorded_whole_is_found_and_split(count: int, data: st.DataObject) -> None:
    found = schedule(TERMS)
    entries, place = settled(found, count), data.draw(st.integers(0, count - 1))
    paid = -entries[place].legs[0].amount
    whole = Entry(f"p{place}", due(place), "Lender", (Leg(-paid, "a"), Leg(paid, category="home")))
    entries[place] = whole
    assert_found_and_put_right(PLAN, entries, of_lender(found, count), "recorded_whole")
    figures = whole_figures(seen(PLAN, entries, TODAY), entries)
    (loan,) = figures.loans
    principal = found.rows[place].principal
    assert (loan.owed.recorded - loan.owed.right, loan.account.id) == (principal, "l")
    year = due(place).year
    assert list(figures.spending) == [year]
    assert figures.spending[year].recorded - figures.spending[year].right == principal
    assert figures.net_worth is not None
    assert figures.net_worth.right - figures.net_worth.recorded == principal


@given(st.integers(0, 40), st.integers(0, 40), st.booleans())
def test_what_names_one_loan_is_no_payment_of_another(more: int, apart: int, is_same_payment: bool) -> None:
    """ "Car" is a part of "Car 2"; both are paid near the same days, perhaps with the same sum."""
    terms = [replace(TERMS, principal=20_000_00 + (0 if is_same_payment else at * 1_000_00)) for at in range(2)]
    loans = [Account(name, name, "loan", "USD", Opening(each.disbursed, -each.principal), loan=each)
             for name, each in zip(("Car", "Car 2"), terms, strict=True)]  # fmt: skip
    plan = Plan(Household(), (CHECKING, *loans), (LOAN_INTEREST, Category("home", "Home")))
    entries = [
        Entry(f"{loan.name}-{place}", date.fromordinal(due(place).toordinal() + (apart % 12) * at),
              f"Bank ({loan.name.upper()})", (Leg(-paid, "a"), Leg(paid, category="home")))
        for at, (loan, each) in enumerate(zip(loans, terms, strict=True)) for place in range(12)
        for first in schedule(each).rows[:1] for paid in [first.interest + first.principal + more * (place % 2)]
    ]  # fmt: skip
    found = {each.account.id: [whole.entry.id for whole in each.whole.wholes]
             for each in whole_figures(seen(plan, entries, TODAY), entries).loans}  # fmt: skip
    assert found == {loan.id: [f"{loan.name}-{place}" for place in range(12)] for loan in loans}


@pytest.mark.parametrize(
    ("days_off", "more", "payee", "is_one"),
    [
        # Exactly what was due, half a month before or after the day, and no further.
        (0, 0, "Lender", True), (15, 0, "Lender", True), (-15, 0, "Lender", True),
        (16, 0, "Lender", False), (-16, 0, "Lender", False), (0, 1, "Lender", False), (0, -1, "Lender", False),
        # Who names the loan may pay more than the interest, and up to three times what is due.
        (0, 1, "Home loan", True), (-15, -50, "Home loan", True), (16, 50, "Home loan", False),
    ],
)  # fmt: skip
def test_a_payment_recorded_whole_is_near_its_day_and_its_amount(
    days_off: int, more: int, payee: str, is_one: bool
) -> None:
    entries = settled(schedule(TERMS), 14)
    total = -entries[7].legs[0].amount
    entries[7] = Entry("whole", due(7) + timedelta(days_off), payee,
                       (Leg(-total - more, "a"), Leg(total + more, category="home")))  # fmt: skip
    found = whole_figures(seen(PLAN, entries, TODAY), entries).loans
    assert [whole.entry.id for loan in found for whole in loan.whole.wholes] == (["whole"] if is_one else [])


def test_between_which_amounts_payments_of_a_loan_are_looked_for() -> None:
    rows = schedule(TERMS).rows
    paid = settled(schedule(TERMS), 14)
    total = rows[0].interest + rows[0].principal
    # Half a month ahead is looked at: the payment of 15 April has the least interest from 31 March on.
    for today, place in ((date(2027, 3, 30), 13), (date(2027, 3, 31), 14)):
        assert suspect_range(seen(PLAN, paid, today), LOAN) == (rows[place].interest, 3 * total)
    named = [Entry(f"w{place}", due(14), "Home loan", (Leg(-amount, "a"), Leg(amount, category="home")))
             for place, amount in enumerate((rows[14].interest, rows[14].interest + 1, 3 * total, 3 * total + 1))]  # fmt: skip
    for entry, is_one in zip(named, (False, True, True, False), strict=True):
        entries = [*paid, entry]
        found = whole_figures(seen(PLAN, entries, due(14)), entries).loans
        assert [whole.entry.id for loan in found for whole in loan.whole.wholes] == ([entry.id] if is_one else [])


def test_nothing_recorded_whole_leaves_every_figure_alone() -> None:
    entries = settled(schedule(TERMS), 5)
    figures = whole_figures(seen(PLAN, entries, TODAY), entries)
    assert (figures.loans, dict(figures.spending), figures.net_worth) == ((), {}, None)
    assert TwoWays(1, 2) != TwoWays(2, 1)


def test_a_rate_that_changed_is_found() -> None:
    changed = replace(TERMS, rate_changes=(RateChange(date(2026, 10, 15), Decimal("6.5")),))
    entries = settled(schedule(changed), 12)
    wrong = settled(schedule(TERMS), 12)
    # The household paid what the lender asked, and split it as the old rate had it.
    books = [
        replace(old, legs=(new.legs[0], Leg(-new.legs[0].amount - old.legs[2].amount, "l"), old.legs[2]))
        for new, old in zip(entries, wrong, strict=True)
    ]
    last = schedule(changed).rows[11]
    statement = replace(of_lender(schedule(changed), 12), last_split=LastSplit(last.principal, last.interest))
    assert_found_and_put_right(PLAN, books, statement, "rate_changed")


@pytest.mark.parametrize(("begins", "is_found"), [(date(2026, 3, 15), True), (date(2026, 2, 15), False)])
def test_a_rate_that_changed_is_looked_for_in_the_last_twelve_payments(begins: date, is_found: bool) -> None:
    changed = replace(TERMS, rate_changes=(RateChange(begins, Decimal("6.5")),))
    asked, wrong = settled(schedule(changed), 14), settled(schedule(TERMS), 14)
    entries = [
        replace(old, legs=(new.legs[0], Leg(-new.legs[0].amount - old.legs[2].amount, "l"), old.legs[2]))
        for new, old in zip(asked, wrong, strict=True)
    ]
    last = schedule(changed).rows[13]
    statement = replace(of_lender(schedule(changed), 14), last_split=LastSplit(last.principal, last.interest))
    found = checked(seen(PLAN, entries, TODAY), entries, statement)
    said = f"from {begins:%B} 15, 2026 on."
    assert any(said in cause.sentence for cause in found.causes if cause.kind == "rate_changed") == is_found


def statement_of(lender: Lender) -> Statement:
    told = lender.statement()
    split, day = LastSplit(**told.pop("last_split")), date.fromisoformat(told.pop("date"))
    return Statement(day, **told, last_split=split)


@pytest.mark.parametrize("name", MISTAKES)
def test_what_else_is_wrong_in_a_mortgages_books_is_named_and_put_right(name: str) -> None:
    recorded, lender = MISTAKES[name]
    plan, entries = read(household(recorded))
    statement = statement_of(lender)
    moment = seen(plan, entries, mortgage_lender.TODAY)

    def checked(moment: Moment, entries: Sequence[Entry]) -> Checked:
        books = loan_books(moment.plan, moment.plan.account_by_id["loan"], entries)
        return check_statement(moment, books, statement, Suspects(moment.plan, entries))

    found = checked(moment, entries)
    differing = {each.item for each in found.compared if each.difference}
    assert (found.agrees, found.causes[0].kind) == (False, name.split(maxsplit=1)[0])
    assert set(found.causes[0].explains) == differing
    for cause in found.causes:
        again = {each.item for each in checked(*after(moment, entries, cause.changes)).compared if each.difference}
        assert again.isdisjoint(cause.explains)


def test_a_mortgages_right_books_agree_in_every_figure() -> None:
    plan, entries = read(household(BOOKS))
    books = loan_books(plan, plan.account_by_id["loan"], entries)
    statement = statement_of(RIGHT)
    found = check_statement(seen(plan, entries, mortgage_lender.TODAY), books, statement, Suspects(plan, entries))
    assert found.agrees
    assert len(found.compared) == 7
    assert found.causes == ()


@pytest.mark.parametrize(("nominal", "kinds"), [("2026-10-10", {"disbursement_missing"}), ("2026-12-20", set())])
def test_a_bill_that_was_left_out_may_have_been_paid_from_escrow_if_its_day_is_over(
    nominal: str, kinds: set[str]
) -> None:
    document = household(without("t10"))
    bill = document["flows"][1] | {"rules": [], "dates": ["2026-04-10", nominal]}
    document["flows"][1] = bill | {"start": None, "changes": [{"nominal": nominal, "left_out": True}]}
    plan, entries = read(document)
    moment, statement = seen(plan, entries, mortgage_lender.TODAY), statement_of(RIGHT)
    books = loan_books(plan, plan.account_by_id["loan"], entries)
    found = check_statement(moment, books, replace(statement, date=mortgage_lender.TODAY), Suspects(plan, entries))
    assert {cause.kind for cause in found.causes} == kinds
