"""Edits as a person means them: what holds on which day afterwards, and what is taken back."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from seen import seen

from next_penny.core.accounts.parts import changed_one_off
from next_penny.core.edits.one_off import change_one_off, move_onward
from next_penny.core.edits.recording import Part, Recorded, as_recorded, borrowed, record, worth
from next_penny.core.edits.revising import revise_allowance, revise_flow, take_back
from next_penny.core.edits.revising_accounts import add_extra, revise_card, revise_loan
from next_penny.core.flows.amounts import amount_on, rules_on
from next_penny.core.flows.kinds.maker import maker_of
from next_penny.core.plan.accounts import Account, Opening
from next_penny.core.plan.allowances import Allowance
from next_penny.core.plan.categories import Category
from next_penny.core.plan.entries import Entry, Leg
from next_penny.core.plan.flows import Change, Flow, Growth, Revision, interest_id, payment_id
from next_penny.core.plan.household import Household
from next_penny.core.plan.plan import Plan
from next_penny.core.plan.rates import Rate
from next_penny.core.plan.terms.cards import CardTerms, DueRule, RateStep
from next_penny.core.plan.terms.loans import Extra, LoanTerms
from next_penny.core.plan.terms.savings import SavingsTerms
from next_penny.core.problems import PlanError

TODAY = date(2027, 3, 1)
CHECKING = Account("a", "Checking", "checking", "USD", Opening(date(2026, 1, 1), 1000_00))
SAVINGS = replace(CHECKING, id="s", name="Savings", kind="savings", savings=SavingsTerms(apy=Decimal("4")))
EURO = replace(CHECKING, id="e", name="Euro", currency="EUR")
CARD = Account("c", "Card", "credit_card", "USD", Opening(date(2026, 1, 1), -100_00),
               card=CardTerms(500_00, 10, DueRule(day=28), (RateStep(date(2026, 1, 1), Decimal("20")),),
                              from_account="a"))  # fmt: skip
TERMS = LoanTerms(10_000_00, Decimal("6"), date(2026, 1, 15), date(2026, 2, 15), 60, from_account="a")
LOAN = Account("l", "Loan", "loan", "USD", Opening(date(2026, 1, 15), -10_000_00), loan=TERMS)
RENT = Flow("rent", "Rent", "bill", 1000_00, "a", rules=("FREQ=MONTHLY;BYMONTHDAY=5",), start=date(2026, 1, 5))
PLAN = Plan(Household(), (CHECKING, SAVINGS, EURO, CARD, LOAN), (Category("food", "Food"), Category("fun", "Fun")),
            (RENT,), rates=(Rate(date(2026, 1, 1), "USD", "EUR", Decimal("0.9")),))  # fmt: skip
MOMENT = seen(PLAN, (), TODAY)

days = (st.integers(-1, 1) | st.integers(-300, 900)).map(lambda later: TODAY + timedelta(days=later))
amounts = st.integers(0, 5000_00)
steps = st.lists(st.tuples(days, amounts, st.booleans()), max_size=5)


def in_force(held: dict[date, int], base: int, day: date) -> int:
    """What was said last for a day or one before it."""
    passed = [start for start in held if start <= day]
    return held[max(passed)] if passed else base


@given(steps, days)
def test_an_amount_revised_holds_from_its_day_until_the_next_that_is_kept(
    said: list[tuple[date, int, bool]], looked_at: date
) -> None:
    flow, held = RENT, dict[date, int]()
    for day, amount, keep_later in said:
        edited = revise_flow(flow, {"amount": amount}, day, TODAY, keep_later=keep_later)
        later = [start for start in held if start > day]
        assert bool(edited.notes) == bool(later and keep_later)
        held = {start: value for start, value in held.items() if start < day or (keep_later and start > day)}
        held[day], flow = amount, edited.item
    assert amount_on(flow, looked_at) == in_force(held, 1000_00, looked_at)
    for day in list(held):
        flow = take_back(flow, day).item
        del held[day]
        assert amount_on(flow, looked_at) == in_force(held, 1000_00, looked_at)
    assert flow == RENT


@given(steps, amounts, days)
def test_as_if_it_had_always_been_so_changes_what_is_in_force_and_all_before_it(
    said: list[tuple[date, int, bool]], amount: int, looked_at: date
) -> None:
    flow = RENT
    for day, value, _ in said:
        flow = revise_flow(flow, {"amount": value}, day, TODAY).item
    always = revise_flow(flow, {"amount": amount}, None, TODAY).item
    before = amount_on(flow, TODAY)
    if amount == before:
        assert always == flow
        return
    later = [day for day, _, _ in said if TODAY < day <= looked_at]
    assert amount_on(always, looked_at) == (amount_on(flow, looked_at) if later else amount)


def test_what_grows_begins_to_grow_anew_where_it_is_revised() -> None:
    flow = replace(RENT, growth=Growth(Decimal(10), date(2025, 1, 1)))
    revised = revise_flow(flow, {"amount": 1000_00}, date(2027, 9, 1), TODAY).item
    maker = maker_of(seen(replace(PLAN, flows=(revised,)), (), TODAY), revised)
    days = (date(2027, 8, 5), date(2027, 9, 5), date(2027, 12, 5), date(2028, 1, 5))
    assert [maker.amount_of(day.toordinal()) for day in days] == [1210_00, 1000_00, 1000_00, 1100_00]


def test_rules_and_accounts_are_revised_like_amounts() -> None:
    rules = ("FREQ=WEEKLY;BYDAY=FR",)
    flow = revise_flow(RENT, {"rules": rules, "from_account": "s"}, date(2027, 6, 1), TODAY).item
    assert (rules_on(flow, date(2027, 5, 31)), rules_on(flow, date(2027, 6, 1))) == (RENT.rules, rules)
    assert (flow.on(date(2027, 5, 31)).from_account, flow.on(date(2027, 6, 1)).from_account) == ("a", "s")
    with pytest.raises(PlanError, match="Nothing is planned from that day on"):
        take_back(flow, date(2027, 6, 2))
    assert take_back(flow, date(2027, 6, 1)).item == RENT


@given(st.lists(st.tuples(days, amounts), max_size=4), days)
def test_a_limit_revised_holds_from_its_day_on(said: list[tuple[date, int]], looked_at: date) -> None:
    allowance, held = Allowance("eat", "Eating", 400_00, "a", categories=("food",)), dict[date, int]()
    for day, amount in said:
        allowance = revise_allowance(allowance, {"limit": amount}, day, TODAY).item
        held[day] = amount
    by_day = {revision.start: revision.limit for revision in allowance.revisions}
    assert in_force(by_day, allowance.limit, looked_at) == in_force(held, 400_00, looked_at)
    always = revise_allowance(allowance, {"limit": 77_00}, None, TODAY)
    later = {day: amount for day, amount in held.items() if day > TODAY}
    assert (always.item.limit, {each.start: each.limit for each in always.item.revisions}) == (77_00, later)
    assert bool(always.notes) == bool(later)
    gone = revise_allowance(allowance, {"limit": 1}, date(2026, 1, 1), TODAY, keep_later=False).item
    assert [(each.start, each.limit) for each in gone.revisions if each.start >= date(2026, 1, 1)] == [
        (date(2026, 1, 1), 1)
    ]


def test_a_loan_is_revised_from_a_day_and_taken_back() -> None:
    day = date(2027, 9, 1)
    loan = revise_loan(LOAN, {"annual_rate": Decimal("7"), "payment": 250_00}, day).item
    assert loan.loan is not None
    assert [(each.start, each.annual_rate) for each in loan.loan.rate_changes] == [(day, Decimal("7"))]
    assert [(each.start, each.amount) for each in loan.loan.payment_changes] == [(day, 250_00)]
    later = revise_loan(loan, {"annual_rate": Decimal("8")}, date(2027, 6, 1), keep_later=False).item
    assert later.loan is not None
    assert [each.start for each in later.loan.rate_changes] == [date(2027, 6, 1)]
    assert revise_loan(loan, {"annual_rate": None, "payment": None}, day).item == LOAN
    with pytest.raises(PlanError, match="Say from which day"):
        revise_loan(LOAN, {"payment": 1}, None)
    more = add_extra(LOAN, Extra(100_00, date=date(2027, 4, 15)))
    assert more.loan is not None
    assert len(more.loan.extras) == 1


def test_a_card_is_revised_from_a_day_and_paid_otherwise_from_now_on() -> None:
    card = revise_card(CARD, {"annual_rate": Decimal("25"), "pays": "minimum"}, date(2027, 9, 1)).item
    assert card.card is not None
    assert (card.card.rate_on(date(2027, 8, 31).toordinal()), card.card.pays) == (Decimal("20"), "minimum")
    assert card.card.rate_on(date(2027, 9, 1).toordinal()) == Decimal("25")
    back = revise_card(card, {"annual_rate": None, "pays": "statement"}, date(2027, 9, 1)).item
    assert back == CARD
    for field in ("pays", "limit"):
        with pytest.raises(PlanError, match="This is needed"):
            revise_card(CARD, {field: None}, None)


def test_one_date_is_set_otherwise_and_as_planned_again() -> None:
    nominal = date(2027, 4, 5)
    flow = change_one_off(MOMENT, RENT, nominal, {"amount": 900_00, "moved_to": date(2027, 4, 9)})
    assert [(each.amount, each.moved_to) for each in flow.changes] == [(900_00, date(2027, 4, 9))]
    assert change_one_off(MOMENT, flow, nominal, {"moved_to": nominal}).changes[0].moved_to is None
    assert change_one_off(MOMENT, flow, nominal, None) == RENT
    for values in ({"amount": 1}, None):
        with pytest.raises(PlanError, match="is not expected"):
            change_one_off(MOMENT, RENT, date(2027, 4, 6), values)
    ending = replace(RENT, until=date(2027, 4, 30))
    with pytest.raises(PlanError, match="ends on April 30, 2027"):
        change_one_off(MOMENT, ending, nominal, {"moved_to": date(2027, 5, 1)})
    # What was moved before the flow was ended may still be left out.
    late = replace(change_one_off(MOMENT, RENT, nominal, {"moved_to": date(2027, 5, 1)}), until=date(2027, 4, 30))
    assert change_one_off(MOMENT, late, nominal, {"left_out": True}).changes[0].left_out


def test_a_date_and_all_after_it_move_within_their_month() -> None:
    edited = move_onward(MOMENT, RENT, date(2027, 4, 5), date(2027, 4, 20))
    first, last = date(2027, 3, 1).toordinal(), date(2027, 6, 30).toordinal()
    moved = [date.fromordinal(day) for day in maker_of(MOMENT, edited.item).nominal_days(first, last)]
    assert moved == [date(2027, 3, 5), date(2027, 4, 20), date(2027, 5, 20), date(2027, 6, 20)]
    # What was changed for that date goes with it; what was for a later one stays there, and is told.
    for nominal, stays in ((date(2027, 4, 5), False), (date(2027, 5, 5), True)):
        changed = replace(RENT, changes=(Change(nominal, amount=1),))
        moment = seen(replace(PLAN, flows=(changed,)), (), TODAY)
        onward = move_onward(moment, changed, date(2027, 4, 5), date(2027, 4, 20))
        assert (bool(onward.item.changes), bool(onward.notes)) == (stays, stays)
    with pytest.raises(PlanError, match="within its own week or month"):
        move_onward(MOMENT, RENT, date(2027, 4, 5), date(2027, 6, 20))


def test_what_an_account_makes_is_set_otherwise_for_one_date() -> None:
    card = changed_one_off(CARD, payment_id("c"), date(2027, 3, 28), {"amount": 50_00})
    assert card.card is not None
    assert [(each.closing, each.amount) for each in card.card.changes] == [(date(2027, 3, 10), 50_00)]
    charged = changed_one_off(card, interest_id("c"), date(2027, 3, 10), {"amount": 3_00})
    assert charged.card is not None
    assert [(each.amount, each.interest) for each in charged.card.changes] == [(50_00, 3_00)]
    assert changed_one_off(card, payment_id("c"), date(2027, 3, 28), None) == CARD
    saved = changed_one_off(SAVINGS, interest_id("s"), date(2027, 3, 31), {"left_out": True})
    assert changed_one_off(saved, interest_id("s"), date(2027, 3, 31), None) == SAVINGS
    for account, flow, day in (
        (CARD, payment_id("c"), date(2027, 3, 27)),
        (CARD, interest_id("c"), date(2027, 3, 11)),
        (SAVINGS, interest_id("s"), date(2027, 3, 30)),
    ):
        with pytest.raises(PlanError):
            changed_one_off(account, flow, day, {"amount": 1})


@given(
    st.sampled_from(["spent", "received"]),
    st.integers(0, 10_000_00),
    st.lists(st.integers(0, 3_000_00), max_size=3),
)
def test_money_recorded_sums_to_zero_and_is_said_again_as_it_was(way: str, amount: int, first: list[int]) -> None:
    parts = (*(Part("fun", each) for each in first), Part("food"))
    money = Recorded(way, TODAY, "a", amount, "Shop", parts)  # type: ignore[arg-type]
    if sum(first) > amount:
        with pytest.raises(PlanError, match="more than the whole"):
            record(PLAN, "e", money, None)
        return
    entry = record(PLAN, "e", money, None)
    assert sum(leg.amount for leg in entry.legs) == 0
    sign = -1 if way == "spent" else 1
    assert [leg.amount for leg in entry.legs if leg.account == "a"] == [sign * amount]
    said = as_recorded(PLAN, entry)
    assert said is not None
    if amount:
        assert (said.way, said.amount, said.account) == (way, amount, "a")
        assert record(PLAN, "e", said, None).legs == entry.legs


def test_money_moved_between_currencies_has_two_amounts() -> None:
    moved = Recorded("moved", TODAY, "a", 100_00, to_account="e")
    assert [leg.amount for leg in record(PLAN, "m", moved, None).legs] == [-100_00, 90_00]
    assert [leg.amount for leg in record(PLAN, "m", replace(moved, arrives=91_50), None).legs] == [-100_00, 91_50]
    with pytest.raises(PlanError, match="how much arrives in EUR"):
        record(replace(PLAN, rates=()), "m", moved, None)
    settled = Entry("m", TODAY, "", (Leg(-1, "a"), Leg(1, category="food")), "rent", date(2027, 3, 5))
    kept = record(PLAN, "m", moved, settled)
    assert (kept.flow, kept.nominal) == ("rent", date(2027, 3, 5))
    for odd in (replace(moved, amount=-1), replace(moved, account="?"), replace(moved, to_account="a")):
        with pytest.raises(PlanError):
            record(PLAN, "m", odd, None)


def test_what_is_owned_is_worth_what_is_said_and_a_loan_owes_what_was_financed() -> None:
    house = replace(CHECKING, id="h", name="House", kind="asset")
    entry = worth(seen(replace(PLAN, accounts=(*PLAN.accounts, house)), (), TODAY), "w", house, 1500_00, TODAY)
    assert [leg.amount for leg in entry.legs] == [500_00, -500_00]
    for day in (date(2025, 12, 31), TODAY + timedelta(days=1)):
        with pytest.raises(PlanError):
            worth(MOMENT, "w", house, 1, day)
    with pytest.raises(PlanError, match="Only what is owned"):
        worth(MOMENT, "w", CHECKING, 1, TODAY)
    whole = borrowed("n", "New", "USD", TERMS, None, None, None)
    joined = borrowed("n", "New", "USD", TERMS, 9_000_00, date(2026, 8, 1), None)
    assert (whole.opening.balance, whole.opening.date) == (-10_000_00, TERMS.disbursed)
    assert (joined.opening.balance, joined.opening.date) == (-9_000_00, date(2026, 8, 1))


def test_two_revisions_of_one_day_are_one() -> None:
    flow = revise_flow(RENT, {"amount": 1}, date(2027, 6, 1), TODAY).item
    flow = revise_flow(flow, {"rules": ("FREQ=DAILY",)}, date(2027, 6, 1), TODAY).item
    assert flow.revisions == (Revision(date(2027, 6, 1), 1, ("FREQ=DAILY",)),)
