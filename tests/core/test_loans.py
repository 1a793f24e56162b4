"""Loans: against an independent implementation in exact fractions, published examples, and worked cases."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from itertools import pairwise

import numpy_financial
import pytest
from exact_loans import exact_schedule
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from random_loans import loans

from effort import examples
from next_penny.core.dates.calendar import LAST_DUE
from next_penny.core.dates.day_counts import year_fraction
from next_penny.core.loans.alternatives.payoff import payoff_amount
from next_penny.core.loans.apr import annual_percentage_rate, loan_apr
from next_penny.core.loans.check import loan_problems
from next_penny.core.loans.extras import NOTHING_HAPPENED, History, Moved, Paid
from next_penny.core.loans.level import level_payment, period_rate
from next_penny.core.loans.schedule import as_scheduled, household_schedule, schedule, without_extras
from next_penny.core.loans.unit_periods import DatedSum
from next_penny.core.loans.walked import LoanError, Resume
from next_penny.core.loans.years import by_year
from next_penny.core.plan.terms.loans import (
    DatedAmount,
    Extra,
    Fee,
    Insurance,
    Lender,
    LoanTerms,
    RateChange,
    due_days,
    usual_disbursal,
)

HOUSE = LoanTerms(200_000_00, Decimal("6.5"), date(2027, 1, 1), date(2027, 2, 1), 360)


def agrees(terms: LoanTerms) -> None:
    try:
        expected = exact_schedule(terms)
    except ValueError:
        with pytest.raises(LoanError):
            schedule(terms)
        return
    found = [
        {"number": r.number, "due": date.fromordinal(r.due), "interest": r.interest, "principal": r.principal,
         "extra": r.extra, "balance": r.balance, "payment": r.payment}
        for r in schedule(terms).rows
    ]  # fmt: skip
    assert found == expected


@given(loans())
@settings(max_examples=examples(150))
def test_every_row_is_what_exact_fractions_give(terms: LoanTerms) -> None:
    agrees(terms)


@pytest.mark.slow
@given(loans())
@settings(max_examples=10_000, deadline=None, suppress_health_check=list(HealthCheck))
def test_every_row_of_ten_thousand_loans_is_what_exact_fractions_give(terms: LoanTerms) -> None:
    agrees(terms)


@given(st.integers(1, 10**9), st.decimals("0.01", 30, places=2), st.integers(1, 480), st.integers(0, 100))
def test_unrounded_payments_and_totals_are_those_of_another_library(
    principal: int, rate: Decimal, count: int, share: int
) -> None:
    balloon = principal * share // 100
    exact = level_payment(principal, period_rate(rate, 12), count, balloon)
    told = -numpy_financial.pmt(float(rate) / 1200, count, principal, -balloon)
    assert float(exact) == pytest.approx(told, rel=1e-9)
    assert float(exact * count) == pytest.approx(told * count, rel=1e-9)


@given(loans())
def test_what_is_paid_is_what_was_borrowed_and_its_interest(terms: LoanTerms) -> None:
    try:
        found = schedule(terms)
    except LoanError:
        return
    assert sum(found.principal) + sum(found.extra) == terms.amount_financed
    assert (found.balance[-1], sorted(set(found.due))) == (0, list(found.due))
    years = by_year(found)
    assert sum(year.interest_paid for year in years) == found.total_interest
    assert sum(year.interest_accrued for year in years) == found.total_interest
    for (_, before), (_, after) in pairwise(enumerate(found.balance)):
        assert after <= before or terms.negative_amortization


@given(loans(), st.data())
def test_going_on_from_any_payment_gives_the_same_rest(terms: LoanTerms, data: st.DataObject) -> None:
    try:
        found = schedule(terms)
    except LoanError:
        return
    paid = data.draw(st.integers(0, len(found.due) - 1))
    # What a payment is levelled anew to depends on what came before; the rest keeps the payment that it is given.
    if paid < terms.interest_only or found.levels[paid] != found.levels[paid - 1] or terms.payment_changes:
        return
    balance = found.balance[paid - 1] if paid else found.opening
    since = found.due[paid - 1] if paid else found.since
    rest = household_schedule(terms, Resume(paid, balance, since, found.levels[paid]), NOTHING_HAPPENED)
    assert rest.rows == found.rows[paid:]
    left = found.from_payment(paid)
    assert left is not None
    assert left.rows == rest.rows


def test_a_payment_that_rounds_to_nothing_goes_on_being_nothing() -> None:
    terms = LoanTerms(2, Decimal(0), date(2024, 1, 1), date(2024, 1, 1), payments=5, payments_per_year=1)
    found = schedule(terms)
    assert [row.payment for row in found.rows] == [0, 0, 0, 0, 2]
    rest = household_schedule(terms, Resume(1, 2, found.due[0], found.levels[1]), NOTHING_HAPPENED)
    assert rest.rows == found.rows[1:]


@given(loans(least=1000_00, longest=60), st.data())
@settings(max_examples=examples(150))
def test_a_loan_that_went_otherwise_than_planned_is_what_exact_fractions_give(
    terms: LoanTerms, data: st.DataObject
) -> None:
    due = [date.fromordinal(day) for day in terms.due_days((terms.payments or 0) + 3)]
    reached = data.draw(st.integers(0, len(due)))
    settled, skipped = {}, set()
    for day in due[:reached]:
        what = data.draw(st.sampled_from(["settled", "skipped", "as planned"]))
        if what == "settled":
            late = data.draw(st.sampled_from([0, 0, -3, 5, 40]))
            settled[day] = (day + timedelta(days=late), data.draw(st.integers(0, 900_00)))
        elif what == "skipped":
            skipped.add(day)
    span = st.integers(0, (due[-1] - terms.disbursed).days)
    by_hand = data.draw(st.lists(st.tuples(span, st.integers(-50_00, 900_00)), max_size=3))
    moved = [(terms.disbursed + timedelta(days=days), amount) for days, amount in by_hand]
    history = History(
        {day.toordinal(): Paid(on.toordinal(), principal) for day, (on, principal) in settled.items()},
        frozenset(day.toordinal() for day in skipped),
        tuple(sorted(Moved(day.toordinal(), amount) for day, amount in moved)),
    )
    told = household_schedule(terms, None, history)
    try:
        expected = exact_schedule(terms, settled, skipped, moved)
    except ValueError:
        assert told.findings.never_ends
        return
    rows = [{"number": row.number, "due": date.fromordinal(row.due), "interest": row.interest, "payment": row.payment,
             "principal": row.principal, "extra": row.extra, "balance": row.balance} for row in told.rows]  # fmt: skip
    assert rows == expected
    assert rows[-1]["balance"] <= 0


def test_half_months_are_regular_over_the_end_of_february() -> None:
    terms = LoanTerms(310_659_94, Decimal("17.76"), date(2027, 1, 5), date(2027, 1, 16), 192, payments_per_year=24,
                      interest="actual_365")  # fmt: skip
    assert loan_apr(terms).apr == Decimal("17.754")
    shown = schedule(terms)
    listed = [DatedSum(date.fromordinal(due), interest + principal) for due, interest, principal in zip(
        shown.due, shown.interest, shown.principal, strict=True)]  # fmt: skip
    assert annual_percentage_rate([DatedSum(terms.disbursed, terms.principal)], listed).apr == Decimal("17.754")


@pytest.mark.parametrize(
    ("advance", "on", "first", "per_year", "count", "amount", "apr"),
    [
        (5_000_00, date(1978, 1, 10), date(1978, 2, 10), 12, 24, 230_00, "9.69"),
        (6_000_00, date(1978, 2, 10), date(1978, 4, 1), 12, 36, 200_00, "11.82"),
        (5_000_00, date(1978, 2, 23), date(1978, 3, 1), 24, 24, 219_17, "10.34"),
        (10_000_00, date(1978, 5, 23), date(1978, 10, 1), 4, 40, 385_00, "8.97"),
        (500_00, date(1978, 3, 20), date(1978, 4, 21), 52, 30, 17_60, "14.96"),
    ],
)
def test_the_annual_percentage_rate_is_that_of_the_examples_of_appendix_j(
    advance: int, on: date, first: date, per_year: int, count: int, amount: int, apr: str
) -> None:
    payments = [DatedSum(date.fromordinal(day), amount) for day in due_days(first, per_year, count)]
    found = annual_percentage_rate([DatedSum(on, advance)], payments)
    assert found.apr.quantize(Decimal("0.01")) == Decimal(apr)


def test_single_payments_and_the_rate_of_a_plain_loan() -> None:
    half_year = annual_percentage_rate([DatedSum(date(2027, 1, 10), 1_000_00)], [DatedSum(date(2027, 7, 10), 1_080_00)])
    assert (half_year.apr, str(half_year.unit_period)) == (Decimal("16.000"), "6 months")
    odd = annual_percentage_rate([DatedSum(date(2027, 1, 10), 1_000_00)], [DatedSum(date(2027, 3, 24), 1_020_00)])
    assert odd.apr == Decimal("10.000")  # 2 % in 73 days, five times a year
    for paid in (date(2027, 1, 9), date(2027, 1, 10)):
        several = [DatedSum(paid, 5_00), DatedSum(date(2027, 7, 10), 1_080_00)]
        if paid.day == 9:
            with pytest.raises(LoanError, match="before the first advance"):
                annual_percentage_rate([DatedSum(date(2027, 1, 10), 1_000_00)], several)
        else:
            assert annual_percentage_rate([DatedSum(date(2027, 1, 10), 1_000_00)], several).apr > 16
    assert loan_apr(HOUSE).apr == Decimal("6.500")
    with_fee = replace(HOUSE, fees=(Fee("Points", 4_000_00),))
    rate = period_rate(loan_apr(with_fee).apr, 12)
    worth = sum(Fraction(payment) / (1 + rate) ** n for n, payment in enumerate(_payments(with_fee), 1))
    assert float(worth) == pytest.approx(196_000_00, rel=1e-4)
    financed = replace(HOUSE, principal=196_000_00, fees=(Fee("Points", 4_000_00, financed=True),))
    assert loan_apr(financed).apr == loan_apr(with_fee).apr


def _payments(terms: LoanTerms) -> list[int]:
    return [row.payment for row in schedule(terms).rows]


def test_worked_cases_of_each_rule() -> None:
    first, last = schedule(HOUSE).rows[0], schedule(HOUSE).rows[-1]
    # 200,000 at 6.5 % over 360 months: 1,264.14; first interest 200,000 x 0.065 / 12 = 1,083.33.
    assert (first.payment, first.interest, first.principal, first.balance) == (1264_14, 1083_33, 180_81, 199_819_19)
    assert (last.number, last.payment, last.balance) == (360, 1259_56, 0)
    assert schedule(replace(HOUSE, payment_rounding="up", annual_rate=Decimal("6.51"))).level == 1265_46
    assert schedule(replace(HOUSE, interest="actual_365")).interest[0] == 1104_11  # 31 days of 365
    assert schedule(replace(HOUSE, interest="actual_360")).interest[0] == 1119_44
    assert schedule(replace(HOUSE, payments_per_year=26, payments=780, accelerated=True)).level == 632_07
    waiting = schedule(replace(HOUSE, interest_only=12))
    assert [row.payment for row in waiting.rows[11:13]] == [1083_33, 1278_43]
    balloon = schedule(replace(HOUSE, payments=60, balloon=150_000_00))
    assert balloon.rows[-1].principal > 150_000_00
    assert date.fromordinal(schedule(replace(HOUSE, first_payment=date(2027, 1, 31))).due[1]) == date(2027, 2, 28)


def test_a_rate_change_holds_from_the_first_period_that_begins_by_then() -> None:
    changed = replace(HOUSE, rate_changes=(RateChange(date(2027, 3, 2), Decimal(8)),))
    found = schedule(changed)
    assert [str(rate) for rate in found.rate[:4]] == ["6.5", "6.5", "6.5", "8"]
    assert found.levels[2:4] == [1264_14, 1466_50]
    kept = schedule(
        replace(changed, after_rate_change="keep_payment", rate_changes=(RateChange(date(2027, 3, 2), Decimal(7)),))
    )
    assert (set(kept.levels), len(kept) > 360) == ({1264_14}, True)
    paid_more = schedule(replace(HOUSE, payment_changes=(DatedAmount(date(2030, 1, 1), 1500_00),)))
    assert (paid_more.levels[34], paid_more.levels[35], len(paid_more) < 300) == (1264_14, 1500_00, True)


def test_extras_count_when_they_are_paid() -> None:
    day_count = replace(HOUSE, interest="actual_365", extras=(Extra(10_000_00, date=date(2027, 1, 11)),))
    row = schedule(day_count).rows[0]
    # 10 days on 200,000 and 21 on 190,000, rounded once.
    assert row.extra == 10_000_00
    assert row.interest == round(Fraction(65, 1000) * (200_000_00 * 10 + 190_000_00 * 21) / 365)
    equal = schedule(replace(HOUSE, extras=(Extra(10_000_00, date=date(2027, 1, 11)),))).rows[0]
    assert (equal.interest, equal.extra) == (1083_33, 10_000_00)
    recast = schedule(replace(HOUSE, extras=(Extra(10_000_00, date=date(2027, 2, 1)),), extra_effect="recast"))
    assert (len(recast), recast.levels[0], recast.levels[1] < 1210_00) == (360, 1264_14, True)
    late = schedule(replace(HOUSE, extras=(Extra(5, date=date(2060, 1, 1)),)))
    assert late.notes == [
        "The extra of January 1, 2060 comes after the loan is paid off on January 1, 2057: it has no effect."
    ]
    assert late.rows == schedule(HOUSE).rows


def test_insurance_ends_where_the_scheduled_balance_reaches_the_share_and_escrow_changes_by_date() -> None:
    insured = replace(
        HOUSE, insurance=Insurance(90_00, Decimal(80), 240_000_00), extras=(Extra(500_00, every=1),),
        escrow=(DatedAmount(date(2027, 1, 1), 300_00), DatedAmount(date(2028, 1, 1), 320_00)),
    )  # fmt: skip
    found, plain = schedule(insured), schedule(HOUSE)
    ends = sum(amount > 0 for amount in found.insurance)
    assert plain.balance[ends - 2] > 192_000_00 >= plain.balance[ends - 1]
    assert (found.escrow[10], found.escrow[11]) == (300_00, 320_00)
    assert without_extras(insured).rows[0].extra == 0


@given(loans(), st.integers(0, 5000))
def test_paying_off_takes_the_balance_and_simple_interest_since(terms: LoanTerms, after: int) -> None:
    try:
        found = schedule(terms)
    except LoanError:
        return
    on = terms.disbursed + timedelta(days=after)
    owed = payoff_amount(found, on)
    passed = [row for row in found.rows if row.due <= on.toordinal()]
    if len(passed) == len(found.rows):
        assert owed.total == 0
        return
    if not terms.extras:
        since = passed[-1].due if passed else terms.disbursed.toordinal()
        held = passed[-1].balance if passed else terms.amount_financed
        exact = held * Fraction(found.rate[len(passed)]) / 100 * year_fraction(terms.interest, since, on.toordinal())
        assert (owed.balance, abs(owed.accrued_interest - exact) <= Fraction(1, 2)) == (held, True)


@pytest.mark.parametrize(
    ("changes", "field", "words"),
    [
        ({"payment": 1000_00}, "payment", "does not cover interest: payment 1 bears $1,083.33"),
        ({"balloon": 200_000_01}, "balloon", "at most what is borrowed"),
        ({"first_payment": date(2026, 12, 31)}, "first_payment", "comes before the loan is paid out"),
        ({"payments": 0}, "payments", "at least one payment"),
        ({"payments": None}, "payments", "Say how many payments"),
        ({"annual_rate": Decimal("-0.1")}, "annual_rate", "between 0 and 200"),
        ({"annual_rate": Decimal("200.1")}, "annual_rate", "between 0 and 200"),
        ({"payment": 1100_00}, "payment", "$181,563.59 more than the others"),
        ({"payment": 1500_00}, "payment", "payment 238 of 360 would be the last"),
        ({"accelerated": True}, "accelerated", "every one or two weeks"),
        ({"interest_only": 360}, "interest_only", "Fewer payments"),
        ({"fees": (Fee("All", 200_000_00),)}, "fees", "take all"),
        ({"extras": (Extra(1),)}, "extras", "on one date"),
        ({"extras": (Extra(1, date=date(2026, 1, 1)),)}, "extras", "after the loan is paid out"),
        ({"payments": None, "payment": 1100_00, "rate_changes": (RateChange(date(2027, 2, 1), Decimal(9)),),
          "after_rate_change": "keep_payment"}, "payment", "does not cover interest"),
        ({"payments": None, "payment": 1083_34}, "payment", "not be paid off in 100 years"),
    ],
)  # fmt: skip
def test_bad_terms_are_told_at_their_field(changes: dict[str, object], field: str, words: str) -> None:
    problems = loan_problems(replace(HOUSE, **changes), "USD")  # type: ignore[arg-type]
    assert problems[0][0][0] == field
    assert words in problems[0][1]
    assert loan_problems(HOUSE, "USD") == loan_problems(replace(HOUSE, payment=1265_00), "USD") == []


@pytest.mark.parametrize(
    ("first", "per_year", "paid_out"),
    [
        (date(2027, 3, 31), 12, date(2027, 2, 28)), (date(2028, 3, 31), 12, date(2028, 2, 29)),
        (date(2027, 2, 28), 4, date(2026, 11, 28)), (date(2028, 2, 29), 1, date(2027, 2, 28)),
        (date(2027, 1, 5), 52, date(2026, 12, 29)), (date(2027, 1, 5), 26, date(2026, 12, 22)),
        (date(2027, 3, 16), 24, date(2027, 3, 1)),
    ],
)  # fmt: skip
def test_a_loan_without_the_day_it_was_paid_out_begins_one_payment_before_the_first(
    first: date, per_year: int, paid_out: date
) -> None:
    assert usual_disbursal(first, per_year) == paid_out


@pytest.mark.parametrize(
    ("extra", "says"),
    [
        (Extra(5, date=date(2027, 12, 10)), None), (Extra(5, date=date(2027, 12, 11)), "December 11, 2027"),
        (Extra(5, every=1, start=date(2027, 12, 10)), None),
        (Extra(5, every=1, start=date(2027, 12, 11)), "December 11, 2027"),
    ],
)  # fmt: skip
def test_an_extra_after_the_last_payment_is_said_to_have_no_effect(extra: Extra, says: str | None) -> None:
    terms = LoanTerms(1_200_00, Decimal(0), date(2026, 12, 10), date(2027, 1, 10), 12, extras=(extra,))
    notes = [note for note in schedule(terms).notes if "no effect" in note]
    assert [note.split(" comes")[0] for note in notes] == ([f"The extra of {says}"] if says else [])


@given(loans(), st.integers(-40, 4000))
@settings(max_examples=examples(100))
def test_what_is_owed_on_a_day_is_what_the_last_row_left_less_what_moved_since(terms: LoanTerms, later: int) -> None:
    found = as_scheduled(terms)
    day = terms.disbursed.toordinal() + later
    passed = [row for row in found.rows if row.due <= day]
    owed, since = (passed[-1].balance, passed[-1].due) if passed else (found.opening, terms.disbursed.toordinal())
    between = sum(moved.amount for moved in found.between if since < moved.day <= day)
    assert found.balance_on(day) == max(0, owed - between)


@pytest.mark.parametrize("per_year", [1, 2, 4, 12, 24, 26, 52])
def test_due_dates_go_as_far_as_the_calendar_and_no_further(per_year: int) -> None:
    first = date(LAST_DUE.year - 2, 5, 20)
    days = [date.fromordinal(day) for day in due_days(first, per_year, 500)]
    assert days[0] == first
    assert len(days) == len(set(days))
    assert days == sorted(days)
    assert days[-1] <= LAST_DUE
    # Another one would be after it; of two a month, the last month may have one alone.
    longest = {26: 14, 52: 7, 24: 45}.get(per_year, 366 // per_year + 1)
    assert days[-1] + timedelta(days=longest) > LAST_DUE
    assert due_days(first, per_year, 3) == tuple(day.toordinal() for day in days[:3])


def test_a_payment_goes_to_the_lender_of_its_day() -> None:
    moved = (Lender(date(2027, 5, 1), "Second"), Lender(date(2027, 3, 1), "First"))
    terms = LoanTerms(1_00, Decimal(0), date(2027, 1, 1), date(2027, 2, 1), 12, lenders=moved)
    names = [(terms.lender_on(date(2027, month, day).toordinal()) or Lender(LAST_DUE, "none")).name
             for month, day in ((2, 28), (3, 1), (4, 30), (5, 1))]  # fmt: skip
    assert names == ["none", "First", "First", "Second"]
    assert LoanTerms(1_00, Decimal(0), date(2027, 1, 1), date(2027, 2, 1), 12).lender_on(LAST_DUE.toordinal()) is None
