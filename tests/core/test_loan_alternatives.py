"""Alternatives of a loan: adopted they come true, and questions are answered by the least that does."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from loans_followed import can_be_followed, household, plain_loans, short_loans, stands_after
from seen import of

from effort import examples
from next_penny.core.books.recorded import apply_to_books
from next_penny.core.checks.entries import check_entry
from next_penny.core.checks.plan import check
from next_penny.core.loans.alternatives.adoption import adoption
from next_penny.core.loans.alternatives.compare import (
    Variant,
    WithExtra,
    compare,
    extra_to_end_by,
    principal_for,
    rate_for,
)
from next_penny.core.loans.alternatives.variants import LoanWish, rest_as_loan, vary
from next_penny.core.loans.check import loan_problems
from next_penny.core.loans.level import payment_for
from next_penny.core.loans.overview import debt_free
from next_penny.core.loans.schedule import Schedule, schedule
from next_penny.core.loans.standing import standing
from next_penny.core.loans.walked import LoanError
from next_penny.core.plan.changes import apply
from next_penny.core.plan.entries import Entry
from next_penny.core.plan.terms.loans import Extra, LoanTerms, RateChange

wishes = st.one_of(
    st.builds(LoanWish, annual_rate=st.decimals(0, 15, places=2)),
    st.builds(LoanWish, payments=st.integers(1, 120)),
    st.builds(LoanWish, extra=st.integers(1, 900_00)),
    st.builds(LoanWish, payment=st.integers(100_00, 40_000_00)),
    st.builds(LoanWish, balloon=st.integers(0, 900_00)),
    st.builds(LoanWish, extra=st.integers(1, 900_00), annual_rate=st.decimals(0, 15, places=2)),
    st.builds(LoanWish, payments_per_year=st.sampled_from([12, 26]), accelerated=st.booleans()),
    st.builds(LoanWish, refinance=st.just(True), annual_rate=st.decimals(0, 9, places=1), fees=st.integers(0, 2000_00),
              fees_financed=st.booleans()),
)  # fmt: skip


@given(short_loans.map(lambda terms: replace(terms, fees=())).filter(can_be_followed), wishes, st.integers(0, 6))
@settings(max_examples=examples(150))
def test_an_alternative_that_is_adopted_comes_true(terms: LoanTerms, wish: LoanWish, settled: int) -> None:
    plan, books, today, stands = stands_after(household(terms), terms, settled)
    assume(stands.rest is not None and not stands.shown.between)
    assert stands.rest is not None
    try:
        varied = vary(rest_as_loan(stands.rest), wish, today, stands.rest, stands.arrears(today))
        as_wished = schedule(varied)
    except LoanError:
        return
    assume(not loan_problems(varied, "USD", is_rest=True) and as_wished.level > 0)
    assume(as_wished.first_number + len(as_wished) + stands.passed <= terms.most_payments)
    made = adoption(plan, stands, wish, varied, today)
    told, after = made.variant.schedule, apply(plan, made.changes)
    assert columns(told) == columns(as_wished)
    assert not check(after)
    for change in made.changes:
        assert not (isinstance(change.item, Entry) and check_entry(after, change.item))
    moment = of(after, apply_to_books(books, made.changes, lambda id: None, terms.disbursed), today)
    now = {account.id: standing(moment, account) for account in after.accounts if account.loan}
    if len(now) > 1:
        assert (now.pop("loan").rest, len(now)) == (None, 1)
    (adopted,) = now.values()
    assert adopted.rest is not None
    assert columns(adopted.rest) == columns(told)
    assert debt_free(moment) == told.paid_off
    # What it saves is all that is paid and charged without it, less the same with it.
    _, variant = compare([Variant(stands.rest), made.variant], today, 60)
    in_cash = sum(fee.amount for fee in told.terms.fees if not fee.financed) if len(after.accounts) > 2 else 0
    assert variant.saves_in_all == paid_in(stands.rest) - paid_in(told) - in_cash
    if wish == LoanWish(refinance=True, annual_rate=wish.annual_rate, fees=wish.fees, fees_financed=wish.fees_financed):
        same = stands.rest.rate[0] == wish.annual_rate and stands.rest.due[0] >= today.toordinal()
        assert not same or variant.saves_in_all <= len(told) - wish.fees


def paid_in(told: Schedule) -> int:
    return sum(told.interest) + sum(told.principal) + sum(told.extra) + sum(told.insurance)


def columns(found: Schedule) -> list[tuple[int, int, int, int]]:
    return [(row.due, row.interest, row.principal + row.extra, row.balance) for row in found.rows]


def with_extra(terms: LoanTerms) -> WithExtra:
    return lambda amount: schedule(replace(terms, extras=(Extra(amount, every=1, start=terms.first_payment),)))


@given(plain_loans, st.integers(1, 2000_00), st.integers(1, 2000_00))
def test_more_extra_never_costs_more_and_never_lasts_longer(terms: LoanTerms, extra: int, more: int) -> None:
    paying = [replace(terms, extras=(Extra(amount, every=1),)) for amount in (extra, extra + more)]
    base, some, most = compare([Variant(schedule(each)) for each in (terms, *paying)], terms.disbursed, 1200)
    assert base.total_interest >= some.total_interest >= most.total_interest
    assert base.paid_off >= some.paid_off >= most.paid_off
    for found in (some, most):
        assert found.saves_in_all == found.saves == base.total_interest - found.total_interest
        assert found.cost == sum(found.schedule.interest)
        assert found.apr == base.apr


def test_alternatives_are_held_against_each_other_over_the_same_days() -> None:
    monthly = LoanTerms(180_000_00, Decimal("4.75"), date(2027, 1, 10), date(2027, 2, 10), 360)
    weekly = replace(monthly, payments_per_year=52, first_payment=date(2027, 1, 17), payments=1560)
    one, other = compare([Variant(schedule(terms)) for terms in (monthly, weekly)], monthly.disbursed, 60)
    # Five years from the paying out: sixty monthly payments, and all 260 weekly ones that are due in them.
    assert one.cost == sum(one.schedule.interest[:60])
    assert other.cost == sum(other.schedule.interest[:260])
    assert other.saves == one.cost - other.cost > 0


@given(plain_loans, st.data())
def test_questions_the_other_way_round_are_answered_by_the_least_that_does(
    terms: LoanTerms, data: st.DataObject
) -> None:
    agreed = schedule(terms)
    by = date.fromordinal(data.draw(st.sampled_from(agreed.due)))
    extra = extra_to_end_by(with_extra(terms), terms.amount_financed, terms.first_payment, by)
    for amount, ends in ((extra, True), (extra - 1, False)):
        if amount >= 0:
            told = schedule(replace(terms, extras=(Extra(amount, every=1, start=terms.first_payment),)))
            assert (told.paid_off <= by) == ends
    assert terms.payments is not None
    borrowed = principal_for(terms, agreed.level)
    assert payment_for(terms, borrowed, terms.annual_rate, terms.payments) <= agreed.level
    assert payment_for(terms, borrowed + 1, terms.annual_rate, terms.payments) > agreed.level
    assert borrowed >= terms.principal
    rate = rate_for(terms, agreed.level)
    assert rate >= terms.annual_rate
    assert payment_for(terms, terms.principal, rate + Decimal("0.001"), terms.payments) > agreed.level


def test_what_no_extra_and_no_payment_can_do_is_refused() -> None:
    terms = LoanTerms(1000_00, Decimal(6), date(2027, 1, 15), date(2027, 2, 15), payments=12)
    with pytest.raises(LoanError, match="Choose a later day"):
        extra_to_end_by(with_extra(terms), 1000_00, terms.first_payment, date(2027, 2, 14))
    assert (
        extra_to_end_by(with_extra(terms), 1000_00, terms.first_payment, date(2027, 2, 15))
        == 1005_00 - schedule(terms).level
    )
    with pytest.raises(LoanError, match="Even without interest"):
        rate_for(terms, 83_32)
    assert rate_for(terms, 83_33) < Decimal("0.01")
    with pytest.raises(LoanError, match="too small to borrow"):
        principal_for(replace(terms, balloon=500_00), 1)


@pytest.mark.parametrize(
    ("per_year", "payments", "first", "count"),
    [(26, 360, date(2027, 3, 15), 780), (52, 360, date(2027, 3, 8), 1560), (24, 359, date(2027, 4, 1), 718),
     (4, 362, date(2027, 4, 1), 121), (2, 3, date(2027, 4, 1), 1), (1, 5, date(2027, 4, 1), 1), (2, 15, date(2027, 4, 1), 3)],
)  # fmt: skip
def test_a_loan_tried_in_another_rhythm_takes_about_the_same_time(
    per_year: int, payments: int, first: date, count: int
) -> None:
    begun = date(2027, 3, 1)
    terms = LoanTerms(100_000_00, Decimal(6), begun, date(2027, 4, 1), payments, payment=599_56)
    varied = vary(terms, LoanWish(payments_per_year=per_year, accelerated=per_year > 24), begun)
    assert (varied.payments_per_year, varied.payments, varied.first_payment) == (per_year, count, first)
    assert (varied.payment, varied.accelerated) == (None, per_year > 24)
    lump = Extra(1_00, date=begun)
    assert vary(terms, LoanWish(lump=lump), begun).extras == (lump,)
    with pytest.raises(LoanError, match="Choose March 1, 2027 or a later day"):
        vary(terms, LoanWish(lump=replace(lump, date=begun - timedelta(days=1))), begun)


@pytest.mark.parametrize(
    "wish", [LoanWish(extra=1), LoanWish(extra=50_00), LoanWish(lump=Extra(100_00, date=date(2024, 9, 1)))]
)
def test_an_extra_on_a_kept_payment_goes_on_to_the_end_that_a_risen_rate_moved(wish: LoanWish) -> None:
    risen = (RateChange(date(2024, 4, 1), Decimal(15)),)
    terms = LoanTerms(
        10_000_00, Decimal(5), date(2024, 1, 1), date(2024, 2, 1), 24, rate_changes=risen,
        after_rate_change="keep_payment",
    )  # fmt: skip
    plan, _, today, stands = stands_after(household(terms), terms, 6)
    assert stands.rest is not None
    assert len(stands.rest) == 21
    varied = vary(rest_as_loan(stands.rest), wish, today, stands.rest)
    assert columns(adoption(plan, stands, wish, varied, today).variant.schedule) == columns(schedule(varied))
    assert max(row.payment for row in schedule(varied).rows) == stands.rest.level
